package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"gladember/core/climate"
	"gladember/core/design"
	"gladember/core/solar"
)

// do runs the program as a person would and takes its JSON apart.
func do(t *testing.T, in string, args ...string) map[string]any {
	t.Helper()
	var out, errs bytes.Buffer
	if code := run(t.Context(), args, strings.NewReader(in), &out, &errs); code != 0 {
		t.Fatalf("%v: exit %d, %s", args, code, errs.String())
	}
	var m map[string]any
	if err := json.Unmarshal(out.Bytes(), &m); err != nil {
		t.Fatalf("%v: %v in %s", args, err, out.String())
	}
	return m
}

func box(t *testing.T, name string) string {
	t.Helper()
	var out, errs bytes.Buffer
	if code := run(t.Context(), []string{"example", name}, nil, &out, &errs); code != 0 {
		t.Fatal(errs.String())
	}
	return out.String()
}

// Reda & Andreas 2004, worked example.
func TestSunCommand(t *testing.T) {
	m := do(t, "", "sun", "--lat", "39.742476", "--lon", "-105.1786", "--elevation", "1830.14", "--time", "2003-10-17T12:30:30-07:00",
		"--pressure", "820", "--temperature", "11", "--tilt", "30", "--azimuth", "170")
	for key, want := range map[string]float64{"zenith_deg": 50.1116, "azimuth_deg": 194.3402, "incidence_deg": 25.1870} {
		if got := m[key].(float64); math.Abs(got-want) > 0.01 {
			t.Errorf("%s = %v, want %v", key, got, want)
		}
	}
	for _, key := range []string{"declination_deg", "equation_of_time_min", "solar_time", "sunrise", "sunset"} {
		if m[key] == nil {
			t.Errorf("no %s", key)
		}
	}
}

func TestRateOnEveryExample(t *testing.T) {
	var names []string
	var out, errs bytes.Buffer
	run(t.Context(), []string{"example"}, nil, &out, &errs)
	if err := json.Unmarshal(out.Bytes(), &names); err != nil || len(names) < 2 {
		t.Fatalf("%v, %v", names, err)
	}
	for _, name := range names {
		b := box(t, name)
		m := do(t, b, "rate", "-", "--sun", "900", "--ambient", "0", "--inlet", "18", "--wind", "3")
		e := m["energy"].(map[string]any)
		sum := 0.0
		for k, v := range e {
			if k != "sun_w" {
				sum += v.(float64)
			}
		}
		if sun := e["sun_w"].(float64); math.Abs(sum-sun) > 1e-3*sun || math.Abs(sun-900*m["aperture_m2"].(float64)) > 1e-6*sun {
			t.Errorf("%s: energy %v", name, e)
		}
		for _, k := range []string{"heat_to_room_w", "outlet_c", "efficiency", "stagnation_c"} {
			band := m["bands"].(map[string]any)[k].([]any)
			if v := m[k].(float64); !(band[0].(float64) < v && v < band[1].(float64)) {
				t.Errorf("%s: %s %v outside its band %v", name, k, v, band)
			}
		}
		given := do(t, b, "rate", "-", "--sun", "900", "--ambient", "0", "--inlet", "18", "--wind-h", "10", "--sky", "0", "--flow", "0.03")
		if got := given["mass_flow_kg_s"].(float64); math.Abs(got-0.03) > 1e-9 {
			t.Errorf("%s: --flow 0.03 is rated at %v", name, got)
		}
		cut := do(t, b, "parts", "-")
		if kg := cut["mass_kg"].(float64); kg < 0.5 || kg > 150 {
			t.Errorf("%s weighs %v kg", name, kg)
		}
		parts := cut["parts"].([]any)
		if len(parts) < 3 {
			t.Errorf("%s: %d parts", name, len(parts))
		}
	}
}

