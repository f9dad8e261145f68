package drawing

import (
	"context"
	"html/template"
	"math"
	"regexp"
	"strings"
	"testing"

	"gladember/core/cutting"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// laid is an example's layout.
func laid(t *testing.T, name string) layout.Layout {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	l, err := layout.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	return l
}

// attr reads the numbers of attributes from every element of a class.
func attr(t *testing.T, h template.HTML, class string, names ...string) (out [][]float64) {
	t.Helper()
	for _, e := range parse(t, h) {
		if e.class != class {
			continue
		}
		var row []float64
		for _, n := range names {
			row = append(row, e.num(t, n))
		}
		out = append(out, row)
	}
	return out
}

// Plans are drawn to scale: the pieces on a bar and the panels on a sheet keep the proportions of their job, and lie within
// their stock, in both units and both widths.
func TestPlansAreToScale(t *testing.T) {
	for _, name := range design.ExampleNames() {
		l := laid(t, name)
		for _, u := range []units.System{{}, {Inches: true}} {
			ms, err := cutting.Parts(context.Background(), l.Cut(), cutting.Metric, nil, cutting.Rules{Kerf: cutting.SawKerf}, nil)
			if err != nil {
				t.Fatal(err)
			}
			for i := range ms {
				m := &ms[i]
				for _, width := range []float64{660, 360} {
					if m.Bars == nil {
						svg := Sheets(m, u, nil, width)
						stock := attr(t, svg, "offcut", "x", "y", "width", "height")
						pieces := attr(t, svg, "cutpiece", "x", "y", "width", "height")
						n, area := 0, 0.0
						for _, c := range m.Sheets.Sheets {
							n += len(c.Panels)
							for _, p := range c.Panels {
								area += p.W * p.H
							}
						}
						if len(stock) != len(m.Sheets.Sheets) || len(pieces) != n {
							t.Fatalf("%s, %s: %d sheets and %d panels are drawn of %d and %d", name, m.Material, len(stock), len(pieces),
								len(m.Sheets.Sheets), n)
						}
						drawn, k := 0.0, 0.0
						for i, s := range stock {
							k = s[2] / m.SheetJob.Stock[m.Sheets.Sheets[i].Stock].Height
							if s[0] < 0 || s[0]+s[2] > width+0.1 {
								t.Errorf("%s: a sheet is drawn from %v to %v of %v", name, s[0], s[0]+s[2], width)
							}
						}
						for _, p := range pieces {
							drawn += p[2] * p[3]
						}
						if n > 0 && math.Abs(drawn/(k*k)-area) > 0.01*area+1e-4 {
							t.Errorf("%s, %s: panels of %v m2 are drawn as %v", name, m.Material, area, drawn/(k*k))
						}
						continue
					}
					svg := Bars(m, u, nil, width)
					stock, pieces := attr(t, svg, "offcut", "x", "width"), attr(t, svg, "cutpiece", "x", "width")
					if len(stock) == 0 || len(stock) > len(m.Bars.Bars) {
						t.Fatalf("%s: %d bars are drawn of %d", name, len(stock), len(m.Bars.Bars))
					}
					for _, p := range pieces {
						if p[0] < stock[0][0]-0.1 || p[0]+p[1] > width+0.1 {
							t.Errorf("%s: a piece is drawn from %v to %v", name, p[0], p[0]+p[1])
						}
					}
				}
			}
		}
	}
}

// A part's drawing has its two datum edges, a cross for each hole, and the figure of each center from these edges; figures
// along one edge keep their distance.
func TestPartDrawing(t *testing.T) {
	for _, name := range design.ExampleNames() {
		l := laid(t, name)
		for _, p := range l.Cut() {
			for _, width := range []float64{660, 360} {
				picture := Part(&p, units.System{}, width)
				svg := string(picture)
				if strings.Count(svg, `class="datum"`) != 2 || strings.Count(svg, `class="centermark"`) != 2*len(p.Bores) {
					t.Fatalf("%s %s: %d datum edges, %d arms of crosses for %d holes", name, p.Name, strings.Count(svg, `class="datum"`),
						strings.Count(svg, `class="centermark"`), len(p.Bores))
				}
				w, _ := p.Flat()
				for _, b := range p.Bores {
					if want := ">" + units.Figure(units.Length, b.X, units.System{}) + "<"; !strings.Contains(svg, want) {
						t.Errorf("%s %s of %v m: the center at %v has no figure %s", name, p.Name, w, b.X, want)
					}
				}
				for _, e := range attr(t, picture, "cutpiece", "x", "width") {
					if e[0]+e[1] > width {
						t.Errorf("%s %s: drawn to %v of %v", name, p.Name, e[0]+e[1], width)
					}
				}
			}
		}
	}
}

// The box taken apart shows every part that lies in it by its letter, each once, and links it.
func TestExplodedView(t *testing.T) {
	for _, name := range design.ExampleNames() {
		l := laid(t, name)
		svg := string(Exploded(&l, func(letter string) string { return "#part-" + letter }, nil, 660))
		for _, p := range l.Parts {
			n := strings.Count(svg, `aria-label="part `+p.Letter+`"`)
			inside := len(p.Places) > 0 && !p.There
			if !inside && n > 0 || n > 1 {
				t.Errorf("%s: part %s %s is named %d times", name, p.Letter, p.Name, n)
			}
			if inside && n == 0 && !strings.Contains(svg, "…") {
				t.Errorf("%s: part %s %s is not named", name, p.Letter, p.Name)
			}
		}
		if bad := regexp.MustCompile(`NaN|Inf|e[+-]\d`).FindString(svg); bad != "" {
			t.Errorf("%s: %q stands in the drawing", name, bad)
		}
	}
}

// Each number of a cut on a sheet stands on its line, once, and on no name.
func TestCutsAreNumbered(t *testing.T) {
	for _, name := range design.ExampleNames() {
		l := laid(t, name)
		ms, err := cutting.Parts(context.Background(), l.Cut(), cutting.Metric, nil, cutting.Rules{Kerf: cutting.SawKerf}, nil)
		if err != nil {
			t.Fatal(err)
		}
		for i := range ms {
			m := &ms[i]
			if m.Sheets == nil {
				continue
			}
			cuts := 0
			for _, c := range m.Sheets.Sheets {
				cuts += len(c.Cuts)
			}
			numbers := with(parse(t, Sheets(m, units.System{}, nil, 700)), "figure cutnumber haloed")
			if len(numbers) > cuts || cuts > 0 && len(numbers) == 0 && len(m.Sheets.Sheets) == 1 && m.Sheets.Waste < 0.3 {
				t.Errorf("%s, %s: %d numbers for %d cuts", name, m.Material, len(numbers), cuts)
			}
		}
	}
}
