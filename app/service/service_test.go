package service

import (
	"context"
	"errors"
	"fmt"
	"math"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"gladember/app/store"
	"gladember/core/climate"
	"gladember/core/design"
	"gladember/core/measure"
	"gladember/core/simulate"
	"gladember/core/units"
)

var bg = context.Background()

func workshop(t *testing.T) *Workshop {
	t.Helper()
	s, err := store.Open(bg, filepath.Join(t.TempDir(), "w.db"))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return New(s, nil)
}

// placed is a heater of which a year is known by a town's position.
func placed(t *testing.T) design.Heater {
	t.Helper()
	h, err := design.Apply(design.New(), units.System{}, design.Set(design.PlaceLatitude, 47.3),
		design.Set(design.PlaceLongitude, 8.5), design.Set(design.PlaceElevation, 420.0),
		design.Set(design.PlaceZone, "Europe/Zurich"))
	if err != nil {
		t.Fatal(err)
	}
	return h
}

// Many callers at once share one computation, for each key its own.
func TestCacheComputesOnce(t *testing.T) {
	c := NewCache[int](8)
	var ran atomic.Int32
	var wait sync.WaitGroup
	for i := range 80 {
		wait.Go(func() {
			key := Key{byte(i % 4)}
			v, err := c.Get(bg, key, func() (int, error) {
				ran.Add(1)
				time.Sleep(5 * time.Millisecond)
				return i % 4, nil
			})
			if err != nil || v != i%4 {
				t.Errorf("caller %d got %d, %v", i, v, err)
			}
		})
	}
	wait.Wait()
	if ran.Load() != 4 {
		t.Errorf("%d computations for 4 keys", ran.Load())
	}
}

// Errors and panics are forgotten; old results make room.
func TestCacheForgets(t *testing.T) {
	c := NewCache[int](3)
	boom := errors.New("boom")
	if _, err := c.Get(bg, Key{1}, func() (int, error) { return 0, boom }); !errors.Is(err, boom) {
		t.Fatal(err)
	}
	var panicked *Panicked
	if _, err := c.Get(bg, Key{1}, func() (int, error) { panic("boom") }); !errors.As(err, &panicked) || panicked.Value != "boom" {
		t.Error("the panic was swallowed")
	}
	if v, err := c.Get(bg, Key{1}, func() (int, error) { return 7, nil }); v != 7 || err != nil {
		t.Errorf("after an error and a panic: %d, %v", v, err)
	}
	for i := range 3 {
		_, _ = c.Get(bg, Key{9, byte(i)}, func() (int, error) { return i, nil })
	}
	if _, ok := c.Known(Key{1}); ok {
		t.Error("the oldest of four is still known in a cache of three")
	}
	if v, ok := c.Known(Key{9, 2}); !ok || v != 2 {
		t.Error("the newest is not known")
	}
}

// Trimmed, a cache knows the last results and no others, however often it went round.
func TestCacheTrims(t *testing.T) {
	for _, n := range []int{3, 10, 27} {
		c := NewCache[int](10)
		key := func(i int) Key { return KeyOf(nothing, 0, i) }
		for i := range n {
			if _, err := c.Get(bg, key(i), func() (int, error) { return i, nil }); err != nil {
				t.Fatal(err)
			}
		}
		c.Trim(2)
		for i := range n {
			if _, known := c.Known(key(i)); known != (i >= n-2) {
				t.Errorf("of %d, number %d is known: %v", n, i, known)
			}
		}
		if _, err := c.Get(bg, key(99), func() (int, error) { return 99, nil }); err != nil {
			t.Fatal(err)
		}
		if v, known := c.Known(key(99)); !known || v != 99 {
			t.Error("after that it remembers nothing")
		}
	}
}

