package buildplan

import (
	"fmt"
	"math"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/season"
	"gladember/core/units"
)

// everyWay applies every route, body, tilt and arrangement to every example, and calls f with those that can be built.
func everyWay(t *testing.T, f func(name string, h *design.Heater, l *layout.Layout)) {
	t.Helper()
	n := 0
	for _, example := range design.ExampleNames() {
		base, err := design.Named(example)
		if err != nil {
			t.Fatal(err)
		}
		for _, route := range []string{"wall", "window", "stand", "furnace"} {
			for _, body := range []string{"timber", "foam", "sheet"} {
				for _, tilt := range []float64{90, 60, 40} {
					h := base
					for _, c := range []design.Change{design.Set(design.AirRoute, route), design.Set(design.BoxBody, body),
						design.Set(design.PlaceTilt, tilt),
						design.Set(design.BoxUnderFrame, 0.01), design.Set(design.CoverCoveredFrom, 5),
						design.Set(design.GuardKind, "vent"),
						design.Set(design.CoverHeld, map[float64]string{90: "stops", 60: "rails", 40: "stops"}[tilt]),
						design.Set(design.AirPortPlaces, map[string]string{"wall": "opposite", "window": "both-bottom"}[route])} {
						if x, err := design.Apply(h, units.System{}, c); err == nil {
							h = x
						}
					}
					l, err := layout.Build(&h)
					if err != nil {
						continue
					}
					n++
					f(strings.Join([]string{example, route, body, fmt.Sprint(tilt)}, " "), &h, &l)
				}
			}
		}
	}
	if n < 200 {
		t.Fatalf("only %d heaters could be built", n)
	}
}

// Each part is taken by exactly one step; each step waits only for steps before it, which exist; each gate stands before the
// step that hides what it checks; nothing is said twice, and every step says what to do.
func TestStepsFormAnOrder(t *testing.T) {
	everyWay(t, func(name string, h *design.Heater, l *layout.Layout) {
		steps, err := Build(h, l)
		if err != nil {
			t.Fatal(name, err)
		}
		at, taken := map[string]int{}, map[string]string{}
		for i, s := range steps {
			if _, twice := at[s.ID]; twice {
				t.Fatalf("%s: %s comes twice", name, s.ID)
			}
			at[s.ID] = i
			for _, letter := range s.Parts {
				if was := taken[letter]; was != "" {
					t.Errorf("%s: %s takes %s, which %s took", name, s.ID, letter, was)
				}
				taken[letter] = s.ID
			}
			if s.Title == "" || len(s.Do) == 0 || s.Minutes < 0 || s.Helpers < 0 {
				t.Errorf("%s: %+v", name, s)
			}
		}
		for _, p := range l.Cut() {
			if taken[p.Letter] == "" && !p.There {
				t.Errorf("%s: no step takes %s %s", name, p.Letter, p.Name)
			}
		}
		for i, s := range steps {
			for _, id := range s.After {
				if j, ok := at[id]; !ok || j >= i {
					t.Errorf("%s: %s waits for %s", name, s.ID, id)
				}
			}
			for _, letter := range s.On {
				if !slices.ContainsFunc(l.Cut(), func(p layout.Part) bool { return p.Letter == letter }) {
					t.Errorf("%s: %s works on %s", name, s.ID, letter)
				}
			}
			if g := s.Gate; g != nil && g.Hides != "" {
				if j := at[g.Hides]; j <= i {
					t.Errorf("%s: the gate %s of %s stands after %s", name, g.ID, s.ID, g.Hides)
				} else if !waits(steps, at, j, i) {
					t.Errorf("%s: %s does not wait for the gate %s of %s", name, g.Hides, g.ID, s.ID)
				}
			}
		}
		// The usual mistakes have their gate.
		want := []string{"diagonals"}
		if !h.Indoors() {
			want = append(want, "dry-fit", "painted", "bypass", "lid", "baked", "ducts", "commission")
		}
		if h.Box.BackFoam > 0 && !h.Indoors() && h.Box.Body != "foam" {
			want = append(want, "insulated")
		}
		if h.Absorber.Cans != nil {
			want = append(want, "columns", "header-holes")
		}
		for _, id := range want {
			if !slices.ContainsFunc(steps, func(s Step) bool { return s.Gate != nil && s.Gate.ID == id }) {
				t.Errorf("%s: no gate %s", name, id)
			}
		}
	})
}

