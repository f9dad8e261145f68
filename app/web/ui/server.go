// Package ui is the frame around every station of a heater, and the components that stations are made of: fields,
// findings, figures, workings and jobs, each with one owner here. It knows no station: a [Station] says what it is,
// and the server registers it.
//
// A request for a heater's page becomes a [Visit]: the heater's document, what is computed of it, and the [Frame] that
// templates fill. A handler reads the request, asks the service or core, and hands a view model to a template.
package ui

import (
	"context"
	"embed"
	"errors"
	"log/slog"
	"math"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"sync"

	"github.com/labstack/echo/v5"

	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/towns"
	"gladember/core/design"
)

// Templates are those of the frame and its components.
//
//go:embed *.html
var Templates embed.FS

// Server answers for the heaters of a workshop.
type Server struct {
	*service.Workshop
	Program        string // version of the program
	WeatherStation string // address of a weather station to ask; empty: there is none
	Logger         *slog.Logger
	Stations       []*Station // in the order of the work

	currencies sync.Map // signs of money by tenths of a degree
}

// Station looks a station up; nil where there is none of that key.
func (sv *Server) Station(key string) *Station {
	for _, s := range sv.Stations {
		if s.Key == key {
			return s
		}
	}
	return nil
}

// Routes registers every station, and what all of them share, below a heater's address.
func (sv *Server) Routes(h *echo.Group) {
	h.GET("", sv.resume)
	h.GET("/since", sv.since)
	h.POST("/edit", sv.edit)
	h.POST("/town", sv.town)
	h.POST("/remedy", sv.remedy)
	h.POST("/undo", sv.undo)
	h.POST("/redo", sv.redo)
	h.POST("/branch", sv.branch)
	h.POST("/version", sv.version)
	h.GET("/working/:figure", sv.working)
	h.GET("/job/:job", sv.jobNow)
	h.POST("/job/:job/stop", sv.jobStop)
	h.POST("/job/:job/take", sv.jobTake)
	for _, s := range sv.Stations {
		h.GET("/"+s.Key, sv.page(s))
		if s.Routes != nil {
			s.Routes(sv, h.Group("/"+s.Key))
		}
	}
}

// page answers with a heater at a station.
func (sv *Server) page(s *Station) echo.HandlerFunc {
	return func(c *echo.Context) error {
		v, err := sv.Open(c, s.Key)
		if err != nil {
			return err
		}
		return c.Render(http.StatusOK, "frame.html", v.F)
	}
}

// HeaterURL is an address below a heater's.
func HeaterURL(id int64, parts ...string) string {
	u := url.URL{Path: "/h/" + strconv.FormatInt(id, 10) + "/" + strings.Join(parts, "/")}
	return strings.TrimSuffix(u.String(), "/")
}

// Current reads the heater that the address names.
func (sv *Server) Current(c *echo.Context) (store.State, error) {
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		return store.State{}, store.ErrNotFound
	}
	return sv.Store.Get(c.Request().Context(), id)
}

// resume opens a heater at the first station that is still to be decided.
func (sv *Server) resume(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	v, err := sv.Visit(c, st, "")
	if err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, HeaterURL(st.Heater, v.F.Next()))
}

// since says whether a heater was changed elsewhere after a revision: 204 if not.
func (sv *Server) since(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	version, revision := strconv.FormatInt(st.Version, 10), strconv.FormatInt(st.Revision, 10)
	if c.QueryParam("revision") == revision && c.QueryParam("version") == version {
		return c.NoContent(http.StatusNoContent)
	}
	return c.String(http.StatusOK, "changed")
}

// Visit is a request for a page of a heater.
type Visit struct {
	*Server
	C       *echo.Context
	State   store.State
	Station *Station        // nil on pages that are none
	Heater  *service.Heater // nil where the heater cannot be computed
	F       *Frame
}

// Ctx is the request's context.
func (v *Visit) Ctx() context.Context { return v.C.Request().Context() }

// Doc is the heater's document.
func (v *Visit) Doc() *design.Heater { return &v.State.Document }

