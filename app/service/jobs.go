package service

import (
	"context"
	"fmt"
	"sync"
	"time"

	"golang.org/x/sync/semaphore"
)

// Job is work that takes longer than a page may wait: it says how far it is, and can be canceled.
type Job struct {
	ID      int64
	Heater  int64
	Station string // the station that began it
	Kind    string // what it works on; a heater has one job of a kind
	want    Key    // what its result depends on

	over   func() error // why it must end; nil while it may go on
	cancel context.CancelFunc
	leave  *time.Timer   // cancels it when nobody has looked for a while
	ended  chan struct{} // closed when state holds the result

	lock  sync.Mutex
	state JobState
}

// JobState is how far a job is.
type JobState struct {
	Done, Of int
	Ended    bool
	Err      error // why it ended without a result
	Result   any   // once it has ended without an error
}

// longest is how long a job may run, unseen how long after its page was seen last it goes on, jobsAtOnce how many run at a
// time, and manyJobs how many are remembered.
const (
	longest    = 5 * time.Minute
	unseen     = 15 * time.Second
	jobsAtOnce = 2
	manyJobs   = 24
)

// Jobs are those under way and those that ended lately. The zero value has none.
type Jobs struct {
	lock sync.Mutex
	all  map[int64]*Job
	next int64
	turn *semaphore.Weighted
}

// Work is what a job does. It ends with the context's error when the context ends.
type Work func(ctx context.Context, progress func(done, of int)) (any, error)

// Start begins work on a heater, and cancels what of the same kind still runs for it. Whoever wants what is already wanted gets the
// job that runs, or that ended with a result. A panic in the work ends the job alone.
func (js *Jobs) Start(heater int64, station, kind string, want Key, work Work) *Job {
	ctx, cancel := context.WithTimeout(context.Background(), longest)
	j := &Job{Heater: heater, Station: station, Kind: kind, want: want, over: ctx.Err, cancel: cancel,
		ended: make(chan struct{}), leave: time.AfterFunc(unseen, cancel)}
	if same := js.add(j); same != nil {
		j.leave.Stop()
		cancel()
		return same
	}
	go func() {
		defer cancel()
		r, err := js.run(ctx, j, work)
		j.leave.Stop()
		j.lock.Lock()
		defer j.lock.Unlock()
		j.state.Ended, j.state.Result, j.state.Err = true, r, err
		close(j.ended)
	}()
	return j
}

// add numbers a job, cancels those it takes the place of and forgets the oldest; or it returns the one that makes it needless.
func (js *Jobs) add(j *Job) (same *Job) {
	js.lock.Lock()
	defer js.lock.Unlock()
	if js.all == nil {
		js.all, js.turn = map[int64]*Job{}, semaphore.NewWeighted(jobsAtOnce)
	}
	for _, o := range js.all {
		if o.Heater == j.Heater && o.Kind == j.Kind && o.want == j.want && o.useful() {
			return o
		}
	}
	js.next++
	j.ID = js.next
	for id, o := range js.all {
		if o.Heater == j.Heater && o.Kind == j.Kind {
			o.cancel()
		}
		if id <= j.ID-manyJobs {
			o.cancel()
			delete(js.all, id)
		}
	}
	js.all[j.ID] = j
	return nil
}

// useful says whether a job runs or ended with a result.
func (j *Job) useful() bool {
	j.lock.Lock()
	defer j.lock.Unlock()
	if j.state.Ended {
		return j.state.Err == nil
	}
	return j.over() == nil
}

// run works when it is its turn, and turns a panic into an error.
func (js *Jobs) run(ctx context.Context, j *Job, work Work) (r any, err error) {
	done, err := take(ctx, js.turn)
	if err != nil {
		return nil, err
	}
	defer done()
	defer func() {
		if p := recover(); p != nil {
			r, err = nil, fmt.Errorf("the computation failed (%v); change the heater and try again", p)
		}
	}()
	return work(ctx, func(done, of int) {
		j.lock.Lock()
		defer j.lock.Unlock()
		j.state.Done, j.state.Of = done, of
	})
}

// trim forgets all that have ended but the last n.
func (js *Jobs) trim(n int64) {
	js.lock.Lock()
	defer js.lock.Unlock()
	for id, j := range js.all {
		select {
		case <-j.ended:
			if id <= js.next-n {
				delete(js.all, id)
			}
		default:
		}
	}
}

// Find returns a heater's job by its number, or nil.
func (js *Jobs) Find(heater, id int64) *Job {
	js.lock.Lock()
	defer js.lock.Unlock()
	if j := js.all[id]; j != nil && j.Heater == heater {
		return j
	}
	return nil
}

// Look says how far a job is, and that somebody waits for it.
func (j *Job) Look() JobState {
	j.lock.Lock()
	defer j.lock.Unlock()
	if !j.state.Ended {
		j.leave.Reset(unseen)
	}
	return j.state
}

// Cancel ends a job, and waits up to a second until it has ended: it ends with the year that it is in.
func (j *Job) Cancel() {
	j.cancel()
	select {
	case <-j.ended:
	case <-time.After(time.Second):
	}
}
