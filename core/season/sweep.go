package season

import (
	"context"
	"math"
	"slices"
	"sync"

	lru "github.com/hashicorp/golang-lru/v2"

	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/parallel"
	"gladember/core/simulate"
	"gladember/core/units"
)

// Variant is a heater with one field at another value, through its year. Err
// says why there is no year of it.
type Variant struct {
	// Value is what the field was set to, as the document has it.
	Value  any
	Heater design.Heater
	// Result is its year; nil where Err says why there is none.
	Result *Result
	Err    error
}

// Laid is a year of weather with what was laid out of it, for heaters whose glass
// keeps its place. It may be used from several goroutines.
type Laid struct {
	// Year is the weather.
	Year *climate.Year

	lock sync.Mutex
	// years are what the weather is at the glasses used last, and boxes what was fitted to the boxes used last, by the key of what they
	// hang on.
	years *lru.Cache[string, *climate.Series]
	boxes *lru.Cache[string, *fitted]
}

// glasses is how many layouts are kept: a year takes some megabytes.
const glasses = 6

// onSurfaces are the effects of fields on which a heater's surfaces depend: heaters that differ only in where their switch is set, or
// in what they cost, have one box.
const onSurfaces = design.Physics | design.Sun | design.Weather | design.Space

// Run is [Run] with the layout of the year shared, and what was fitted to the
// same box under another switch.
// It is safe for several at a time, and gives the same as [Run].
func (l *Laid) Run(h *design.Heater) (*Result, error) {
	series, boxes := l.at(h)
	key := h.Key(onSurfaces)
	same, _ := boxes.Get(key)
	r, f, err := moved(h, series, collector.Tuning{}, 1, same)
	if err == nil && same == nil {
		boxes.Add(key, f)
	}
	return r, err
}

// Series returns the year at a heater's glass.
// Heaters that stand alike share it; a few glasses are remembered.
func (l *Laid) Series(h *design.Heater) *climate.Series {
	series, _ := l.at(h)
	return series
}

// at is the year at a heater's glass, and where boxes are remembered.
func (l *Laid) at(h *design.Heater) (*climate.Series, *lru.Cache[string, *fitted]) {
	l.lock.Lock()
	defer l.lock.Unlock()
	if l.years == nil {
		l.years, l.boxes = remember[*climate.Series](), remember[*fitted]()
	}
	key := h.Key(design.Sun)
	s, known := l.years.Get(key)
	if !known {
		s = l.Year.Series(h)
		l.years.Add(key, s)
	}
	return s, l.boxes
}

// remember returns a cache of the results used last.
func remember[T any]() *lru.Cache[string, T] {
	c, err := lru.New[string, T](glasses)
	if err != nil { // glasses is below one
		panic(err)
	}
	return c
}

// Forget gives the memory of the layouts back.
// A search of hundreds of variants would keep a layout for each glass.
func (l *Laid) Forget() {
	l.lock.Lock()
	defer l.lock.Unlock()
	l.years, l.boxes = nil, nil
}

// Try is a field whose values are worth comparing through a year.
type Try struct{ Path, Name string }

// ListTries returns those that a heater has.
// A field that does not apply to the heater is left out.
func ListTries(h *design.Heater) (out []Try) {
	for _, path := range []string{
		design.PaneHeight.Path, design.PaneWidth.Path, design.PlaceTilt.Path, design.PlaceBearing.Path, design.AirDiameter.Path,
		design.CoverLayers.Path,
		design.BoxBackFoam.Path, design.SwitchClose.Path, design.RoomWanted.Path,
	} {
		if f := design.FieldAt(path); f.Applies(h) {
			out = append(out, Try{path, f.Label})
		}
	}
	return out
}

// valuesTried is how many values a field is tried at, besides its own.
const valuesTried = 8

