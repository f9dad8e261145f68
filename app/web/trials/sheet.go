package trials

import (
	"net/http"

	"github.com/labstack/echo/v5"

	"gladember/app/web/ui"
	"gladember/core/design"
	"gladember/core/measure"
	"gladember/core/units"
)

// SheetView are the tests of a heater on paper, for those who have no phone at hand.
type SheetView struct {
	*ui.Frame
	Tests []SheetTest
}

// SheetTest is a test on paper.
type SheetTest struct {
	Title string
	Do    []string
	Rows  []SheetRow
}

// SheetRow is one thing to write down, with a box for each reading.
type SheetRow struct {
	Label, Unit string
	Boxes       []struct{}
}

// sheet shows all tests of a heater to be printed and filled in with a pencil.
func (sv station) sheet(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	v, err := sv.Visit(c, st, "test")
	if err != nil {
		return err
	}
	view := &SheetView{Frame: v.F}
	for _, t := range measure.Trials() {
		if !t.Suits(v.Doc()) || len(t.Asks) == 0 {
			continue
		}
		x := SheetTest{Title: t.Title}
		for _, d := range t.Do {
			x.Do = append(x.Do, d.In(v.F.Units))
		}
		for _, a := range t.Asks {
			unit := a.Unit
			if unit == "" {
				unit = v.F.Units.Unit(a.Kind)
			}
			x.Rows = append(x.Rows, SheetRow{a.Label, unit, make([]struct{}, a.Readings())})
		}
		view.Tests = append(view.Tests, x)
	}
	return c.Render(http.StatusOK, "trial-sheet.html", view)
}

// fieldText says which field a value is written to, with its 95 % range.
func fieldText(path string, value, u float64, sys units.System) string {
	f := design.FieldAt(path)
	if f == nil {
		return path
	}
	return f.Label + ": " + units.Format(f.Kind, value, sys) + " (" + ui.Range(f.Kind, value-2*u, value+2*u, sys) + ")"
}
