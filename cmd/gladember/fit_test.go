package main

import (
	"encoding/json"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"gladember/core/collector"
	"gladember/core/design"
)

// A log that the box's own solver wrote with a fan a tenth weaker is fitted: the flow's interval holds the true one, all names and
// shapes are there. A log of the night is refused.
func TestFitCommand(t *testing.T) {
	text := box(t, "back-pass-plate")
	dir := t.TempDir()
	file := filepath.Join(dir, "box.json")
	if err := os.WriteFile(file, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
	h, err := design.Decode([]byte(text))
	if err != nil {
		t.Fatal(err)
	}
	weak := h.Clone()
	weak.Air.FanStrength = 0.9
	noon := collector.WinterNoon(&h)
	var day, night strings.Builder
	day.WriteString("time,inlet C,outlet C,outdoor C,sun W/m2\n")
	night.WriteString("time,inlet C,outlet C\n")
	for m := -150; m <= 150; m++ {
		at := noon.Add(time.Duration(m) * time.Minute)
		c := collector.ConditionsAt(&h, at)
		r, err := collector.Rate(&weak, c)
		if err != nil {
			t.Fatal(err)
		}
		fmt.Fprintf(&day, "%s,%.1f,%.1f,%.1f,%.0f\n", at.Format(time.RFC3339), c.Inlet, r.Outlet, c.Ambient, c.Sun.Total())
		fmt.Fprintf(&night, "%s,20,20\n", at.Format(time.RFC3339))
	}
	log := filepath.Join(dir, "day.csv")
	dark := filepath.Join(dir, "night.csv")
	for name, b := range map[string]string{log: day.String(), dark: night.String()} {
		if err := os.WriteFile(name, []byte(b), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	m := do(t, "", "fit", file, log)
	true90, err := collector.Rate(&weak, collector.ConditionsAt(&h, noon))
	if err != nil {
		t.Fatal(err)
	}
	names := map[string]bool{}
	for _, x := range m["parameters"].([]any) {
		p := x.(map[string]any)
		names[p["name"].(string)] = true
		if p["name"] == "flow_m3_s" {
			if v := true90.Volume; v < p["low"].(float64) || v > p["high"].(float64) || p["unit"] != "m3/s" {
				t.Errorf("the flow is %v, fitted %v", v, p)
			}
		}
	}
	if !names["flow_m3_s"] || !names["leak_m3_s"] || !names["tau_alpha"] || names["bypass"] || len(m["correlations"].([]any)) != 3 ||
		m["rms_k"].(float64) > 0.5 || m["next_test"] == nil {
		t.Errorf("%v", m)
	}
	var out, errs strings.Builder
	if code := run(t.Context(), []string{"fit", file, dark}, nil, &out, &errs); code != 2 || !strings.Contains(errs.String(),
		"steady running") {
		t.Errorf("exit %d: %s", code, errs.String())
	}
}

// The dialect files that the page reads are read alike by the command: as many readings, the same peak; what is open is asked by
// naming the flags, and what is refused ends with status 2. What is laid out on the way is removed.
func TestLogReadsEveryDialect(t *testing.T) {
	temporary := t.TempDir()
	t.Setenv("TMPDIR", temporary)
	files, err := filepath.Glob("../../app/formats/testdata/dialects/*.json")
	if err != nil || len(files) < 60 {
		t.Fatalf("%d files, %v", len(files), err)
	}
	for _, beside := range files {
		b, err := os.ReadFile(beside)
		if err != nil {
			t.Fatal(err)
		}
		var want struct {
			Samples []struct{ Outlet float64 }
			Refused string
			Month   *bool `json:"month_first_place"`
			Ask     bool
		}
		if err := json.Unmarshal(b, &want); err != nil {
			t.Fatal(err)
		}
		file := strings.TrimSuffix(beside, ".json") + ".csv"
		if _, err := os.Stat(file); err != nil {
			file = strings.TrimSuffix(beside, ".json") + ".xlsx"
		}
		args := []string{"log", file, "--flow", "0.01", "--area", "2", "--zone", "Europe/Zurich"}
		var out, errs strings.Builder
		code := run(t.Context(), args, nil, &out, &errs)
		open := want.Ask || want.Month != nil // the command knows no place
		if open || want.Refused != "" {
			if code != 2 || open && !strings.Contains(errs.String(), "--month-first") {
				t.Errorf("%s: exit %d, %s", file, code, errs.String())
			}
			continue
		}
		var got struct {
			Samples int     `json:"samples"`
			Peak    float64 `json:"peak_outlet_c"`
		}
		if err := json.Unmarshal([]byte(out.String()), &got); err != nil {
			t.Errorf("%s: exit %d, %s", file, code, errs.String())
			continue
		}
		peak := 0.0
		for _, s := range want.Samples {
			peak = max(peak, s.Outlet)
		}
		if got.Samples != len(want.Samples) || math.Abs(got.Peak-peak) > 0.006 {
			t.Errorf("%s: %d readings with a peak of %v, true %d and %v", file, got.Samples, got.Peak, len(want.Samples), peak)
		}
	}
	if left, err := os.ReadDir(temporary); err != nil || len(left) > 0 {
		t.Errorf("%d files are left behind: %v, %v", len(left), left, err)
	}
}