// One who waits for a computation that another canceled computes it himself; one whose own context ends stops waiting.
func TestCacheOutlivesACaller(t *testing.T) {
	c := NewCache[int](3)
	first, cancel := context.WithCancel(bg)
	begun := make(chan struct{})
	go func() {
		_, _ = c.Get(first, Key{1}, func() (int, error) {
			close(begun)
			<-first.Done()
			return 0, first.Err()
		})
	}()
	<-begun
	got := make(chan error, 1)
	go func() {
		v, err := c.Get(bg, Key{1}, func() (int, error) { return 5, nil })
		if v != 5 {
			err = fmt.Errorf("%d, %w", v, err)
		}
		got <- err
	}()
	gone, leave := context.WithCancel(bg)
	leave()
	if _, err := c.Get(gone, Key{1}, func() (int, error) { return 0, nil }); !errors.Is(err, context.Canceled) {
		t.Errorf("a caller who left got %v", err)
	}
	cancel()
	if err := <-got; err != nil {
		t.Errorf("the caller who stayed got %v", err)
	}
}

// However many keys are asked for at once, so many are computed at a time; one who leaves while he waits leaves no result behind.
func TestCacheTakesTurns(t *testing.T) {
	c := NewCache[int](8).AtOnce(2)
	var lock sync.Mutex
	now, most := 0, 0
	held := make(chan struct{})
	work := func() (int, error) {
		lock.Lock()
		now++
		most = max(most, now)
		lock.Unlock()
		<-held
		lock.Lock()
		now--
		lock.Unlock()
		return 7, nil
	}
	var wg sync.WaitGroup
	for i := range 6 {
		wg.Go(func() {
			if v, err := c.Get(t.Context(), Key{byte(i)}, work); v != 7 || err != nil {
				t.Errorf("%d, %v", v, err)
			}
		})
	}
	for {
		lock.Lock()
		full := now == 2
		lock.Unlock()
		if full {
			break
		}
		time.Sleep(time.Millisecond)
	}
	gone, leave := context.WithCancel(t.Context())
	leave()
	if _, err := c.Get(gone, Key{9}, work); !errors.Is(err, context.Canceled) {
		t.Errorf("one who has left gets %v", err)
	}
	close(held)
	wg.Wait()
	if v, err := c.Get(t.Context(), Key{9}, work); v != 7 || err != nil {
		t.Errorf("after one who left: %d, %v", v, err)
	}
	if most != 2 {
		t.Errorf("%d at a time", most)
	}
}

// Heaters of one place share its weather, whatever their boxes are; those of another place have their own.
func TestWeatherIsShared(t *testing.T) {
	w := workshop(t)
	h := placed(t)
	other, err := design.Apply(h, units.System{}, design.Set(design.PlaceTilt, 71.0),
		design.Set(design.PaneWidth, 0.7))
	if err != nil {
		t.Fatal(err)
	}
	away, err := design.Apply(h, units.System{}, design.Set(design.PlaceLatitude, h.Place.Latitude+3))
	if err != nil {
		t.Fatal(err)
	}
	var years [3]*climate.Year
	for i, d := range []*design.Heater{&h, &other, &away} {
		if years[i], err = w.Weather(t.Context(), d); err != nil {
			t.Fatal(err)
		}
	}
	if years[0] != years[1] || years[0] == years[2] {
		t.Error("the weather goes by the box, or not by the place")
	}
}

