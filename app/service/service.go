// Package service holds the use cases of a workshop: what pages and commands ask for, each a computation of core
// over what the store keeps. Results are remembered by the content of the heater's document, so that a page that is
// looked at again costs nothing; errors are never remembered. Work that takes longer than a page may wait is a [Job].
//
// Everything here may be called from several requests at once.
package service

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"sync"
	"time"

	"golang.org/x/sync/semaphore"

	"gladember/app/store"
	"gladember/core/advice"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/simulate"
	"gladember/core/sizing"
)

// How many results of each kind are remembered. A heater evaluated takes about 200 kB, a year or a day about 1 MB.
const (
	rememberedHeaters  = 128
	rememberedYears    = 32
	rememberedWeathers = 8
	rememberedDays     = 32
	rememberedLogs     = 16
	rememberedOutlines = 8
	rememberedBuyings  = 32
)

// How many files are read or drawn, years computed and judged, days simulated, weathers made and lists laid out at a time: each takes
// a core or two, and pages shall be answered meanwhile.
const (
	filesAtOnce    = 2
	yearsAtOnce    = 2
	judgedAtOnce   = 1
	daysAtOnce     = 2
	weathersAtOnce = 1
	listsAtOnce    = 2
)

// take waits for a turn. What it returns ends the turn, and may be called twice.
func take(ctx context.Context, turns *semaphore.Weighted) (done func(), err error) {
	if err := turns.Acquire(ctx, 1); err != nil {
		return nil, err
	}
	return sync.OnceFunc(func() { turns.Release(1) }), nil
}

// Turn waits until few enough files are being read or drawn. What it returns ends the turn, and may be called twice.
func (w *Workshop) Turn(ctx context.Context) (done func(), err error) { return take(ctx, w.turns) }

// Alone waits until nobody else is changing what is kept of a heater, or with 0 the materials on hand. Whoever reads something and
// writes it back changed must be alone, or one of two marks that are made at once is lost. What it returns lets the next one in.
func (w *Workshop) Alone(ctx context.Context, heater int64) (done func(), err error) {
	one, _ := w.changing.LoadOrStore(heater, semaphore.NewWeighted(1))
	return take(ctx, one.(*semaphore.Weighted))
}

// kept is how many results of each kind are remembered while nobody asks.
const kept = 4

// Rest forgets what can be computed again, when nobody has asked for a while.
func (w *Workshop) Rest() {
	w.heaters.Trim(kept)
	w.years.Trim(kept)
	w.weathers.Trim(1)
	w.days.Trim(kept)
	w.settings.Trim(kept)
	w.logs.Trim(kept)
	w.outlines.Trim(1)
	w.buyings.Trim(kept)
	w.outlays.Trim(kept)
	w.Jobs.trim(kept)
	w.lock.Lock()
	defer w.lock.Unlock()
	for _, c := range w.pages {
		c.Trim(kept)
	}
}

// Trims lets what a page remembers be forgotten with the rest.
func (w *Workshop) Trims(c interface{ Trim(n int) }) {
	w.lock.Lock()
	defer w.lock.Unlock()
	w.pages = append(w.pages, c)
}

// Patience is how long the cutting of one material may be thought about while somebody waits.
const Patience = 250 * time.Millisecond

// Workshop answers for one store.
type Workshop struct {
	Store *store.Store
	Jobs  Jobs
	// Before, if not nil, is called before a heater is computed; tests see by it what becomes of one that cannot be.
	Before func(h *design.Heater)
	// turns are taken by those who read long files, so that several at once do not take the memory of the machine.
	turns *semaphore.Weighted
	// judging is held by those who compute many years, which take all cores there are.
	judging *semaphore.Weighted
	// changing has one turn for each heater, see [Workshop.Alone].
	changing sync.Map

	*Memory
	days     *Cache[*Day]
	settings *Cache[[]simulate.Setting]
	logs     *Cache[*Log]
	outlines *Cache[*outlined]
	buyings  *Cache[*Buying]
	outlays  *Cache[Outlay]

	lock  sync.Mutex
	pages []interface{ Trim(n int) } // what the pages remember
}

// Memory is what is remembered of heaters whatever workshop they are in: their evaluations, their years and the weather of those.
type Memory struct {
	heaters  *Cache[*Heater]
	years    *Cache[*Year]
	weathers *Cache[*climate.Year]
}

