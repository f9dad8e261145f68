package cut

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strconv"

	"github.com/labstack/echo/v5"

	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/cutting"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// Conflict is what is cut to a size that its part does not have, and the changes of the design that would give it that.
type Conflict struct {
	Text, Vals string
	Fits       []FitView
}

// FitView is a change of the design that a piece would fit.
type FitView struct{ Text, URL, Vals string }

// mostFits is how many such changes are offered.
const mostFits = 3

// ticked is what the page shows of the pieces of a part that are cut.
func (row *PartRow) ticked(v *ui.Visit, cut []store.CutPiece, p *layout.Part) {
	f := v.F
	fm := func(m float64) string { return units.Format(units.Length, m, f.Units) }
	for i := range cut {
		x := &cut[i]
		switch {
		case x.Name != p.ID:
		case service.IsSize(x, p):
			row.Done = min(x.Done, p.Count)
		default:
			row.Conflicts = append(row.Conflicts, Conflict{
				Text: fmt.Sprintf("%s cut to %s × %s; the part is now %s × %s.", ui.Count(x.Done, "piece is", "pieces are", f.Units),
					fm(x.Length), fm(x.Width), fm(p.Length), fm(p.Width)),
				Vals: f.Vals("", map[string]string{"part": p.ID, "length": exact(x.Length), "width": exact(x.Width)}),
				Fits: fits(v, x),
			})
		}
	}
	row.TickURL = f.StationURL("cut/tick")
	row.TickVals = f.Vals("", map[string]string{"part": p.ID, "by": "1"})
	row.BackVals = f.Vals("", map[string]string{"part": p.ID, "by": "-1"})
}

// fits are the changes of the design with which a piece would have its part's size, and what the heat is with each.
func fits(v *ui.Visit, x *store.CutPiece) (out []FitView) {
	f := v.F
	found, err := layout.Follow(v.Doc(), x.Name, x.Length, x.Width)
	if err != nil {
		return nil
	}
	for _, fit := range found {
		if len(out) == mostFits {
			break
		}
		next, err := design.Apply(*v.Doc(), units.System{}, fit.Change)
		if err != nil {
			continue
		}
		with, err := v.Evaluate(v.Ctx(), &next)
		if err != nil {
			continue
		}
		field, m := design.FieldAt(fit.Path), fit.Value.(float64)
		gain := with.Eval.Running.Warms() - v.Heater.Eval.Running.Warms()
		out = append(out, FitView{
			Text: fmt.Sprintf("Change the design: %s to %s (%s)", ui.Lower(field.Label), units.Format(units.Length, m, f.Units),
				ui.Signed(units.Power, gain, f.Units)),
			URL:  f.EditURL(),
			Vals: f.Vals(fit.Path, map[string]string{"typed": fmt.Sprintf("%.2f mm", 1000*m)}),
		})
	}
	return out
}

// exact writes a number so that it reads back as itself.
func exact(v float64) string { return strconv.FormatFloat(v, 'g', -1, 64) }

// tick marks one more piece of a part as cut, or one less; with a size, it forgets the pieces of that size; with a real size, the
// piece came out so. The answer is the part's own marks and the plan of what is left, so that the page stays where it is.
func (sv station) tick(c *echo.Context) error {
	v, fits, err := sv.opened(c)
	if err != nil {
		return err
	}
	st, id := v.State, c.FormValue("part")
	if !fits {
		const misfit = "These parts do not fit together, so nothing can be marked as cut yet."
		ui.Declined(c, misfit)
		return sv.Answer(c, st, misfit)
	}
	parts := v.Heater.Layout.Cut()
	i := slices.IndexFunc(parts, func(p layout.Part) bool { return p.ID == id })
	if i < 0 {
		const gone = "This heater has no such part any more."
		ui.Declined(c, gone)
		return sv.Answer(c, st, gone)
	}
	p := &parts[i]
	row := PartRow{Letter: p.Letter, Name: p.Name, Count: p.Count, Real: c.FormValue("real")}
	done, err := sv.Alone(v.Ctx(), st.Heater)
	if err != nil {
		return err
	}
	defer done()
	cut, err := sv.Store.CutPieces(v.Ctx(), st.Heater)
	if err != nil {
		return err
	}
	x, by, err := asked(c, p, cut, v.F.Units)
	if err != nil {
		row.Error = err.Error()
		ui.Declined(c, row.Error)
	} else if err := sv.mark(v, []store.CutPiece{x}, map[string]int{p.ID: by}); err != nil {
		return err
	} else {
		row.Real = ""
	}
	if cut, err = sv.Store.CutPieces(v.Ctx(), st.Heater); err != nil {
		return err
	}
	plan, err := sv.planFor(v)
	if err != nil {
		return ui.Uncomputed(err)
	}
	row.ticked(v, cut, p)
	return c.Render(http.StatusOK, "cut-ticked", struct {
		Row  PartRow
		Plan *PlanView
	}{row, plan.view(v.F, v.Doc().Workshop.Cut.Kerf)})
}

