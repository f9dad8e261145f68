package collector

import (
	"math"
	"math/rand/v2"
	"testing"

	"gladember/core/design"
	"gladember/core/solar"
)

// rowOf is a named box as a row of n, with a header of a bore.
func rowOf(t *testing.T, name string, n int, bore float64, more ...design.Change) design.Heater {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	changes := append([]design.Change{put(design.ArrayBoxes.Path, n), put(design.BoxSeam.Path, 0.0)}, more...)
	// Our height of headers follows from the duct, which grows with the row.
	for _, path := range []string{design.CansHeader.Path, design.PipesHeader.Path} {
		if design.FieldAt(path).Applies(&h) {
			changes = append(changes, put(path, design.FieldAt(path).Number(&h)))
		}
	}
	if h = set(t, h, changes...); design.ArrayHeader.Applies(&h) {
		h = set(t, h, put(design.ArrayHeader.Path, bore))
	}
	return h
}

// Two equal branches give twice what one gives with half of the air, whatever the header, but for
// the little that an uneven header costs; behind plenums exactly.
func TestRowOfTwoIsTwice(t *testing.T) {
	for _, name := range boxedFamilies {
		single := rowOf(t, name, 1, 0)
		c := bright()
		c.Flow = 0.03
		one := rate(t, &single, c)
		c.Flow = 0.06
		for _, bore := range []float64{0, 0.8, 0.25} {
			row := rowOf(t, name, 2, bore)
			both := rate(t, &row, c)
			tolerance := 1e-6
			switch bore {
			case 0.8:
				tolerance = 1e-4
			case 0.25:
				tolerance = 0.005
			}
			within(t, name+" heat", both.Heat, 2*one.Heat, tolerance*both.Heat)
			if both.Heat > 2*one.Heat*1.002 { // a little more where one is past the transition to turbulence
				t.Errorf("%s: uneven boxes give more: %v W of %v", name, both.Heat, 2*one.Heat)
			}
			if bore > 0 {
				within(t, "evenness", Evenness(both.Branches), 1, map[float64]float64{0.8: 0.01, 0.25: 0.15}[bore])
			}
		}
	}
}

// Ten boxes on a narrow manifold: the two classes of the balance give the heat of ten boxes rated
// one by one with the flows of the published header solution.
func TestRowOfTenBoxByBox(t *testing.T) {
	for _, name := range []string{"back-pass-plate", "can-columns", "screen-box"} {
		for _, end := range []string{"same-end", "far-end"} {
			h := rowOf(t, name, 10, 0.3, put(design.ArrayReturn.Path, end))
			c := bright()
			c.Flow = 0.3
			r := rate(t, &h, c)
			if len(r.Branches) != 10 {
				t.Fatal(len(r.Branches))
			}
			boxes, _ := h.Kinds()
			sum, mass := 0.0, 0.0
			for _, b := range r.Branches {
				x := c
				x.Flow = b.Mass
				one := rate(t, &boxes[0], x)
				sum += one.Heat
				mass += b.Mass
				within(t, name+" outlet of a branch", b.Outlet, one.Outlet, 0.5)
			}
			within(t, "all the air", mass, 0.3, 1e-9)
			within(t, name+" "+end, r.Heat, sum, 0.002*sum)
			even := Evenness(r.Branches)
			if even > 0.95 || even < 0.2 {
				t.Errorf("%s %s: evenness %v tells nothing", name, end, even)
			}
			// Balanced, it is even and gives no less.
			b := set(t, h, put(design.ArrayBalance.Path, "orifices"))
			x := rate(t, &b, c)
			if e := Evenness(x.Branches); e < 0.95 || x.Heat < r.Heat {
				t.Errorf("%s %s: balanced evenness %v, heat %v after %v", name, end, e, x.Heat, r.Heat)
			}
			if math.Abs(r.Energy.Sum()-r.Energy.Sun) > 1e-3*r.Energy.Sun {
				t.Errorf("parts sum to %v of %v", r.Energy.Sum(), r.Energy.Sun)
			}
		}
	}
}

