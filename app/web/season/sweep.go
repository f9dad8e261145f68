package season

import (
	"context"
	"fmt"
	"html/template"
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/web/ui"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/units"
)

// swept is a field tried at several values through the year.
type swept struct {
	path     string
	variants []season.Variant
	own      float64
}

// SweptView is what a comparison of values came to.
type SweptView struct {
	Chart   ui.Chart
	Name    string
	Rows    []SweptRow
	Best    string
	TakeURL string
}

// SweptRow is one value.
type SweptRow struct {
	Value, Useful, Heat, Fan, Failed, Vals string
	Own                                    bool
}

// sweep starts the comparison of a field's values.
func (sv station) sweep(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	v := sv.Begin(c, st, "season")
	h, path := st.Document, c.FormValue("of")
	if !slices.ContainsFunc(season.ListTries(&h), func(x season.Try) bool { return x.Path == path }) {
		return ui.JobRefused(c, "This heater has no such value to compare; choose another.")
	}
	y, err := sv.Weather(v.Ctx(), &h)
	if err != nil {
		return ui.JobRefused(c, ui.Capital(err.Error())+".")
	}
	work := func(ctx context.Context, progress func(done, of int)) (any, error) {
		vs, err := season.Sweep(ctx, h, y, path, season.Values(&h, path), progress)
		if err != nil {
			return nil, err
		}
		return &swept{path, vs, design.FieldAt(path).Number(&h)}, nil
	}
	return v.ShowJob(sv.Jobs.Start(st.Heater, "season", "swept", service.KeyOf(&h, design.Judged, path), work))
}

// number is a variant's value.
func number(v any) float64 {
	switch n := v.(type) {
	case float64:
		return n
	case int:
		return float64(n)
	}
	return 0
}

// Show writes the comparison.
func (s *swept) Show(v *ui.Visit, takeURL string) (any, error) {
	f := v.F
	u := f.Units
	x := design.FieldAt(s.path)
	view := SweptView{Name: x.Label, TakeURL: takeURL}
	var xs, ys []float64
	for i, r := range s.variants {
		n := number(r.Value)
		const same = 1e-9
		row := SweptRow{Value: units.Format(x.Kind, n, u), Own: math.Abs(n-s.own) < same}
		if r.Err != nil {
			row.Failed = r.Err.Error()
			view.Rows = append(view.Rows, row)
			continue
		}
		y := &r.Result.Year
		row.Useful, row.Heat, row.Fan = units.Format(units.Energy, y.Useful, u), units.Format(units.Energy, y.Heat, u),
			units.Format(units.Metered, y.Fan, u)
		row.Vals = f.VarVals("key", strconv.Itoa(i))
		if s.path == design.PlaceBearing.Path { // drawn from its left to its right, past north too
			n = s.own + math.Mod(n-s.own+540, 360) - 180
		}
		xs, ys = append(xs, u.In(x.Kind, n)), append(ys, y.Net())
		view.Rows = append(view.Rows, row)
	}
	if best := season.Best(s.variants); best >= 0 {
		view.Best = fmt.Sprintf("Useful heat less fan electricity is highest at %s.", view.Rows[best].Value)
	}
	title := "Useful heat less fan electricity, by " + strings.ToLower(x.Label)
	view.Chart = ui.Draw(func(w float64) template.HTML { return drawing.Swept(title, xs, ys, u.In(x.Kind, s.own), x.Kind, w, u) })
	return view, nil
}

// Take is one of the values.
func (s *swept) Take(key string) (string, []design.Change, bool) {
	i, err := strconv.Atoi(key)
	if err != nil || i < 0 || i >= len(s.variants) {
		return "", nil, false
	}
	return design.FieldAt(s.path).Label, []design.Change{{Path: s.path, Value: s.variants[i].Value}}, true
}