// What a judgment does not hang on leaves it as it is: another name, another workplace, another saw, another clock of the logger. What it
// hangs on is computed again.
func TestRenamingRecomputesNothing(t *testing.T) {
	w := workshop(t)
	h := placed(t)
	var computed atomic.Int32
	w.Before = func(*design.Heater) { computed.Add(1) }
	judge := func(h *design.Heater) (*Heater, *Year) {
		t.Helper()
		e, err := w.Evaluate(bg, h)
		if err != nil {
			t.Fatal(err)
		}
		y, err := w.Year(bg, h)
		if err != nil {
			t.Fatal(err)
		}
		return e, y
	}
	_, y := judge(&h)
	y.judgment.Store(&Judgment{})
	renamed, err := design.Apply(h, units.System{}, design.Set(design.HeaterName, "Granary wall"), design.Set(design.BenchHumidity, 0.31),
		design.Set(design.CutKerf, 0.0042), design.Set(design.LogClockOff, 12), design.Set(design.LogFlowIs, design.OnLabel))
	if err != nil {
		t.Fatal(err)
	}
	e, again := judge(&renamed)
	if computed.Load() != 1 || again != y || w.KnownYear(&renamed).Judged() == nil {
		t.Errorf("%d evaluations, the same year: %v", computed.Load(), again == y)
	}
	if e.Eval.Heater.Name != "Granary wall" || e.Eval.Heater.Workshop.Bench.Humidity != 0.31 {
		t.Errorf("what was computed under the old name has kept it: %q", e.Eval.Heater.Name)
	}
	thinner, err := design.Apply(h, units.System{}, design.Set(design.BoxBackFoam, 0.02))
	if err != nil {
		t.Fatal(err)
	}
	if judge(&thinner); computed.Load() != 2 || w.KnownYear(&thinner) == y {
		t.Error("thinner insulation was not computed")
	}
}

// Keys differ by document and by what else is named, and agree for the same.
func TestKeys(t *testing.T) {
	a, b := design.New(), placed(t)
	seen := map[Key]string{}
	for name, k := range map[string]Key{"a": KeyOfPage(&a), "b": KeyOfPage(&b), "a clear": KeyOfPage(&a, "clear"),
		"a 1 2": KeyOfPage(&a, 1, 2),
		"a 12":  KeyOfPage(&a, 12)} {
		if o, ok := seen[k]; ok {
			t.Errorf("%s and %s have one key", name, o)
		}
		seen[k] = name
	}
	if again := design.New(); KeyOfPage(&again) != KeyOfPage(&a) {
		t.Error("the same document has two keys")
	}
}

// A job ends with its result, its error, its panic, when it is canceled, and when another of its kind begins.
func TestJobs(t *testing.T) {
	var js Jobs
	ended := func(j *Job) JobState {
		t.Helper()
		select {
		case <-j.ended:
		case <-time.After(10 * time.Second):
			t.Fatal("the job does not end")
		}
		return j.Look()
	}
	forever := func(ctx context.Context, progress func(int, int)) (any, error) {
		progress(3, 10)
		<-ctx.Done()
		return nil, ctx.Err()
	}
	done := func(context.Context, func(int, int)) (any, error) { return "done", nil }
	if s := ended(js.Start(1, "season", "a", Key{}, done)); s.Err != nil || s.Result != "done" {
		t.Errorf("%+v", s)
	}
	if s := ended(js.Start(1, "season", "b", Key{}, func(context.Context, func(int, int)) (any, error) { panic("boom") })); s.Err == nil ||
		s.Result != nil {
		t.Errorf("a panic: %+v", s)
	}
	one, other := js.Start(1, "season", "c", Key{}, forever), js.Start(2, "season", "c", Key{}, forever)
	for one.Look().Done != 3 || other.Look().Done != 3 { // both have begun
		time.Sleep(time.Millisecond)
	}
	if js.Start(1, "season", "c", Key{}, forever) != one || one.Look().Ended {
		t.Error("what is wanted twice runs twice")
	}
	again := js.Start(1, "season", "c", Key{1}, forever)
	if s := ended(one); !errors.Is(s.Err, context.Canceled) || s.Done != 3 || s.Of != 10 {
		t.Errorf("the job whose place was taken: %+v", s)
	}
	if other.Look().Ended {
		t.Error("another heater's job was canceled")
	}
	again.Cancel()
	if once := js.Start(1, "season", "c", Key{1}, forever); once == again {
		t.Error("what was canceled is not begun again")
	} else {
		once.Cancel()
	}
	if s := ended(again); !errors.Is(s.Err, context.Canceled) {
		t.Errorf("canceled: %+v", s)
	}
	other.leave.Reset(time.Millisecond) // its page has left
	if s := ended(other); !errors.Is(s.Err, context.Canceled) {
		t.Errorf("left: %+v", s)
	}
	if js.Find(1, other.ID) != nil || js.Find(2, other.ID) != other || js.Find(2, 999) != nil {
		t.Error("jobs are not found by heater and number")
	}
	quick := func(context.Context, func(int, int)) (any, error) { return nil, nil }
	first := js.Start(3, "season", "d", Key{}, quick)
	ended(first)
	if js.Start(3, "season", "d", Key{}, quick) != first {
		t.Error("what has its result is computed again")
	}
	for i := range manyJobs + 2 {
		js.Start(3, "season", "d", Key{byte(i + 1)}, quick)
	}
	if js.Find(2, other.ID) != nil {
		t.Error("an old job is not forgotten")
	}
}

