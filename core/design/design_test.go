package design

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"testing"

	"gladember/core/airflow"
	"gladember/core/units"
)

var inches = units.System{Inches: true, Fahrenheit: true}

func TestExamplesRoundTripToTheByte(t *testing.T) {
	for _, name := range ExampleNames() {
		h, err := Named(name)
		if err != nil {
			t.Fatal(name, err)
		}
		a, err := Encode(h)
		if err != nil {
			t.Fatal(err)
		}
		back, err := Decode(a)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		b, _ := Encode(back)
		if !bytes.Equal(a, b) {
			t.Errorf("%s changes on its way through JSON", name)
		}
	}
	if _, err := Named("no such box"); err == nil || !strings.Contains(err.Error(), "screen-box") {
		t.Errorf("a missing example says %v", err)
	}
}

// Every field has a label, help, a value within its own rules, and can be read
// and written by its path.
func TestFieldsAreWhole(t *testing.T) {
	for _, name := range ExampleNames() {
		h, _ := Named(name)
		for _, f := range Fields {
			if f.Label == "" || f.Help == "" || !strings.HasSuffix(f.Help, ".") {
				t.Errorf("%s: label %q, help %q", f.Path, f.Label, f.Help)
			}
			if !f.Applies(&h) {
				continue
			}
			if v := f.Get(&h); v == nil || f.check(&h, v, units.System{}) != nil {
				t.Errorf("%s of %s is %v: %v", f.Path, name, v, f.check(&h, v, units.System{}))
			}
		}
	}
}

// A default of ours follows what it depends on; a person's value never moves.
func TestDefaultsFollowAndYoursStay(t *testing.T) {
	h, err := Apply(New(), inches, Enter(PaneWidth, "34"), Enter(PaneHeight, `4' 10"`))
	if err != nil {
		t.Fatal(err)
	}
	if got := h.Entry(PaneHeight); got.Typed != `4' 10"` || got.Origin != Yours || math.Abs(h.Pane.Height-58*0.0254) > 1e-12 {
		t.Errorf("pane height %v, entry %+v", h.Pane.Height, got)
	}
	small := h.Air.FanModel
	h, _ = Apply(h, inches, Enter(PaneWidth, "70"))
	if h.Air.FanModel == small {
		t.Error("a pane twice as wide keeps the small fan")
	}
	h, _ = Apply(h, inches, Enter(AirFanFreeAir, "50 cfm"))
	free := h.Air.FanFree
	h, _ = Apply(h, inches, Enter(PaneWidth, "34"))
	if h.Air.FanFree != free {
		t.Error("a person's fan rating moved with the pane")
	}
	h, _ = Apply(h, inches, Set(AirFan, "inline-6"))
	if h.Air.FanFree == free {
		t.Error("another fan kept the old fan's rating")
	}
	south, _ := Apply(h, inches, Enter(PlaceLatitude, "-38"))
	if south.Place.Bearing != 0 {
		t.Errorf("in the south the glass looks %v", south.Place.Bearing)
	}
	back, _ := Apply(south, inches, Reset(PlaceLatitude))
	if back.Place.Latitude != 46 || back.Place.Bearing != 180 {
		t.Errorf("given back to us: %v, %v", back.Place.Latitude, back.Place.Bearing)
	}
}