// mark writes how many pieces of parts are cut, and marks them in the plan: by says how many more of each part, below zero how
// many less. A part that is made of several pieces has all of them marked.
func (sv station) mark(v *ui.Visit, pieces []store.CutPiece, by map[string]int) error {
	p, err := sv.planFor(v)
	if err != nil {
		return ui.Uncomputed(err)
	}
	// The plan is remembered for others to read, so that it is marked in a copy.
	b, err := json.Marshal(p.record)
	if err != nil {
		return err
	}
	var rec cutting.Record
	if err := json.Unmarshal(b, &rec); err != nil {
		return err
	}
	for _, part := range v.Heater.Layout.Cut() {
		n := by[part.ID]
		each, count := part.Length, 1
		for _, m := range p.materials {
			for _, s := range m.Splits {
				if s.Letter == part.Letter {
					each, count = s.Each, s.Count
				}
			}
		}
		for range count * max(n, -n) {
			rec.Mark(part.ID, max(each, part.Width), min(each, part.Width), n > 0)
		}
	}
	if b, err = json.Marshal(rec); err != nil {
		return err
	}
	return sv.Store.MarkCut(v.Ctx(), v.State.Heater, pieces, string(b))
}

// asked is the mark that a form asks for: one piece more or less at the part's present size, none at a size it had, or one more
// at the size that it came out with; and how many pieces of the plan that is.
func asked(c *echo.Context, p *layout.Part, cut []store.CutPiece, u units.System) (x store.CutPiece, by int, err error) {
	x = store.CutPiece{Name: p.ID, Length: p.Length, Width: p.Width}
	if text := c.FormValue("length"); text != "" {
		var err2 error
		x.Length, err = strconv.ParseFloat(text, 64)
		x.Width, err2 = strconv.ParseFloat(c.FormValue("width"), 64)
		if errors.Join(err, err2) != nil {
			err = errors.New("that piece is not known any more")
		}
		return x, 0, err
	}
	if text := c.FormValue("real"); c.FormValue("sized") != "" {
		if x.Length, x.Width, err = realSize(text, p, u); err != nil {
			return x, 0, err
		}
	}
	came := layout.Part{ID: p.ID, Length: x.Length, Width: x.Width}
	for k := range cut {
		if service.IsSize(&cut[k], &came) {
			x = cut[k]
		}
	}
	by = 1
	if c.FormValue("by") == "-1" {
		by = -1
	}
	was := x.Done
	x.Done = max(0, min(p.Count, x.Done+by))
	return x, x.Done - was, nil
}

// furthest is how far from its part's size a piece may have come out, as a share: beyond that it is a slip of the pen.
const furthest = 0.2

// realSize reads the size that a piece came out with: a length, or both sides.
func realSize(text string, p *layout.Part, u units.System) (length, width float64, err error) {
	length, width = 0, p.Width
	if _, _, both := design.SplitPane(text); both {
		var a, b float64
		if a, b, err = design.ParsePane(text, u); err == nil {
			length, width = max(a, b), min(a, b)
		}
	} else {
		length, err = units.Parse(units.Length, text, u)
	}
	fm := func(m float64) string { return units.Format(units.Length, m, u) }
	if err != nil || !(length > 0 && width > 0) {
		return 0, 0, fmt.Errorf("%q is not a size: enter its length, such as %s, or both sides, such as %s x %s", text, fm(p.Length),
			units.Figure(units.Length, p.Length, u), fm(p.Width))
	}
	if math.Abs(length-p.Length) > furthest*p.Length || math.Abs(width-p.Width) > furthest*p.Width {
		return 0, 0, fmt.Errorf(
			"%s × %s is far from this part's %s × %s: mark a piece of about that size",
			fm(length),
			fm(width),
			fm(p.Length),
			fm(p.Width),
		)
	}
	return length, width, nil
}