// Two boxes of different depth on one wall: each gives what it gives alone with its share of the
// air, and the shallow one gets less of it until an orifice balances them.
func TestUnlikeBoxesOnOneFan(t *testing.T) {
	h := rowOf(t, "back-pass-plate", 2, 0, put(design.PlateChannel.Path, 0.03), put(design.ArrayOthers.Path,
		[]design.OtherBox{{Count: 1, Width: 0.8, Height: 1.2, Depth: 0.012}}))
	c := bright()
	c.Flow = 0.06
	r := rate(t, &h, c)
	boxes, _ := h.Kinds()
	sum := 0.0
	for i, b := range r.Branches {
		x := c
		x.Flow = b.Mass
		one := rate(t, &boxes[b.Kind], x)
		sum += one.Heat
		within(t, "outlet", r.Branches[i].Outlet, one.Outlet, 0.3)
	}
	within(t, "heat", r.Heat, sum, 0.003*sum)
	if r.Branches[1].Share > 0.8 {
		t.Errorf("the shallow box gets %v of its share", r.Branches[1].Share)
	}
	b := set(t, h, put(design.ArrayBalance.Path, "orifices"))
	x := rate(t, &b, c)
	if e := Evenness(x.Branches); e < 0.95 || x.Branches[0].Orifice <= 0 || x.Branches[1].Orifice != 0 {
		t.Errorf("balanced: %+v", x.Branches)
	}
	within(t, "aperture", r.Aperture, boxes[0].Aperture()+boxes[1].Aperture(), 1e-9)
	within(t, "the heater's glass", h.Glass(), r.Aperture, 1e-9)
}

// Groups of two in turn, three of them side by side, are three times a group alone.
func TestGroupsSideBySide(t *testing.T) {
	h := rowOf(t, "back-pass-plate", 6, 0.8, put(design.ArrayJoin.Path, "groups"), put(design.ArrayGroup.Path, 2))
	c := bright()
	c.Flow = 0.12
	r := rate(t, &h, c)
	alone := rowOf(t, "back-pass-plate", 2, 0, put(design.ArrayJoin.Path, "series"))
	c.Flow = 0.04
	g := rate(t, &alone, c)
	within(t, "heat", r.Heat, 3*g.Heat, 1e-3*r.Heat)
	if len(r.Branches) != 3 {
		t.Errorf("%d branches", len(r.Branches))
	}
}

// A roof of ten boxes into a furnace's plenum runs on its fan: the route's pieces add up, the day
// and the standing box are of the same row.
func TestRoofOfTenIntoAPlenum(t *testing.T) {
	h := rowOf(t, "back-pass-plate", 10, 0.35, put(design.PlaceTilt.Path, 45.0), put(design.AirRoute.Path, "furnace"),
		put(design.BoxSeam.Path, 1.2e-5))
	c := ConditionsAt(&h, WinterNoon(&h))
	e, err := Evaluate(&h, c, true)
	if err != nil {
		t.Fatal(err)
	}
	d, err := Describe(&h)
	if err != nil {
		t.Fatal(err)
	}
	sum := 0.0
	for _, p := range d.Route(&h, &e.Running) {
		sum += p.Loss
	}
	within(t, "pressures", sum, e.Running.PressureDrop, 0.01*sum)
	single := rowOf(t, "back-pass-plate", 1, 0, put(design.PlaceTilt.Path, 45.0))
	one, err := Evaluate(&single, c, true)
	if err != nil {
		t.Fatal(err)
	}
	within(t, "standing absorber", e.Still.AbsorberMax, one.Still.AbsorberMax, 0.5)
	if e.Heat.Value < 6*one.Heat.Value || e.Heat.Low >= e.Heat.Value {
		t.Errorf("ten give %v W, one %v", e.Heat.Value, one.Heat.Value)
	}
	tr, err := d.NewTransient(c)
	if err != nil {
		t.Fatal(err)
	}
	var m Moment
	for range 240 {
		if m, err = tr.Step(c, e.Running.Mass, 30); err != nil {
			t.Fatal(err)
		}
	}
	within(t, "the day settles on the balance", m.Energy.Air, e.Running.Energy.Air, 0.005*m.Energy.Air)
}

