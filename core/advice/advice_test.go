package advice

import (
	"math"
	"strings"
	"testing"
	"time"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

func judged(t *testing.T, changes ...design.Change) (collector.Evaluation, map[string]Finding) {
	t.Helper()
	h, err := design.Apply(design.New(), units.System{}, changes...)
	if err != nil {
		t.Fatal(err)
	}
	e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
	if err != nil {
		t.Fatal(err)
	}
	m := map[string]Finding{}
	for _, f := range Evaluate(&e) {
		m[f.ID] = f
	}
	return e, m
}

func set(path string, v any) design.Change { return design.Change{Path: path, Value: v} }

// better are judgments whose remedy is a step on a way, not its end.
var better = map[string]bool{"more-air": true, "uneven-crossing": true, "small-holes": true, "uneven-tubes": true}

// plate is a box with no screens to cross.
var plate = []design.Change{design.Set(design.AbsorberFamily, "back-pass-plate")}

// Each judgment fires on one box and stays silent on another; its remedy,
// applied, silences it, and its gain is what applying it really gives.
func TestFindingsFireAndMend(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	for _, c := range []struct {
		id            string
		fires, silent []design.Change
	}{
		{"too-hot-xps", []design.Change{design.Set(design.BoxFoam, "xps")}, nil},
		{"too-hot-acrylic", []design.Change{design.Set(design.CoverMaterial, "acrylic"), design.Set(design.CoverLayers, 2),
			design.Set(design.BoxFoam, "mineral-wool")},
			[]design.Change{design.Set(design.CoverMaterial, "acrylic"), design.Set(design.PlaceTilt, 90.0)}},
		{"too-hot-glassfibre-screen", []design.Change{design.Set(design.ScreensMesh, "glassfibre-screen")}, nil},
		{"switch-never", []design.Change{design.Set(design.SwitchKind, "snap"), design.Set(design.SwitchClose, 90.0),
			design.Set(design.PlaceOutdoor, -20.0),
			design.Set(design.PlaceWind, 6.0), design.Set(design.CoverDirt, 0.3)}, nil},
		{"switch-stutters", []design.Change{design.Set(design.SwitchKind, "snap"), design.Set(design.SwitchClose, 50.0),
			design.Set(design.SwitchOpen, 45.0)}, nil},
		{"more-air", []design.Change{design.Set(design.AirFan, "computer-120"), design.Set(design.AirDiameter, 0.075)},
			[]design.Change{design.Set(design.AirDiameter, 0.2), design.Set(design.AirFan, "inline-6")}},
		{"fan-rating", []design.Change{design.Set(design.AirFan, "computer-120"), design.Set(design.AirDiameter, 0.075)},
			[]design.Change{design.Set(design.AirDiameter, 0.2), design.Set(design.AirToBox, 0.2), design.Set(design.AirFromBox, 0.2),
				design.Set(design.AirBends, 0),
				design.Set(design.AirFlap, "none"), design.Set(design.AirGrilles, 0), design.Set(design.ScreensLift, 0.1)}},
		{"near-glass", []design.Change{design.Set(design.BoxGap, 0.012)}, nil},
		{"too-hot-sealant", []design.Change{design.Set(design.BoxSealant, "putty"), design.Set(design.CoverLayers, 2)}, nil},
		{"too-hot-adhesive", []design.Change{design.Set(design.BoxAdhesive, "hot-glue")}, nil},
		{"too-hot-tape", []design.Change{design.Set(design.BoxTape, "cloth")}, []design.Change{design.Set(design.BoxTape, "polyimide")}},
		{"clash-paint", []design.Change{design.Set(design.AbsorberPaint, "grill-paint")},
			[]design.Change{design.Set(design.AbsorberPaint, "engine-enamel")}},
		{"clash-paint", []design.Change{design.Set(design.BoxFoam, "xps")}, []design.Change{design.Set(design.BoxFoam, "mineral-wool")}},
		{"clash-sealant", []design.Change{design.Set(design.BoxSealant, "fire-caulk")}, nil},
		{"clash-sealant", []design.Change{design.Set(design.BoxSealant, "silicone"), design.Set(design.CoverMaterial, "polycarbonate")},
			[]design.Change{design.Set(design.BoxSealant, "silicone")}},
		{"clash-adhesive", []design.Change{design.Set(design.BoxAdhesive, "construction"), design.Set(design.BoxFoam, "eps")}, nil},
		{"clash-adhesive", []design.Change{design.Set(design.BoxAdhesive, "wood-glue")}, nil},
		{"clash-tape", []design.Change{design.Set(design.BoxTape, "cloth")}, nil},
		{"clash-duct", []design.Change{design.Set(design.AirDuct, "plastic-lined")}, nil},
		{"hot-duct", []design.Change{design.Set(design.AirDuct, "insulated"), design.Set(design.CoverLayers, 2)}, nil},
		{"hot-fan", []design.Change{design.Set(design.AirFanSide, "outlet")}, nil},
		{"uneven-crossing", []design.Change{design.Set(design.ScreensMesh, "metal-lath"), design.Set(design.ScreensLayers, 1),
			design.Set(design.ScreensLift, 0.0), design.Set(design.ScreensRear, 0.01)}, plate},
		{"uneven-tubes", []design.Change{design.Set(design.AbsorberFamily, "can-columns"), design.Set(design.CansEnds, "cut"),
			design.Set(design.CansHeader, 0.04), design.Set(design.AirDiameter, 0.08)},
			[]design.Change{design.Set(design.AbsorberFamily, "can-columns"),
				design.Set(design.CansEnds, "drilled")}},
		{"tight-ports", []design.Change{design.Set(design.AbsorberFamily, "double-pass-plate"), design.Set(design.PlateChannel, 0.012),
			design.Set(design.AirDiameter, 0.15)}, []design.Change{design.Set(design.AbsorberFamily, "back-pass-plate"),
			design.Set(design.PlateChannel, 0.04), design.Set(design.AirDiameter, 0.125)}},
		{"tight-columns", []design.Change{design.Set(design.AbsorberFamily, "can-columns"), design.Set(design.CansHeader, 0.16),
			design.Set(design.CansRows, 8), design.Set(design.PaneHeight, 8*0.115+2*0.16+0.048+0.004)},
			[]design.Change{design.Set(design.AbsorberFamily, "can-columns"), design.Set(design.CansHeader, 0.16),
				design.Set(design.CansRows, 7),
				design.Set(design.PaneHeight, 8*0.115+2*0.16+0.048+0.004)}},
		{"uneven-coils", []design.Change{design.Set(design.AbsorberFamily, "ribbed-coil"), design.Set(design.CoilRuns, 5),
			design.Set(design.CoilWays, 2)}, []design.Change{design.Set(design.AbsorberFamily, "ribbed-coil"),
			design.Set(design.CoilRuns, 4),
			design.Set(design.CoilWays, 2)}},
		{"series-pipes", []design.Change{design.Set(design.AbsorberFamily, "downpipes"), design.Set(design.PipesJoin, "series")},
			[]design.Change{design.Set(design.AbsorberFamily, "downpipes")}},
		{"small-holes", []design.Change{design.Set(design.AbsorberFamily, "passive-box"), design.Set(design.AirDiameter, 0.06)},
			[]design.Change{design.Set(design.AbsorberFamily, "passive-box"), design.Set(design.AirDiameter, 0.3),
				design.Set(design.AirBends, 0), design.Set(design.AirGrilles, 0),
				design.Set(design.AirFlap, "none"), design.Set(design.AirPorts, 2), design.Set(design.PaneWidth, 1.2)}},
		{"weak-panel", []design.Change{design.Set(design.AirDrive, "panel"), design.Set(design.AirPanel, 2.0)},
			[]design.Change{design.Set(design.AirDrive, "panel"), design.Set(design.AirPanel, 50.0)}},
		{"small-battery", []design.Change{design.Set(design.AirDrive, "panel"), design.Set(design.AirBattery, 5.0),
			design.Set(design.AirWireArea, 4.0)},
			[]design.Change{design.Set(design.AirDrive, "panel"), design.Set(design.AirBattery, 500.0),
				design.Set(design.AirWireArea, 4.0)}},
		{"thin-wire", []design.Change{design.Set(design.AirDrive, "panel"), design.Set(design.AirFan, "bilge-4"),
			design.Set(design.AirBattery, 1000.0),
			design.Set(design.AirWireArea, 0.5), design.Set(design.AirWire, 10.0)}, nil},
		{"back-flow", []design.Change{design.Set(design.AirFlap, "none")}, nil},
		{"bare-duct", []design.Change{design.Set(design.AirRoute, "stand"), design.Set(design.AirFromBox, 3.0),
			design.Set(design.AirToBox, 3.0)},
			[]design.Change{design.Set(design.AirFromBox, 3.0), design.Set(design.AirToBox, 3.0)}},
		{"leaky", []design.Change{design.Set(design.BoxSeam, 3e-5)}, nil},
		{"dew", []design.Change{design.Set(design.AbsorberFamily, "front-pass-plate"), design.Set(design.RoomHumidity, 0.8),
			design.Set(design.PlaceOutdoor, -15.0)},
			[]design.Change{design.Set(design.RoomHumidity, 0.2)}},
		{"cool-jet", []design.Change{design.Set(design.AirFan, "inline-6")}, []design.Change{design.Set(design.SpaceKind, "greenhouse")}},
		{"shiny-paint", []design.Change{design.Set(design.AbsorberPaint, "gloss-black"), design.Set(design.BoxFoam, "mineral-wool"),
			design.Set(design.AirFan, "inline-6")}, nil},
		{"doubtful-pane", []design.Change{design.Set(design.CoverMaterial, "solar-control-glass")}, nil},
		{"doubtful-pane", []design.Change{design.Set(design.CoverMaterial, "tinted-glass")}, nil},
		{"shaded", []design.Change{design.Set(design.ShadeFinLeft, 0.0), design.Set(design.ShadeEaveDepth, 1.5),
			design.Set(design.ShadeEaveAbove, 0.1),
			design.Set(design.PlaceTilt, 90.0)}, []design.Change{design.Set(design.ShadeEaveDepth, 0.2),
			design.Set(design.ShadeEaveAbove, 1.0),
			design.Set(design.PlaceTilt, 90.0)}},
		{"thin-insulation", []design.Change{design.Set(design.BoxBackFoam, 0.0), design.Set(design.BoxEdgeFoam, 0.0)}, nil},
		{"bare-window", []design.Change{design.Set(design.AbsorberFamily, "window-panel"), design.Set(design.PlaceTilt, 90.0)}, nil},
		{"other-side", []design.Change{design.Set(design.BoxSeam, 1e-4), design.Set(design.AirFanSide, "outlet"),
			design.Set(design.AirToBox, 8.0),
			design.Set(design.AirFromBox, 0.3), design.Set(design.PlaceOutdoor, -20.0)}, nil},
		{"plugged", []design.Change{design.Set(design.SwitchKind, "plug")}, nil},
		{"uneven-row", []design.Change{design.Set(design.ArrayBoxes, 6), design.Set(design.ArrayHeader, 0.15)},
			[]design.Change{design.Set(design.ArrayBoxes, 6), design.Set(design.ArrayHeader, 0.15),
				design.Set(design.ArrayBalance, "orifices")}},
		{"switch-never", []design.Change{design.Set(design.SwitchKind, "differential"), design.Set(design.SwitchOnAbove, 40.0),
			design.Set(design.PlaceOutdoor, -25.0), design.Set(design.CoverDirt, 0.3), design.Set(design.PlaceWind, 6.0),
			design.Set(design.RoomAir, 22.0),
			design.Set(design.PlaceBearing, 75.0)}, []design.Change{design.Set(design.SwitchKind, "differential")}},
	} {
		if _, found := judged(t, c.silent...); found[c.id].ID != "" {
			t.Errorf("%s fires where it should not: %s", c.id, found[c.id].Finding.In(units.System{}))
		}
		e, found := judged(t, c.fires...)
		f, ok := found[c.id]
		if !ok {
			t.Errorf("%s stays silent; there are %v; noon %+v", c.id, found, e.Peaks)
			continue
		}
		for _, text := range []Text{f.Finding, f.Evidence, f.Remedy} {
			for _, sys := range []units.System{{}, {Inches: true, Fahrenheit: true}} {
				if s := text.In(sys); strings.Contains(s, "%!") || s == "" {
					t.Errorf("%s says %q", c.id, s)
				}
			}
		}
		if f.Patch == nil {
			continue
		}
		mended, err := design.Apply(e.Heater, units.System{}, f.Patch...)
		if err != nil {
			t.Errorf("%s: its remedy is refused: %v", c.id, err)
			continue
		}
		after, err := collector.Evaluate(&mended, e.Running.Conditions, true)
		if err != nil {
			t.Fatal(err)
		}
		for _, g := range Evaluate(&after) {
			if g.ID == c.id && g.Severity <= f.Severity && !better[c.id] {
				t.Errorf("%s still fires with its remedy applied: %s", c.id, g.Finding.In(units.System{}))
			}
		}
		if f.HasGain && c.id != "switch-never" && f.When == "" {
			if got := worth(&after.Running) - worth(&e.Running); got-f.Gain > 0.01 || f.Gain-got > 0.01 {
				t.Errorf("%s claims %v W, the rerun gives %v", c.id, f.Gain, got)
			}
		}
	}
}

// Findings come worst first.
func TestWorstFirst(t *testing.T) {
	h, err := design.Apply(design.New(), units.System{}, design.Set(design.BoxFoam, "xps"), design.Set(design.BoxGap, 0.012),
		design.Set(design.AirDiameter, 0.075),
		design.Set(design.AirFan, "computer-120"))
	if err != nil {
		t.Fatal(err)
	}
	at := collector.WinterNoon(&h)
	if at.Month() != time.January {
		t.Fatalf("the northern winter noon is in %v", at.Month())
	}
	e, _ := collector.Evaluate(&h, collector.ConditionsAt(&h, at), true)
	fs := Evaluate(&e)
	if len(fs) < 3 || fs[0].Severity != Danger {
		t.Fatalf("findings: %+v", fs)
	}
	for i := 1; i < len(fs); i++ {
		if fs[i].Severity < fs[i-1].Severity {
			t.Errorf("%s after %s", fs[i].ID, fs[i-1].ID)
		}
	}
	for _, topic := range []Topic{Siting, Construction, Cutting} {
		for _, c := range Cautions(&e, topic) {
			if c.Part == "" || strings.Contains(c.Text.In(units.System{}), "%!") {
				t.Errorf("caution %+v", c)
			}
		}
	}
}

// Gains by night and after the ducts are what the rerun says too.
func TestGainsAtOtherTimes(t *testing.T) {
	e, found := judged(t, design.Set(design.AirFlap, "none"))
	f := found["back-flow"]
	shut, err := design.Apply(e.Heater, units.System{}, f.Patch...)
	if err != nil {
		t.Fatal(err)
	}
	open, _, _ := nightLoss(&e.Heater, Night(&e))
	left, r, _ := nightLoss(&shut, Night(&e))
	if math.Abs(f.Gain-(open-left)) > 1e-6 || left > 0.3*open || r.Mass < 0 {
		t.Errorf("the flap is said to save %v W, reruns say %v", f.Gain, open-left)
	}
	if f.When != "by night" {
		t.Errorf("the gain is had %q", f.When)
	}
}

// Every finding of every example can be said, and its remedy leaves a heater
// that can be computed.
func TestExamplesAreJudged(t *testing.T) {
	for i, name := range design.ExampleNames() {
		if testing.Short() && i%4 > 0 {
			continue
		}
		h, _ := design.Named(name)
		e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		for _, f := range Evaluate(&e) {
			for _, text := range []Text{f.Finding, f.Evidence, f.Remedy} {
				if s := text.In(units.System{}); s == "" || strings.Contains(s, "%!") || strings.Contains(s, "NaN") || strings.Contains(s,
					"Inf") {
					t.Errorf("%s: %s says %q", name, f.ID, s)
				}
			}
			if f.Patch == nil {
				continue
			}
			n, err := design.Apply(h, units.System{}, f.Patch...)
			if err != nil {
				t.Errorf("%s: %s: its remedy is refused: %v", name, f.ID, err)
				continue
			}
			if _, err := collector.Rate(&n, e.Running.Conditions); err != nil {
				t.Errorf("%s: %s: with its remedy: %v", name, f.ID, err)
			}
		}
		for _, v := range Beliefs(&e) {
			if s := v.Says.In(units.System{Inches: true, Fahrenheit: true}); s == "" || strings.Contains(s, "%!") || strings.Contains(s,
				"NaN") {
				t.Errorf("%s: %s says %q", name, v.ID, s)
			}
		}
		for _, c := range Choices(&e) {
			for _, side := range c.Sides {
				if math.IsNaN(side.Heat) || side.Heat == 0 && c.ID != "drive" {
					t.Errorf("%s: %s: %+v", name, c.ID, side)
				}
			}
		}
	}
}

// The beliefs, each against its own rerun: what physics says of them on an
// ordinary box is known beforehand.
func TestBeliefs(t *testing.T) {
	e, _ := judged(t, design.Set(design.AbsorberFamily, "back-pass-plate"))
	got := map[string]Verdict{}
	for _, v := range Beliefs(&e) {
		got[v.ID] = v
	}
	for id, want := range map[string]string{"series-doubles": "depends", "recirculating": "does not hold", "stacking": "does not hold",
		"mirror": "does not hold", "acrylic": "does not hold", "standing-fan": "does not hold", "deflector": "not modeled"} {
		if got[id].Holds != want {
			t.Errorf("%s: %q, want %q: %s", id, got[id].Holds, want, got[id].Says.In(units.System{}))
		}
	}
	// The second law of the matter: warmer air in, less heat out.
	v := got["recirculating"].Figures
	if v[1].SI <= v[3].SI || v[4].SI <= v[2].SI {
		t.Errorf("recirculating: %+v", v)
	}
	// Two in series move less air than one, and give less than twice its heat.
	if v := got["series-doubles"].Figures; v[4].SI >= v[5].SI || v[3].SI >= 2*v[1].SI {
		t.Errorf("series: %+v", v)
	}
	if v := got["stacking"].Figures; v[2].SI >= v[1].SI {
		t.Errorf("stacking: %+v", v)
	}
	// A panel hangs behind its window: most of this says nothing of it.
	p, _ := judged(t, design.Set(design.AbsorberFamily, "window-panel"))
	if vs := Beliefs(&p); len(vs) != 0 {
		t.Errorf("a window panel is told of %+v", vs)
	}
}

// Where builders disagree, both results are there and differ as they must.
func TestChoices(t *testing.T) {
	e, _ := judged(t, design.Set(design.AbsorberFamily, "can-columns"))
	by := map[string]map[string]Side{}
	for _, c := range Choices(&e) {
		by[c.ID] = map[string]Side{}
		for _, s := range c.Sides {
			by[c.ID][s.Name] = s
		}
	}
	if f, n := by["drive"]["fan"], by["drive"]["natural draft"]; !(f.Heat > n.Heat && f.Out < n.Out) {
		t.Errorf("fan %+v against warmth %+v", f, n)
	}
	if a, b := by["foam"]["{12 mm|1/2 in}"], by["foam"]["{50 mm|2 in}"]; !(b.Heat > a.Heat && b.Hot > a.Hot) {
		t.Errorf("thin %+v against thick %+v", a, b)
	}
	if o, r := by["source"]["outdoor air"], by["source"]["room air"]; !(o.Heat < r.Heat && o.Out < r.Out) {
		t.Errorf("outdoor %+v against room air %+v", o, r)
	}
	if a, b := by["covers"]["single"], by["covers"]["double"]; b.Hot <= a.Hot {
		t.Errorf("one cover %+v, two %+v", a, b)
	}
}
