package web

import (
	"testing"
	"time"
)

// The list knows its towns with or without accents, larger before smaller,
// and every zone in it is one that Go knows.
func TestTowns(t *testing.T) {
	g, err := loadTowns()
	if err != nil {
		t.Fatal(err)
	}
	if len(g.towns) < 100000 {
		t.Fatalf("only %d towns", len(g.towns))
	}
	for typed, want := range map[string]string{"zurich": "Zürich, CH", "Zürich": "Zürich, CH", "innsbruck": "Innsbruck, AT", "paris, us": "Paris, US", "bozen": "Bolzano, IT"} {
		found := g.find(typed, 5)
		if len(found) == 0 || found[0].Label() != want {
			t.Errorf("%q finds %v, want %s first", typed, found, want)
		}
	}
	if got := g.find("x", 5); got != nil {
		t.Errorf("one letter finds %v", got)
	}
	if got := g.find("qqqqq", 5); len(got) != 0 {
		t.Errorf("nonsense finds %v", got)
	}
	// GeoNames: Innsbruck lies at 47.26 N, 11.39 E, 580 m.
	if n := g.near(47.262, 11.394); n.Name != "Innsbruck" || n.Zone != "Europe/Vienna" || n.Elevation < 500 || n.Elevation > 700 {
		t.Errorf("nearest to Innsbruck is %+v", n)
	}
	seen := map[string]bool{}
	for _, x := range g.towns {
		if !seen[x.Zone] {
			seen[x.Zone] = true
			if _, err := time.LoadLocation(x.Zone); err != nil {
				t.Errorf("%s: %v", x.Zone, err)
			}
		}
	}
}

func TestSpansOfMonths(t *testing.T) {
	for want, months := range map[string][]int{"": nil, "May": {5}, "May, June": {5, 6}, "January to March, May, October to December": {1, 2, 3, 5, 10, 11, 12}} {
		if got := spans(months); got != want {
			t.Errorf("%v: %q, wanted %q", months, got, want)
		}
	}
}
