package main

import (
	"bytes"
	"encoding/json"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"gladember/core/climate"
	"gladember/core/design"
)

// elsewhere writes a year of a made-up place in the south as an EPW file.
func elsewhere(t *testing.T) string {
	t.Helper()
	h, err := design.Named("screen-box")
	if err != nil {
		t.Fatal(err)
	}
	h.Place.Town, h.Place.Latitude, h.Place.Longitude, h.Place.Elevation, h.Place.Zone = "Nowhere", -41, 171, 30, "Pacific/Auckland"
	usual := h.Place.Usual()
	y, err := climate.Generate(&h, climate.Facts{Coldest: 5, Warmest: 16, Summer: 6, Winter: 4}.Table(-41, &usual), "made up")
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := climate.WriteEPW(&b, y); err != nil {
		t.Fatal(err)
	}
	name := filepath.Join(t.TempDir(), "nowhere.epw")
	if err := os.WriteFile(name, b.Bytes(), 0o644); err != nil {
		t.Fatal(err)
	}
	return name
}

func examples(t *testing.T) []string {
	t.Helper()
	names := everyExample(t)
	switch {
	case testing.Short(): // the race detector needs no more
		return names[:2]
	case os.Getenv("GLADEMBER_LONG") == "": // packages season and sizing run the others
		var some []string
		for i := 0; i < len(names); i += 6 {
			some = append(some, names[i])
		}
		return some
	}
	return names
}

// everyExample are the names of all.
func everyExample(t *testing.T) (names []string) {
	t.Helper()
	var out, errs bytes.Buffer
	run(t.Context(), []string{"example"}, nil, &out, &errs)
	if err := json.Unmarshal(out.Bytes(), &names); err != nil || len(names) < 15 {
		t.Fatal(err, names)
	}
	return names
}

// The season of every example, in its own weather and in that of a file, with the
// keys that scripts read; months sum to the year.
func TestSeasonOnEveryExample(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	file := elsewhere(t)
	for _, name := range examples(t) {
		b := box(t, name)
		own := do(t, b, "season", "-", "--no-bands")
		away := do(t, b, "season", "-", "--no-bands", "--weather", file)
		for where, m := range map[string]map[string]any{"at home": own, "away": away} {
			months := m["months"].([]any)
			sum := map[string]float64{}
			for _, x := range months {
				for _, key := range []string{"sun_kwh", "need_kwh", "heat_kwh", "useful_kwh", "fan_kwh"} {
					sum[key] += x.(map[string]any)[key].(float64)
				}
				for _, key := range []string{"month", "run_h", "outlet_max_c"} {
					if _, ok := x.(map[string]any)[key].(float64); !ok {
						t.Errorf("%s, %s: no %s", name, where, key)
					}
				}
			}
			for key, v := range sum {
				if len(months) != 12 || math.Abs(v-m[key].(float64)) > 1e-6*math.Abs(v)+1e-6 {
					t.Errorf("%s, %s: %s sums to %v, the year is %v", name, where, key, v, m[key])
				}
			}
			if f := m["fraction"].(float64); f < -0.05 || name != "window-panel" && f < 0 || f > 1 || m["need_kwh"].(float64) <= 0 ||
				m["sun_kwh"].(float64) < 300 || m["cycles"] == nil || m["saved_money"] == nil {
				t.Errorf("%s, %s: %v", name, where, m)
			}
			if _, ok := m["payback_years"]; !ok {
				t.Errorf("%s: no payback_years", name)
			}
		}
		if own["heat_kwh"] == away["heat_kwh"] {
			t.Errorf("%s: the file changes nothing", name)
		}
	}
	m := do(t, box(t, "back-pass-plate"), "season", "-")
	u := m["bands"].(map[string]any)["useful_kwh"].(map[string]any)
	if v := m["useful_kwh"].(float64); u["low"].(float64) >= v || u["high"].(float64) <= v || len(u["largest"].([]any)) != 3 {
		t.Errorf("band of %v: %v", v, u)
	}
}

