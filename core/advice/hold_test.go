package advice

import (
	"context"
	"math"
	"math/rand/v2"
	"os"
	"testing"

	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/units"
)

// somewhere puts a heater at one of places spread over the lands where such boxes are built.
func somewhere(r *rand.Rand) []design.Change {
	p := [][3]float64{{35.7, -105.9, 2100}, {40.0, -82.9, 250}, {44.3, -72.5, 180}, {46.8, -100.8, 520}, {49.9, -97.2, 240},
		{51.0, -114.0, 1050}, {47.6, -122.3, 50}, {53.3, -6.3, 20},
		{51.5, -0.1, 20}, {52.5, 13.4, 40}, {48.2, 16.4, 180}, {59.9, 10.8, 100}, {63.4, 10.4, 30}, {40.4, -3.7, 660}, {45.5, 9.2, 120},
		{55.8, 37.6, 150}, {39.9, 32.9, 900}, {-43.5, 172.6, 20}, {-35.3, 149.1, 580}, {-41.1, -71.3, 840}}[r.IntN(20)]
	return []design.Change{design.Set(design.PlaceLatitude, p[0]), design.Set(design.PlaceLongitude, p[1]),
		design.Set(design.PlaceElevation, p[2])}
}

// drawn is a heater by chance, over the families, places and spaces, of usual and unusual parts.
func drawn(t *testing.T, r *rand.Rand, i int) design.Heater {
	t.Helper()
	u := func(lo, hi float64) float64 { return lo + (hi-lo)*r.Float64() }
	pick := func(s ...string) string { return s[r.IntN(len(s))] }
	families, kinds := design.AbsorberFamily.Choices(), design.SpaceKind.Choices()
	for {
		h, err := design.Apply(design.New(), units.System{}, append(somewhere(r), design.Set(design.SpaceKind,
			design.RoomKind(kinds[r.IntN(len(kinds))].ID)),
			design.Set(design.RoomFloor, u(6, 60)),
			design.Set(design.AbsorberFamily, design.Family(families[i%len(families)].ID)), design.Set(design.PaneWidth, u(0.5, 1.2)),
			design.Set(design.PaneHeight, u(0.8, 2.2)))...)
		if err != nil {
			continue
		}
		for _, x := range []struct {
			path string
			draw func() any
		}{
			{design.CoverLayers.Path, func() any { return 1 + r.IntN(2) }}, {design.CoverMaterial.Path, func() any {
				return pick("glass", "acrylic", "twin-wall", "polycarbonate", "tinted-glass", "clear-vinyl")
			}},
			{design.BoxFoam.Path, func() any { return pick("xps", "polyiso", "mineral-wool") }}, {design.BoxBackFoam.Path,
				func() any { return u(0, 0.08) }}, {design.BoxSealant.Path, func() any {
				return pick("silicone", "acrylic-caulk",
					"putty")
			}},
			{design.AbsorberPaint.Path, func() any { return pick("flat-black", "gloss-black", "engine-enamel") }},
			{design.AirDiameter.Path, func() any { return u(0.06, 0.25) }}, {design.AirToBox.Path, func() any { return u(0.2, 5) }},
			{design.AirFan.Path, func() any { return pick("computer-120", "bath-4", "inline-4", "inline-6", "bilge-4") }},
			{design.AirFanSide.Path, func() any { return pick("inlet", "outlet") }}, {design.AirFlap.Path,
				func() any { return pick("none", "membrane") }},
			{design.AirSource.Path, func() any { return pick("room", "outdoors") }},
			{design.AirDuct.Path, func() any { return pick("smooth", "ribbed", "plastic-lined") }},
			{design.PlaceTilt.Path, func() any { return u(10, 90) }}, {design.PlaceBearing.Path, func() any { return u(0, 360) }},
			{design.SwitchKind.Path, func() any { return pick("snap", "differential", "always") }},
			{design.SwitchClose.Path, func() any { return u(25, 60) }},
			{design.PlateChannel.Path, func() any { return u(0.01, 0.06) }}, {design.ScreensLayers.Path,
				func() any { return 1 + r.IntN(4) }}, {design.CansEnds.Path, func() any { return pick("drilled", "torn", "cut") }},
		} {
			if f := design.FieldAt(x.path); f == nil || !f.Applies(&h) || r.IntN(2) == 0 {
				continue
			}
			if next, err := design.Apply(h, units.System{}, set(x.path, x.draw())); err == nil {
				h = next
			}
		}
		if len(design.Validate(&h)) == 0 {
			return h
		}
	}
}