// A heater, its day and its year are computed once, by several at once; the judgment changes the findings from the
// noon's to the year's.
func TestWorkshopRemembers(t *testing.T) {
	w := workshop(t)
	h := placed(t)
	var computed atomic.Int32
	w.Before = func(*design.Heater) { computed.Add(1) }
	e, err := w.Evaluate(bg, &h)
	if err != nil {
		t.Fatal(err)
	}
	var wait sync.WaitGroup
	for range 8 {
		wait.Go(func() {
			copied := h
			if _, err := w.Evaluate(bg, &copied); err != nil || computed.Load() != 1 {
				t.Error("evaluated twice")
			}
			if _, err := w.Simulate(bg, &copied, simulate.Clear, 0); err != nil {
				t.Error(err)
			}
			if y, err := w.Year(bg, &copied); err != nil || y.Result.Year.Heat <= 0 {
				t.Errorf("year: %v", err)
			}
		})
	}
	wait.Wait()
	y := w.KnownYear(&h)
	if y == nil {
		t.Fatal("the year is not known")
	}
	if len(w.Findings(&h, e)) != len(e.Findings) || y.Judged() != nil {
		t.Error("a year not judged has findings of its own")
	}
	if testing.Short() {
		return
	}
	stopped, cancel := context.WithCancel(bg)
	cancel()
	if _, err := y.Judge(stopped); !errors.Is(err, context.Canceled) || y.Judged() != nil {
		t.Errorf("judged without anybody waiting: %v", err)
	}
	j, err := y.Judge(bg)
	if err != nil || j.Bands.Useful.Low >= j.Bands.Useful.High {
		t.Fatalf("%+v, %v", j, err)
	}
	if again, _ := y.Judge(bg); again != j {
		t.Error("judged twice")
	}
	if f := w.Findings(&h, e); len(f) != len(j.Findings) {
		t.Error("the findings are not those of the year")
	}
}

// A year that cannot be run is an error, and is run as soon as it can be.
func TestYearWithoutPlace(t *testing.T) {
	w := workshop(t)
	h := design.New()
	h.Climate.File = "0000"
	for range 2 {
		if _, err := w.Year(bg, &h); err == nil {
			t.Fatal("a year of a file that is not there")
		}
	}
	sum, err := w.Store.PutWeather(bg, "broken.epw", []byte("LOCATION,x"))
	if err != nil {
		t.Fatal(err)
	}
	h.Climate.File = sum
	var missing *climate.Missing
	if _, err := w.Year(bg, &h); err == nil || errors.As(err, &missing) {
		t.Errorf("a broken weather file: %v", err)
	}
}