// Every example is judged: findings with evidence and remedy, patches that name
// fields a heater has, beliefs with a verdict; at its own noon and at weather given.
func TestAdviseOnEveryExample(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	made, some := map[string]bool{}, examples(t)
	for _, name := range everyExample(t) {
		b := box(t, name)
		var doc struct {
			Absorber struct {
				Family string `json:"family"`
			} `json:"absorber"`
		}
		if err := json.Unmarshal([]byte(b), &doc); err != nil {
			t.Fatal(err)
		}
		made[doc.Absorber.Family] = true
		if !slices.Contains(some, name) {
			continue
		}
		for _, args := range [][]string{{"advise", "-"}, {"advise", "-", "--sun", "700", "--ambient", "-5", "--inlet", "15"}} {
			m := do(t, b, args...)
			for _, x := range m["findings"].([]any) {
				f := x.(map[string]any)
				for _, k := range []string{"id", "severity", "text", "evidence", "remedy"} {
					if s, _ := f[k].(string); s == "" {
						t.Errorf("%s: a finding without %s: %v", name, k, f)
					}
				}
				if _, ok := f["gain_w"]; !ok {
					t.Errorf("%s: %v says nothing of its gain", name, f["id"])
				}
				if patch, ok := f["patch"].(map[string]any); ok {
					for path := range patch {
						if design.FieldAt(path) == nil {
							t.Errorf("%s: %v patches %q", name, f["id"], path)
						}
					}
				}
			}
			for _, x := range m["beliefs"].([]any) {
				v := x.(map[string]any)["verdict"].(string)
				if v != "holds" && v != "does not hold" && v != "depends" && v != "not modeled" {
					t.Errorf("%s: verdict %q", name, v)
				}
			}
		}
	}
	for _, c := range design.AbsorberFamily.Choices() {
		if !made[c.ID] {
			t.Errorf("no example is made as %s", c.ID)
		}
	}
	var o, e bytes.Buffer
	code := run(t.Context(), []string{"advise", "-", "--sun", "700"}, strings.NewReader(box(t, "screen-box")), &o, &e)
	if code != 2 || o.Len() > 0 || !strings.Contains(e.String(), "go together") {
		t.Errorf("half the weather: %d, %q, %q", code, o.String(), e.String())
	}
}

