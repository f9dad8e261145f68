package main

import (
	"encoding/json"
	"testing"

	"gladember/core/design"
	"gladember/core/layout"
)

// The command lists every part of every example with the keys that scripts read: letters of their own, forms, places and
// holes that are those of the layout, in millimeters.
func TestPartsCommand(t *testing.T) {
	for _, name := range design.ExampleNames() {
		text, h := example(t, name)
		l, err := layout.Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		out, errs, status := command(t, text, "parts", "-")
		if status != 0 {
			t.Fatalf("%s: %s", name, errs)
		}
		var r struct {
			Parts []struct {
				Letter, Name, Form, Joint string
				Count                     int
				Length                    float64  `json:"length_mm"`
				X                         *float64 `json:"x_mm"`
				Holes                     []struct {
					Part string
					Bore float64 `json:"bore_mm"`
					X    float64 `json:"x_mm"`
					Y    float64 `json:"y_mm"`
				}
			}
		}
		if err := json.Unmarshal([]byte(out), &r); err != nil {
			t.Fatal(err)
		}
		parts := l.Cut()
		if len(r.Parts) != len(parts) {
			t.Fatalf("%s: %d parts are printed, there are %d", name, len(r.Parts), len(parts))
		}
		for i, p := range parts {
			got := r.Parts[i]
			if got.Letter != p.Letter || got.Name != p.Name || got.Form != string(p.Form) || got.Joint != p.Joint || got.Count != p.Count {
				t.Errorf("%s: %s %s is printed as %+v", name, p.Letter, p.Name, got)
			}
			if d := got.Length - 1000*p.Length; d > 0.006 || d < -0.006 {
				t.Errorf("%s: %s is %v m long and printed as %v mm", name, p.Name, p.Length, got.Length)
			}
			if (got.X != nil) != (len(p.Places) > 0) {
				t.Errorf("%s: %s has %d places, its x is %v", name, p.Name, len(p.Places), got.X)
			}
			if len(got.Holes) != len(p.Bores) {
				t.Errorf("%s: %s has %d holes, %d are printed", name, p.Name, len(p.Bores), len(got.Holes))
				continue
			}
			for k, b := range p.Bores {
				x := got.Holes[k]
				if x.Part != p.Letter || x.Bore < 1000*b.Diameter-0.01 || x.Bore > 1000*b.Diameter+0.01 {
					t.Errorf("%s: hole %+v is printed as %+v", name, b, x)
				}
			}
		}
	}
}
