package ui

import (
	"context"
	"errors"
	"net/http"
	"strconv"

	"github.com/labstack/echo/v5"

	"gladember/app/service"
	"gladember/app/store"
	"gladember/core/design"
)

// Outcome is what a job came to.
type Outcome interface {
	// Show is its view model; its template has the name of the job's kind.
	Show(v *Visit, takeURL string) (any, error)
	// Take is what of it may be applied to the heater.
	Take(key string) (label string, changes []design.Change, known bool)
}

// Keeper is an outcome of which something is kept with the heater when it is applied.
type Keeper interface {
	Keep(ctx context.Context, s *store.Store, st store.State) error
}

// JobView is a job that runs, ended or was canceled.
type JobView struct {
	URL, StopURL string
	Done, Of     int
	Per          int // per cent
	Ended        bool
	Error        string
	Result       any
	Kind         string
	Counts       string // what Done and Of count
}

// counted are what jobs count, by their kind; the others count years.
var counted = map[string]string{"fit": "balances"}

// JobRefused answers where a job could not begin.
func JobRefused(c *echo.Context, text string) error {
	return c.Render(http.StatusOK, "job", JobView{Ended: true, Error: text})
}

// ShowJob answers with how far a job is, or with its result.
func (v *Visit) ShowJob(j *service.Job) error {
	at := func(what ...string) string { return HeaterURL(j.Heater, append([]string{"job", ID(j.ID)}, what...)...) }
	s := j.Look()
	x := JobView{URL: at(), StopURL: at("stop"), Done: s.Done, Of: s.Of, Ended: s.Ended, Kind: j.Kind, Counts: counted[j.Kind]}
	if s.Of > 0 {
		x.Per = 100 * s.Done / s.Of
	}
	switch came, ok := s.Result.(Outcome); {
	case errors.Is(s.Err, context.Canceled):
		x.Error = "Canceled."
	case errors.Is(s.Err, context.DeadlineExceeded):
		x.Error = "This took too long and was stopped."
	case s.Err != nil:
		x.Error = s.Err.Error()
	case s.Ended && ok:
		var err error
		if x.Result, err = came.Show(v, at("take")); err != nil {
			return err
		}
	}
	return v.C.Render(http.StatusOK, "job", x)
}

// job finds the job that the address names, and the heater it is for.
func (sv *Server) job(c *echo.Context) (*service.Job, error) {
	id, _ := strconv.ParseInt(c.Param("job"), 10, 64)
	heater, _ := strconv.ParseInt(c.Param("id"), 10, 64)
	if j := sv.Jobs.Find(heater, id); j != nil {
		return j, nil
	}
	return nil, echo.NewHTTPError(http.StatusNotFound, "that result is gone; start it again")
}

func (sv *Server) jobNow(c *echo.Context) error {
	j, err := sv.job(c)
	if err != nil {
		return err
	}
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	return sv.Begin(c, st, j.Station).ShowJob(j)
}

func (sv *Server) jobStop(c *echo.Context) error {
	j, err := sv.job(c)
	if err != nil {
		return err
	}
	j.Cancel()
	return sv.jobNow(c)
}

// jobTake applies something of a job's result to the heater.
func (sv *Server) jobTake(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	if j, err := sv.job(c); err == nil {
		if came, ok := j.Look().Result.(Outcome); ok {
			if label, changes, known := came.Take(c.FormValue("key")); known {
				return sv.applyAnd(c, st, seen, label, changes, func() error {
					if k, keeps := came.(Keeper); keeps {
						return k.Keep(c.Request().Context(), sv.Store, st)
					}
					return nil
				})
			}
		}
	}
	return sv.Answer(c, st, "That result is gone; start it again.")
}