// The log follows its files and the document; days are those of the local clock.
func TestLog(t *testing.T) {
	w := workshop(t)
	st, err := w.Store.Create(bg, placed(t))
	if err != nil {
		t.Fatal(err)
	}
	e, err := w.Evaluate(bg, &st.Document)
	if err != nil {
		t.Fatal(err)
	}
	if l, err := w.Log(bg, &st, e, units.System{}); err != nil || l.Report != nil {
		t.Fatalf("an empty log: %+v, %v", l, err)
	}
	from := time.Date(2026, 2, 10, 22, 30, 0, 0, time.UTC) // half past eleven in Zurich
	var in []measure.Sample
	for m := range 60 {
		s := measure.Sample{At: from.Add(time.Duration(m) * time.Minute), Inlet: 20, Outlet: 30, Outdoor: -999, Sun: math.NaN(),
			Speed: math.NaN()}
		in = append(in, s)
	}
	b, err := store.NewBatch(in)
	if err != nil {
		t.Fatal(err)
	}
	imp, err := w.Store.AddReadings(bg, st.Logged(), "night.csv", b, false)
	if err != nil {
		t.Fatal(err)
	}
	for range 2 { // computed, and as it was kept
		if days, err := w.LoggedDays(bg, &st); err != nil || fmt.Sprint(days) != "[2026-02-10 2026-02-11]" {
			t.Fatalf("days %v, %v", days, err)
		}
	}
	l, err := w.Log(bg, &st, e, units.System{})
	if err != nil || l.Report == nil || len(l.Report.Days) != 2 {
		t.Fatalf("%+v, %v", l, err)
	}
	if r, err := l.All(bg); err != nil || len(r) != 60 || !math.IsNaN(r[0].Outdoor) {
		t.Fatalf("%d readings, %v", len(r), err)
	}
	if r, err := l.Readings(bg, "2026-02-11"); err != nil || len(r) != 30 {
		t.Fatalf("%d readings after midnight, %v", len(r), err)
	}
	// A workshop that is opened again finds what the log came to.
	kept, err := New(w.Store, nil).Log(bg, &st, e, units.System{})
	if err != nil || bare(kept.Report) != bare(l.Report) {
		t.Errorf("kept: %+v, %v; was %+v", kept.Report, err, l.Report)
	}
	if l.Report.Days[l.Day("2026-02-11")].Date != "2026-02-11" {
		t.Error("the day asked for is not found")
	}
	if again, _ := w.Log(bg, &st, e, units.System{}); again != l {
		t.Error("judged twice")
	}
	if err := w.Store.RemoveImport(bg, st.Heater, imp.ID); err != nil {
		t.Fatal(err)
	}
	if l, err := w.Log(bg, &st, e, units.System{}); err != nil || l.Report != nil {
		t.Errorf("the log stays after its file was removed: %v", err)
	}
	if _, err := w.Replay(bg, &st, "2026-02-10"); !errors.Is(err, errNoReadings) {
		t.Errorf("replayed a day without readings: %v", err)
	}
}

// However many ask for work, two jobs run at a time; one that is canceled while it waits never begins, and of a kind a heater has one.
func TestJobsTakeTurns(t *testing.T) {
	var js Jobs
	var lock sync.Mutex
	now, most, begun := 0, 0, 0
	stop := make(chan struct{})
	work := func(ctx context.Context, _ func(int, int)) (any, error) {
		lock.Lock()
		now++
		begun++
		most = max(most, now)
		lock.Unlock()
		defer func() { lock.Lock(); now--; lock.Unlock() }()
		select {
		case <-stop:
		case <-ctx.Done():
		}
		return 1, ctx.Err()
	}
	var all []*Job
	for i := range 12 {
		all = append(all, js.Start(int64(i), "season", "swept", Key{}, work))
	}
	again := js.Start(11, "season", "swept", Key{1}, work) // takes the place of the last one
	for working := 0; working < jobsAtOnce; time.Sleep(time.Millisecond) {
		lock.Lock()
		working = now
		lock.Unlock()
	}
	all[10].Cancel()
	close(stop)
	for i, j := range append(all, again) {
		select {
		case <-j.ended:
		case <-time.After(5 * time.Second):
			t.Fatalf("job %d does not end", i)
		}
		if gone := i == 10 || i == 11; gone != (j.Look().Err != nil) {
			t.Errorf("job %d ended with %v", i, j.Look().Err)
		}
	}
	if most != jobsAtOnce || begun > 12 {
		t.Errorf("%d ran at a time, %d began", most, begun)
	}
}

// bare is a report without the name of a zone, which is not kept.
func bare(r *measure.Report) string {
	return strings.ReplaceAll(fmt.Sprintf("%+v", *r), "+0100 CET", "+0100 +0100")
}
