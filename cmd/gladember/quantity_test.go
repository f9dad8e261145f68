package main

import (
	"encoding/json"
	"math"
	"regexp"
	"strings"
	"testing"
)

// The help of every command is in the units that it is asked for, and in no others: flags, defaults, examples and words.
func TestHelpInOneSystem(t *testing.T) {
	list, _, _ := command(t, "", "--help")
	var names []string
	for _, line := range strings.Split(list, "\n") {
		if m := regexp.MustCompile(`^  ([a-z]+) +[A-Z]`).FindStringSubmatch(line); m != nil {
			names = append(names, m[1])
		}
	}
	if len(names) < 20 {
		t.Fatalf("only %v", names)
	}
	const number = `(?:^|[^\w./-])[-−]?\d[\d,.]*\s?`
	metric := regexp.MustCompile(number + `(?:mm|cm|m|km|m²|m2|kg|K|W/m2|W/m²|Pa|hPa|m/s|°C|C|L|liters?)(?:$|[^\w°²/])|` +
		`\b(?:kg/s|W/m2K?|W/m²K?|hPa|m3/h)\b|--[a-z-]+ (?:C|m|m2|m/s|mm) `)
	customary := regexp.MustCompile(number + `(?:in|ft|sq ft|cfm|°F|F|mph|lb|psf)(?:$|[^\w/])|\b(?:BTU|lb/h|sq ft|mbar)\b|` +
		`--[a-z-]+ (?:F|ft|sq-ft|mph|lb/h|BTU[^ ]*) `)
	found := 0
	for _, name := range names {
		for in, foreign := range map[string]*regexp.Regexp{"mm": customary, "in": metric} {
			out, errs, status := command(t, "", name, "--units", in, "--help")
			if status != 0 || !strings.Contains(out, "Usage:") {
				t.Fatalf("%s --units %s --help: %s", name, in, errs)
			}
			text := strings.ReplaceAll(out, "mm or in: units", "units")
			for _, m := range foreign.FindAllString(text, -1) {
				t.Errorf("%s --units %s: %q", name, in, m)
			}
			own := map[string]*regexp.Regexp{"mm": metric, "in": customary}[in]
			found += len(own.FindAllString(text, -1))
		}
	}
	if found < 30 {
		t.Errorf("only %d quantities were found: the test shows nothing", found)
	}
}

// A flag's number is read in the units asked for, or in its own: the same box comes out, and JSON stays SI.
func TestFlagsInBothSystems(t *testing.T) {
	box, _ := example(t, "screen-box")
	heat := func(args ...string) float64 {
		t.Helper()
		out, errs, status := command(t, box, append([]string{"rate", "-"}, args...)...)
		if status != 0 {
			t.Fatalf("%v: %s", args, errs)
		}
		var r struct {
			Heat float64 `json:"heat_w"`
		}
		if err := json.Unmarshal([]byte(out), &r); err != nil {
			t.Fatal(err)
		}
		return r.Heat
	}
	// By hand: 900 W/m2 are 285.3 BTU/h sq ft, 3 m/s are 6.711 mph, 0.03 kg/s are 238.1 lb/h.
	want := heat("--sun", "900", "--ambient", "-5", "--inlet", "20", "--wind", "3", "--flow", "3e-2")
	for _, args := range [][]string{
		{"--units", "in", "--sun", "285.3", "--ambient", "23", "--inlet", "68", "--wind", "6.711", "--flow", "238.1"},
		{"--sun", "285.3 BTU/h sq ft", "--ambient", "23 F", "--inlet", "68F", "--wind", "6.711 mph", "--flow", "238.1 lb/h"},
		{"--sun", "900 W/m2", "--ambient", "-5 C", "--inlet", "20C", "--wind", "3 m/s", "--flow", "0.03 kg/s", "--units", "in"},
	} {
		if got := heat(args...); math.Abs(got-want) > 0.001*want {
			t.Errorf("%v: %v W, in SI %v W", args, got, want)
		}
	}
	for args, says := range map[string]string{
		"--sun much --ambient 0 --inlet 0":                "\"much\" is not an irradiance",
		"--units in --sun 900 --ambient 32 --inlet 60":    "enter 0 BTU/h·sq ft to 475",
		"--units ft --sun 900 --ambient 32 --inlet 60":    "enter mm or in",
		"--sun 900 --ambient 100F --inlet 2000":           "2,000 °C is not possible",
		"--sun 900 --ambient 0 --inlet 0 --flow 2 cubits": "accepts 1 arg",
	} {
		if _, errs, status := command(t, box, append([]string{"rate", "-"}, strings.Fields(args)...)...); status != badInput ||
			!strings.Contains(errs, says) {
			t.Errorf("%s: %d, %s", args, status, errs)
		}
	}
}
