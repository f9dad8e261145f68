package collector

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"gladember/core/design"
	"gladember/core/units"
)

func set(t *testing.T, h design.Heater, changes ...design.Change) design.Heater {
	t.Helper()
	n, err := design.Apply(h, units.System{}, changes...)
	if err != nil {
		t.Fatal(err)
	}
	return n
}

func put(path string, v any) design.Change { return design.Change{Path: path, Value: v} }

// ventedBox is a named box with a vent of an area at each end, and its description.
func ventedBox(t *testing.T, name string, area float64, more ...design.Change) (design.Heater, Description) {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	h = set(t, h, append([]design.Change{put(design.GuardKind.Path, "vent"), put(design.GuardArea.Path, area)}, more...)...)
	d, err := Describe(&h)
	if err != nil {
		t.Fatal(err)
	}
	return h, d
}

var boxedFamilies = []string{"screen-box", "back-pass-plate", "front-pass-plate", "can-columns", "downpipes", "ribbed-coil",
	"double-pass-plate", "double-pass-tubes", "passive-box", "own-absorber"}

// A wider vent keeps every family cooler, a vent that is all but nothing leaves the still box,
// and the energy of each adds up.
func TestVentCoolsTheStandingBox(t *testing.T) {
	for _, name := range boxedFamilies {
		h, _ := design.Named(name)
		d, _ := Describe(&h)
		c := raised(ConditionsAt(&h, WinterNoon(&h)))
		still, err := d.Still(c, Tuning{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		last := still.AbsorberMax
		for _, area := range []float64{0.001, 0.002, 0.004, 0.008, 0.016, 0.021} {
			_, v := ventedBox(t, name, area)
			r, err := v.FanOff(c, Tuning{}, nil)
			if err != nil {
				t.Fatal(name, err)
			}
			if r.AbsorberMax > last+0.5 {
				t.Errorf("%s: vents of %v m2 leave %.1f C, narrower ones %.1f", name, area, r.AbsorberMax, last)
			}
			last = r.AbsorberMax
			if math.Abs(r.Energy.Sum()-r.Energy.Sun) > 1e-3*r.Energy.Sun {
				t.Errorf("%s: parts sum to %v of %v W", name, r.Energy.Sum(), r.Energy.Sun)
			}
		}
		if last > still.AbsorberMax-12 {
			t.Errorf("%s: vents of 210 cm2 leave %.1f of %.1f C", name, last, still.AbsorberMax)
		}
	}
}

// The flow that the vented box draws is the one by hand: the warm air's column against two flaps
// and the box's own resistance.
func TestVentDrawsAsByHand(t *testing.T) {
	const area = 0.02
	h, d := ventedBox(t, "front-pass-plate", area, put(design.GuardOpens.Path, 35.0))
	c := raised(ConditionsAt(&h, WinterNoon(&h)))
	r, err := d.FanOff(c, Tuning{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	rho := func(t float64) float64 {
		return 101325 * math.Pow(1-2.25577e-5*h.Place.Elevation, 5.25588) / 287.05 / (t + 273.15)
	}
	mean := 0.0
	for i := 1; i < len(r.AirAlong); i++ { // by hand: the mean of the ends of each segment
		mean += (rho(r.AirAlong[i-1]) + rho(r.AirAlong[i])) / 2 / float64(len(r.AirAlong)-1)
	}
	rise := d.Height * math.Sin(c.Tilt*math.Pi/180)
	lift := 9.81 * rise * (rho(c.Ambient) - mean)
	flap := func(t float64) float64 { v := r.Mass / rho(t) / area; return 2.8 * rho(t) * v * v / 2 }
	in := 0.0
	for _, e := range d.guard.vent.Passages.Elements {
		in += e.Loss(r.Mass, (c.Ambient+r.Outlet)/2, c.Pressure)
	}
	within(t, "lift against losses, Pa", lift, flap(c.Ambient)+flap(r.Outlet)+in+r.SpeedingUp, 0.02*lift)
	within(t, "heat carried off, W", r.Mass*1007*(r.Outlet-c.Ambient), r.Energy.Air, 0.01*r.Energy.Air)
}

// Between where it begins and where it is wide open an actuator stands where its own temperature
// holds it; hotter air at the top never comes with a closed flap, and nothing jumps.
func TestActuatorFindsItsPlace(t *testing.T) {
	h, d := ventedBox(t, "screen-box", 0.03)
	begins, span := h.Guard.Opens, h.Guard.Span()
	c := ConditionsAt(&h, WinterNoon(&h))
	last := math.NaN()
	part := 0
	for g := 100.0; g <= 1100; g += 20 {
		x := c
		x.Sun = c.Sun.Dimmed(g / c.Sun.Total())
		r, err := d.FanOff(x, Tuning{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		if r.Mass > 0 {
			if r.Outlet < begins-0.01 {
				t.Errorf("at %v W/m2 the vent is open with %.2f C at the top", g, r.Outlet)
			}
			if r.Outlet < begins+span {
				part++
			}
		}
		if math.Abs(r.AbsorberMax-last) > 8 { // the warm layer at the top of standing air goes as the air moves
			t.Errorf("at %v W/m2 the absorber jumps from %.1f to %.1f C", g, last, r.AbsorberMax)
		}
		last = r.AbsorberMax
	}
	if part < 3 {
		t.Errorf("the vent stood half open %d times", part)
	}
}

// A shutter that lets all the sun through is none but for its parked slats; a darker one leaves
// the box cooler, down to where its actuator lets go.
func TestShutterDimsTheNoon(t *testing.T) {
	h, _ := design.Named("back-pass-plate")
	with := func(passes float64) Result {
		x := set(t, h, put(design.GuardKind.Path, "shutter"), put(design.GuardPasses.Path, passes))
		d, _ := Describe(&x)
		r, err := d.FanOff(raised(ConditionsAt(&x, WinterNoon(&x))), Tuning{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		return r
	}
	last := with(0.9).AbsorberMax
	for _, p := range []float64{0.7, 0.5, 0.3, 0.1} {
		r := with(p)
		if r.AbsorberMax >= last-1 && (r.AbsorberMean+r.CoverInner)/2 > 75+12 {
			t.Errorf("%v of the sun leave %.1f C, more %.1f", p, r.AbsorberMax, last)
		}
		if air := (r.AbsorberMean + r.CoverInner) / 2; air < 75 {
			t.Errorf("the shutter is closed with %.1f C in the box", air)
		}
		last = r.AbsorberMax
	}
}

// A guard at rest costs a running box little, and something.
func TestClosedGuardCosts(t *testing.T) {
	for _, kind := range []string{"vent", "shutter"} {
		h, _ := design.Named("can-columns")
		c := ConditionsAt(&h, WinterNoon(&h))
		bare, _ := Rate(&h, c)
		x := set(t, h, put(design.GuardKind.Path, kind))
		r, err := Rate(&x, c)
		if err != nil {
			t.Fatal(err)
		}
		if lost := 1 - r.Warms()/bare.Warms(); lost <= 0.001 || lost > 0.05 {
			t.Errorf("%s: costs %.2f %% of the heat", kind, 100*lost)
		}
	}
}

// The worst noon of a leaning box is one of the warm months; of an upright one in the north the
// judged noon with the sun raised. Covering the warm months takes theirs away.
func TestWorstNoonOfTheYear(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 1))
	for range 12 {
		lat := 28 + 32*r.Float64()
		h, _ := design.Named("back-pass-plate")
		h = set(t, h, put(design.PlaceLatitude.Path, lat), put(design.PlaceTilt.Path, 45+45*r.Float64()))
		if r.IntN(2) == 0 {
			h = set(t, h, put(design.PlaceLatitude.Path, -lat), put(design.PlaceBearing.Path, 0.0))
		}
		c := ConditionsAt(&h, WinterNoon(&h))
		e, err := Evaluate(&h, c, true)
		if err != nil {
			t.Fatal(err)
		}
		d, _ := Describe(&h)
		least, err := d.FanOff(raised(c), Tuning{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		// Every month by itself, by the balance: none may be hotter than what was chosen.
		hottest, month := least.AbsorberMax, time.Month(0)
		for m := time.January; m <= time.December; m++ {
			hot := HotNoon(&h, m)
			x, err := d.FanOff(hot, Tuning{}, nil)
			if err != nil {
				t.Fatal(err)
			}
			if x.AbsorberMax > hottest {
				hottest, month = x.AbsorberMax, m
			}
		}
		if e.Noon.AbsorberMax < hottest-1.5 {
			t.Errorf("latitude %.0f, tilt %.0f: judged by %.1f C (%v), in %v it is %.1f", h.Place.Latitude, h.Place.Tilt,
				e.Noon.AbsorberMax, e.NoonMonth, month, hottest)
		}
		if e.NoonMonth == 0 {
			continue
		}
		covered := set(t, h, put(design.CoverCoveredFrom.Path, int(e.NoonMonth)), put(design.CoverCoveredTo.Path, int(e.NoonMonth)))
		f, err := Evaluate(&covered, c, true)
		if err != nil {
			t.Fatal(err)
		}
		if f.NoonMonth == e.NoonMonth || f.Noon.AbsorberMax > e.Noon.AbsorberMax+0.5 {
			t.Errorf("covered in %v, the worst noon is %v with %.1f C, before %.1f", e.NoonMonth, f.NoonMonth, f.Noon.AbsorberMax,
				e.Noon.AbsorberMax)
		}
	}
}