// Each wrong entry leaves the heater as it was and names field and remedy.
func TestWrongEntriesChangeNothing(t *testing.T) {
	h := New()
	before, _ := Encode(h)
	for _, c := range []Change{
		Enter(PaneWidth, "58 1/"), Enter(PaneWidth, "900 m"), Enter(PaneWidth, "wide"),
		Enter(PaneWidth, ""),
		Set(PaneWidth, math.NaN()), {Path: PaneWidth.Path, Value: "x"}, Enter(CoverLayers, "1.5"),
		Enter(CoverLayers, "two"), Enter(CoverMaterial, "diamond"),
		Enter(PlaceZone, "Mars/North"), Enter(PlaceZone, ""), Enter(HeaterName, strings.Repeat("x", 90)),
		Set(HeaterName, "a\x00b"), Enter(AirFlap, "perhaps"),
		Enter(SwitchOpen, "80"), Enter(PlateChannel, "20"), {Path: "no.such", Typed: "1"},
		{Path: PlaceTilt.Path, Value: true},
		Set(PaneWidth, 0.16), {Path: SpaceKind.Path, Value: 3.0},
	} {
		n, err := Apply(h, units.System{}, c)
		after, _ := Encode(n)
		if err == nil || !bytes.Equal(before, after) {
			t.Errorf("%s = %q %v: error %v", c.Path, c.Typed, c.Value, err)
			continue
		}
		if !strings.Contains(err.Error(), "; ") && !strings.Contains(err.Error(), ": enter it like ") && !strings.Contains(err.Error(),
			"such as") {
			t.Errorf("%q names no remedy", err)
		}
	}
	if _, err := Apply(h, units.System{}, Set(PaneWidth, 0.4), Set(AirDiameter, 0.34)); err == nil {
		t.Error("a port nearly as wide as the box was accepted")
	}
}

func TestDecodeRefusals(t *testing.T) {
	h, _ := Named("screen-box")
	good, _ := Encode(h)
	for want, text := range map[string]string{
		"empty":            "",
		"not a heater":     "{",
		"unknown field":    `{"schema":6,"wings":2}`,
		"schema is 999":    strings.Replace(string(good), fmt.Sprintf(`"schema": %d`, Schema), `"schema": 999`, 1),
		"takes a number":   strings.Replace(string(good), `"width_m": 0.9`, `"width_m": "wide"`, 1),
		"is too high":      strings.Replace(string(good), `"width_m": 0.9`, `"width_m": 90`, 1),
		"two kinds":        strings.Replace(string(good), `"screens": {`, `"plate": {"metal":"steel"}, "screens": {`, 1),
		"goes on":          string(good) + "{}",
		"no such field":    strings.Replace(string(good), `"entries": {`, `"entries": {"wings": {"origin":"yours"},`, 1),
		"is unknown":       strings.Replace(string(good), `"origin": "yours"`, `"origin": "theirs"`, 1),
		"choose one of":    strings.Replace(string(good), `"material": "glass"`, `"material": "ice"`, 1),
		"under 1048576":    strings.Repeat(" ", MaxDocument+1),
		"enter a value":    strings.Replace(string(good), `"screens": {`, `"screens": null, "plate": {`, 1),
		"enter one like E": strings.Replace(string(good), `"zone": "UTC"`, `"zone": ""`, 1),
	} {
		if _, err := Decode([]byte(text)); err == nil || !strings.Contains(err.Error(), want) {
			if want == "enter a value" && err != nil {
				continue // refused by its unknown members first
			}
			t.Errorf("want an error with %q, got %v", want, err)
		}
	}
}

func TestParsePane(t *testing.T) {
	for typed, want := range map[string][2]float64{"34 x 58": {34 * .0254, 58 * .0254}, "860 × 1480 mm": {.86, 1.48},
		"34 1/4 by 58 1/2 in": {34.25 * .0254, 58.5 * .0254}, `2' 10" x 4' 10"`: {34 * .0254, 58 * .0254}, "0.86m x 1.48 m": {.86, 1.48},
		"34¼x58": {34.25 * .0254, 58 * .0254}} {
		w, h, err := ParsePane(typed, inches)
		if err != nil || math.Abs(w-want[0]) > 1e-9 || math.Abs(h-want[1]) > 1e-9 {
			t.Errorf("%q is %v x %v, %v; want %v", typed, w, h, err, want)
		}
	}
	for _, typed := range []string{"", "34", "34 x", "x 58", "34 x 58 x 2", "a x b"} {
		if _, _, err := ParsePane(typed, inches); err == nil {
			t.Errorf("%q was read as a pane", typed)
		}
	}
}

