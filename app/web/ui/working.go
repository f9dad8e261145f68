package ui

import (
	"math"
	"net/http"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/core/advice"
	"gladember/core/collector"
	"gladember/core/units"
)

// WorkingView is how a figure came to be.
type WorkingView struct {
	Name, Value, Formula, Note, Band string
	Terms                            []TermView
	Glossary                         *advice.Word // the term of the figure; nil where there is none
	Causes                           []CauseView
}

// TermView is one input of a formula.
type TermView struct{ Symbol, Meaning, Value, Source string }

// CauseView is one cause of a figure's uncertainty.
type CauseView struct{ Name, Effect string }

// working answers with how a figure came to be: one of the headline figures, or of a station, as season-useful.
func (sv *Server) working(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	key := c.Param("figure")
	name, rest, _ := strings.Cut(key, "-")
	v := sv.Begin(c, st, name)
	if v.Heater, err = sv.Evaluate(v.Ctx(), v.Doc()); err != nil {
		return Uncomputed(err)
	}
	ws := v.Heater.Eval.Workings()
	if v.Station != nil && v.Station.Workings != nil {
		if ws, err = v.Station.Workings(v); err != nil {
			return Uncomputed(err)
		}
		key = rest
	}
	w, ok := ws[key]
	if !ok {
		return echo.NewHTTPError(http.StatusNotFound, "")
	}
	view := NewWorking(w, v.F.Units, v.F.Sum)
	if word, ok := advice.Explained(key); ok {
		view.Glossary = &word
	}
	return c.Render(http.StatusOK, "working", view)
}

// signs writes a formula with the signs people write.
var signs = strings.NewReplacer(" * ", " · ", " / ", " ÷ ", " - ", " − ")

// NewWorking writes a working in a person's units and money.
func NewWorking(w collector.Working, u units.System, money func(v float64, digits int) string) WorkingView {
	v := WorkingView{Name: w.Name, Value: units.Format(w.Kind, w.Value, u), Formula: signs.Replace(w.Formula), Note: w.Note}
	if w.Kind == units.Number {
		v.Value = units.Plain(w.Value, 4, u)
	}
	for _, t := range w.Terms {
		val := units.Format(t.Kind, t.Value, u)
		switch t.Unit {
		case "":
		case collector.Money:
			val = money(t.Value, 2)
		default:
			val = units.Term(t.Value, t.Unit, 4, u)
		}
		v.Terms = append(v.Terms, TermView{t.Symbol, t.Meaning, val, t.Source})
	}
	kind := w.Kind
	if kind == units.Temperature {
		kind = units.Rise
	}
	if w.Band == nil {
		return v
	}
	v.Band = Range(w.Kind, w.Band.Low, w.Band.High, u) + " " + u.Unit(w.Kind)
	const shown = 3
	for _, x := range w.Band.Largest(shown) {
		v.Causes = append(v.Causes, CauseView{x.Name, "± " + units.Format(kind, 2*math.Abs(x.Effect), u)}) // at the level of the range
	}
	return v
}
