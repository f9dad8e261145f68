package collector

import (
	"math"
	"math/rand/v2"
	"sort"
	"testing"

	"gladember/core/air"
	"gladember/core/design"
	"gladember/core/solar"
	"gladember/core/units"
)

const (
	inch = units.MeterPerInch
	foot = units.MeterPerFoot
	cfm  = units.CubicMeterPerCFM
)

func fahrenheit(f float64) float64 { return (f - 32) / 1.8 }

// rig makes a heater out of decisions.
func rig(t *testing.T, changes ...design.Change) design.Heater {
	t.Helper()
	h, err := design.Apply(design.New(), units.System{}, changes...)
	if err != nil {
		t.Fatal(err)
	}
	return h
}

func to(path string, v any) design.Change { return design.Change{Path: path, Value: v} }

// lit is a clear sky's sun on the glass, a seventh of it diffuse.
func lit(g, ambient, inlet, tilt float64) Conditions {
	return Conditions{Sun: solar.OnPlane{Beam: 0.85 * g, Sky: 0.12 * g, Ground: 0.03 * g, Incidence: 20}, Tilt: tilt, Ambient: ambient,
		Inlet: inlet, Sky: solar.Swinbank(ambient), Wind: 1.5, Pressure: 98000}
}

// span is what an unknown may be.
type span struct{ lo, hi float64 }

// What builders leave unsaid, stated once for every rig before anything was
// computed: sun on the glass, W/m2, by the words used for it; air and wind; the
// part of its label that a small fan moves through a box; the mean of a jet over
// the one speed read in it; what small fans move by their watts, m3/s; foam.
// Common practice, no source.
var (
	clearWinter  = span{800, 1000}
	sunUnsaid    = span{600, 1000}
	lowSun       = span{200, 800} // Ineichen, sun 8 to 20 degrees high, Linke 2.5 to 4, on an upright box
	betterSun    = span{500, 900}
	hazySun      = span{400, 800}
	partlyShaded = span{300, 700}
	windUnsaid   = span{0, 3}
	roomUnsaid   = span{15, 22}
	outUnsaid    = span{-5, 15}
	ofLabel      = span{0.4, 0.95}
	ofJet        = span{0.75, 0.95}
	fiveWatts    = span{40 / 3600., 90 / 3600.}
	fifteenWatts = span{80 / 3600., 180 / 3600.}
	foamUnsaid   = span{0.006, 0.038}
)

