package web

import (
	"context"
	"errors"
	"net/http"
	"strconv"
	"sync"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/core/design"
)

// job is work that takes longer than a page may wait: it says how far it is, and can be
// called off.
type job struct {
	id     int64
	heater int64
	what   string // the template that shows its result
	at     string // the station that began it
	cancel context.CancelFunc

	lock     sync.Mutex
	done, of int
	ended    bool
	err      error
	result   result
}

// result is what a job came to.
type result interface {
	show(sv *Server, f *Frame, takeURL string) any                       // in the person's units, as it is looked at
	take(key string) (label string, changes []design.Change, known bool) // what of it may be taken over
}

// longest is how long a job may run, and manyJobs how many are remembered.
const (
	longest  = 5 * time.Minute
	manyJobs = 24
)

// jobs are those under way and those that ended lately. The zero value has none.
type jobs struct {
	lock sync.Mutex
	all  map[int64]*job
	next int64
}

// start begins work on a heater, and calls off what of the same kind still runs for it.
func (js *jobs) start(heater int64, station, what string, work func(ctx context.Context, progress func(done, of int)) (result, error)) *job {
	ctx, cancel := context.WithTimeout(context.Background(), longest)
	js.lock.Lock()
	if js.all == nil {
		js.all = map[int64]*job{}
	}
	js.next++
	j := &job{id: js.next, heater: heater, at: station, what: what, cancel: cancel}
	for id, o := range js.all {
		if o.heater == heater && o.what == what {
			o.cancel()
		}
		if id <= j.id-manyJobs {
			delete(js.all, id)
		}
	}
	js.all[j.id] = j
	js.lock.Unlock()
	go func() {
		defer cancel()
		r, err := work(ctx, func(done, of int) {
			j.lock.Lock()
			defer j.lock.Unlock()
			j.done, j.of = done, of
		})
		j.lock.Lock()
		defer j.lock.Unlock()
		j.ended, j.result, j.err = true, r, err
	}()
	return j
}

func (js *jobs) get(c *echo.Context) (*job, error) {
	id, _ := strconv.ParseInt(c.Param("job"), 10, 64)
	js.lock.Lock()
	defer js.lock.Unlock()
	j := js.all[id]
	if j == nil || strconv.FormatInt(j.heater, 10) != c.Param("id") {
		return nil, echo.NewHTTPError(http.StatusNotFound, "")
	}
	return j, nil
}

// JobView is a job that runs, ended or was called off.
type JobView struct {
	URL, StopURL string
	Done, Of     int
	Per          int // per cent
	Ended        bool
	Error        string
	Result       any
	What         string
}

// show answers with how far a job is, or with its result.
func (sv *Server) showJob(c *echo.Context, j *job, f *Frame) error {
	j.lock.Lock()
	at := func(what ...string) string {
		return heaterURL(j.heater, append([]string{"job", strconv.FormatInt(j.id, 10)}, what...)...)
	}
	v := JobView{URL: at(), StopURL: at("stop"), Done: j.done, Of: j.of, Ended: j.ended, What: j.what}
	if j.of > 0 {
		v.Per = 100 * j.done / j.of
	}
	if j.err != nil {
		v.Error = j.err.Error()
		if errors.Is(j.err, context.Canceled) {
			v.Error = "Called off."
		}
	}
	came := j.result
	j.lock.Unlock()
	if v.Ended && v.Error == "" {
		v.Result = came.show(sv, f, at("take"))
	}
	return c.Render(http.StatusOK, "job", v)
}

// jobTake takes something of a job's result over into the heater.
func (sv *Server) jobTake(c *echo.Context) error {
	st, seen, err := sv.changing(c)
	if err != nil {
		return err
	}
	if j, err := sv.jobs.get(c); err == nil {
		j.lock.Lock()
		came := j.result
		j.lock.Unlock()
		if came != nil {
			if label, changes, known := came.take(c.FormValue("key")); known {
				return sv.taken(c, st, seen, label, changes)
			}
		}
	}
	return sv.answer(c, st, "That result is gone; work it out again.")
}

func (sv *Server) jobNow(c *echo.Context) error {
	j, err := sv.jobs.get(c)
	if err != nil {
		return err
	}
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	return sv.showJob(c, j, &Frame{Page: sv.page(c, st.Document.Name), ID: st.Heater, State: st, Station: j.at})
}

func (sv *Server) jobStop(c *echo.Context) error {
	j, err := sv.jobs.get(c)
	if err != nil {
		return err
	}
	j.cancel()
	for range 100 { // it ends with the year that it is in
		j.lock.Lock()
		ended := j.ended
		j.lock.Unlock()
		if ended {
			break
		}
		time.Sleep(10 * time.Millisecond)
	}
	return sv.jobNow(c)
}