// waits says whether step i waits for step j, directly or by others.
func waits(steps []Step, at map[string]int, i, j int) bool {
	for _, id := range steps[i].After {
		if k := at[id]; k == j || k > j && waits(steps, at, k, j) {
			return true
		}
	}
	return false
}

func built(t *testing.T, name string, cs ...design.Change) (design.Heater, layout.Layout, []Step) {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	if h, err = design.Apply(h, units.System{}, cs...); err != nil {
		t.Fatal(err)
	}
	l, err := layout.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	steps, err := Build(&h, &l)
	if err != nil {
		t.Fatal(err)
	}
	return h, l, steps
}

func gate(t *testing.T, steps []Step, id string) *Gate {
	t.Helper()
	for _, s := range steps {
		if s.Gate != nil && s.Gate.ID == id {
			return s.Gate
		}
	}
	t.Fatalf("no gate %s", id)
	return nil
}

// Diagonals 6 mm apart are judged out of square, 1 mm apart are not; a hole a radius off its center is; columns that differ are.
func TestGatesJudge(t *testing.T) {
	_, l, steps := built(t, "can-columns")
	g := gate(t, steps, "diagonals")
	d := l.Diagonal
	if bad := g.Judge(map[string]float64{"one": d + 0.003, "other": d - 0.003}); len(bad) != 3 ||
		!strings.Contains(bad[2].Text.In(units.System{}), "6 mm") {
		t.Errorf("%+v", bad)
	}
	if bad := g.Judge(map[string]float64{"one": d + 0.0005, "other": d - 0.0005}); bad != nil {
		t.Errorf("%+v", bad)
	}
	if bad := g.Judge(map[string]float64{"one": d}); bad != nil || g.Complete(map[string]float64{"one": d}) {
		t.Errorf("half a measurement is judged: %+v", bad)
	}
	c := gate(t, steps, "centers")
	m := c.Measures[0]
	radius := l.Holes[0].Diameter / 2
	if bad := c.Judge(map[string]float64{m.ID: m.Want - radius}); len(bad) != 1 || math.Abs(bad[0].Off+radius) > 1e-9 ||
		!strings.Contains(bad[0].Text.In(units.System{}), "the hole's radius") {
		t.Errorf("%+v", bad)
	}
	if bad := c.Judge(map[string]float64{m.ID: m.Want - radius/2}); len(bad) != 1 ||
		strings.Contains(bad[0].Text.In(units.System{}), "radius") {
		t.Errorf("half a radius: %+v", bad)
	}
	// A half-width that does not halve its whole: the distances from left and right differ by twice the error.
	half := Gate{ID: "centers", Measures: centered("A inlet", &layout.Part{Letter: "A", Length: 0.5, Width: 0.1},
		layout.Bore{Name: "inlet", X: 0.25, Y: 0.05, Diameter: 0.1})}
	if n := len(half.Measures); n != 3 {
		t.Fatalf("%d measures of a hole in the middle", n)
	}
	if bad := half.Judge(map[string]float64{"A inlet x": 0.249, "A inlet right": 0.251}); len(bad) != 1 ||
		!strings.Contains(bad[0].Text.In(units.System{}), "differ by 2 mm") {
		t.Errorf("%+v", bad)
	}
	if bad := gate(t, steps, "columns").Judge(map[string]float64{"shortest": 1.700, "longest": 1.703}); len(bad) == 0 {
		t.Error("columns 3 mm apart pass")
	}
}

// Drying against typical data sheets (recalled from memory): spray enamel 20 to 60 minutes to the touch and 24 h hard at 20 C and
// half humidity, engine enamel 10 to 15 minutes, neutral silicone 3 mm in a day at 23 C and half humidity, and 9 times as long for
// 9 mm, since it hardens by diffusion.
func TestCuringAtTheReference(t *testing.T) {
	for id, want := range map[string][2]float64{"high-heat-black": {0.5, 24}, "engine-enamel": {0.2, 12}, "water-black": {1, 24}} {
		touch, full := cureOf(id, 0).Hours(20, 0.5)
		if math.Abs(touch-want[0]) > 1e-9 || math.Abs(full-want[1]) > 1e-9 {
			t.Errorf("%s: %v and %v h", id, touch, full)
		}
	}
	if touch, _ := cureOf("engine-enamel", 0).Hours(20, 0.5); touch < 10.0/60 || touch > 15.0/60 {
		t.Errorf("engine enamel: %v h", touch)
	}
	_, full := cureOf("neutral-silicone", 0.003).Hours(23, 0.5)
	_, deep := cureOf("neutral-silicone", 0.009).Hours(23, 0.5)
	if math.Abs(full-24) > 1e-9 || math.Abs(deep/full-9) > 1e-9 {
		t.Errorf("silicone: %v h, %v h", full, deep)
	}
	if cureOf("screws", 0) != nil || cureOf("butyl", 0) != nil {
		t.Error("screws dry")
	}
}