// Random edits keep the heater valid: what Apply accepts, Decode accepts.
func TestWhateverIsAcceptedIsValid(t *testing.T) {
	r := rand.New(rand.NewPCG(25, 26))
	h := New()
	taken := 0
	for range 3000 {
		f := Fields[r.IntN(len(Fields))]
		c := Change{Path: f.Path, Value: f.Min + (f.Max-f.Min)*r.Float64()}
		switch {
		case f.Choices != nil:
			cs := f.Choices()
			c.Value = cs[r.IntN(len(cs))].ID
		case f.Bool:
			c.Value = r.IntN(2) == 0
		case f.Text:
			continue
		case f.Whole:
			c.Value = math.Round(c.Value.(float64))
		}
		n, err := Apply(h, units.System{}, c)
		if err != nil {
			continue
		}
		taken++
		b, _ := Encode(n)
		if _, err := Decode(b); err != nil {
			t.Fatalf("%s = %v was accepted and does not read back: %v", c.Path, c.Value, err)
		}
		h = n
	}
	if taken < 500 {
		t.Errorf("only %d of 3000 edits were taken", taken)
	}
}

func FuzzDecode(f *testing.F) {
	for _, name := range ExampleNames() {
		h, _ := Named(name)
		b, _ := Encode(h)
		f.Add(b)
	}
	f.Add([]byte(`{"schema":1}`))
	f.Add([]byte(`{"schema":2}`))
	f.Fuzz(func(t *testing.T, b []byte) {
		h, err := Decode(b)
		if err != nil {
			return
		}
		out, err := Encode(h)
		if err != nil {
			t.Fatalf("read, but cannot be written: %v", err)
		}
		if _, err := Decode(out); err != nil {
			t.Fatalf("written, but cannot be read: %v", err)
		}
	})
}

func ExampleApply() {
	h, _ := Apply(New(), units.System{}, Enter(PaneWidth, "34 in"))
	_, err := Apply(h, units.System{}, Enter(CoverLayers, "9"))
	fmt.Printf("%.3f m wide\n%v\n", h.Pane.Width, err)
	// Output:
	// 0.864 m wide
	// cover.layers: 9 is too high; enter 1 to 3
}

// since is where a value of an older document stands now.
func since(path string) string {
	path = strings.ReplaceAll(path, "back_pass", "plate")
	for _, x := range slices.Concat(renamed, moved) {
		if rest, ok := strings.CutPrefix(path, x[0]); ok && (rest == "" || rest[0] == '.') {
			return x[1] + rest
		}
	}
	return path
}

// Kept files of older schemas read as they were: every value they held stays, what
// they did not know takes our value, and they are valid.
func TestUpgradeKeptFiles(t *testing.T) {
	files, _ := filepath.Glob("testdata/v*/*.json")
	if len(files) < 26 {
		t.Fatalf("kept files: %v", files)
	}
	for _, f := range files {
		b, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		h, err := Decode(b)
		if err != nil {
			t.Fatalf("%s: %v", f, err)
		}
		if h.Schema != Schema || h.Box.Sealant == "" || !h.Indoors() && h.Array.Boxes != 1 && !strings.Contains(f, "two-boxes") {
			t.Errorf("%s came up as %+v", f, h)
		}
		var was, is map[string]any
		_ = json.Unmarshal(b, &was)
		now, _ := Encode(h)
		_ = json.Unmarshal(now, &is)
		var same func(path string, was any)
		same = func(path string, was any) {
			if m, ok := was.(map[string]any); ok && path != "entries" {
				for k, v := range m {
					same(strings.TrimPrefix(path+"."+k, "."), v)
				}
				return
			}
			there := since(path)
			if x := FieldAt(there); x != nil && !x.Applies(&h) || path == "schema" || path == "entries" {
				return // it means nothing for this heater
			}
			if v := at(is, there); (path != "air.flap" || v != "membrane") && !reflect.DeepEqual(was, v) {
				t.Errorf("%s: %s was %v, is %v", f, path, was, v)
			}
		}
		same("", was)
		es, _ := was["entries"].(map[string]any)
		for path := range es {
			if x := FieldAt(since(path)); x == nil || x.Applies(&h) && !h.Given(x) {
				t.Errorf("%s: the entry of %s is gone", f, path)
			}
		}
		again, err := Decode(now)
		if err != nil {
			t.Fatal(err)
		}
		if b2, _ := Encode(again); !bytes.Equal(now, b2) {
			t.Errorf("%s: a second reading changed it", f)
		}
	}
}