// A day runs on every example, on any sky, and its sums agree with its samples.
func TestDayOnEveryExample(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	names := examples(t)
	for i, name := range names {
		sky := []string{"clear", "hazy", "broken", "coldest"}[i%4]
		m := do(t, box(t, name), "day", "-", "--sky", sky, "--date", "2026-02-14")
		samples := m["samples"].([]any)
		heat, starts, last := 0.0, 0, 0.0
		for _, x := range samples {
			s := x.(map[string]any)
			heat += s["heat_w"].(float64) / 60 / 1000
			if n := s["stages"].(float64); n > 0 && last == 0 {
				starts++
				last = n
			} else {
				last = n
			}
		}
		if want := m["heat_kwh"].(float64); math.Abs(heat-want) > 0.01*math.Abs(want)+0.005 {
			t.Errorf("%s: %v kWh, its samples sum to %v", name, want, heat)
		}
		if m["date"] != "2026-02-14" || len(samples) < 500 || starts > int(m["cycles"].(float64))+1 {
			t.Errorf("%s: %v samples on %v, %d starts of %v", name, len(samples), m["date"], starts, m["cycles"])
		}
	}
	// In the weather of a file, whose place the heater is moved to: a file of
	// clear skies gives what a clear day gives there, within a tenth.
	y := &climate.Year{Place: "Nowhere", Country: "XX", Source: "invented", Station: "0", Site: solar.Site{Latitude: 46, Elevation: 200},
		Offset: 0}
	for i := range 8760 {
		end := time.Date(2025, 1, 1, 0, 0, 0, 0, time.UTC).Add(time.Duration(i+1) * time.Hour)
		stamp := end.Add(-time.Minute)
		p := solar.Position(end.Add(-30*time.Minute), y.Site, 0, 0)
		sky := solar.Ineichen(p.TrueZenith, 200, 3, solar.SolarConstant/(p.Distance*p.Distance))
		none := math.NaN()
		y.Hours = append(y.Hours, climate.Hour{Year: 2025, Month: int(stamp.Month()), Day: stamp.Day(), Hour: stamp.Hour() + 1,
			Global: sky.Global, Normal: sky.Normal, Diffuse: sky.Diffuse, Temperature: -2,
			DewPoint: none, Humidity: none, Pressure: none, Infrared: none, WindFrom: none, Wind: none, Cloud: none, Snow: none,
			Albedo: none})
	}
	var epw bytes.Buffer
	if err := climate.WriteEPW(&epw, y); err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(t.TempDir(), "w.epw")
	if err := os.WriteFile(file, epw.Bytes(), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, name := range names {
		a := do(t, box(t, name), "day", "-", "--date", "2026-02-14", "--weather", file)
		b := do(t, box(t, name), "day", "-", "--date", "2026-02-14")
		if x, z := a["sun_kwh"].(float64), b["sun_kwh"].(float64); math.Abs(x/z-1) > 0.05 {
			t.Errorf("%s: %v kWh of sun by the file, %v by a clear sky", name, x, z)
		}
		if x, z := a["heat_kwh"].(float64), b["heat_kwh"].(float64); math.Abs(x-z) > 0.12*math.Abs(z)+0.1 {
			t.Errorf("%s: %v kWh by the file, %v by a clear sky", name, x, z)
		}
	}
	for want, args := range map[string][]string{"its own sky": {"day", "-", "--weather", file, "--sky", "hazy"},
		"is empty": {"day", "-", "--weather", os.DevNull}, "no design day": {"day", "-", "--sky", "purple"},
		"not a date": {"day", "-", "--date", "tomorrow"}} {
		var o, e bytes.Buffer
		if code := run(t.Context(), args, strings.NewReader(box(t, "screen-box")), &o, &e); code != 2 || o.Len() > 0 ||
			!strings.Contains(e.String(), want) {
			t.Errorf("%v: %d, %q", args, code, e.String())
		}
	}
}

func logFile(t *testing.T, flowOf float64) string {
	t.Helper()
	var b strings.Builder
	b.WriteString("time,inlet,outlet,outdoor\n")
	for m := range 360 {
		at := time.Date(2026, 2, 10, 9, 0, 0, 0, time.UTC).Add(time.Duration(m) * time.Minute)
		rise := 28 * math.Sin(math.Pi*float64(m)/360)
		fmt.Fprintf(&b, "%s,18.%d,%.2f,1\n", at.Format("2006-01-02 15:04"), m%7, 18+rise)
	}
	name := filepath.Join(t.TempDir(), "log.csv")
	if err := os.WriteFile(name, []byte(b.String()), 0o600); err != nil {
		t.Fatal(err)
	}
	return name
}

func TestLogCommand(t *testing.T) {
	name := logFile(t, 0.02)
	place := []string{"--lat", "46.2", "--lon", "9.1", "--elevation", "900", "--tilt", "65"}
	m := do(t, "", append([]string{"log", name, "--flow", "0.02", "--area", "1.2"}, place...)...)
	heat := m["heat_kwh"].(float64)
	// 28 K at the peak of a half sine over 6 h: 2/pi of it on average.
	if want := 0.02 * 1.007 * 28 * 2 / math.Pi * 6; math.Abs(heat-want) > 0.04*want {
		t.Errorf("heat %v kWh, by hand %v", heat, want)
	}
	if m["samples"].(float64) != 360 || m["gaps"].(float64) != 0 || m["refused"].(bool) || len(m["days"].([]any)) != 1 {
		t.Errorf("%v", m)
	}
	m = do(t, "", append([]string{"log", name, "--flow", "0.08", "--flow-is", "free-air", "--area", "1.2"}, place...)...)
	found := false
	for _, f := range m["findings"].([]any) {
		f := f.(map[string]any)
		found = found || f["id"] == "more-than-sun" && f["doubt"] == "flow" && strings.Contains(f["remedy"].(string), "rated flow")
	}
	if !found || !m["refused"].(bool) {
		t.Errorf("a free-air flow passes: %v", m["findings"])
	}
}

// Bad input of every kind: status 2, one line that names a remedy, nothing on
// standard output.
func TestBadInput(t *testing.T) {
	good := box(t, "screen-box")
	empty := filepath.Join(t.TempDir(), "empty.csv")
	if err := os.WriteFile(empty, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		in   string
		args []string
	}{
		{"", []string{"sun", "--lat", "99", "--lon", "0", "--time", "2026-01-01T12:00:00Z"}},
		{"", []string{"sun", "--lat", "NaN", "--lon", "0", "--time", "2026-01-01T12:00:00Z"}},
		{"", []string{"sun", "--lat", "9", "--lon", "0", "--time", "yesterday"}},
		{"", []string{"sun", "--lon", "0"}},
		{"", []string{"example", "nothing"}},
		{"", []string{"rate", "absent.json", "--sun", "1", "--ambient", "0", "--inlet", "0"}},
		{"", []string{"rate", "-", "--sun", "900", "--ambient", "0", "--inlet", "18"}},
		{"{}", []string{"parts", "-"}},
		{good, []string{"rate", "-", "--sun", "-5", "--ambient", "0", "--inlet", "18"}},
		{good, []string{"rate", "-", "--sun", "900", "--ambient", "0", "--inlet", "18", "--flow", "0"}},
		{good, []string{"rate", "-", "--sun", "900", "--ambient", "0"}},
		{good, []string{"rate", "-", "--sun", "lots", "--ambient", "0", "--inlet", "18"}},
		{good, []string{"rate", "-", "--bogus"}},
		{"", []string{"log", empty, "--flow", "0.03", "--area", "1"}},
		{"\x00\x01\x02\x03", []string{"log", "-", "--flow", "0.03", "--area", "1"}},
		{"time,inlet,outlet\n2026-01-01 12:00,1,2\n", []string{"log", "-", "--flow", "0.03", "--area", "1", "--zone", "Nowhere"}},
		{"time,inlet,outlet\n2026-01-01 12:00,1,2\n", []string{"log", "-", "--flow", "0.03", "--area", "0"}},
		{"time,inlet,outlet\n2026-01-01 12:00,1,2\n", []string{"log", "-", "--flow", "0.03", "--area", "1", "--lat", "4"}},
		{"", []string{"dance"}},
	} {
		var out, errs bytes.Buffer
		code := run(t.Context(), c.args, strings.NewReader(c.in), &out, &errs)
		line := errs.String()
		if code != 2 || out.Len() > 0 || strings.Count(line, "\n") != 1 || !strings.Contains(line, ";") {
			t.Errorf("%v: exit %d, out %q, error %q", c.args, code, out.String(), line)
		}
	}
}

// With --year the findings and the sides carry what the year says.
func TestAdviseThroughTheYear(t *testing.T) {
	if testing.Short() {
		t.Skip("forty years; the others run them")
	}
	m := do(t, box(t, "back-pass-plate"), "advise", "-", "--year")
	sides, ties := 0, 0
	for _, c := range m["choices"].([]any) {
		best := false
		for _, x := range c.(map[string]any)["sides"].([]any) {
			s := x.(map[string]any)
			if _, ok := s["useful_less_fan_kwh"].(float64); ok {
				sides++
				best = best || s["year_tie"].(bool)
			}
		}
		if best {
			ties++
		}
	}
	if sides < 20 || ties < 10 {
		t.Errorf("%d sides with a year, %d questions with a best side", sides, ties)
	}
	for _, x := range m["findings"].([]any) {
		f := x.(map[string]any)
		if _, gains := f["gain_kwh_a_year"]; f["patch"] != nil && f["gain_when"] == nil && !gains {
			t.Errorf("%v offers a remedy without its year", f["id"])
		}
	}
}