// Everything dries slower the colder it is; what loses solvent or water slower in damp air, what takes moisture slower in dry air.
// No step of a tenth of a kelvin or a per cent of humidity changes the time by more than a fiftieth above the coldest.
func TestCuringIsMonotoneAndContinuous(t *testing.T) {
	for id := range products {
		c := cureOf(id, beadDepth)
		for rh := 0.2; rh < 0.95; rh += 0.05 {
			for temp := c.Coldest; temp < 40; temp += 0.5 {
				_, here := c.Hours(temp, rh)
				_, warmer := c.Hours(temp+0.1, rh)
				_, damper := c.Hours(temp, rh+0.01)
				if warmer >= here {
					t.Fatalf("%s: %v h at %v C, %v h at %v C", id, here, temp, warmer, temp+0.1)
				}
				if c.Law == TakesMoisture && damper >= here || c.Law != TakesMoisture && damper < here {
					t.Fatalf("%s: %v h at %v, %v h damper", id, here, rh, damper)
				}
				if math.Abs(warmer/here-1) > 0.02 || rh < 0.8 && math.Abs(damper/here-1) > 0.06 {
					t.Fatalf("%s: from %v h to %v h and %v h", id, here, warmer, damper)
				}
			}
		}
		if _, full := c.Hours(c.Coldest-1, 0.5); !math.IsInf(full, 1) {
			t.Errorf("%s hardens below %v C", id, c.Coldest)
		}
	}
}

// run is what the faults of an example cost, kept for the tests that ask for the same.
type run struct {
	costs  map[string]collector.Band
	faults []Fault
}

var runs = map[string]run{}

// effects runs the faults of an example at k times their size, and returns what they cost by their ID.
func effects(t *testing.T, name string, k float64, sequence uint64) (map[string]collector.Band, []Fault) {
	t.Helper()
	key := fmt.Sprint(name, k, sequence)
	if r, ok := runs[key]; ok {
		return r.costs, r.faults
	}
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
	if err != nil {
		t.Fatal(err)
	}
	y, err := climate.Moved(&h, climate.Doubt{Sequence: sequence})
	if err != nil {
		t.Fatal(err)
	}
	faults := Faults(&e, k)
	var es []season.Effect
	for _, f := range faults {
		es = append(es, f.Effect)
	}
	bands, err := season.EstimateEffects(t.Context(), &h, y.Series(&h), es, nil)
	if err != nil {
		t.Fatal(err)
	}
	out := map[string]collector.Band{}
	for i, f := range faults {
		out[f.ID] = bands[i]
		t.Logf("%-12s x %v: %-52s %6.1f kWh (%.1f to %.1f)", name, k, f.Name.In(units.System{}), bands[i].Value, bands[i].Low,
			bands[i].High)
	}
	runs[key] = run{out, faults}
	return out, faults
}

// Every fault costs heat or nothing, twice the fault about twice as much where it has a size and is small, and none more than all
// the heat of the year.
func TestFaultsAreReruns(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	names := []string{"back-pass-plate"}
	if os.Getenv("GLADEMBER_LONG") != "" {
		names = append(names, "can-columns", "screen-box", "downpipes")
	}
	for _, name := range names {
		one, faults := effects(t, name, 1, 0)
		half, _ := effects(t, name, 0.5, 0)
		for _, f := range faults {
			a, b := one[f.ID], half[f.ID]
			if a.Value < -2*a.U-0.5 {
				t.Errorf("%s: %s gains %v kWh", name, f.ID, -a.Value)
			}
			// Twice the fault, about twice the cost: strictly where it is one heater, within the fit of the year else.
			off, most := math.Abs(a.Value-2*b.Value), 0.1*a.Value+0.5
			if len(f.Effect.Changes) > 0 {
				most += 3 * 0.005 * 400
			}
			if !f.Whole && off > most {
				t.Errorf("%s: %s costs %v kWh, half of it %v", name, f.ID, a.Value, b.Value)
			}
		}
	}
}

