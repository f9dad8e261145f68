package towns

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
	"testing"
	"time"
)

// The list knows its towns with or without accents, larger before smaller,
// and every zone in it is one that Go knows.
func TestTowns(t *testing.T) {
	g, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	if len(g.lines) < 100000 {
		t.Fatalf("only %d towns", len(g.lines))
	}
	for typed, want := range map[string]string{"zurich": "Zürich, CH", "Zürich": "Zürich, CH", "innsbruck": "Innsbruck, Tyrol, AT",
		"paris, us": "Paris, Texas, US", "paris, tex": "Paris, Texas, US", "fargo, north dakota, us": "Fargo, North Dakota, US",
		"duluth, mn": "Duluth, Minnesota, US", "Duluth Minnesota": "Duluth, Minnesota, US",
		"st. john's nl": "St. John's, Newfoundland and Labrador, CA"} {
		found := g.Find(typed, 5, false)
		if len(found) == 0 || found[0].Label() != want {
			t.Errorf("%q finds %v, want %s first", typed, found, want)
		}
	}
	if got := g.Find("x", 5, false); got != nil {
		t.Errorf("one letter finds %v", got)
	}
	if got := g.Find("qqqqq", 5, false); len(got) != 0 {
		t.Errorf("nonsense finds %v", got)
	}
	// GeoNames: Innsbruck lies at 47.26 N, 11.39 E, 580 m.
	if n := g.Near(47.262, 11.394); n.Name != "Innsbruck" || n.Zone != "Europe/Vienna" || n.Elevation < 500 || n.Elevation > 700 {
		t.Errorf("nearest to Innsbruck is %+v", n)
	}
	seen := map[string]bool{}
	for i := range g.lines {
		x, ok := g.At(i)
		if p := g.places[i]; !ok || x.Name == "" || len(x.Country) != 2 || x.Zone == "" || x.Elevation < -500 || x.Elevation > 6000 ||
			math.Abs(x.Latitude-float64(p[0])) > 1e-5 || math.Abs(x.Longitude-float64(p[1])) > 1e-5 || math.Abs(x.Latitude) > 90 {
			t.Fatalf("town %d is %+v", i, x)
		}
		if !seen[x.Zone] {
			seen[x.Zone] = true
			if _, err := time.LoadLocation(x.Zone); err != nil {
				t.Errorf("%s: %v", x.Zone, err)
			}
		}
	}
}

// Units and money follow the country.
func TestCountry(t *testing.T) {
	g, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	for typed, want := range map[string]string{"fargo": "$ true", "zurich": "CHF false", "innsbruck": "€ false", "leeds, gb": "£ false"} {
		x := g.Find(typed, 1, false)[0]
		if got := fmt.Sprint(x.Currency(), " ", x.Customary()); got != want {
			t.Errorf("%s: %s, want %s", x.Label(), got, want)
		}
	}
}

// What is typed without picking from the list is one town or none: a name with its state, one that nothing else is called, a position;
// several of a name are asked about, and nonsense is refused with what to enter.
func TestResolve(t *testing.T) {
	g, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	for typed, want := range map[string]string{"Duluth, MN": "Duluth, Minnesota, US", "duluth mn": "Duluth, Minnesota, US",
		"Duluth Minnesota": "Duluth, Minnesota, US", "Duluth, Minnesota, USA": "Duluth, Minnesota, US", "Innsbruck": "Innsbruck, Tyrol, AT",
		"Winnipeg MB": "Winnipeg, Manitoba, CA", "Hobart, tas": "Hobart, Tasmania, AU"} {
		if x, err := g.Resolve(typed, false); err != nil || x.Label() != want {
			t.Errorf("%q is %q, %v; want %s", typed, x.Label(), err, want)
		}
	}
	for typed, want := range map[string][2]float64{"46.79, -92.10": {46.79, -92.10}, "46.79 N 92.10 W": {46.79, -92.10},
		"33.5 S, 151.2 E": {-33.5, 151.2}} {
		x, err := g.Resolve(typed, false)
		if err != nil || x.Latitude != want[0] || x.Longitude != want[1] || x.Zone == "" {
			t.Errorf("%q is %+v, %v", typed, x, err)
		}
	}
	for typed, several := range map[string]bool{"Duluth": true, "Springfield": true, "qqqqq": false, "": false, "Duluth, CH": false,
		"91, 200": false} {
		var u *Unresolved
		if x, err := g.Resolve(typed, false); !errors.As(err, &u) || (len(u.Towns) > 1) != several {
			t.Errorf("%q is %v, %v", typed, x.Label(), err)
		}
	}
}

func BenchmarkFind(b *testing.B) {
	g, err := Load()
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		g.Find("sankt w", 8, false)
	}
}

// An American postal code finds its town; far from any it keeps its own position; other countries have codes of five digits too, so
// that one alone is American for an American reader alone. Positions recalled from maps.
func TestPostalCodes(t *testing.T) {
	g, err := Load()
	if err != nil {
		t.Fatal(err)
	}
	list, err := zips()
	if err != nil || len(list) < 40000 || !slices.IsSortedFunc(list, func(a, b zip) int { return cmp.Compare(a.code, b.code) }) {
		t.Fatalf("%d codes, %v", len(list), err)
	}
	for _, x := range []struct {
		typed    string
		american bool
		lat, lon float64
	}{
		{"55802", true, 46.79, -92.09}, {"55802-1234", true, 46.79, -92.09}, {"Duluth, MN 55802", false, 46.79, -92.09},
		{"55802, USA", false, 46.79, -92.09}, {"00501", true, 40.81, -73.04}, {"98101", true, 47.61, -122.33},
		{"89310", true, 39.37, -117.24}, // mountains of Nevada
	} {
		got, err := g.Resolve(x.typed, x.american)
		if err != nil || math.Abs(got.Latitude-x.lat) > 0.2 || math.Abs(got.Longitude-x.lon) > 0.2 {
			t.Errorf("%q: %+v, %v", x.typed, got, err)
		}
		if found := g.Find(x.typed, 5, x.american); len(found) != 1 || found[0].Country != "US" {
			t.Errorf("%q finds %v", x.typed, found)
		}
	}
	for _, typed := range []string{"10115", "75001", "10115 Berlin", "99999, US", "123456", "5580"} {
		if got, err := g.Resolve(typed, false); err == nil && got.Country == "US" {
			t.Errorf("%q is taken for %s", typed, got.Label())
		}
	}
}