// Values are those that a field is tried at, SI: from a good way under to a
// good way over what it is now, within its range, its own among them. The
// product's own choice.
// They are spread evenly around the present one, which is among them, within
// the field's range and within what is usual for the field.
func Values(h *design.Heater, path string) (out []any) {
	f := design.FieldAt(path)
	own := design.FieldAt(path).Number(h)
	lo, hi := max(f.Min, own*0.5), min(f.Max, own*1.7)
	switch path {
	case design.PlaceTilt.Path:
		lo, hi = 20, 90
	case design.PlaceBearing.Path:
		lo, hi = own-60, own+60
	case design.CoverLayers.Path:
		return []any{1, 2, 3}
	case design.SwitchClose.Path, design.RoomWanted.Path:
		lo, hi = max(f.Min, own-10), min(f.Max, own+14)
	case design.BoxBackFoam.Path:
		lo, hi = 0, 0.10
	}
	all := []float64{own}
	for i := range valuesTried {
		if v := lo + (hi-lo)*float64(i)/(valuesTried-1); math.Abs(v-own) > 1e-9 {
			all = append(all, v)
		}
	}
	slices.Sort(all)
	for _, v := range all {
		if path == design.PlaceBearing.Path {
			v = math.Mod(v+360, 360)
		}
		out = append(out, v)
	}
	return out
}

// Best is the variant whose year brings most, the fan taken off; -1 where none
// has a year.
// The index, and -1 where none could be run.
func Best(vs []Variant) int {
	best := -1
	for i, v := range vs {
		if v.Err == nil && (best < 0 || v.Result.Year.Net() > vs[best].Result.Year.Net()) {
			best = i
		}
	}
	return best
}

// Sweep runs a heater through a year with a field at each of some values (SI),
// two at a time. It stops when the context ends, and says how far it is.
// The values are run two at a time. A value that the heater cannot have keeps
// its error and stops nothing; progress may be nil.
func Sweep(ctx context.Context, h design.Heater, y *climate.Year, path string, values []any, progress func(done, of int)) ([]Variant,
	error) {
	out := make([]Variant, len(values))
	for i, v := range values {
		out[i].Value = v
		out[i].Heater, out[i].Err = design.Apply(h, units.System{}, design.Change{Path: path, Value: v})
	}
	l := &Laid{Year: y}
	return out, parallel.Each(ctx, len(out), func(i int) error {
		if out[i].Err == nil {
			out[i].Result, out[i].Err = l.Run(&out[i].Heater)
		}
		return nil
	}, progress)
}

// SetPoint is the closing point that served a month best among those tried.
type SetPoint struct {
	// Month is 1 to 12.
	Month int
	// Close is the set point that gives the most useful heat in it, C.
	Close float64
	// Useful is in kWh with it, and Now with the setting as it is.
	Useful float64
	Now    float64 // kWh with the setting as it is
}

// Better says that the point serves its month by more than one may do without.
func (p SetPoint) Better() bool { return p.Useful > p.Now*(1+simulate.Nearly) }

// Points are the closing points that a year is usually tried with, C; fewer than
// a day's, since each is a year.
var Points = []float64{26, 30, 36, 44}

// SetPoints finds the best closing point of each month: a year with each of some
// points, the opening point as far below as now. Months without useful heat, and
// switches without such a point, yield nothing.
func SetPoints(ctx context.Context, h design.Heater, l *Laid, points []float64, progress func(done, of int)) ([]SetPoint, error) {
	if h.Switch.Close <= h.Switch.Open {
		return nil, nil
	}
	gap := h.Switch.Close - h.Switch.Open
	years := make([]*Result, len(points)+1)
	err := parallel.Each(ctx, len(years), func(i int) error {
		x := h.Clone()
		if i > 0 {
			x.Switch.Close, x.Switch.Open = points[i-1], points[i-1]-gap
		}
		var err error
		years[i], err = l.Run(&x)
		return err
	}, progress)
	if err != nil {
		return nil, err
	}
	var out []SetPoint
	for m := range 12 {
		now := years[0].Months[m].Useful
		best := SetPoint{Month: m + 1, Close: h.Switch.Close, Useful: now, Now: now}
		for i, p := range points {
			if u := years[i+1].Months[m].Useful; u > best.Useful {
				best.Close, best.Useful = p, u
			}
		}
		if best.Useful > 0.05 {
			out = append(out, best)
		}
	}
	return out, nil
}