// The order of the list does not hang on the weather's luck: in another sequence of the same months two faults change places only where
// their ranges overlap. Five sequences, with GLADEMBER_LONG set.
func TestFaultsKeepTheirOrder(t *testing.T) {
	if os.Getenv("GLADEMBER_LONG") == "" {
		t.Skip("set GLADEMBER_LONG to run the years of five sequences: ./test long does")
	}
	sequences := []uint64{7, 8, 9, 10, 11}
	usual, faults := effects(t, "screen-box", 1, 0)
	for _, q := range sequences {
		other, _ := effects(t, "screen-box", 1, q)
		moved := 0.0
		for i, f := range faults {
			moved += math.Abs(other[f.ID].Value - usual[f.ID].Value)
			for _, g := range faults[i+1:] {
				a, b, c, d := usual[f.ID], usual[g.ID], other[f.ID], other[g.ID]
				apart := math.Abs(a.Value-b.Value) > 2*math.Hypot(a.U, b.U) && math.Abs(c.Value-d.Value) > 2*math.Hypot(c.U, d.U)
				if (a.Value-b.Value)*(c.Value-d.Value) < 0 && apart {
					t.Errorf("sequence %d: %s and %s change places: %v and %v, then %v and %v", q, f.ID, g.ID, a.Value, b.Value, c.Value,
						d.Value)
				}
			}
		}
		if moved == 0 {
			t.Error("another sequence gives the same year")
		}
	}
}

// By hand: 1 m of seam open by 1 mm leaks 0.61 x 0.001 x sqrt(2 / 1.204) = 0.000786 m3/s at 1 Pa.
func TestOpenSeamByHand(t *testing.T) {
	if got := OpenSeam(0.001); math.Abs(got-0.000786) > 2e-6 {
		t.Errorf("%v m3/s", got)
	}
}

// evenings are so many of two hours, a day apart.
func evenings(n int, move func(i int, e *Evening)) (out []Evening) {
	for i := range n {
		e := Evening{Begin: time.Date(2026, 10, 5+i, 19, 0, 0, 0, time.UTC), Minutes: 120, Helpers: 2, Temperature: 18, Humidity: 0.5,
			Fair: true, Sunny: true, Light: true}
		if move != nil {
			move(i, &e)
		}
		out = append(out, e)
	}
	return out
}

// A plan keeps every order: no step begins before what it waits for is done and dry, no two stints overlap, none leaves its evening,
// and with evenings enough everything is planned. A shop at 8 C takes longer than one at 20 C; at 2 C nothing that must dry is begun;
// without sun the box is not baked.
func TestPlanKeepsTheOrder(t *testing.T) {
	last := map[float64]time.Time{}
	for _, temp := range []float64{20, 8} {
		for _, name := range []string{"screen-box", "can-columns", "downpipes", "back-pass-plate"} {
			_, _, steps := built(t, name)
			es := evenings(60, func(_ int, e *Evening) { e.Temperature = temp })
			plan := Plan(steps, nil, es)
			if len(plan.Left) > 0 {
				t.Fatalf("%s at %v C: %v are left, %v", name, temp, plan.Left, plan.Why)
			}
			begins := map[int]time.Time{}
			for i, x := range plan.Stints {
				if _, ok := begins[x.Step]; !ok {
					begins[x.Step] = x.Begin
				}
				if i > 0 && x.Begin.Before(plan.Stints[i-1].End) {
					t.Errorf("%s: two things at once", name)
				}
				day := x.Begin.Truncate(24 * time.Hour).Add(19 * time.Hour)
				if x.Begin.Before(day) || x.End.After(day.Add(2*time.Hour+time.Second)) {
					t.Errorf("%s: %s from %v to %v", name, steps[x.Step].ID, x.Begin, x.End)
				}
			}
			for i, s := range steps {
				for _, id := range s.After {
					j := slices.IndexFunc(steps, func(o Step) bool { return o.ID == id })
					if begins[i].Before(plan.Dry[j]) {
						t.Errorf("%s: %s begins at %v, %s is dry at %v", name, s.ID, begins[i], id, plan.Dry[j])
					}
				}
			}
			if end := plan.Stints[len(plan.Stints)-1].End; end.After(last[temp]) {
				last[temp] = end
			}
		}
	}
	if !last[8].After(last[20]) {
		t.Errorf("done at %v in a warm shop, at %v in a cold one", last[20], last[8])
	}
	_, _, steps := built(t, "screen-box")
	cold := Plan(steps, nil, evenings(30, func(_ int, e *Evening) { e.Temperature = 2 }))
	for _, x := range cold.Stints {
		if steps[x.Step].Cure != nil {
			t.Errorf("%s is begun at 2 C", steps[x.Step].ID)
		}
	}
	dull := Plan(steps, nil, evenings(60, func(_ int, e *Evening) { e.Sunny = false }))
	if !slices.Contains(dull.Why, "a sunny day") {
		t.Errorf("%v", dull.Why)
	}
	alone := Plan(steps, nil, evenings(60, func(_ int, e *Evening) { e.Helpers = 0 }))
	if !slices.Contains(alone.Why, "a helper") {
		t.Errorf("%v", alone.Why)
	}
}