// Begin puts together what a visit knows before anything is computed.
func (sv *Server) Begin(c *echo.Context, st store.State, key string) *Visit {
	v := &Visit{Server: sv, C: c, State: st, Station: sv.Station(key)}
	p := NewPage(c, st.Document.Name)
	if !p.chosen {
		p.Currency = sv.currency(st.Document.Place.Latitude, st.Document.Place.Longitude)
	}
	p.Units.Sign = p.Currency
	v.F = newFrame(p, v)
	if sv.Store.Damaged() != "" {
		v.F.Notice = Capital(store.ErrReadOnly.Error()) + "."
	}
	return v
}

// currency is the sign of the money of the country around a place, latitude and longitude in degrees. The
// nearest town of all is looked for once for every tenth of a degree.
func (sv *Server) currency(lat, lon float64) string {
	at := [2]int{int(math.Round(lat * 10)), int(math.Round(lon * 10))}
	if sign, ok := sv.currencies.Load(at); ok {
		return sign.(string)
	}
	g, err := towns.Load()
	if err != nil {
		return ""
	}
	sign := g.Near(lat, lon).Currency()
	sv.currencies.Store(at, sign)
	return sign
}

// Visit computes a heater and puts together what every page of it shows. Of a heater that cannot be computed that is why,
// with the ways back: undo, other versions, and the stations where it can be changed.
func (sv *Server) Visit(c *echo.Context, st store.State, key string) (*Visit, error) {
	v := sv.Begin(c, st, key)
	var err error
	if v.Heater, err = sv.Evaluate(v.Ctx(), v.Doc()); err == nil {
		err = service.Guarded(func() error { return v.F.fill(v) })
	}
	return v.unless(err)
}

// unless returns a visit that shows what failed, instead of failing itself, where the program panicked or the heater cannot
// be computed.
func (v *Visit) unless(err error) (*Visit, error) {
	var p *service.Panicked
	switch {
	case err == nil:
		return v, nil
	case v.Ctx().Err() != nil, v.Heater != nil && !errors.As(err, &p):
		return nil, err
	}
	v.Logger.Error("a heater cannot be computed", "heater", v.State.Heater, "error", err, "stack", service.StackOf(err))
	before, notice := v.F, v.F.Notice
	v.F = newFrame(before.Page, v)
	v.F.Notice, v.F.Broken, v.Heater = notice, Capital(err.Error())+".", nil
	v.F.bareStations(v)
	return v, nil
}

// Open reads the heater that the address names and opens one of its stations.
func (sv *Server) Open(c *echo.Context, key string) (*Visit, error) {
	st, err := sv.Current(c)
	if err != nil {
		return nil, err
	}
	return sv.OpenAt(c, st, key)
}

// OpenAt opens a station of a heater.
func (sv *Server) OpenAt(c *echo.Context, st store.State, key string) (*Visit, error) {
	s := sv.Station(key)
	if s == nil {
		return nil, echo.NewHTTPError(http.StatusNotFound, "")
	}
	v, err := sv.Visit(c, st, key)
	if err != nil {
		return nil, err
	}
	if v.Heater == nil {
		v.F.Fields("Glazing", design.PaneWidth, design.PaneHeight) // the usual cause is a size
		v.F.Fields("Boxes", design.ArrayBoxes, design.ArrayJoin)
		return v, nil
	}
	return v.unless(service.Guarded(func() error { return s.Open(v) }))
}

// Changed answers a change with every part of the page but the field that is typed in.
func (v *Visit) Changed(notice string) error {
	v.F.Notice = notice
	return v.C.Render(http.StatusOK, "changed", v.F)
}

// Answer shows what a change made of the station that asked for it.
func (sv *Server) Answer(c *echo.Context, st store.State, notice string) error {
	v, err := sv.OpenAt(c, st, c.FormValue("station"))
	if err != nil {
		return err
	}
	return v.Changed(notice)
}

// Again shows a whole station with a message why a form was refused.
func (sv *Server) Again(c *echo.Context, st store.State, key, notice string) error {
	v, err := sv.OpenAt(c, st, key)
	if err != nil {
		return err
	}
	v.F.Notice = notice
	Declined(c, notice)
	return c.Render(http.StatusUnprocessableEntity, "frame.html", v.F)
}
