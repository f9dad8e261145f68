package collector

import (
	"math"
	"testing"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/design"
	"gladember/core/units"
)

// placed is an example with its ports placed, in the way of an even number of tubes
// and no baffles.
func placed(t *testing.T, name, places string, more ...design.Change) design.Heater {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	var even []design.Change
	switch a := h.Absorber; {
	case a.Plate != nil && a.Family == design.BackPassPlate:
		even = []design.Change{design.Set(design.PlateBaffles, 0)}
	case a.Cans != nil:
		even = []design.Change{design.Set(design.CansColumns, a.Cans.Columns-a.Cans.Columns%2)}
	case a.Pipes != nil:
		even = []design.Change{design.Set(design.PipesCount, a.Pipes.Count-a.Pipes.Count%2)}
	}
	changes := append(append(even, more...), design.Set(design.AirPortPlaces, places))
	if h, err = design.Apply(h, units.System{}, changes...); err != nil {
		t.Fatal(name, places, err)
	}
	return h
}

func ratedAt(t *testing.T, h *design.Heater, move func(*Conditions)) Result {
	t.Helper()
	d, err := Describe(h)
	if err != nil {
		t.Fatal(err)
	}
	c := ConditionsAt(h, WinterNoon(h))
	move(&c)
	r, err := d.Rate(c, Tuning{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

// By hand: equal loss of (1.5 + f length / dh) flow^2 on the way to the nearest and
// to the farthest strip, f of Blasius' law at the mean flow.
func TestOutletAboveInletStarvesTheFarSide(t *testing.T) {
	h := placed(t, "back-pass-plate", "same-side")
	d, err := Describe(&h)
	if err != nil {
		t.Fatal(err)
	}
	const mass = 0.12
	shares := d.Passages.Strips(Flow{Mass: mass, Mean: 25, P: 101325})
	for i := range shares {
		shares[i] /= mass
	}
	w, l := h.ApertureWidth(), h.ApertureHeight()
	from := min(design.PortMargin+h.PortBore()/2, w/2)
	near, far := l+2*math.Abs(from-w/stripsAcross*(math.Floor(from/w*stripsAcross)+0.5)), l+2*(w*(1-0.5/stripsAcross)-from)
	dh := 2 * h.Absorber.Plate.Channel
	f := 0.316 / math.Pow(mass/w/h.Absorber.Plate.Channel*dh/air.Viscosity(25), 0.25)
	want := math.Sqrt((1.5 + f*near/dh) / (1.5 + f*far/dh))
	most := 0.0
	for _, s := range shares {
		most = max(most, s)
	}
	if got := shares[len(shares)-1] / most; math.Abs(got-want) > 0.025 { // the channel is rougher than Blasius' pipe
		t.Errorf("the far strip has %v of the near one's air, by hand %v", got, want)
	}
	sum := 0.0
	for _, s := range shares {
		sum += s
	}
	if math.Abs(sum-1) > 1e-9 {
		t.Errorf("the shares sum to %v", sum)
	}
}

// Eight times as many strips move the standard deviation of the flows, by which the
// heat is computed, by less than a hundredth of the mean flow.
func TestStripsConverge(t *testing.T) {
	p := passage{dh: 0.05, area: 0.025 * 1.2, length: 1, fittings: lossInto}
	off := func(n int) float64 {
		mean, square := 1/float64(n), 0.0
		for _, m := range stripped(1.2, 0.1, n, p.strip(n)).Split(0.05, 25, 101325) {
			square += (m/0.05 - mean) * (m/0.05 - mean)
		}
		return math.Sqrt(square/float64(n)) / mean
	}
	if a, b := off(stripsAcross), off(8*stripsAcross); math.Abs(a-b) > 0.01 || b < 0.02 {
		t.Errorf("the flows differ by %v in %d strips, %v in %d", a, stripsAcross, b, 8*stripsAcross)
	}
}

// At one flow, uneven air gives less heat than even air, except where the flow
// turns turbulent and heat grows faster than the flow; energy balances.
func TestUnevenAirGivesLess(t *testing.T) {
	for _, name := range []string{"back-pass-plate", "front-pass-plate"} {
		for _, flow := range []float64{0.01, 0.03, 0.08} {
			same, opposite := placed(t, name, "same-side"), placed(t, name, "opposite")
			at := func(c *Conditions) { c.Flow = flow }
			a, b := ratedAt(t, &same, at), ratedAt(t, &opposite, at)
			if a.Heat > 1.002*b.Heat || a.Heat < 0.9*b.Heat {
				t.Errorf("%s at %v kg/s: %v W with the outlet above the inlet, %v W at opposite corners", name, flow, a.Heat, b.Heat)
			}
			if e := a.Energy; math.Abs(e.Sum()-e.Sun) > 1e-6*e.Sun {
				t.Errorf("%s: the energy is off by %v W", name, e.Sum()-e.Sun)
			}
		}
	}
}

// A fold halves the cross section and doubles the way: at one flow its Reynolds
// number stays nearly that of the wide slot's and friction costs eight times as
// much, the speed's square times the length.
func TestFoldCostsEightTimesTheFriction(t *testing.T) {
	loss := func(places string) float64 {
		h := placed(t, "back-pass-plate", places)
		d, err := Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		duct := d.Passages.Ways[0].element()
		duct.Fittings = 0
		return duct.Loss(0.05, 25, 101325)
	}
	// The friction factor falls by 2^0.25 at twice the speed (Blasius), and the shorter side walls add a little.
	if got := loss("both-bottom") / loss("opposite"); got < 8/math.Pow(2, 0.25)*0.98 || got > 8*1.1 {
		t.Errorf("a fold costs %v times the friction", got)
	}
}

// By night cold air rests in a box whose ports are both at the top. With both at the
// bottom it falls out of the second half and draws warm air up the first.
func TestFoldFromTheTopStopsTheBackFlow(t *testing.T) {
	night := func(places string) Result {
		h := placed(t, "back-pass-plate", places, design.Set(design.AirFlap, "none"))
		d, err := Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		c := ConditionsAt(&h, WinterNoon(&h))
		r, err := d.BackFlow(c, false)
		if err != nil {
			t.Fatal(err)
		}
		return r
	}
	straight, bottom, top := night("opposite"), night("both-bottom"), night("both-top")
	if !(straight.Mass > bottom.Mass && bottom.Mass > 0) || top.Mass != 0 {
		t.Errorf("back flow of %v kg/s straight, %v folded from the bottom, %v from the top", straight.Mass, bottom.Mass, top.Mass)
	}
}

// Headers with the outlet at the inlet's end share out as U, else as Z; what feeds a double pass is as wide as the box.
func TestPortsSetTheHeaders(t *testing.T) {
	for places, want := range map[string]airflow.Manifold{"opposite": {Order: make([]int, 8), OtherSide: true}, "same-side": {
		Order: make([]int, 8)}, "both-bottom": {Order: make([]int, 4), OtherSide: true}} {
		h := placed(t, "can-columns", places, design.Set(design.CansColumns, 8))
		d, err := Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		got := d.Passages.Elements[0].(airflow.Manifold)
		if len(got.Order) != len(want.Order) || got.OtherSide != want.OtherSide || got.Wide {
			t.Errorf("%s: %+v", places, got)
		}
	}
	h, err := design.Named("double-pass-tubes")
	if err != nil {
		t.Fatal(err)
	}
	d, err := Describe(&h)
	if err != nil {
		t.Fatal(err)
	}
	if got := d.Passages.Elements[1].(airflow.Manifold); !got.Wide {
		t.Errorf("double pass: %+v", got)
	}
}

// A port through a side or an end opens along the space, without a curtain.
func TestPortFaceSparesTheCurtain(t *testing.T) {
	deep := []design.Change{design.Set(design.PlateChannel, 0.10), design.Set(design.AirDiameter, 0.08)}
	back := placed(t, "back-pass-plate", "opposite", deep...)
	end := placed(t, "back-pass-plate", "opposite", append(deep, design.Set(design.AirPortFace, "end"))...)
	none := func(*Conditions) {}
	a, b := ratedAt(t, &back, none), ratedAt(t, &end, none)
	if !(b.Mass > a.Mass) {
		t.Errorf("%v kg/s through the ends, %v through the back", b.Mass, a.Mass)
	}
}

// Turning vanes take two thirds off the loss of each turn and leave all else; a strip of insulation under the frame takes
// heat off the edges, the less the thicker it is already. By hand: 90 mm of frame half deep, 0.13 W/mK, 30 mm wide.
func TestVanesAndFoamUnderTheFrame(t *testing.T) {
	at := func(cs ...design.Change) (Description, Result) {
		h, err := design.Named("back-pass-plate")
		if err != nil {
			t.Fatal(err)
		}
		changes := append([]design.Change{design.Set(design.PlateBaffles, 3)}, cs...)
		if h, err = design.Apply(h, units.System{}, changes...); err != nil {
			t.Fatal(err)
		}
		d, err := Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		return d, ratedAt(t, &h, func(*Conditions) {})
	}
	d, plain := at()
	v, vaned := at(design.Set(design.PlateVanes, true))
	if got := d.Passages.Ways[0].fittings - v.Passages.Ways[0].fittings; math.Abs(got-3*(lossTurn-lossVaned)) > 1e-9 {
		t.Errorf("three turns lose %v less", got)
	}
	if !(vaned.Mass > plain.Mass && vaned.PressureDrop < plain.PressureDrop) {
		t.Errorf("%v kg/s with vanes, %v without", vaned.Mass, plain.Mass)
	}
	edge := func(m float64) float64 {
		d, _ := at(design.Set(design.BoxUnderFrame, m))
		return d.EdgeUA(Tuning{})
	}
	if a, b, c := edge(0), edge(0.01), edge(0.02); !(a > b && b > c && a-b > b-c) {
		t.Errorf("edges lose %v, %v, %v W/K", a, b, c)
	}
}

// Screens take every arrangement. Energy balances; heat by the usual segments lies within 0.5 % of that by eight times as
// many; the air warms from one end of its way to the other without a step back; and with the flow growing without bound
// the heat of all arrangements tends to one value, that of an absorber at the temperature of the inlet.
func TestScreensByEveryArrangement(t *testing.T) {
	const much = 2.0 // kg/s
	name := ""
	for _, n := range design.ExampleNames() {
		if h, _ := design.Named(n); h.Absorber.Screens != nil {
			name = n
			break
		}
	}
	var most, wide []float64
	for _, places := range []string{"opposite", "same-side", "both-bottom", "both-top"} {
		h := placed(t, name, places)
		r := ratedAt(t, &h, func(c *Conditions) { c.Flow = 0.03 })
		if e := r.Energy; math.Abs(e.Sum()-e.Sun) > 1e-6*e.Sun {
			t.Errorf("%s: the energy is off by %v W", places, e.Sum()-e.Sun)
		}
		for i := 1; i < len(r.AirAlong); i++ {
			if r.AirAlong[i] < r.AirAlong[i-1]-0.01 {
				t.Errorf("%s: the air cools on its way: %+v", places, r.AirAlong)
				break
			}
		}
		d, err := Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		c := ConditionsAt(&h, WinterNoon(&h))
		c.Flow = 0.03
		d.Cells = 8 * max(Segments, d.Cells)
		fine, err := d.Rate(c, Tuning{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		if math.Abs(r.Heat-fine.Heat) > 0.005*fine.Heat {
			t.Errorf("%s: %v W, %v on a finer grid", places, r.Heat, fine.Heat)
		}
		t.Logf("%-12s %7.1f W, fine %7.1f, %5.2f Pa, evenness %.2f", places, r.Heat, fine.Heat, r.PressureDrop, r.Evenness)
		c.Flow, d.Seam = much, 0
		limit, err := d.Rate(c, Tuning{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		most = append(most, limit.Heat)
		wide = append(wide, r.Heat)
	}
	for i, w := range most {
		if math.Abs(w/most[0]-1) > 0.01 {
			t.Errorf("at %v kg/s the heat of the arrangements is %v W", much, most)
			break
		}
		if i > 0 && math.Abs(wide[i]/wide[0]-1) > 0.15 {
			t.Errorf("at one flow the heat of the arrangements is %v W", wide)
		}
	}
}