// Rigs that builders measured, common practice without a source. Each is
// predicted over everything that is not known of it, 200 times: the unknowns
// evenly over their spans, and the balance's own uncertain inputs normally. What
// was seen must lie in, or reach into, the middle 95 % of the predictions, and
// these must be narrow enough to say something.
func TestTradeRigs(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	type draw func(span) float64
	sized := func(w, h float64, more ...design.Change) []design.Change {
		return append([]design.Change{to(design.PaneWidth.Path, w), to(design.PaneHeight.Path, h)}, more...)
	}
	passive := []design.Change{to(design.AirDrive.Path, "natural"), to(design.AirBends.Path, 0), to(design.AirGrilles.Path, 0),
		to(design.AirFlap.Path, "none"),
		to(design.AirToBox.Path, 0.2), to(design.AirFromBox.Path, 0.2)}
	outlet := func(_ draw, r Result) float64 { return r.Outlet }
	absorber := func(_ draw, r Result) float64 { return r.AbsorberMax }
	const runs = 200
	for _, x := range []struct {
		name   string
		seen   span
		widest float64 // of the middle 95 % of the predictions
		make   func(u draw) ([]design.Change, Conditions, float64)
		figure func(u draw, r Result) float64
		stands bool // the box has stood in the sun for ten to fifteen minutes
	}{
		{name: "26 sq ft of downpipes, two 24 ft legs in series, 80 cfm: efficiency (about 50 %, taken as 47 to 53)",
			seen: span{0.47, 0.53}, widest: 0.2, make: func(u draw) ([]design.Change, Conditions, float64) {
				return sized(4.1*foot, 6.6*foot, to(design.AbsorberFamily.Path, "downpipes"), to(design.PipesCount.Path, 8),
						to(design.PipesJoin.Path, "series"), to(design.AirDiameter.Path, 0.125),
						to(design.BoxBackFoam.Path, u(foamUnsaid))),
					lit(u(sunUnsaid), u(outUnsaid), u(roomUnsaid), 90), 80 * cfm
			}, figure: func(_ draw, r Result) float64 { return r.Efficiency }},
		{name: "storm-window screen box, 3 layers, fan rated 50 cfm, 69 F in: outlet, C", seen: span{fahrenheit(110), fahrenheit(112)},
			widest: 40, make: func(u draw) ([]design.Change, Conditions, float64) {
				return sized(u(span{0.6, 0.9}), u(span{0.9, 1.4}), to(design.ScreensLayers.Path, 3),
						to(design.BoxBackFoam.Path, u(foamUnsaid))),
					lit(u(sunUnsaid), u(outUnsaid), fahrenheit(69), 60), u(ofLabel) * 50 * cfm
			}, figure: outlet},
		{name: "10 m of ribbed coil, 0.85 m2 of glass, 4.3 m/s read in a 100 mm outlet, 27 C in: outlet, C", seen: span{39, 40},
			widest: 12, make: func(u draw) ([]design.Change, Conditions, float64) {
				return sized(0.78, 1.17, to(design.AbsorberFamily.Path, "ribbed-coil"), to(design.CoilRuns.Path, 7),
						to(design.BoxEdgeFoam.Path, 0.0)),
					lit(u(sunUnsaid), u(outUnsaid), 27, 45), u(ofJet) * 4.3 * 0.00785
			}, figure: outlet},
		{name: "the same coil's heat, W (claimed 500 with the one speed as the mean: 375 to 475)", seen: span{375, 475}, widest: 280,
			make: func(u draw) ([]design.Change, Conditions, float64) {
				return sized(0.78, 1.17, to(design.AbsorberFamily.Path, "ribbed-coil"), to(design.CoilRuns.Path, 7),
						to(design.BoxEdgeFoam.Path, 0.0)),
					lit(u(sunUnsaid), u(outUnsaid), 27, 45), u(ofJet) * 4.3 * 0.00785
			}, figure: func(_ draw, r Result) float64 { return r.Heat }},
		{name: "can columns, 4 x 8 ft, 1 in of foam, 30 F outdoors, low sun for 10 to 15 min: inside, C",
			seen: span{fahrenheit(150), fahrenheit(150)}, widest: 60, stands: true, make: func(u draw) ([]design.Change, Conditions,
				float64) {
				return sized(4*foot, 8*foot, to(design.AbsorberFamily.Path, "can-columns"), to(design.BoxBackFoam.Path, 1*inch)),
					lit(u(lowSun), fahrenheit(30), 15, 90), 0
			}},
		{name: "the same in better sun, at rest, the hottest seen: inside, C", seen: span{fahrenheit(195), fahrenheit(199)}, widest: 60,
			make: func(u draw) ([]design.Change, Conditions, float64) {
				return sized(4*foot, 8*foot, to(design.AbsorberFamily.Path, "can-columns"), to(design.BoxBackFoam.Path, 1*inch)),
					noFlow(lit(u(betterSun), fahrenheit(30), 15, 90)), 0
			}, figure: absorber},
		{name: "passive cans behind double glass, December 14:00 at 44 N: vent, C", seen: span{fahrenheit(146), fahrenheit(167)},
			widest: 45, make: func(u draw) ([]design.Change, Conditions, float64) {
				return append(sized(u(span{0.6, 1.2}), u(span{1.2, 2.4}), to(design.AbsorberFamily.Path, "can-columns"),
						to(design.CoverLayers.Path, 2),
						to(design.AirDiameter.Path, u(span{0.075, 0.15}))), passive...), lit(u(span{550, 750}), u(outUnsaid), u(roomUnsaid),
						90), 0
			}, figure: outlet},
		{name: "passive screen box, 18 x 33 in, leaned 45 degrees, clear noon: dial inside, C",
			seen: span{fahrenheit(185), fahrenheit(185)}, widest: 45, make: func(u draw) ([]design.Change, Conditions, float64) {
				return append(sized(18*inch, 33*inch, to(design.AirDiameter.Path, u(span{0.05, 0.08})),
					to(design.BoxBackFoam.Path, u(foamUnsaid))),
					passive...), lit(u(clearWinter), u(outUnsaid), u(roomUnsaid), 45), 0
			}, figure: func(u draw, r Result) float64 { return r.Outlet + u(span{0, 1})*(r.AbsorberMax-r.Outlet) }},
		{name: "the same box's logger at the bottom: C", seen: span{fahrenheit(140), fahrenheit(140)}, widest: 70,
			make: func(u draw) ([]design.Change, Conditions, float64) {
				return append(sized(18*inch, 33*inch, to(design.AirDiameter.Path, u(span{0.05, 0.08})),
					to(design.BoxBackFoam.Path, u(foamUnsaid))),
					passive...), lit(u(clearWinter), u(outUnsaid), u(roomUnsaid), 45), 0
			}, figure: func(u draw, r Result) float64 {
				near := len(r.AirAlong) / 3
				return r.AirAlong[near] + u(span{0, 1})*(r.HotAlong[near]-r.AirAlong[near])
			}},
		{name: "foil window panel, black foil, metal to the room, in hazy sun: foil, C", seen: span{fahrenheit(143), fahrenheit(165)},
			widest: 45, make: func(u draw) ([]design.Change, Conditions, float64) {
				return sized(u(span{0.6, 1}), u(span{0.9, 1.5}), to(design.AbsorberFamily.Path, "window-panel"),
						to(design.PanelBack.Path, "bare"),
						to(design.PanelPanes.Path, 1+math.Round(u(span{0, 1}))), to(design.PanelSlots.Path, u(span{0.05, 0.2})),
						to(design.PanelGap.Path, u(span{0.015, 0.05}))),
					lit(u(hazySun), u(outUnsaid), u(roomUnsaid), 90), 0
			}, figure: absorber},
		{name: "26 sq ft of lath behind double glass, 35 F outdoors, 60 F in, desk fan or natural flow: outlet, C",
			seen: span{fahrenheit(110), fahrenheit(120)}, widest: 45, make: func(u draw) ([]design.Change, Conditions, float64) {
				return sized(4*foot, 6.6*foot, to(design.ScreensMesh.Path, "metal-lath"), to(design.CoverLayers.Path, 2)),
					lit(u(partlyShaded), fahrenheit(35), fahrenheit(60), 60), u(fiveWatts)
			}, figure: outlet},
		{name: "coil box 3 x 5 ft, -15 C, clear January, 5 W fan: outlet, C", seen: span{27, 28}, widest: 40,
			make: func(u draw) ([]design.Change, Conditions, float64) {
				return sized(3*foot, 5*foot, to(design.AbsorberFamily.Path, "ribbed-coil"), to(design.BoxEdgeFoam.Path, 0.0)),
					lit(u(clearWinter), -15, u(span{10, 18}), 70), u(fiveWatts)
			}, figure: outlet},
		{name: "downpipe double pass, -15 C, clear January, 15 W fan: outlet, C", seen: span{40, 41}, widest: 40,
			make: func(u draw) ([]design.Change, Conditions, float64) {
				return sized(u(span{0.8, 1.2}), u(span{1.5, 2.4}), to(design.AbsorberFamily.Path, "double-pass-tubes"),
					to(design.CoverMaterial.Path, "twin-wall")), lit(u(clearWinter), -15, u(span{10, 18}), 70), u(fifteenWatts)
			}, figure: outlet},
	} {
		r := rand.New(rand.NewPCG(10, 20))
		var got []float64
		for range runs {
			u := func(s span) float64 { return s.lo + (s.hi-s.lo)*r.Float64() }
			changes, c, flow := x.make(u)
			c.Wind = u(windUnsaid)
			h := rig(t, changes...)
			d, err := Describe(&h)
			if err != nil {
				t.Fatal(err)
			}
			if flow > 0 {
				c.Flow = flow * air.Density(c.Inlet, c.Pressure)
			}
			if x.stands {
				got = append(got, stood(t, &d, c, u(span{600, 900}), u(span{0, 1})))
				continue
			}
			res, err := d.Rate(c, anyTuning(r, Uncertainties(&h, flow > 0, false)), nil)
			if err != nil {
				t.Fatalf("%s: %v", x.name, err)
			}
			got = append(got, x.figure(u, res))
		}
		sort.Float64s(got)
		lo, mid, hi := got[runs/40], got[runs/2], got[runs-1-runs/40]
		if x.seen.hi < lo || x.seen.lo > hi {
			t.Errorf("%s: seen %.3g to %.3g, predicted %.3g, 95 %% in %.3g to %.3g", x.name, x.seen.lo, x.seen.hi, mid, lo, hi)
		}
		if hi-lo > x.widest {
			t.Errorf("%s: predictions span %.3g to %.3g; that says too little", x.name, lo, hi)
		}
		t.Logf("%s: seen %.3g to %.3g, predicted %.3g, 95 %% in %.3g to %.3g", x.name, x.seen.lo, x.seen.hi, mid, lo, hi)
	}
}

