package ui_test

import (
	"context"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/labstack/echo/v5"

	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// kiln is a station as small as one can be: a template, a view, a line in the list of stations, an address and a working.
func kiln() *ui.Station {
	return &ui.Station{
		Key: "kiln", Name: "Kiln", Group: ui.Build,
		Templates: fstest.MapFS{"kiln.html": {Data: []byte(
			`{{define "kiln"}}<p id="kiln">{{.View}}</p>{{end}}{{define "kiln-side"}}<p>beside</p>{{end}}`)}},
		Open: func(v *ui.Visit) error {
			v.F.View = "dry by " + units.Format(units.Temperature, v.Heater.Eval.Outlet.Value, v.F.Units)
			v.F.Fields("Glazing", design.PaneWidth)
			return nil
		},
		Summary: func(v *ui.Visit) (string, bool, error) { return "two boards", v.Decided(design.PaneWidth), nil },
		Routes: func(_ *ui.Server, g *echo.Group) {
			g.GET("/load", func(c *echo.Context) error { return c.String(http.StatusOK, "loaded") })
		},
		Workings: func(v *ui.Visit) (map[string]collector.Working, error) {
			w := v.Heater.Eval.Workings()["outlet"]
			w.Name = "Kiln air"
			return map[string]collector.Working{"air": w}, nil
		},
	}
}

// A station is one value: it has its page, its line, its addresses and its workings by being on the list.
func TestStationByOneLine(t *testing.T) {
	s, err := store.Open(context.Background(), filepath.Join(t.TempDir(), "w.db"))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if _, err := s.Create(context.Background(), design.New()); err != nil {
		t.Fatal(err)
	}
	k := kiln()
	pages, err := ui.Parse(func(name string) (string, error) { return "/static/" + name, nil }, k.Templates)
	if err != nil {
		t.Fatal(err)
	}
	e := echo.New()
	e.Renderer = &echo.TemplateRenderer{Template: pages}
	sv := &ui.Server{Workshop: service.New(s, nil), Logger: slog.New(slog.NewTextHandler(io.Discard, nil)), Stations: []*ui.Station{k}}
	sv.Routes(e.Group("/h/:id"))
	get := func(path string, code int, want ...string) {
		t.Helper()
		w := httptest.NewRecorder()
		e.ServeHTTP(w, httptest.NewRequest(http.MethodGet, path, nil))
		if w.Code != code {
			t.Errorf("%s answers %d: %s", path, w.Code, w.Body)
		}
		for _, x := range want {
			if !strings.Contains(w.Body.String(), x) {
				t.Errorf("%s does not show %q", path, x)
			}
		}
	}
	get("/h/1/kiln", http.StatusOK, `<p id="kiln">dry by `, "°C", "beside", "two boards", "Glazing", `id="f-pane-width_m"`)
	get("/h/1/kiln/load", http.StatusOK, "loaded")
	get("/h/1/working/kiln-air", http.StatusOK, "Kiln air")
	get("/h/1/working/kiln-fire", http.StatusNotFound)
	get("/h/1/working/heat", http.StatusOK)
	get("/h/1", http.StatusSeeOther) // a heater opens at the first station to decide
	get("/h/1/oven", http.StatusNotFound)
	get("/h/2/kiln", http.StatusInternalServerError) // the site turns this into a page of its own
}

// Sentences have their plurals, ranges no misread minus, and differences their signs.
func TestWriting(t *testing.T) {
	u := units.System{}
	for got, want := range map[string]string{
		ui.Count(1, "day", "days", u):                      "1 day",
		ui.Count(1200, "day", "days", u):                   "1,200 days",
		ui.Times(1, u):                                     "once",
		ui.Times(3, u):                                     "3 times",
		ui.Range(units.Power, 643, 910, u):                 "643–910",
		ui.Range(units.Power, -40, -12, u):                 "-40 to -12",
		ui.Signed(units.Power, -7.25, u):                   "−7.2 W",
		ui.Signed(units.Power, 0, u):                       ui.NoChange,
		ui.List([]string{"a", "b", "c"}):                   "a, b and c",
		ui.Capital("the fan"):                              "The fan",
		ui.Sentences("One.", "", "Two."):                   "One. Two.",
		ui.FieldID(design.AirFanSide.Path):                 "f-air-fan_side",
		ui.HeaterURL(3, "working", "season-useful"):        "/h/3/working/season-useful",
		ui.Whole(1234.6, units.System{DecimalComma: true}): "1.235",
	} {
		if got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}