// Each tube and each box by itself move the heat by less than half a per cent, in tubes and in
// rows with skewed shares; and the classes in which a box is balanced sum to what it is.
func TestClassesConverge(t *testing.T) {
	heat := func(h *design.Heater, flow float64, classes int) Result {
		defer func(n int) { mostClasses = n }(mostClasses)
		mostClasses = classes
		c := bright()
		c.Flow = flow
		r := rate(t, h, c)
		within(t, "parts", r.Energy.Sum(), r.Energy.Sun, 1e-3*r.Energy.Sun)
		return r
	}
	for _, name := range []string{"downpipes", "can-columns", "double-pass-tubes"} {
		for _, header := range []float64{0.06, 0.16, 0.3} {
			for _, places := range []string{"opposite", "same-side"} {
				h, err := design.Named(name)
				if err != nil {
					t.Fatal(err)
				}
				path := design.PipesHeader.Path
				if name == "can-columns" {
					path = design.CansHeader.Path
					h = set(t, h, put(design.CansRows.Path, 8))
				}
				h = set(t, h, put(path, header))
				if design.AirPortPlaces.Applies(&h) {
					h = set(t, h, put(design.AirPortPlaces.Path, places))
				}
				few, all := heat(&h, 0.04, mostClasses), heat(&h, 0.04, 40)
				within(t, name+" in classes", few.Heat, all.Heat, 0.005*all.Heat)
				if last := heat(&h, 0.04, 2); math.Abs(last.Heat-all.Heat) < math.Abs(few.Heat-all.Heat)-0.002*all.Heat {
					t.Errorf("%s: two classes give %v W, more %v, all %v", name, last.Heat, few.Heat, all.Heat)
				}
			}
		}
	}
	for _, end := range []string{"same-end", "far-end"} {
		row := rowOf(t, "back-pass-plate", 12, 0.25, put(design.ArrayReturn.Path, end))
		few, all := heat(&row, 0.36, mostClasses), heat(&row, 0.36, 12)
		within(t, "row in classes", few.Heat, all.Heat, 0.005*all.Heat)
		boxes, _ := row.Kinds()
		sum := 0.0
		for _, b := range few.Branches {
			sum += heat(&boxes[0], b.Mass, mostClasses).Heat
		}
		if within(t, "row of twelve, box by box", few.Heat, sum, 0.01*sum); Evenness(few.Branches) > 0.8 {
			t.Errorf("shares are not skewed: %v", Evenness(few.Branches))
		}
	}
}

// Tubes that get little air are hot and draw: with the fan all but off the flow is even however low the headers are, where the
// speed in them would have starved one end.
func TestWarmthEvensTubesOut(t *testing.T) {
	h, err := design.Named("downpipes")
	if err != nil {
		t.Fatal(err)
	}
	h = set(t, h, put(design.PipesHeader.Path, 0.08))
	c := bright()
	last := 1.0
	for _, flow := range []float64{0.002, 0.006, 0.02, 0.06} {
		c.Flow = flow
		r := rate(t, &h, c)
		if r.Evenness > last {
			t.Errorf("more even at %v kg/s: %v after %v", flow, r.Evenness, last)
		}
		last = r.Evenness
		if flow == 0.002 && last < 0.8 {
			t.Errorf("evenness %v next to no flow", last)
		}
	}
	c.Flow, c.Tilt = 0.002, 0
	if flat := rate(t, &h, c); flat.Evenness > 0.9 && last > 0.5 {
		t.Errorf("flat, where nothing draws, it is as even: %v", flat.Evenness)
	}
}

