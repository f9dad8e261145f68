package service

import (
	"context"
	"encoding/hex"
	"errors"
	"slices"
	"sort"
	"sync"
	"time"

	"gladember/app/store"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/measure"
	"gladember/core/units"
)

// Readings are a heater's readings, cleaned, with the local dates that have any.
type Readings struct {
	Samples []measure.Sample
	Days    []string // like 2026-02-10, in their order
}

// Readings reads a heater's log.
func (w *Workshop) Readings(ctx context.Context, st *store.State) (*Readings, error) {
	imports, err := w.Store.Imports(ctx, st.Heater)
	if err != nil {
		return nil, err
	}
	zone := collector.Site(&st.Document).Zone
	return w.readings.Get(ctx, KeyOf(&design.Heater{}, st.Heater, imports, zone), func() (*Readings, error) {
		r := &Readings{}
		from, to, ok, err := w.Store.Span(ctx, st.Heater)
		if err != nil || !ok {
			return r, err
		}
		all, err := w.Store.Readings(ctx, st.Heater, from, to)
		if err != nil {
			return nil, err
		}
		r.Samples, _, _ = measure.Clean(all) // a file imported by an older version was not checked
		var until time.Time                  // midnight after the last reading's day
		for _, s := range r.Samples {
			if s.At.Before(until) {
				continue
			}
			local := s.At.In(zone)
			r.Days = append(r.Days, local.Format(time.DateOnly))
			until = time.Date(local.Year(), local.Month(), local.Day()+1, 0, 0, 0, 0, local.Location())
		}
		return r, nil
	})
}

// LoggedDays are the local dates on which a heater has readings. They are kept in the file, so that a page that only counts them
// does not read a log of a million readings.
func (w *Workshop) LoggedDays(ctx context.Context, st *store.State) ([]string, error) {
	imports, err := w.Store.Imports(ctx, st.Heater)
	if err != nil || len(imports) == 0 {
		return nil, err
	}
	zone := collector.Site(&st.Document).Zone
	key := KeyOf(&design.Heater{}, st.Heater, imports, zone)
	stamp := hex.EncodeToString(key[:])
	if days, ok, err := w.Store.LogDays(ctx, st.Heater, stamp); err != nil || ok {
		return days, err
	}
	r, err := w.Readings(ctx, st)
	if err != nil {
		return nil, err
	}
	return r.Days, w.Store.SetLogDays(ctx, st.Heater, stamp, r.Days)
}

// Log is a heater's log as it is judged.
type Log struct {
	Samples []measure.Sample
	Setup   measure.Setup
	Report  *measure.Report // nil where nothing is logged
	// Excluded are the stretches that are left out; all has their readings as well.
	Excluded []store.Excluded
	all      []measure.Sample

	lock     sync.Mutex
	expected map[string][]measure.Expected // by date
}

// Log reads and judges all of a heater's log; findings speak in units u.
func (w *Workshop) Log(ctx context.Context, st *store.State, e *Heater, u units.System) (*Log, error) {
	r, err := w.Readings(ctx, st)
	if err != nil {
		return nil, err
	}
	imports, err := w.Store.Imports(ctx, st.Heater)
	if err != nil {
		return nil, err
	}
	out, err := w.Store.Excluded(ctx, st.Heater)
	if err != nil {
		return nil, err
	}
	return w.logs.Get(ctx, KeyOf(&st.Document, st.Heater, imports, out, u), func() (*Log, error) {
		h := &st.Document
		all := measure.MendingOf(h).Apply(r.Samples)
		l := &Log{Samples: without(all, out), Excluded: out, all: all, Setup: measure.NewSetup(h, &e.Eval.Running)}
		l.Setup.Units = u
		report, err := measure.Analyze(l.Samples, l.Setup)
		switch {
		case errors.Is(err, measure.ErrEmpty):
			l.Samples = nil
		case err != nil:
			return nil, err
		default:
			l.Report = &report
		}
		return l, nil
	})
}

// without leaves stretches of readings out.
func without(samples []measure.Sample, out []store.Excluded) []measure.Sample {
	if len(out) == 0 {
		return samples
	}
	return slices.DeleteFunc(slices.Clone(samples), func(s measure.Sample) bool {
		ms := s.At.UnixMilli()
		return slices.ContainsFunc(out, func(x store.Excluded) bool { return ms >= x.Lo && ms <= x.Hi })
	})
}

// Expected is what a heater should have given on a logged date.
func (l *Log) Expected(h *design.Heater, date string) ([]measure.Expected, error) {
	l.lock.Lock()
	defer l.lock.Unlock()
	if x, ok := l.expected[date]; ok {
		return x, nil
	}
	x, err := measure.Compare(h, l.Readings(date), l.Setup, l.Report)
	if err != nil {
		return nil, err
	}
	if l.expected == nil {
		l.expected = map[string][]measure.Expected{}
	}
	l.expected[date] = x
	return x, nil
}

// Readings picks a local date's readings.
func (l *Log) Readings(date string) []measure.Sample { return l.on(l.Samples, date) }

// WithExcluded picks a local date's readings with those that are left out of the judgment.
func (l *Log) WithExcluded(date string) []measure.Sample { return l.on(l.all, date) }

// on picks readings of a local date, of readings in the order of time.
func (l *Log) on(samples []measure.Sample, date string) []measure.Sample {
	day, err := time.ParseInLocation(time.DateOnly, date, l.Setup.Zone)
	if err != nil {
		return nil
	}
	at := func(t time.Time) int {
		return sort.Search(len(samples), func(i int) bool { return !samples[i].At.Before(t) })
	}
	return samples[at(day):at(day.AddDate(0, 0, 1))]
}

// Day is the date asked for, by its place in the report; without one the day that gave most, one that was
// refused only where there is no other.
func (l *Log) Day(asked string) int {
	days := l.Report.Days
	best := len(days) - 1
	for i, d := range days {
		if d.Date == asked {
			return i
		}
		b := days[best]
		if b.Impossible && !d.Impossible || b.Impossible == d.Impossible && d.Heat > b.Heat {
			best = i
		}
	}
	return best
}
