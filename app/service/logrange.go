package service

import (
	"context"
	"math"
	"slices"
	"time"

	"gladember/app/store"
	"gladember/core/measure"
)

// A chart shows about as many points as the screen has, of any stretch of a log: of more readings the least and the greatest of equal
// steps, so that no peak is lost.
const (
	chartPoints  = 1500
	mostReadings = 120_000 // are read one by one; a longer stretch is drawn from the outline
	mostChart    = 100 * 366 * 24 * time.Hour
)

// Range is a stretch of a log as it is drawn.
type Range struct {
	From, To time.Time
	// Points are in order of time. One whose Outlet and Inlet are NaN stands in a gap.
	Points []measure.Sample
	// Step is the time that a pair of points stands for, the least values and the greatest; 0 where every reading is a point.
	Step time.Duration
}

// Range reads a stretch of a log, put right, for a chart. What is left out of the judgment is in it.
func (w *Workshop) Range(ctx context.Context, st *store.State, l *Log, from, to time.Time) (*Range, error) {
	r := &Range{From: from, To: to}
	if l.Report == nil || !to.After(from) || to.Sub(from) > mostChart {
		return r, nil
	}
	longest := l.Longest()
	if to.Sub(from)/max(l.Report.Interval, time.Second) <= mostReadings {
		samples, err := l.WithExcluded(ctx, from, to)
		if err != nil {
			return nil, err
		}
		if len(samples) <= chartPoints {
			r.Points = broken(samples, longest)
			return r, nil
		}
		r.Step = to.Sub(from) / (chartPoints / 2)
		r.Points = thinned(samples, from, r.Step, longest)
		return r, nil
	}
	o, err := w.outline(ctx, st)
	if err != nil {
		return nil, err
	}
	// Whole buckets, so that none falls into two steps.
	r.Step = max(to.Sub(from)/(chartPoints/2), store.OutlineStep).Truncate(store.OutlineStep)
	r.Points = thinned(l.ofOutline(o.Outline, from, to), from, r.Step, max(longest, store.OutlineStep))
	return r, nil
}

// Longest is the time between two readings of a log that belong together.
func (l *Log) Longest() time.Duration { return measure.Longest(l.Report.Interval) }

// ofOutline turns the buckets of an outline into readings, put right: of each the least values and then the greatest.
func (l *Log) ofOutline(o store.Outline, from, to time.Time) []measure.Sample {
	lo, hi := from.Add(l.mending.Ahead).UnixMilli(), to.Add(l.mending.Ahead).UnixMilli()
	var out []measure.Sample
	for i := range o {
		if o[i].At < lo || o[i].At >= hi {
			continue
		}
		for half, v := range [][len(o[i].Lo)]float32{o[i].Lo, o[i].Hi} {
			s := measure.Sample{At: time.UnixMilli(o[i].At).Add(time.Duration(half) * store.OutlineStep / 2)}
			for q := range v {
				*measure.Quantities[q].Of(&s) = float64(v[q])
			}
			out = append(out, s)
		}
	}
	return l.mending.Apply(out)
}

// broken puts a point without values into every gap.
func broken(samples []measure.Sample, longest time.Duration) (out []measure.Sample) {
	for i, s := range samples {
		if i > 0 && s.At.Sub(samples[i-1].At) > longest {
			out = append(out, measure.Missing(samples[i-1].At.Add(time.Second)))
		}
		out = append(out, s)
	}
	return out
}

// thinned gives of every step the least value of each quantity and then the greatest, half a step later, and breaks the lines where
// readings are missing for longer than what belongs together.
func thinned(samples []measure.Sample, from time.Time, step, longest time.Duration) (out []measure.Sample) {
	for i := 0; i < len(samples); {
		n := samples[i].At.Sub(from) / step
		least, greatest := samples[i], samples[i]
		j := i
		for ; j < len(samples) && samples[j].At.Sub(from)/step == n; j++ {
			for q := range measure.Quantities {
				v, lo, hi := *measure.Quantities[q].Of(&samples[j]), measure.Quantities[q].Of(&least), measure.Quantities[q].Of(&greatest)
				if !(*lo <= v) && !math.IsNaN(v) {
					*lo = v
				}
				if !(*hi >= v) && !math.IsNaN(v) {
					*hi = v
				}
			}
		}
		least.At = from.Add(n * step)
		greatest.At = least.At.Add(step / 2)
		if i > 0 && samples[i].At.Sub(samples[i-1].At) > longest && least.At.Sub(out[len(out)-1].At) > step/2 {
			out = append(out, measure.Missing(out[len(out)-1].At.Add(time.Second)))
		}
		out = append(out, least, greatest)
		i = j
	}
	return out
}

// Beside is another log of the workshop that has readings on a date.
type Beside struct {
	Log     store.Logged
	Name    string // of the heater
	Version string // its name
}

// Besides lists the other logs that have readings on a date of a log: other heaters, and other versions of this one.
func (w *Workshop) Besides(ctx context.Context, l *Log, date string) (out []Beside, err error) {
	all, err := w.Store.AllLogged(ctx)
	if err != nil {
		return nil, err
	}
	for _, of := range all {
		if of == l.Logged {
			continue
		}
		head, err := w.head(ctx, of)
		if err != nil {
			return nil, err
		}
		if head == nil {
			continue
		}
		days, err := w.LoggedDays(ctx, &store.State{Heater: of.Heater, Version: of.Version, Document: head.Document})
		if err != nil {
			return nil, err
		}
		if slices.Contains(days, date) {
			out = append(out, Beside{of, head.Document.Name, head.Name})
		}
	}
	return out, nil
}

// head is a version as it is now; nil where it is gone.
func (w *Workshop) head(ctx context.Context, of store.Logged) (*store.Head, error) {
	heads, err := w.Store.Heads(ctx, of.Heater)
	if err != nil {
		return nil, err
	}
	for i := range heads {
		if heads[i].ID == of.Version {
			return &heads[i], nil
		}
	}
	return nil, nil
}

// SideBySide compares a log with another on a date. The other's readings are returned for the chart.
func (w *Workshop) SideBySide(ctx context.Context, l *Log, of store.Logged, date string) (*measure.Beside, []measure.Sample, error) {
	head, err := w.head(ctx, of)
	if err != nil {
		return nil, nil, err
	}
	if head == nil {
		return nil, nil, store.ErrNotFound
	}
	st := &store.State{Heater: of.Heater, Version: of.Version, Document: head.Document}
	e, err := w.Evaluate(ctx, &st.Document)
	if err != nil {
		return nil, nil, err
	}
	other, err := w.Log(ctx, st, e, l.Setup.Units)
	if err != nil {
		return nil, nil, err
	}
	if other.Report == nil {
		return nil, nil, measure.ErrApart
	}
	mine, err := l.Readings(ctx, date)
	if err != nil {
		return nil, nil, err
	}
	from, to, err := l.Bounds(date)
	if err != nil {
		return nil, nil, err
	}
	all, err := other.WithExcluded(ctx, from, to)
	if err != nil {
		return nil, nil, err
	}
	x, err := measure.SideBySide(mine, other.without(slices.Clone(all)), l.Setup, other.Setup)
	if err != nil {
		return nil, all, err
	}
	return &x, all, nil
}
