package store

import (
	"cmp"
	"math"
	"slices"

	"gladember/core/measure"
)

// Batch are readings on their way into a log, packed by series and day as they come, so that a million of them take a few megabytes.
// They may come in any order; of values for the same time the first counts.
type Batch struct {
	// Count is how many readings were added, and First and Last are the ones that were added first and last.
	Count       int
	First, Last measure.Sample

	// only are the days that are packed, and values of others are counted; nil packs all.
	only   map[int64]bool
	others int
	open   map[int64]*openDay
	points int // in open days
	turn   int // counts the days that were touched, so that the one that waits the longest is packed first
	packed map[key]packed
}

// key names a block of readings.
type key struct {
	series int
	day    int64 // days since 1970
}

// packed is a block.
type packed struct {
	count int
	block []byte
}

// openDay is a day to which readings are added.
type openDay struct {
	points [][]point // by series
	turn   int
}

// A batch has so many days open at a time, and of long days fewer.
const (
	openDays   = 64
	openPoints = 300_000
)

// NewBatch are readings that are in memory.
func NewBatch(samples []measure.Sample) (*Batch, error) {
	b := &Batch{}
	for i := range samples {
		if err := b.Add(samples[i]); err != nil {
			return nil, err
		}
	}
	return b, nil
}

// Add adds a reading.
func (b *Batch) Add(s measure.Sample) error {
	if b.Count++; b.Count == 1 {
		b.First, b.open, b.packed = s, map[int64]*openDay{}, map[key]packed{}
	}
	b.Last = s
	ms := s.At.UnixMilli()
	day := floorDiv(ms, dayMs)
	if b.only != nil && !b.only[day] {
		for q := range series {
			if !math.IsNaN(*measure.Quantities[q].Of(&s)) {
				b.others++
			}
		}
		return nil
	}
	d := b.open[day]
	if d == nil {
		var err error
		if d, err = b.begin(day); err != nil {
			return err
		}
	}
	for q := range series {
		if v := *measure.Quantities[q].Of(&s); !math.IsNaN(v) {
			d.points[q] = append(d.points[q], point{ms, v})
			b.points++
		}
	}
	return nil
}

// begin opens a day, and packs another if there are too many.
func (b *Batch) begin(day int64) (*openDay, error) {
	for len(b.open) > 0 && (len(b.open) == openDays || b.points > openPoints) {
		oldest := day
		for k, d := range b.open {
			if oldest == day || d.turn < b.open[oldest].turn {
				oldest = k
			}
		}
		if err := b.pack(oldest); err != nil {
			return nil, err
		}
	}
	b.turn++
	d := &openDay{points: make([][]point, len(series)), turn: b.turn}
	for q := range series {
		x, ok := b.packed[key{q, day}]
		if !ok {
			continue
		}
		ps, err := decode(x.block, x.count)
		if err != nil {
			return nil, err
		}
		d.points[q] = ps
		b.points += len(ps)
		delete(b.packed, key{q, day})
	}
	b.open[day] = d
	return d, nil
}

// pack closes a day.
func (b *Batch) pack(day int64) error {
	for q, ps := range b.open[day].points {
		if len(ps) == 0 {
			continue
		}
		b.points -= len(ps)
		slices.SortStableFunc(ps, func(x, y point) int { return cmp.Compare(x.ms, y.ms) })
		ps = slices.CompactFunc(ps, func(x, y point) bool { return x.ms == y.ms })
		block, err := encode(ps)
		if err != nil {
			return err
		}
		b.packed[key{q, day}] = packed{len(ps), block}
	}
	delete(b.open, day)
	return nil
}

// each calls a function with every block, by day and series.
func (b *Batch) each(do func(k key, x packed) error) error {
	for day := range b.open {
		if err := b.pack(day); err != nil {
			return err
		}
	}
	keys := make([]key, 0, len(b.packed))
	for k := range b.packed {
		keys = append(keys, k)
	}
	slices.SortFunc(keys, func(x, y key) int { return cmp.Or(cmp.Compare(x.day, y.day), cmp.Compare(x.series, y.series)) })
	for _, k := range keys {
		if err := do(k, b.packed[k]); err != nil {
			return err
		}
	}
	return nil
}