// A value that was entered under an old name keeps its entry under the new one.
func TestUpgradeRenamesEntries(t *testing.T) {
	b, err := os.ReadFile("testdata/v5/screen-box.json")
	if err != nil {
		t.Fatal(err)
	}
	old := strings.Replace(string(b), `"entries": {`, `"entries": {"room.draughts": {"typed": "drafty", "origin": "yours"},`, 1)
	old = strings.Replace(old, `"draughts": "usual"`, `"draughts": "leaky"`, 1)
	h, err := Decode([]byte(old))
	if err != nil {
		t.Fatal(err)
	}
	if e := h.Entry(RoomLeakage); h.Room.Leakage != "leaky" || e.Typed != "drafty" || e.Origin != Yours {
		t.Errorf("air leakage came up as %q with the entry %+v", h.Room.Leakage, e)
	}
}

// Every family's example is whole, comes back byte for byte, and drops what
// belongs to another family when the family changes.
func TestEveryFamilyHasAnExample(t *testing.T) {
	made := map[string]bool{}
	for _, n := range ExampleNames() {
		h, err := Named(n)
		if err != nil {
			t.Fatalf("%s: %v", n, err)
		}
		made[string(h.Absorber.Family)] = true
		b, _ := Encode(h)
		back, err := Decode(b)
		if err != nil {
			t.Fatalf("%s: %v", n, err)
		}
		if b2, _ := Encode(back); !bytes.Equal(b, b2) {
			t.Errorf("%s does not come back as it was", n)
		}
		for _, f := range AbsorberFamily.Choices() {
			next, err := Apply(h, units.System{}, Set(AbsorberFamily, Family(f.ID)))
			if err != nil {
				t.Errorf("%s made as %s: %v", n, f.ID, err)
				continue
			}
			only := next.Clone()
			keep(&only)
			if !reflect.DeepEqual(only.Absorber, next.Absorber) {
				t.Errorf("%s made as %s keeps %+v", n, f.ID, next.Absorber)
			}
		}
	}
	for _, f := range AbsorberFamily.Choices() {
		if !made[f.ID] {
			t.Errorf("no example is made as %s", f.ID)
		}
	}
}

