package cut

import (
	"errors"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strconv"

	"github.com/labstack/echo/v5"

	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/layout"
	"gladember/core/units"
)

// sameSize is how near a piece that was cut must be to its part's size to be it, m: a saw's own play.
const sameSize = 0.0005

// isSize says whether a piece was cut to a part's present size.
func isSize(x *store.CutPiece, p *layout.Part) bool {
	return x.Name == p.Name && math.Abs(x.Length-p.Length) < sameSize && math.Abs(x.Width-p.Width) < sameSize
}

// ticked is what the page shows of the pieces of a part that are cut.
func (row *PartRow) ticked(cut []store.CutPiece, p *layout.Part, f *ui.Frame) {
	fm := func(m float64) string { return units.Format(units.Length, m, f.Units) }
	for i := range cut {
		x := &cut[i]
		switch {
		case x.Name != p.Name:
		case isSize(x, p):
			row.Done = min(x.Done, p.Count)
		default:
			row.Conflicts = append(row.Conflicts, Conflict{
				Text: fmt.Sprintf("%s cut to %s × %s; the part is now %s × %s.", ui.Count(x.Done, "piece is", "pieces are", f.Units),
					fm(x.Length), fm(x.Width), fm(p.Length), fm(p.Width)),
				Vals: f.Vals("", map[string]string{"part": p.Name, "length": exact(x.Length), "width": exact(x.Width)}),
			})
		}
	}
	row.TickURL = f.StationURL("cut/tick")
	row.TickVals = f.Vals("", map[string]string{"part": p.Name, "by": "1"})
	row.BackVals = f.Vals("", map[string]string{"part": p.Name, "by": "-1"})
}

// exact writes a number so that it reads back as itself.
func exact(v float64) string { return strconv.FormatFloat(v, 'g', -1, 64) }

// remaining are the parts with what is cut already taken off.
func remaining(parts []layout.Part, cut []store.CutPiece) []layout.Part {
	out := slices.Clone(parts)
	for i := range out {
		for k := range cut {
			if isSize(&cut[k], &out[i]) {
				out[i].Count = max(0, out[i].Count-cut[k].Done)
			}
		}
	}
	return slices.DeleteFunc(out, func(p layout.Part) bool { return p.Count == 0 })
}

// tick marks one more piece of a part as cut, or one less; with a size, it forgets the pieces of that size. The answer is the
// part's own marks and the plan of what is left, so that the page stays where it is.
func (sv station) tick(c *echo.Context) error {
	v, fits, err := sv.opened(c)
	if err != nil {
		return err
	}
	st, name, ctx := v.State, c.FormValue("part"), c.Request().Context()
	if !fits {
		return sv.Answer(c, st, "These parts do not fit together, so nothing can be marked as cut yet.")
	}
	parts := v.Heater.Layout.Cut()
	i := slices.IndexFunc(parts, func(p layout.Part) bool { return p.Name == name })
	if i < 0 {
		return sv.Answer(c, st, "This heater has no such part any more.")
	}
	cut, err := sv.Store.CutPieces(ctx, st.Heater)
	if err != nil {
		return err
	}
	x, err := asked(c, &parts[i], cut)
	if err != nil {
		return sv.Answer(c, st, "That piece is not known any more.")
	}
	if err := sv.Store.MarkCut(ctx, st.Heater, x); err != nil {
		return err
	}
	if cut, err = sv.Store.CutPieces(ctx, st.Heater); err != nil {
		return err
	}
	plan, err := sv.planFor(v, cut)
	if err != nil {
		return ui.Uncomputed(err)
	}
	row := PartRow{Letter: parts[i].Letter, Name: parts[i].Name, Count: parts[i].Count}
	row.ticked(cut, &parts[i], v.F)
	return c.Render(http.StatusOK, "cut-ticked", struct {
		Row  PartRow
		Plan *PlanView
	}{row, plan})
}

// asked is the mark that a form asks for: one piece more or less at the part's present size, or none at a size it had.
func asked(c *echo.Context, p *layout.Part, cut []store.CutPiece) (store.CutPiece, error) {
	x := store.CutPiece{Name: p.Name, Length: p.Length, Width: p.Width}
	if text := c.FormValue("length"); text != "" {
		var err, err2 error
		x.Length, err = strconv.ParseFloat(text, 64)
		x.Width, err2 = strconv.ParseFloat(c.FormValue("width"), 64)
		return x, errors.Join(err, err2)
	}
	for k := range cut {
		if isSize(&cut[k], p) {
			x = cut[k]
		}
	}
	by := 1
	if c.FormValue("by") == "-1" {
		by = -1
	}
	x.Done = max(0, min(p.Count, x.Done+by))
	return x, nil
}
