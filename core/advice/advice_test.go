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
var plate = []design.Change{{Path: "absorber.family", Value: "back-pass-plate"}}

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
		{"too-hot-xps", []design.Change{set("box.foam", "xps")}, nil},
		{"too-hot-acrylic", []design.Change{set("cover.material", "acrylic"), set("cover.layers", 2), set("box.foam", "mineral-wool")},
			[]design.Change{set("cover.material", "acrylic"), set("place.tilt_deg", 90.0)}},
		{"too-hot-glassfibre-screen", []design.Change{set("absorber.screens.mesh", "glassfibre-screen")}, nil},
		{"switch-never", []design.Change{set("switch.kind", "snap"), set("switch.close_c", 90.0), set("place.outdoor_c", -20.0),
			set("place.wind_m_s", 6.0), set("cover.dirt", 0.3)}, nil},
		{"switch-stutters", []design.Change{set("switch.kind", "snap"), set("switch.close_c", 50.0), set("switch.open_c", 45.0)}, nil},
		{"more-air", []design.Change{set("air.fan", "computer-120"), set("air.diameter_m", 0.075)},
			[]design.Change{set("air.diameter_m", 0.2), set("air.fan", "inline-6")}},
		{"fan-rating", []design.Change{set("air.fan", "computer-120"), set("air.diameter_m", 0.075)},
			[]design.Change{set("air.diameter_m", 0.2), set("air.to_box_m", 0.2), set("air.from_box_m", 0.2), set("air.bends", 0),
				set("air.flap", "none"), set("air.grilles", 0), set("absorber.screens.lift_m", 0.1)}},
		{"near-glass", []design.Change{set("box.gap_m", 0.012)}, nil},
		{"too-hot-sealant", []design.Change{set("box.sealant", "putty"), set("cover.layers", 2)}, nil},
		{"too-hot-adhesive", []design.Change{set("box.adhesive", "hot-glue")}, nil},
		{"too-hot-tape", []design.Change{set("box.tape", "cloth")}, []design.Change{set("box.tape", "polyimide")}},
		{"clash-paint", []design.Change{set("absorber.paint", "grill-paint")}, []design.Change{set("absorber.paint", "engine-enamel")}},
		{"clash-paint", []design.Change{set("box.foam", "xps")}, []design.Change{set("box.foam", "mineral-wool")}},
		{"clash-sealant", []design.Change{set("box.sealant", "fire-caulk")}, nil},
		{"clash-sealant", []design.Change{set("box.sealant", "silicone"), set("cover.material", "polycarbonate")},
			[]design.Change{set("box.sealant", "silicone")}},
		{"clash-adhesive", []design.Change{set("box.adhesive", "construction"), set("box.foam", "eps")}, nil},
		{"clash-adhesive", []design.Change{set("box.adhesive", "wood-glue")}, nil},
		{"clash-tape", []design.Change{set("box.tape", "cloth")}, nil},
		{"clash-duct", []design.Change{set("air.duct", "plastic-lined")}, nil},
		{"hot-duct", []design.Change{set("air.duct", "insulated"), set("cover.layers", 2)}, nil},
		{"hot-fan", []design.Change{set("air.fan_side", "outlet")}, nil},
		{"uneven-crossing", []design.Change{set("absorber.screens.mesh", "metal-lath"), set("absorber.screens.layers", 1),
			set("absorber.screens.lift_m", 0.0), set("absorber.screens.rear_m", 0.01)}, plate},
		{"uneven-tubes", []design.Change{set("absorber.family", "can-columns"), set("absorber.cans.ends", "cut"),
			set("absorber.cans.header_m", 0.04), set("air.diameter_m", 0.08)}, []design.Change{set("absorber.family", "can-columns"),
			set("absorber.cans.ends", "drilled")}},
		{"tight-ports", []design.Change{set("absorber.family", "double-pass-plate"), set("absorber.plate.channel_m", 0.012),
			set("air.diameter_m", 0.15)}, []design.Change{set("absorber.family", "back-pass-plate"),
			set("absorber.plate.channel_m", 0.04), set("air.diameter_m", 0.125)}},
		{"tight-columns", []design.Change{set("absorber.family", "can-columns"), set("absorber.cans.header_m", 0.16),
			set("absorber.cans.rows", 8), set("pane.height_m", 8*0.115+2*0.16+0.048+0.004)},
			[]design.Change{set("absorber.family", "can-columns"), set("absorber.cans.header_m", 0.16), set("absorber.cans.rows", 7),
				set("pane.height_m", 8*0.115+2*0.16+0.048+0.004)}},
		{"uneven-coils", []design.Change{set("absorber.family", "ribbed-coil"), set("absorber.coil.runs", 5),
			set("absorber.coil.ways", 2)}, []design.Change{set("absorber.family", "ribbed-coil"), set("absorber.coil.runs", 4),
			set("absorber.coil.ways", 2)}},
		{"series-pipes", []design.Change{set("absorber.family", "downpipes"), set("absorber.pipes.join", "series")},
			[]design.Change{set("absorber.family", "downpipes")}},
		{"small-holes", []design.Change{set("absorber.family", "passive-box"), set("air.diameter_m", 0.06)},
			[]design.Change{set("absorber.family", "passive-box"), set("air.diameter_m", 0.3), set("air.bends", 0), set("air.grilles", 0),
				set("air.flap", "none"), set("air.ports", 2), set("pane.width_m", 1.2)}},
		{"weak-panel", []design.Change{set("air.drive", "panel"), set("air.panel_w", 2.0)},
			[]design.Change{set("air.drive", "panel"), set("air.panel_w", 50.0)}},
		{"small-battery", []design.Change{set("air.drive", "panel"), set("air.battery_wh", 5.0), set("air.wire_mm2", 4.0)},
			[]design.Change{set("air.drive", "panel"), set("air.battery_wh", 500.0), set("air.wire_mm2", 4.0)}},
		{"thin-wire", []design.Change{set("air.drive", "panel"), set("air.fan", "bilge-4"), set("air.battery_wh", 1000.0),
			set("air.wire_mm2", 0.5), set("air.wire_m", 10.0)}, nil},
		{"back-flow", []design.Change{set("air.flap", "none")}, nil},
		{"bare-duct", []design.Change{set("air.route", "stand"), set("air.from_box_m", 3.0), set("air.to_box_m", 3.0)},
			[]design.Change{set("air.from_box_m", 3.0), set("air.to_box_m", 3.0)}},
		{"leaky", []design.Change{set("box.seam_m3_s_m", 3e-5)}, nil},
		{"dew", []design.Change{set("absorber.family", "front-pass-plate"), set("room.humidity", 0.8), set("place.outdoor_c", -15.0)},
			[]design.Change{set("room.humidity", 0.2)}},
		{"cool-jet", []design.Change{set("air.fan", "inline-6")}, []design.Change{set("room.kind", "greenhouse")}},
		{"shiny-paint", []design.Change{set("absorber.paint", "gloss-black"), set("box.foam", "mineral-wool"),
			set("air.fan", "inline-6")}, nil},
		{"doubtful-pane", []design.Change{set("cover.material", "solar-control-glass")}, nil},
		{"doubtful-pane", []design.Change{set("cover.material", "tinted-glass")}, nil},
		{"shaded", []design.Change{set("shade.fin_left_m", 0.0), set("shade.eave_depth_m", 1.5), set("shade.eave_above_m", 0.1),
			set("place.tilt_deg", 90.0)}, []design.Change{set("shade.eave_depth_m", 0.2), set("shade.eave_above_m", 1.0),
			set("place.tilt_deg", 90.0)}},
		{"thin-insulation", []design.Change{set("box.back_foam_m", 0.0), set("box.edge_foam_m", 0.0)}, nil},
		{"bare-window", []design.Change{set("absorber.family", "window-panel"), set("place.tilt_deg", 90.0)}, nil},
		{"other-side", []design.Change{set("box.seam_m3_s_m", 1e-4), set("air.fan_side", "outlet"), set("air.to_box_m", 8.0),
			set("air.from_box_m", 0.3), set("place.outdoor_c", -20.0)}, nil},
		{"plugged", []design.Change{set("switch.kind", "plug")}, nil},
		{"uneven-row", []design.Change{set("array.boxes", 6), set("array.header_m", 0.15)},
			[]design.Change{set("array.boxes", 6), set("array.header_m", 0.15), set("array.balance", "orifices")}},
		{"switch-never", []design.Change{set("switch.kind", "differential"), set("switch.on_above_k", 40.0),
			set("place.outdoor_c", -25.0), set("cover.dirt", 0.3), set("place.wind_m_s", 6.0), set("room.air_c", 22.0),
			set("place.bearing_deg", 75.0)}, []design.Change{set("switch.kind", "differential")}},
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
	h, err := design.Apply(design.New(), units.System{}, set("box.foam", "xps"), set("box.gap_m", 0.012), set("air.diameter_m", 0.075),
		set("air.fan", "computer-120"))
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
	e, found := judged(t, set("air.flap", "none"))
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
	for _, name := range design.ExampleNames() {
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
	e, _ := judged(t, set("absorber.family", "back-pass-plate"))
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
	p, _ := judged(t, set("absorber.family", "window-panel"))
	if vs := Beliefs(&p); len(vs) != 0 {
		t.Errorf("a window panel is told of %+v", vs)
	}
}

// Where builders disagree, both results are there and differ as they must.
func TestChoices(t *testing.T) {
	e, _ := judged(t, set("absorber.family", "can-columns"))
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