// What several fields say together is checked together.
func TestWholesAreChecked(t *testing.T) {
	for want, change := range map[string]func(*Heater){
		"shade.horizon.0":      func(h *Heater) { h.Shade.Horizon = []Obstacle{{From: 200, To: 100, Elevation: 5}} },
		"shade.horizon.0.elev": func(h *Heater) { h.Shade.Horizon = []Obstacle{{From: 100, To: 200, Elevation: 95}} },
		"through_bare":         func(h *Heater) { h.Shade.Horizon = []Obstacle{{From: 100, To: 200, Elevation: 5, Bare: 2}} },
		"flow must rise": func(h *Heater) {
			h.Air.FanTable = []airflow.FanPoint{{Flow: 0.1, Pressure: 50}, {Flow: 0.05, Pressure: 60}}
		},
		"a single point":                func(h *Heater) { h.Air.FanTable = []airflow.FanPoint{{Flow: 0.1, Pressure: 50}} },
		"a small fan has no such point": func(h *Heater) { h.Air.FanTable = []airflow.FanPoint{{Flow: -1}, {Flow: 0.1}} },
		"describes two kinds":           func(h *Heater) { h.Absorber.Coil = &Coil{} },
	} {
		h := New()
		change(&h)
		ps := Validate(&h)
		if len(ps) == 0 || !strings.Contains(ps[0].Error(), want) {
			t.Errorf("want a problem with %q, got %v", want, ps)
		}
	}
	for want, cs := range map[string][]Change{
		"use fewer or narrower tubes": {Set(AbsorberFamily, "can-columns"), Set(CansColumns, 30)},
		"fewer cans in a column":      {Set(AbsorberFamily, "can-columns"), Set(CansRows, 30)},
		"no more coils than runs": {Set(AbsorberFamily, "ribbed-coil"), Set(CoilRuns, 1),
			Set(CoilWays, 3)},
		"two passages have":        {Set(AbsorberFamily, "own"), Set(OwnPassages[0].Where, "front")},
		"no such part":             {Set(AbsorberFamily, "own"), Set(OwnPassages[3].Where, "front")},
		"fan-off difference below": {Set(SwitchKind, "differential"), Set(SwitchOffAbove, 25.0)},
		"the later hour last":      {Set(SwitchKind, "timer"), Set(SwitchTo, 3.0)},
	} {
		if _, err := Apply(New(), units.System{}, cs...); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("want %q, got %v", want, err)
		}
	}
	snowy := Place{Ground: 0.2, SnowFrom: 12, SnowTo: 2}
	for m, want := range map[int]float64{1: 0.65, 12: 0.65, 2: 0.65, 3: 0.2, 11: 0.2} {
		if got := snowy.Albedo(m); got != want {
			t.Errorf("ground in month %d throws back %v, want %v", m, got, want)
		}
	}
}

// A document whose family lacks its member, as an edit by hand leaves it, is refused by that field, whichever member is there.
func TestFamilyWithoutItsMember(t *testing.T) {
	for _, name := range ExampleNames() {
		h, err := Named(name)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range AbsorberFamily.Choices() {
			x := h.Clone()
			x.Absorber.Family = Family(c.ID)
			if x.Absorber.complete() {
				continue
			}
			b, err := Encode(x)
			if err != nil {
				t.Fatal(err)
			}
			var p *Problem
			if _, err := Decode(b); !errors.As(err, &p) || p.Path != AbsorberFamily.Path {
				t.Errorf("%s as %s: %v", name, c.ID, err)
			}
		}
	}
}

// Where things are sold by the inch, what we choose is sold there: every length that is ours is whole sixteenths, and what the pieces of a
// box 58 in high measure adds up as printed; elsewhere it is whole millimeters.
func TestDefaultsAreSizesSold(t *testing.T) {
	for _, place := range []struct {
		zone string
		unit float64
	}{{"America/Chicago", units.MeterPerInch / 16}, {"America/Toronto", units.MeterPerInch / 16}, {"Europe/Vienna", 0.0005}} {
		for _, c := range AbsorberFamily.Choices() {
			if c.ID == "own" {
				continue // measured on what somebody has
			}
			h, err := Apply(New(), units.System{}, Set(PlaceZone, place.zone),
				Set(AbsorberFamily, Family(c.ID)), Set(PaneHeight, 58*units.MeterPerInch),
				Set(PaneWidth, 34*units.MeterPerInch))
			if err != nil {
				t.Fatal(err)
			}
			for _, f := range Fields {
				v, number := f.Get(&h).(float64)
				others := []string{"pane.w", "pane.h", "absorber.cans.", "wall."}
				if f.Kind != units.Length || !number || v < 0.003 || !f.Applies(&h) ||
					slices.ContainsFunc(others, func(x string) bool { return strings.HasPrefix(f.Path, x) }) {
					continue
				}
				if steps := v / place.unit; math.Abs(steps-math.Round(steps)) > 1e-6 {
					t.Errorf("%s, %s: %s is %v m, %.3f steps", place.zone, c.ID, f.Path, v, steps)
				}
			}
		}
	}
}