// noonOf evaluates a heater on its clear winter noon.
func noonOf(t *testing.T, h *design.Heater) *collector.Evaluation {
	t.Helper()
	e, err := collector.Evaluate(h, collector.ConditionsAt(h, collector.WinterNoon(h)), true)
	if err != nil {
		t.Fatal(err)
	}
	return &e
}

// everyRemedy lists the findings that have a remedy, one with alternatives once for each.
func everyRemedy(fs []Finding) (out []Finding) {
	for _, f := range fs {
		if f.Patch != nil {
			out = append(out, f)
		}
		for _, a := range f.Or {
			x := f
			x.Patch, x.Gain, x.HasGain, x.YearGain, x.YearMoney, x.HasYear = a.Patch, a.Gain, true, a.YearGain, a.YearMoney, a.HasYear
			out = append(out, x)
		}
	}
	return out
}

// long says whether the long runs are asked for.
func long() bool { return os.Getenv("GLADEMBER_LONG") != "" }

// Whatever remedy is offered for a heater drawn by chance: made, it brings no danger and no fault that
// was not there; it takes a danger or a fault of its own away, or the box warms the room, the fan's
// electricity counted off, no less; and its gain is what the changed box gives. Judged by a whole
// evaluation of the changed box, with bands of its own. 300 heaters with GLADEMBER_LONG set.
func TestRemediesHoldAtNoon(t *testing.T) {
	n := 20
	if testing.Short() {
		n = 8
	}
	if long() {
		n = 300
	}
	r := rand.New(rand.NewPCG(10, 9))
	offered := 0
	for i := range n {
		h := drawn(t, r, i)
		e := noonOf(t, &h)
		wrong := newBox(e).wrong
		for _, f := range everyRemedy(Evaluate(e)) {
			offered++
			mended, err := design.Apply(h, units.System{}, f.Patch...)
			if err != nil {
				t.Errorf("heater %d, %s: the remedy cannot be made: %v", i, f.ID, err)
				continue
			}
			c := newBox(e).conditions(&mended)
			m, err := collector.Evaluate(&mended, c, true)
			if err != nil {
				t.Errorf("heater %d, %s: %v", i, f.ID, err)
				continue
			}
			for id := range (&assessment{Evaluation: &m}).dangersAndFaults() {
				if !wrong[id] || id == f.ID {
					t.Errorf("heater %d (%s), %s: %v brings or leaves %s", i, h.Absorber.Family, f.ID, f.Patch, id)
				}
			}
			more := worth(&m.Running) - worth(&e.Running)
			if f.HasGain && f.When == "" && math.Abs(more-f.Gain) > 0.5+0.01*math.Abs(f.Gain) {
				t.Errorf("heater %d, %s: %v W promised, %v given by %v", i, f.ID, f.Gain, more, f.Patch)
			}
			if f.Severity > Fault && f.HasGain && f.When == "" && more < -0.5 {
				t.Errorf("heater %d, %s: %v W less by %v", i, f.ID, -more, f.Patch)
			}
		}
	}
	t.Logf("%d heaters, %d remedies", n, offered)
	if offered < n {
		t.Errorf("only %d remedies are offered", offered)
	}
}