// size runs on every example with a short stock, at home, and away on the first
// one; its answer is a heater that the other commands take.
func TestSizeOnEveryExample(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	stock := filepath.Join(t.TempDir(), "stock.json")
	if err := os.WriteFile(stock, []byte(`{
		"panes":[{"width_m":0.8,"height_m":1.4,"material":"glass","count":1,"price":0}],
		"foams":[{"material":"mineral-wool","thickness_m":0.05,"price_m2":5}],
		"fans":[{"model":"computer-120","price":12}],
		"absorbers":[{"family":"back-pass-plate","price_m2":8}],
		"ducts_m":[0.1],"tilts_deg":[60],"budget":90}`), 0o644); err != nil {
		t.Fatal(err)
	}
	file := elsewhere(t)
	names := examples(t)
	if os.Getenv("GLADEMBER_LONG") == "" {
		names = names[:2]
	}
	for i, name := range names {
		args := []string{"size", "-", "--stock", stock}
		if i < 1 {
			args = append(args, "--weather", file)
		}
		var out, errs bytes.Buffer
		if code := run(t.Context(), args, strings.NewReader(box(t, name)), &out, &errs); code != 0 {
			t.Fatalf("%s: %s", name, errs.String())
		}
		var m map[string]any
		if err := json.Unmarshal(out.Bytes(), &m); err != nil {
			t.Fatal(err)
		}
		p := m["proposal"].(map[string]any)
		if p["family"] != "back-pass-plate" || p["cost"].(float64) > 90 || m["rule_of_thumb_m2"].(float64) <= 0 ||
			len(m["reasons"].([]any)) == 0 || !strings.Contains(errs.String(), "years:") {
			t.Errorf("%s: %v, %s", name, m, errs.String())
		}
		if _, ok := m["runner_up"]; !ok {
			t.Errorf("%s: no runner_up", name)
		}
		if i == 0 {
			h, err := json.Marshal(p["heater"])
			if err != nil {
				t.Fatal(err)
			}
			if r := do(t, string(h), "rate", "-", "--sun", "800", "--ambient", "0", "--inlet", "18"); r["heat_w"].(float64) <= 0 {
				t.Errorf("the proposal gives %v W", r["heat_w"])
			}
		}
	}
	if os.Getenv("GLADEMBER_LONG") == "" {
		return
	}
	// Without a stock it takes the heater's own pane and usual parts.
	m := do(t, box(t, "screen-box"), "size", "-")
	if m["runner_up"] == nil || m["proposal"].(map[string]any)["useful_kwh"].(float64) < do(t, box(t, "screen-box"), "season", "-",
		"--no-bands")["useful_kwh"].(float64) {
		t.Errorf("the search found less than the example itself: %v", m["proposal"].(map[string]any)["useful_kwh"])
	}
}

func TestSweepCommand(t *testing.T) {
	m := do(t, box(t, "back-pass-plate"), "sweep", "-", "--path", design.PlaceTilt.Path, "--values", "45,60,200")
	vs := m["variants"].([]any)
	if len(vs) != 3 || vs[0].(map[string]any)["useful_kwh"] == vs[1].(map[string]any)["useful_kwh"] ||
		vs[2].(map[string]any)["error"] == nil {
		t.Errorf("%v", m)
	}
}

// Without facts there is no season: exit 2, nothing printed, the missing ones
// named; and other wrong wishes are told what would be right.
func TestSeasonRefuses(t *testing.T) {
	bare, err := design.Encode(design.New())
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range []struct {
		args []string
		in   string
		says []string
	}{
		{[]string{"season", "-"}, string(bare), []string{"a town", "weather file"}},
		{[]string{"size", "-"}, string(bare), []string{"a town"}},
		{[]string{"sweep", "-"}, string(bare), []string{"a town"}},
		{[]string{"sweep", "-", "--path", "nothing"}, box(t, "screen-box"), []string{"no field"}},
		{[]string{"sweep", "-", "--values", "4,x"}, box(t, "screen-box"), []string{"no number"}},
		{[]string{"size", "-", "--stock", "-"}, box(t, "screen-box"), []string{"cannot both"}},
		{[]string{"size", "-", "--stock", "nowhere.json"}, box(t, "screen-box"), []string{"exists"}},
		{[]string{"season", "-", "--weather", "nowhere.epw"}, box(t, "screen-box"), []string{"exists"}},
	} {
		var out, errs bytes.Buffer
		if code := run(t.Context(), x.args, strings.NewReader(x.in), &out, &errs); code != 2 || out.Len() > 0 {
			t.Errorf("%v: exit %d, %s", x.args, code, out.String())
		}
		for _, w := range x.says {
			if !strings.Contains(errs.String(), w) {
				t.Errorf("%v says %s, not %q", x.args, errs.String(), w)
			}
		}
	}
}
