package cutting

import (
	"context"
	"testing"

	"gladember/core/design"
	"gladember/core/layout"
)

// Every cut part of every example comes out of bars and sheets as often as it is wanted, or is told as missing.
func TestPartsOfEveryExample(t *testing.T) {
	for _, n := range design.ExampleNames() {
		h, err := design.Named(n)
		if err != nil {
			t.Fatal(err)
		}
		l, err := layout.Build(&h)
		if err != nil {
			t.Fatal(n, err)
		}
		for _, shop := range []Shop{Imperial, Metric} {
			ps, err := Parts(context.Background(), l.Cut(), shop, nil, Rules{Kerf: SawKerf}, nil)
			if err != nil {
				t.Fatal(n, err)
			}
			planned, split := map[string]int{}, map[string]int{}
			for _, m := range ps {
				for _, s := range m.Splits {
					split[s.Letter] = s.Count
				}
			}
			for _, m := range ps {
				if m.Bars != nil {
					checked(t, m.BarJob, m.Bars)
					for _, c := range m.Bars.Bars {
						for _, at := range c.Pieces {
							planned[m.Parts[at.Piece]]++
						}
					}
					for i, k := range m.Bars.Missing {
						planned[m.Parts[i]] += k
					}
					continue
				}
				checkedSheets(t, m.SheetJob, m.Sheets)
				for _, c := range m.Sheets.Sheets {
					for _, p := range c.Panels {
						planned[m.Parts[p.Panel]]++
					}
				}
				for i, k := range m.Sheets.Missing {
					planned[m.Parts[i]] += k
				}
			}
			for _, p := range l.Cut() {
				cut := p.Form == layout.InBars || p.Form == layout.InSheets && p.Group != layout.Cover
				if cut && planned[p.Letter] != p.Count*max(1, split[p.Letter]) {
					t.Errorf("%s: %d of %d of %s %s are planned", n, planned[p.Letter], p.Count, p.Letter, p.Name)
				}
			}
		}
	}
}

// A sheet on hand is used before a new one is bought.
func TestOnHandComesFirst(t *testing.T) {
	h, _ := design.Named("screen-box")
	l, err := layout.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	var back layout.Part
	for _, p := range l.Cut() {
		if p.Name == "back foam" {
			back = p
		}
	}
	hand := []OnHand{{Material: back.Material, Thickness: back.Thickness, Width: 1.3, Height: 2.5, Count: 1}}
	ps, err := Parts(context.Background(), []layout.Part{back}, Metric, hand, Rules{}, nil)
	if err != nil || len(ps) != 1 {
		t.Fatal(ps, err)
	}
	if names, _ := ps[0].New(); len(names) != 0 || len(ps[0].Sheets.Sheets) != 1 {
		t.Errorf("new sheets %v are bought for %s, %d sheets are cut", names, back.Name, len(ps[0].Sheets.Sheets))
	}
}