// The same through the year: a remedy that a year's judgment offers lowers neither the useful heat
// less the fan's nor the money, unless it takes a danger or a fault away, and gives what it promises.
func TestRemediesHoldInTheYear(t *testing.T) {
	if testing.Short() {
		t.Skip("years of many heaters; the others run them")
	}
	n := 1
	if long() {
		n = 300
	}
	r := rand.New(rand.NewPCG(11, 9))
	offered := 0
	for i := range n {
		h := drawn(t, r, 3*i+1)
		y, err := climate.Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		laid := &season.Laid{Year: y}
		was, err := laid.Run(&h)
		if err != nil {
			t.Fatal(err)
		}
		fs, err := EvaluateYear(context.Background(), &h, laid, was)
		if err != nil {
			t.Fatal(err)
		}
		wrong := newBox(noonOf(t, &h)).wrong
		money, err := season.Worth(&h, was)
		if err != nil {
			t.Fatal(err)
		}
		remedies := everyRemedy(fs)
		os, err := YearAirOptions(context.Background(), &h, laid, was)
		if err != nil {
			t.Fatal(err)
		}
		for _, o := range os {
			if o.Stands {
				remedies = append(remedies, Finding{ID: "air-option", Severity: Loss, Patch: o.Changes, YearGain: o.YearGain,
					HasYear: true})
			}
		}
		for _, f := range remedies {
			if !f.HasYear {
				continue
			}
			offered++
			mended, err := design.Apply(h, units.System{}, f.Patch...)
			if err != nil {
				t.Fatal(err)
			}
			for id := range (&assessment{Evaluation: noonOf(t, &mended)}).dangersAndFaults() {
				if !wrong[id] {
					t.Errorf("heater %d, %s: %v brings %s", i, f.ID, f.Patch, id)
				}
			}
			is, err := laid.Run(&mended)
			if err != nil {
				t.Fatal(err)
			}
			m, err := season.Worth(&mended, is)
			if err != nil {
				t.Fatal(err)
			}
			gain, more := is.Year.Net()-was.Year.Net(), m.Saved-money.Saved
			if math.Abs(gain-f.YearGain) > 1e-6 || f.ID != "air-option" && math.Abs(more-f.YearMoney) > 1e-6 {
				t.Errorf("heater %d, %s: %v kWh and %v promised, %v and %v given", i, f.ID, f.YearGain, f.YearMoney, gain, more)
			}
			if f.Severity > Fault && (gain < -max(leastYear, tie*math.Abs(was.Year.Useful)) || more < -leastMoney) {
				t.Errorf("heater %d, %s: %v kWh and %v a year by %v", i, f.ID, gain, more, f.Patch)
			}
		}
	}
	t.Logf("%d heaters, %d remedies", n, offered)
	if offered == 0 {
		t.Error("no remedy was offered")
	}
}

// A box from three facts, 28 combinations of a place, a space and a pane, has no danger and no fault, and
// each has a year (every fourteenth is run); sixty, and all years, with GLADEMBER_LONG set.
func TestThreeFactsAreSafe(t *testing.T) {
	r := rand.New(rand.NewPCG(12, 9))
	kinds := design.SpaceKind.Choices()
	panes := [][2]float64{{0.5, 0.5}, {0.6, 1.2}, {0.86, 1.47}, {1.2, 0.8}, {0.9, 2.0}, {1.25, 2.1}, {0.4, 2.2}}
	n := 28
	switch {
	case testing.Short():
		n = 12
	case long():
		n = 60
	}
	for i := range n {
		p := panes[i%len(panes)]
		h, err := design.Apply(design.New(), units.System{}, append(somewhere(r), design.Set(design.SpaceKind,
			design.RoomKind(kinds[i%len(kinds)].ID)),
			design.Set(design.PaneWidth, p[0]), design.Set(design.PaneHeight, p[1]))...)
		if err != nil {
			t.Fatal(err)
		}
		check := func(fs []Finding) {
			for _, f := range fs {
				if f.Severity <= Fault {
					t.Errorf("%v of pane, %s at %v: %s: %s %s", p, h.Room.Kind, h.Place.Latitude, f.ID, f.Finding.In(units.System{}),
						f.Evidence.In(units.System{}))
				}
			}
		}
		check(Evaluate(noonOf(t, &h)))
		if testing.Short() || i%14 != 0 && !long() {
			continue
		}
		y, err := climate.Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		res, err := season.Run(&h, y)
		if err != nil {
			t.Fatal(err)
		}
		fs, err := EvaluateYear(context.Background(), &h, &season.Laid{Year: y}, res)
		if err != nil {
			t.Fatal(err)
		}
		check(fs)
	}
}