// Air that hardly warms or cools in tubes between headers, with any sun and from the balance of any other hour, settles: where it
// cools in tubes in which it rises it may rest in one of them or in another, and a rating may not swing between the two.
func TestTubesSettleInWeakSun(t *testing.T) {
	h, err := design.Named("downpipes")
	if err != nil {
		t.Fatal(err)
	}
	h = set(t, h, put(design.PaneWidth.Path, 0.74), put(design.PaneHeight.Path, 1.31), put(design.PlaceTilt.Path, 65.0),
		put(design.AirFan.Path, "computer-120"),
		put(design.AirDiameter.Path, 0.1))
	for _, header := range []float64{0.08, design.PipesHeader.Number(&h)} {
		box := set(t, h, put(design.PipesHeader.Path, header))
		d, err := Describe(&box)
		if err != nil {
			t.Fatal(err)
		}
		r := rand.New(rand.NewPCG(5, 25))
		var before *Result
		for range 100 {
			c := ConditionsAt(&box, WinterNoon(&box))
			sun := 0.02 + 0.15*r.Float64()
			c.Sun.Beam, c.Sun.Sky, c.Sun.Ground = c.Sun.Beam*sun*r.Float64(), c.Sun.Sky*sun, c.Sun.Ground*sun
			c.Ambient = -20 + 30*r.Float64()
			c.Sky, c.Inlet, c.Wind = c.Ambient-20*r.Float64(), 10+15*r.Float64(), 6*r.Float64()
			c.Flow = 0
			x, err := d.Rate(c, Tuning{}, before)
			if err != nil {
				t.Errorf("header %v m, %.0f W/m2, %.1f C outdoors, %.1f C in: %v", header, c.Sun.Total(), c.Ambient, c.Inlet, err)
				continue
			}
			before = &x
		}
	}
}

// What uneven air takes from tubes, against an independent pipe network in which each tube has its own lift and headers rub and
// recover: the heat at 900 W/m2, -5 C outdoors and 16 C drawn in, as a share of what even air without pressure in the headers gave.
func TestTubesAgainstAnIndependentNetwork(t *testing.T) {
	for _, x := range []struct {
		name         string
		even, lo, hi float64 // W, and shares of it
		changes      []design.Change
	}{
		{"downpipes", 870, 0.62, 0.874, nil}, // 540 to 760 W
		{"downpipes", 870, 0.85, 0.94, []design.Change{put(design.AirPortPlaces.Path, "same-side")}},
		{"downpipes", 872, 0.84, 0.92, []design.Change{put(design.PipesHeader.Path, 0.3)}},
		{"downpipes", 869, 0.63, 0.82, []design.Change{put(design.PipesHeader.Path, 0.08)}},
		{"double-pass-tubes", 786, 0.86, 0.90, nil},
		{"can-columns", 829, 0.89, 0.96, []design.Change{put(design.CansEnds.Path, "cut"), put(design.CansHeader.Path, 0.16)}},
		{"can-columns", 816, 0.98, 1.0, []design.Change{put(design.CansEnds.Path, "torn"), put(design.CansHeader.Path, 0.16)}},
		{"can-columns", 814, 0.86, 0.95, []design.Change{put(design.CansEnds.Path, "torn"), put(design.CansHeader.Path, 0.06)}},
	} {
		h, err := design.Named(x.name)
		if err != nil {
			t.Fatal(err)
		}
		h = set(t, h, x.changes...)
		c := bright()
		c.Sun = solar.OnPlane{Beam: 0.85 * 900, Sky: 0.15 * 900}
		c.Ambient, c.Inlet, c.Room, c.Sky, c.Wind, c.Tilt = -5, 16, h.Room.Air, solar.Swinbank(-5), h.Place.Wind, h.Place.Tilt
		c.Pressure = solar.Pressure(h.Place.Elevation)
		if r := rate(t, &h, c); r.Heat < x.lo*x.even || r.Heat > x.hi*x.even {
			t.Errorf("%s with %v: %.0f W, %.3f of %v; the network has %.2f to %.2f", x.name, x.changes, r.Heat, r.Heat/x.even, x.even, x.lo,
				x.hi)
		}
	}
}