// A step that slips by a day of rain moves what waits for it, and nothing else comes earlier than it was.
func TestPlanFollowsASlip(t *testing.T) {
	_, _, steps := built(t, "screen-box")
	fine := Plan(steps, nil, evenings(60, nil))
	wet := Plan(steps, nil, evenings(60, func(i int, e *Evening) { e.Fair, e.Sunny = i > 4, i > 4 }))
	first := func(s Schedule, id string) time.Time {
		for _, x := range s.Stints {
			if steps[x.Step].ID == id {
				return x.Begin
			}
		}
		return time.Time{}
	}
	if !first(wet, "paint").After(first(fine, "paint")) || first(wet, "commission").Before(first(fine, "commission")) {
		t.Errorf("paint %v and %v, commission %v and %v", first(fine, "paint"), first(wet, "paint"), first(fine, "commission"), first(wet,
			"commission"))
	}
}

// Sun and daylight follow from the place: by the sun's altitude at 60 north (68 at noon is summer's, 6.6 is December's, from 90 less
// latitude plus declination), a December evening at 19:00 is dark and its noon without a sun that warms a box; in June both are
// light. In the other hemisphere it is the other way round. Rain leaves neither dry work nor sun, a skipped day is no evening.
func TestEveningsHaveTheirSun(t *testing.T) {
	h, err := design.Named("screen-box")
	if err != nil {
		t.Fatal(err)
	}
	h.Workshop.Bench = design.Bench{Temperature: 15, Humidity: 0.5, Days: "every", From: 19, Minutes: 60, WeekendFrom: 11.5,
		WeekendMinutes: 60}
	h.Place.Longitude = 0
	at := func(latitude float64, month time.Month, day time.Weekday, sky Sky) Evening {
		h.Place.Latitude = latitude
		now := time.Date(2026, month, 1, 8, 0, 0, 0, time.UTC)
		for now.Weekday() != day {
			now = now.AddDate(0, 0, 1)
		}
		es := Evenings(&h, now, 1, map[string]Sky{now.Format(time.DateOnly): sky}, nil)
		if len(es) != 1 {
			t.Fatalf("%d evenings", len(es))
		}
		return es[0]
	}
	for _, x := range []struct {
		latitude     float64
		month        time.Month
		day          time.Weekday
		sky          Sky
		light, sunny bool
	}{
		{60, time.December, time.Tuesday, Unknown, false, false}, {60, time.June, time.Tuesday, Unknown, true, true},
		{60, time.December, time.Saturday, Unknown, true, false}, {45, time.December, time.Saturday, Unknown, true, true},
		{45, time.December, time.Saturday, Overcast, true, false}, {45, time.December, time.Saturday, Rain, true, false},
		{-60, time.June, time.Tuesday, Unknown, false, false}, {-66, time.December, time.Tuesday, Sunshine, true, true},
	} {
		if e := at(x.latitude, x.month, x.day, x.sky); e.Light != x.light || e.Sunny != x.sunny || e.Fair != (x.sky != Rain) {
			t.Errorf("%+v: %+v", x, e)
		}
	}
	now := time.Date(2026, time.March, 7, 11, 45, 0, 0, time.UTC) // a Saturday's quarter hour after the beginning
	es := Evenings(&h, now, 3, nil, map[string]bool{"2026-03-08": true})
	if len(es) != 2 || es[0].Begin != now || math.Abs(es[0].Minutes-45) > 1e-9 || es[1].Begin.Day() != 9 {
		t.Errorf("%+v", es)
	}
	// With dark evenings alone the work outdoors is told to wait for daylight.
	_, _, steps := built(t, "screen-box")
	dark := Plan(steps, nil, evenings(60, func(_ int, e *Evening) { e.Light = false }))
	if !slices.ContainsFunc(dark.Why, func(why string) bool { return strings.HasPrefix(why, "daylight") }) {
		t.Errorf("%v", dark.Why)
	}
}
