package buildplan

import (
	"regexp"
	"strings"
	"testing"

	"gladember/core/advice"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/measure"
	"gladember/core/units"
)

// told is what is said of a heater: by where it is said, its sentences.
type told map[string][]string

// tell gathers steps, gates, findings, cautions and tests of a heater.
func tell(t *testing.T, h *design.Heater) told {
	t.Helper()
	l, err := layout.Build(h)
	if err != nil {
		t.Fatal(err)
	}
	steps, err := Build(h, &l)
	if err != nil {
		t.Fatal(err)
	}
	all := told{}
	add := func(where string, texts ...units.Text) {
		for _, x := range texts {
			all[where] = append(all[where], x.In(units.System{}))
		}
	}
	for _, s := range steps {
		where := "step " + s.ID
		add(where, append(s.Do, s.Jig)...)
		add("caution at "+where, s.Cautions...)
		all[where] = append(all[where], append(s.Tools, s.Title)...)
		if s.Gate != nil {
			add("gate of "+where, s.Gate.Looks...)
		}
	}
	e, err := collector.Evaluate(h, collector.ConditionsAt(h, collector.WinterNoon(h)), true)
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range advice.Evaluate(&e) {
		add("finding "+f.ID, f.Finding, f.Evidence)
		all["finding "+f.ID] = append(all["finding "+f.ID], f.Title)
	}
	for _, g := range advice.Safety(&e) {
		for _, c := range g.Cautions {
			add("caution on "+c.Part, c.Text)
		}
	}
	for _, x := range measure.Trials() {
		if x.Suits(h) {
			add("test "+x.ID, append(append(append(x.Do, x.Spoils...), x.Cautions...), x.Tells)...)
			all["test "+x.ID] = append(all["test "+x.ID], append(x.Ready, x.Title)...)
		}
	}
	return all
}

// A heater without a fan is told no word of one; one without ducts and a damper none of these either.
func TestWithoutFanNoWordOfOne(t *testing.T) {
	for name, word := range map[string]*regexp.Regexp{
		"passive-box":  regexp.MustCompile(`(?i)\b(fans?|fan-off|blower)\b`),
		"window-panel": regexp.MustCompile(`(?i)\b(fans?|fan-off|blower|dampers?|ducts?)\b`),
	} {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		for where, said := range tell(t, &h) {
			for _, s := range said {
				if word.MatchString(s) {
					t.Errorf("%s, %s: %s", name, where, s)
				}
			}
		}
	}
}

// Plastic and film get none of the cautions of glass, and a mask is asked for with mineral wool only.
func TestCautionsOfWhatIsThere(t *testing.T) {
	brittle := regexp.MustCompile(`(?i)tempered|well-edged|\bglass\b`)
	for _, x := range []struct {
		cover, foam string
		glass, mask bool
	}{{"glass", "xps", true, false}, {"polycarbonate", "xps", false, false}, {"shrink-film", "faced-wool", false, true},
		{"twin-wall", "mineral-wool", false, true}} {
		h, err := design.Apply(design.New(), units.System{}, design.Set(design.CoverMaterial, x.cover),
			design.Set(design.BoxFoam, x.foam), design.Set(design.PaneWidth, 1.1),
			design.Set(design.PlaceAboveGround, 4.0))
		if err != nil {
			t.Fatal(err)
		}
		glass, mask := "", false
		for where, said := range tell(t, &h) {
			if !strings.HasPrefix(where, "caution") {
				continue
			}
			for _, s := range said {
				if mask = mask || strings.Contains(s, "with mineral wool"); brittle.MatchString(s) {
					glass = where + ": " + s
				}
			}
		}
		if mask != x.mask || (glass != "") != x.glass {
			t.Errorf("%s and %s: mask %v, glass in %q", x.cover, x.foam, mask, glass)
		}
	}
}