// NewMemory returns one that remembers nothing yet.
func NewMemory() *Memory {
	return &Memory{
		heaters:  NewCache[*Heater](rememberedHeaters),
		years:    NewCache[*Year](rememberedYears).AtOnce(yearsAtOnce),
		weathers: NewCache[*climate.Year](rememberedWeathers).AtOnce(weathersAtOnce),
	}
}

// New returns the workshop of a store, with a memory that it may share; nil for one of its own.
func New(s *store.Store, m *Memory) *Workshop {
	if m == nil {
		m = NewMemory()
	}
	return &Workshop{
		Store:    s,
		Memory:   m,
		turns:    semaphore.NewWeighted(filesAtOnce),
		judging:  semaphore.NewWeighted(judgedAtOnce),
		days:     NewCache[*Day](rememberedDays).AtOnce(daysAtOnce),
		settings: NewCache[[]simulate.Setting](rememberedDays).AtOnce(1),
		logs:     NewCache[*Log](rememberedLogs),
		outlines: NewCache[*outlined](rememberedOutlines),
		buyings:  NewCache[*Buying](rememberedBuyings).AtOnce(listsAtOnce),
		outlays:  NewCache[Outlay](rememberedBuyings).AtOnce(listsAtOnce),
	}
}

// Heater is a heater with everything computed of it at its clear winter noon.
type Heater struct {
	Eval     collector.Evaluation
	Findings []advice.Finding
	Layout   layout.Layout
	Misfit   error // why its parts do not fit together; nil if they do

	// airOptions are the changes of its air path, judged when they are asked for.
	airOptions func() []advice.AirOption
}

// Evaluate computes a heater at its clear winter noon.
func (w *Workshop) Evaluate(ctx context.Context, h *design.Heater) (*Heater, error) {
	known, err := w.heaters.Get(ctx, KeyOf(h, design.Judged), func() (*Heater, error) {
		if w.Before != nil {
			w.Before(h)
		}
		e := &Heater{}
		var err error
		at := collector.WinterNoon(h)
		if e.Eval, err = collector.Evaluate(h, collector.ConditionsAt(h, at), true); err != nil {
			return nil, err
		}
		e.Findings = advice.Evaluate(&e.Eval)
		e.Layout, e.Misfit = layout.Build(h)
		e.airOptions = sync.OnceValue(func() []advice.AirOption { return advice.AirOptions(&e.Eval) })
		return e, nil
	})
	if err != nil {
		return nil, err
	}
	// What nothing of this hangs on is the asker's own, such as its name.
	mine := *known
	mine.Eval.Heater = h.Clone()
	return &mine, nil
}

// Weather is the year of hours that a heater's document names: of its file, of its table of months, or estimated. It is shared: nobody
// may change it.
func (w *Workshop) Weather(ctx context.Context, h *design.Heater) (*climate.Year, error) {
	basis := climate.Basis(h)
	return w.weathers.Get(ctx, KeyOf(&basis, everything), func() (*climate.Year, error) {
		return w.readWeather(ctx, &basis)
	})
}

// readWeather makes a year of weather.
func (w *Workshop) readWeather(ctx context.Context, h *design.Heater) (*climate.Year, error) {
	if h.Climate.File == "" {
		return climate.Build(h)
	}
	name, data, err := w.Store.Weather(ctx, h.Climate.File)
	if err != nil {
		return nil, fmt.Errorf("the weather file of this heater cannot be read (%w); import it again on the place station, or remove "+
			"it there", err)
	}
	y, err := climate.Read(bytes.NewReader(data))
	if err != nil {
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	y.Source = name
	return y, nil
}

// Stock reads the materials on hand, and the store's number of each.
func (w *Workshop) Stock(ctx context.Context) (things []sizing.Thing, ids []int64, err error) {
	items, err := w.Store.Stock(ctx)
	if err != nil {
		return nil, nil, err
	}
	for _, it := range items {
		var t sizing.Thing
		if err := json.Unmarshal([]byte(it.Item), &t); err != nil {
			return nil, nil, fmt.Errorf("item %d of the stock: %w", it.ID, err)
		}
		things, ids = append(things, t), append(ids, it.ID)
	}
	return things, ids, nil
}
