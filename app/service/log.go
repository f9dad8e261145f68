package service

import (
	"bytes"
	"compress/flate"
	"context"
	"encoding/gob"
	"encoding/hex"
	"errors"
	"fmt"
	"os"
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

// LoggedDays are the local dates on which a heater's version has readings. They are kept in the file, so that a page that only
// counts them does not read a log of a million readings.
func (w *Workshop) LoggedDays(ctx context.Context, st *store.State) ([]string, error) {
	stamp, err := w.daysStamp(ctx, st)
	if err != nil || stamp == "" {
		return nil, err
	}
	if days, ok, err := w.Store.LogDays(ctx, st.Logged(), stamp); err != nil || ok {
		return days, err
	}
	o, err := w.outline(ctx, st)
	if err != nil {
		return nil, err
	}
	return o.days, nil
}

// daysStamp is what the dates and the outline of a log depend on; empty for an empty log.
func (w *Workshop) daysStamp(ctx context.Context, st *store.State) (string, error) {
	imports, err := w.Store.Imports(ctx, st.Logged())
	if err != nil || len(imports) == 0 {
		return "", err
	}
	return stampOf(KeyOf(nothing, 0, imports, collector.Site(&st.Document).Zone)), nil
}

// outlined are the dates of a log with its outline, as they are in the store: not put right.
type outlined struct {
	days []string
	store.Outline
}

// outline reads all of a log once, and keeps its dates and its outline.
func (w *Workshop) outline(ctx context.Context, st *store.State) (*outlined, error) {
	stamp, err := w.daysStamp(ctx, st)
	if err != nil || stamp == "" {
		return &outlined{}, err
	}
	of := st.Logged()
	return w.outlines.Get(ctx, KeyOf(nothing, 0, of, stamp), func() (*outlined, error) {
		o := &outlined{}
		days, ok, err := w.Store.LogDays(ctx, of, stamp)
		if err != nil {
			return nil, err
		}
		if ok {
			o.days = days
			if o.Outline, err = w.Store.LogOutline(ctx, of, stamp); err == nil {
				return o, nil
			}
			o = &outlined{} // a damaged one is made anew
		}
		if err := o.read(ctx, w.Store, of, collector.Site(&st.Document).Zone); err != nil {
			return nil, err
		}
		return o, w.Store.SetLogDays(ctx, of, stamp, o.days, o.Outline)
	})
}

// read reads all of a log.
func (o *outlined) read(ctx context.Context, s *store.Store, of store.Logged, zone *time.Location) error {
	from, to, ok, err := s.Span(ctx, of)
	if err != nil || !ok {
		return err
	}
	var until time.Time // midnight after the last reading's day
	return s.EachDay(ctx, of, from, to, func(day []measure.Sample) error {
		clean, _, _ := measure.Clean(day) // a file imported by an older version was not checked
		for i := range clean {
			o.Add(&clean[i])
			if clean[i].At.Before(until) {
				continue
			}
			local := clean[i].At.In(zone)
			o.days = append(o.days, local.Format(time.DateOnly))
			until = time.Date(local.Year(), local.Month(), local.Day()+1, 0, 0, 0, 0, local.Location())
		}
		return nil
	})
}

// program tells one build of the program from another, since what one computed and kept the next may compute otherwise.
var program = sync.OnceValue(func() string {
	path, err := os.Executable()
	if err != nil {
		return ""
	}
	info, err := os.Stat(path)
	if err != nil {
		return ""
	}
	return fmt.Sprint(info.Size(), info.ModTime().UnixNano())
})

// stampOf is a key as it is kept in the file.
func stampOf(k Key) string { return hex.EncodeToString(k[:]) }

// Log is a log as it is judged. Its readings stay in the store, and are read as they are asked for.
type Log struct {
	store.Logged
	Key    Key // what it was judged from
	Setup  measure.Setup
	Report *measure.Report // nil where nothing is logged
	// Excluded are the stretches that are left out.
	Excluded []store.Excluded

	store    *store.Store
	mending  measure.Mending
	lock     sync.Mutex
	expected map[string][]measure.Expected // by date
}

// longLog is how many readings are judged while a page waits.
const longLog = 100_000

// logAsked is a log before it is judged.
type logAsked struct {
	log     *Log
	stamp   string // what it depends on, as it is kept in the file
	imports int
	rows    int // of its files
}

// ask finds out what the judgment of a log depends on.
func (w *Workshop) ask(ctx context.Context, st *store.State, e *Heater, u units.System) (*logAsked, error) {
	imports, err := w.Store.Imports(ctx, st.Logged())
	if err != nil {
		return nil, err
	}
	out, err := w.Store.Excluded(ctx, st.Heater)
	if err != nil {
		return nil, err
	}
	h := &st.Document
	l := &Log{Logged: st.Logged(), Excluded: out, store: w.Store, mending: measure.NewMending(h),
		Setup: measure.NewSetup(h, &e.Eval.Running)}
	l.Setup.Units = u
	l.Key = KeyOf(h, everything, st.Heater, st.Version, imports, out, u)
	a := &logAsked{log: l, imports: len(imports)}
	for _, x := range imports {
		a.rows += x.Read
	}
	// What of the document the report depends on is in the setup; the rest may change without another look at the readings.
	a.stamp = stampOf(KeyOf(nothing, 0, imports, out, program(), l.mending, settingOf(&l.Setup)))
	return a, nil
}

// LogWaits says how many readings of a log must be judged before its page can be shown; 0 where that takes no time worth a word.
func (w *Workshop) LogWaits(ctx context.Context, st *store.State, e *Heater, u units.System) (int, error) {
	a, err := w.ask(ctx, st, e, u)
	if err != nil || a.rows < longLog {
		return 0, err
	}
	if _, known := w.logs.Known(a.log.Key); known || w.kept(ctx, a.log.Logged, a.stamp) != nil {
		return 0, nil
	}
	return a.rows, nil
}

// DaysWait is [Workshop.LogWaits] for the dates of a log.
func (w *Workshop) DaysWait(ctx context.Context, st *store.State) (int, error) {
	imports, err := w.Store.Imports(ctx, st.Logged())
	rows := 0
	for _, x := range imports {
		rows += x.Read
	}
	if err != nil || rows < longLog {
		return 0, err
	}
	stamp, err := w.daysStamp(ctx, st)
	if err != nil {
		return 0, err
	}
	if _, ok, err := w.Store.LogDays(ctx, st.Logged(), stamp); err != nil || ok {
		return 0, err
	}
	return rows, nil
}

// Log judges all of the log of a heater's version, as that version is now; findings speak in units u.
func (w *Workshop) Log(ctx context.Context, st *store.State, e *Heater, u units.System) (*Log, error) {
	a, err := w.ask(ctx, st, e, u)
	if err != nil {
		return nil, err
	}
	return w.logs.Get(ctx, a.log.Key, func() (*Log, error) {
		l, stamp := a.log, a.stamp
		if a.imports == 0 {
			return l, nil
		}
		if l.Report = w.kept(ctx, l.Logged, stamp); l.Report != nil {
			return l, nil
		}
		samples, err := l.All(ctx)
		if err != nil {
			return nil, err
		}
		report, err := measure.Analyze(samples, l.Setup)
		switch {
		case errors.Is(err, measure.ErrEmpty):
			return l, nil
		case err != nil:
			return nil, err
		}
		l.Report = &report
		return l, w.keep(ctx, l.Logged, stamp, &report)
	})
}

// settingOf writes a setup with what its pointers hold.
func settingOf(s *measure.Setup) string {
	flat := *s
	flat.Site, flat.Zone = nil, nil
	text := fmt.Sprintf("%+v %v", flat, s.Zone)
	if s.Site != nil {
		site := *s.Site
		site.Around = nil
		text += fmt.Sprintf(" %+v", site)
		if s.Site.Around != nil {
			text += fmt.Sprintf(" %+v", *s.Site.Around)
		}
	}
	return text
}

// kept is the report of a log as it was kept; nil where there is none that is still true.
func (w *Workshop) kept(ctx context.Context, of store.Logged, stamp string) *measure.Report {
	b, err := w.Store.LogReport(ctx, of, stamp)
	if err != nil || b == nil {
		return nil
	}
	var r measure.Report
	if gob.NewDecoder(flate.NewReader(bytes.NewReader(b))).Decode(&r) != nil {
		return nil
	}
	return &r
}

// keep keeps the report of a log.
func (w *Workshop) keep(ctx context.Context, of store.Logged, stamp string, r *measure.Report) error {
	var b bytes.Buffer
	z, err := flate.NewWriter(&b, flate.BestSpeed)
	if err != nil {
		return err
	}
	if err := gob.NewEncoder(z).Encode(r); err != nil {
		return fmt.Errorf("keeping what the log came to: %w", err)
	}
	if err := z.Close(); err != nil {
		return err
	}
	return w.Store.SetLogReport(ctx, of, stamp, b.Bytes())
}

// All reads the whole log, put right, without what is left out of the judgment.
func (l *Log) All(ctx context.Context) ([]measure.Sample, error) {
	from, to, ok, err := l.store.Span(ctx, l.Logged)
	if err != nil || !ok {
		return nil, err
	}
	all, err := l.WithExcluded(ctx, from.Add(-l.mending.Ahead), to.Add(-l.mending.Ahead))
	if err != nil {
		return nil, err
	}
	return l.without(all), nil
}

// WithExcluded reads the log from one instant up to, not with, another, put right, with what is left out of the judgment.
func (l *Log) WithExcluded(ctx context.Context, from, to time.Time) ([]measure.Sample, error) {
	all, err := l.store.Readings(ctx, l.Logged, from.Add(l.mending.Ahead), to.Add(l.mending.Ahead))
	if err != nil {
		return nil, err
	}
	clean, _, _ := measure.Clean(all)
	return l.mending.Apply(clean), nil
}

// without leaves out of readings what is left out of the judgment.
func (l *Log) without(samples []measure.Sample) []measure.Sample {
	if len(l.Excluded) == 0 {
		return samples
	}
	return slices.DeleteFunc(samples, func(s measure.Sample) bool { return l.Excludes(s.At) })
}

// Excludes says whether an instant is left out of the judgment.
func (l *Log) Excludes(at time.Time) bool {
	ms := at.UnixMilli()
	return slices.ContainsFunc(l.Excluded, func(x store.Excluded) bool { return ms >= x.Lo && ms <= x.Hi })
}

// Expected is what a heater should have given on a logged date.
func (l *Log) Expected(ctx context.Context, h *design.Heater, date string) ([]measure.Expected, error) {
	l.lock.Lock()
	defer l.lock.Unlock()
	if x, ok := l.expected[date]; ok {
		return x, nil
	}
	samples, err := l.Readings(ctx, date)
	if err != nil {
		return nil, err
	}
	x, err := measure.Compare(h, samples, l.Setup, l.Report)
	if err != nil {
		return nil, err
	}
	if l.expected == nil {
		l.expected = map[string][]measure.Expected{}
	}
	l.expected[date] = x
	return x, nil
}

// Bounds are the first instant of a local date and that of the next.
func (l *Log) Bounds(date string) (from, to time.Time, err error) {
	if from, err = time.ParseInLocation(time.DateOnly, date, l.Setup.Zone); err != nil {
		return from, to, err
	}
	return from, from.AddDate(0, 0, 1), nil
}

// Readings reads those of a local date that count.
func (l *Log) Readings(ctx context.Context, date string) ([]measure.Sample, error) {
	from, to, err := l.Bounds(date)
	if err != nil {
		return nil, err
	}
	all, err := l.WithExcluded(ctx, from, to)
	return l.without(all), err
}

// Day is the date asked for, by its place in the report; without one the day that gave most, one that was
// refused only where there is no other.
func (l *Log) Day(asked string) int {
	days := l.Report.Days
	if i, ok := l.find(asked); ok {
		return i
	}
	best := len(days) - 1
	for i, d := range days {
		b := days[best]
		if b.Impossible && !d.Impossible || b.Impossible == d.Impossible && d.Heat > b.Heat {
			best = i
		}
	}
	return best
}

// find is the place of a date in the report.
func (l *Log) find(date string) (int, bool) {
	return sort.Find(len(l.Report.Days), func(i int) int {
		switch d := l.Report.Days[i].Date; {
		case date < d:
			return -1
		case date > d:
			return 1
		}
		return 0
	})
}
