package web

import (
	"context"
	"encoding/json"
	"fmt"
	"html/template"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/store"
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

// SweptView is what a sweep came to.
type SweptView struct {
	Wide, Narrow template.HTML
	Name         string
	Rows         []SweptRow
	Best         string
	TakeURL      string
}

// SweptRow is one value.
type SweptRow struct {
	Value, Useful, Heat, Fan, Failed, Vals string
	Own                                    bool
}

func (sv *Server) sweep(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	f := &Frame{Page: sv.page(c, ""), ID: st.Heater, State: st, Station: "season"}
	path := c.FormValue("of")
	fail := func(text string) error { return c.Render(200, "job", JobView{Ended: true, Error: text}) }
	if !slices.ContainsFunc(season.TriesOf(&st.Document), func(x season.Try) bool { return x.Path == path }) {
		return fail("This heater has no such thing to try; choose another.")
	}
	y, err := sv.weatherOf(&st.Document)
	if err != nil {
		return fail(err.Error() + ".")
	}
	h := st.Document
	j := sv.jobs.start(st.Heater, "season", "swept", func(ctx context.Context, progress func(done, of int)) (result, error) {
		vs, err := season.Sweep(ctx, h, y, path, season.Values(&h, path), progress)
		if err != nil {
			return nil, err
		}
		return &swept{path, vs, design.Number(&h, path)}, nil
	})
	return sv.showJob(c, j, f)
}

func (s *swept) show(_ *Server, f *Frame, takeURL string) any {
	u := f.Units
	x := design.FieldAt(s.path)
	v := SweptView{Name: x.Label, TakeURL: takeURL}
	best := season.Best(s.variants)
	var xs, ys []float64
	for i, r := range s.variants {
		n := 0.0
		switch t := r.Value.(type) {
		case float64:
			n = t
		case int:
			n = float64(t)
		}
		word := units.Format(x.Kind, n, u)
		row := SweptRow{Value: word, Own: math.Abs(n-s.own) < 1e-9}
		if r.Err != nil {
			row.Failed = r.Err.Error()
		} else {
			y := &r.Result.Year
			row.Useful, row.Heat, row.Fan = units.Format(units.Energy, y.Useful, u), units.Format(units.Energy, y.Heat, u), units.Format(units.Metered, y.Fan, u)
			row.Vals = f.vals("", map[string]string{"key": strconv.Itoa(i)})
			if s.path == "place.bearing_deg" { // drawn from its left to its right, past north too
				n = s.own + math.Mod(n-s.own+540, 360) - 180
			}
			xs, ys = append(xs, u.In(x.Kind, n)), append(ys, y.Net())
		}
		v.Rows = append(v.Rows, row)
	}
	if best >= 0 {
		v.Best = fmt.Sprintf("The year brings most, the fan taken off, at %s.", v.Rows[best].Value)
	}
	title := "Useful heat less the fan, by " + strings.ToLower(x.Label)
	draw := func(width float64) template.HTML {
		return drawing.Swept(title, xs, ys, u.In(x.Kind, s.own), x.Kind, width, u)
	}
	v.Wide, v.Narrow = draw(700), draw(360)
	return v
}

func (s *swept) take(key string) (string, []design.Change, bool) {
	i, err := strconv.Atoi(key)
	if err != nil || i < 0 || i >= len(s.variants) {
		return "", nil, false
	}
	return design.FieldAt(s.path).Label, []design.Change{{Path: s.path, Value: s.variants[i].Value}}, true
}

// keep writes down what a version's year came to, with the program that worked it out.
func (sv *Server) keep(c *echo.Context, st *store.State, w *whole) error {
	y := &w.result.Year
	b, err := json.Marshal(map[string]float64{"useful_kwh": y.Useful, "heat_kwh": y.Heat, "need_kwh": y.Need, "fan_kwh": y.Fan, "saved": w.money.Saved})
	if err != nil {
		return err
	}
	return sv.store.Keep(c.Request().Context(), store.Kept{Version: st.Version, Revision: st.Revision, Program: sv.Program, Figures: string(b)})
}

// KeptRow is an earlier result of this heater.
type KeptRow struct{ When, Version, Useful, Program string }

// kept are the results that were written down, the newest first.
func (sv *Server) kept(c *echo.Context, st *store.State, u units.System) (out []KeptRow, err error) {
	ks, err := sv.store.KeptOf(c.Request().Context(), st.Heater)
	if err != nil {
		return nil, err
	}
	names := map[int64]string{}
	for _, v := range st.Versions {
		names[v.ID] = v.Name
	}
	for _, k := range ks {
		var x struct {
			Useful float64 `json:"useful_kwh"`
		}
		if json.Unmarshal([]byte(k.Figures), &x) != nil || k.Version == st.Version && k.Revision == st.Revision {
			continue
		}
		out = append(out, KeptRow{time.UnixMilli(k.At).In(time.Local).Format("2 Jan, 15:04"), fmt.Sprintf("%s, change %d", names[k.Version], k.Revision), units.Format(units.Energy, x.Useful, u), k.Program})
		if len(out) == 8 {
			break
		}
	}
	return out, nil
}