// stood returns what a probe reads in a box that came out of the shade some
// seconds ago, somewhere between the air at its top and its absorber.
func stood(t *testing.T, d *Description, c Conditions, seconds, where float64) float64 {
	t.Helper()
	shade := c
	shade.Sun = solar.OnPlane{}
	x, err := d.NewTransient(shade)
	if err != nil {
		t.Fatal(err)
	}
	var m Moment
	for s := 0.0; s < seconds; s += 30 {
		if m, err = x.Step(c, 0, 30); err != nil {
			t.Fatal(err)
		}
	}
	return m.Top + where*(m.Absorber-m.Top)
}

func noFlow(c Conditions) Conditions {
	c.NoFlow = true
	return c
}

// Two readings that cannot be: a coil box of 3 x 5 ft whose fan is rated 100
// cfm. At that flow the rise would take more heat than the brightest sun brings
// through its glass, so the true flow is far lower, and the balance says how low.
func TestImpossibleRigs(t *testing.T) {
	h := rig(t, to(design.PaneWidth.Path, 3*foot), to(design.PaneHeight.Path, 5*foot), to(design.AbsorberFamily.Path, "ribbed-coil"))
	for _, x := range []struct{ in, out, claimed float64 }{{86, 135, 1550}, {62, 175, 3600}} {
		in, out := fahrenheit(x.in), fahrenheit(x.out)
		m := 100 * cfm * 1.2
		claimed := m * air.Cp((in+out)/2) * (out - in)
		within(t, "what the label would make of it", claimed, x.claimed, 0.02)
		bright := lit(1100, 5, in, 60)
		sun := bright.Sun.Total() * h.Aperture()
		if claimed <= sun {
			t.Errorf("%v W from %v W of sun counts as possible", claimed, sun)
		}
		// The flow at which the balance gives that outlet.
		lo, hi := 0.001, m
		for range 50 {
			bright.Flow = (lo + hi) / 2
			if rate(t, &h, bright).Outlet > out {
				lo = bright.Flow
			} else {
				hi = bright.Flow
			}
		}
		if share := lo / m; share > 0.6 || share < 0.02 {
			t.Errorf("%v F out of %v F in: the balance wants %v of the label", x.out, x.in, share)
		}
	}
}
