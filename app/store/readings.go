package store

import (
	"bytes"
	"cmp"
	"compress/flate"
	"context"
	"database/sql"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"time"

	"github.com/jmoiron/sqlx"

	"gladember/core/measure"
)

// series are the names under which the [measure.Quantities] are kept.
var series = []string{"inlet", "outlet", "outdoor", "sun", "speed"}

// sameValue is by how much two values may differ and still be one reading, as a share: a file in Fahrenheit has other last digits.
const sameValue = 1e-6

const dayMs = 24 * 3600 * 1000

// point is one value of a series: ms since 1970.
type point struct {
	ms int64
	v  float64
}

// encode packs points, in order of time, as time differences and values.
func encode(ps []point) ([]byte, error) {
	var raw bytes.Buffer
	last := int64(0)
	var buf [binary.MaxVarintLen64]byte
	for _, p := range ps {
		raw.Write(buf[:binary.PutVarint(buf[:], p.ms-last)])
		last = p.ms
	}
	for _, p := range ps {
		var b [8]byte
		binary.LittleEndian.PutUint64(b[:], math.Float64bits(p.v))
		raw.Write(b[:])
	}
	var out bytes.Buffer
	w, err := flate.NewWriter(&out, flate.BestSpeed)
	if err != nil {
		return nil, err
	}
	if _, err := w.Write(raw.Bytes()); err != nil {
		return nil, err
	}
	if err := w.Close(); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}

func decode(block []byte, count int) ([]point, error) {
	raw, err := io.ReadAll(flate.NewReader(bytes.NewReader(block)))
	if err != nil {
		return nil, fmt.Errorf("a block of readings is damaged: %w", err)
	}
	r := bytes.NewReader(raw)
	ps := make([]point, count)
	last := int64(0)
	for i := range ps {
		d, err := binary.ReadVarint(r)
		if err != nil {
			return nil, fmt.Errorf("a block of readings is damaged: %w", err)
		}
		last += d
		ps[i].ms = last
	}
	for i := range ps {
		var b [8]byte
		if _, err := io.ReadFull(r, b[:]); err != nil {
			return nil, fmt.Errorf("a block of readings is damaged: %w", err)
		}
		ps[i].v = math.Float64frombits(binary.LittleEndian.Uint64(b[:]))
	}
	return ps, nil
}

// Import is a file of readings taken in.
type Import struct {
	ID       int64
	Name     string
	Read     int  // readings in the file
	Added    int  // values that were new
	Changed  int  // values that took the place of others
	Replaces bool // its values win over those of earlier files
	At       int64
}

// Day returns when the file was taken in.
func (i Import) Day() time.Time { return time.UnixMilli(i.At) }

// Difference is a value that a log holds otherwise than a file.
type Difference struct {
	*measure.Quantity
	At      time.Time
	In, New float64 // what the log holds, and what the file has
}

// Compared is a file beside the log, in values.
type Compared struct {
	New, Same, Different int
	First                *Difference // by time and series; nil where none differ
}

// key names a block of readings.
type key struct {
	series int
	day    int64
}

// blocksOf sorts samples into blocks ordered by time. Of values for the same time the first counts.
func blocksOf(samples []measure.Sample) (map[key][]point, []key) {
	blocks := map[key][]point{}
	for i := range samples {
		ms := samples[i].At.UnixMilli()
		for q := range series {
			if v := *measure.Quantities[q].Of(&samples[i]); !math.IsNaN(v) {
				k := key{q, floorDiv(ms, dayMs)}
				blocks[k] = append(blocks[k], point{ms, v})
			}
		}
	}
	var keys []key
	for k, ps := range blocks {
		keys = append(keys, k)
		slices.SortStableFunc(ps, func(a, b point) int { return cmp.Compare(a.ms, b.ms) })
		blocks[k] = slices.CompactFunc(ps, func(a, b point) bool { return a.ms == b.ms })
	}
	slices.SortFunc(keys, func(a, b key) int { return cmp.Or(cmp.Compare(a.day, b.day), cmp.Compare(a.series, b.series)) })
	return blocks, keys
}

// blockRow is a block as it is kept.
type blockRow struct {
	Series   string
	Day      int64
	Count    int
	Block    []byte
	Replaces bool
}

const blockQuery = "SELECT b.series, b.day, b.count, b.block, i.replaces FROM log_blocks b JOIN imports i ON i.id = b.import WHERE " +
	"i.heater = ? AND b.day BETWEEN ? AND ?"

// laid decodes blocks of one series and day in the order of their imports and lays them over each other.
func laid(rows []blockRow) ([]point, error) {
	var out []point
	for _, r := range rows {
		ps, err := decode(r.Block, r.Count)
		if err != nil {
			return nil, err
		}
		out = merge(out, ps, r.Replaces)
	}
	return out, nil
}

// AddReadings takes a file into a heater's log in one transaction. A value whose series and time
// are there already stays, or gives way if the file replaces. A file that would change nothing
// leaves no trace: its ID is 0.
func (s *Store) AddReadings(ctx context.Context, heater int64, name string, samples []measure.Sample, replace bool) (Import, error) {
	samples = inOrder(samples)
	imp := Import{Name: name, Read: len(samples), Replaces: replace}
	err := s.tx(ctx, func(q *sqlx.Tx) error {
		var one int
		if err := q.GetContext(ctx, &one, "SELECT 1 FROM heaters WHERE id = ?", heater); err != nil {
			return ErrNotFound
		}
		c, err := compare(ctx, q, heater, samples)
		if err != nil {
			return err
		}
		imp.Added = c.New
		if replace {
			imp.Changed = c.Different
		}
		if imp.Added+imp.Changed == 0 {
			return nil
		}
		imp.At = s.now().UnixMilli()
		const insert = "INSERT INTO imports (heater, name, read, added, changed, replaces, at) VALUES (?, ?, ?, ?, ?, ?, ?)"
		r, err := q.ExecContext(ctx, insert, heater, name, imp.Read, imp.Added, imp.Changed, replace, imp.At)
		if err != nil {
			return err
		}
		if imp.ID, err = r.LastInsertId(); err != nil {
			return err
		}
		return byDay(samples, func(day []measure.Sample) error {
			blocks, keys := blocksOf(day)
			for _, k := range keys {
				b, err := encode(blocks[k])
				if err != nil {
					return err
				}
				if _, err := q.ExecContext(ctx, "INSERT INTO log_blocks (import, series, day, count, block) VALUES (?, ?, ?, ?, ?)", imp.ID,
					series[k.series], k.day, len(blocks[k]), b); err != nil {
					return err
				}
			}
			return nil
		})
	})
	return imp, err
}

// CompareReadings says what of a file a heater's log holds already, and what otherwise.
func (s *Store) CompareReadings(ctx context.Context, heater int64, samples []measure.Sample) (Compared, error) {
	return compare(ctx, s.db, heater, inOrder(samples))
}

// inOrder are readings by time, the first given of one time first; those given stay as they are.
func inOrder(samples []measure.Sample) []measure.Sample {
	earlier := func(a, b measure.Sample) int { return a.At.Compare(b.At) }
	if slices.IsSortedFunc(samples, earlier) {
		return samples
	}
	samples = slices.Clone(samples)
	slices.SortStableFunc(samples, earlier)
	return samples
}

// byDay calls a function with the readings of each day, in UTC, of readings in order: a long log is never laid out whole.
func byDay(samples []measure.Sample, do func(day []measure.Sample) error) error {
	for len(samples) > 0 {
		day, n := floorDiv(samples[0].At.UnixMilli(), dayMs), 1
		for n < len(samples) && floorDiv(samples[n].At.UnixMilli(), dayMs) == day {
			n++
		}
		if err := do(samples[:n]); err != nil {
			return err
		}
		samples = samples[n:]
	}
	return nil
}

// compare counts what of readings, in order, a heater's log holds already.
func compare(ctx context.Context, q querier, heater int64, samples []measure.Sample) (c Compared, err error) {
	err = byDay(samples, func(day []measure.Sample) error {
		blocks, keys := blocksOf(day)
		for _, k := range keys {
			if err := c.against(ctx, q, heater, k, blocks[k]); err != nil {
				return err
			}
		}
		return nil
	})
	return c, err
}

// against counts a block of points against those that the log has of its series and day.
func (c *Compared) against(ctx context.Context, q querier, heater int64, k key, ps []point) error {
	var rows []blockRow
	if err := q.SelectContext(ctx, &rows, blockQuery+" AND b.series = ? ORDER BY b.import", heater, k.day, k.day,
		series[k.series]); err != nil {
		return err
	}
	have, err := laid(rows)
	if err != nil {
		return err
	}
	i := 0
	for _, p := range ps {
		for i < len(have) && have[i].ms < p.ms {
			i++
		}
		switch {
		case i == len(have) || have[i].ms != p.ms:
			c.New++
		case math.Abs(have[i].v-p.v) <= sameValue*math.Max(1, math.Abs(p.v)):
			c.Same++
		default:
			c.Different++
			if c.First == nil {
				c.First = &Difference{&measure.Quantities[k.series], time.UnixMilli(p.ms), have[i].v, p.v}
			}
		}
	}
	return nil
}

func floorDiv(a, b int64) int64 {
	d := a / b
	if a%b < 0 {
		d--
	}
	return d
}

// merge unites two runs ordered by time; of values for the same time the new one counts if it replaces.
func merge(have, more []point, replace bool) []point {
	if len(have) == 0 {
		return more
	}
	out := make([]point, 0, len(have)+len(more))
	i := 0
	for _, p := range more {
		for i < len(have) && have[i].ms < p.ms {
			out = append(out, have[i])
			i++
		}
		if i < len(have) && have[i].ms == p.ms {
			if !replace {
				p = have[i]
			}
			i++
		}
		out = append(out, p)
	}
	return append(out, have[i:]...)
}

// RemoveImport takes a file out of a heater's log: what is left is the log without it.
func (s *Store) RemoveImport(ctx context.Context, heater, id int64) error {
	r, err := s.db.ExecContext(ctx, "DELETE FROM imports WHERE id = ? AND heater = ?", id, heater)
	if err != nil {
		return err
	}
	if n, _ := r.RowsAffected(); n == 0 {
		return ErrNotFound
	}
	return nil
}

// Imports lists the files taken into a heater's log, the newest first.
func (s *Store) Imports(ctx context.Context, heater int64) (out []Import, err error) {
	err = s.db.SelectContext(ctx, &out, "SELECT id, name, read, added, changed, replaces, at FROM imports WHERE heater = ? ORDER BY id "+
		"DESC", heater)
	return out, err
}

// Readings returns a heater's readings from one instant up to, not with,
// another, in order of time. Channels without a value are NaN.
func (s *Store) Readings(ctx context.Context, heater int64, from, to time.Time) ([]measure.Sample, error) {
	var rows []blockRow
	lo, hi := from.UnixMilli(), to.UnixMilli()
	err := s.db.SelectContext(ctx, &rows, blockQuery+" ORDER BY b.day, b.series, b.import", heater, floorDiv(lo, dayMs),
		floorDiv(hi-1, dayMs))
	if err != nil {
		return nil, fmt.Errorf("reading the log: %w", err)
	}
	var out []measure.Sample
	for len(rows) > 0 {
		n := 1
		for n < len(rows) && rows[n].Day == rows[0].Day {
			n++
		}
		if out, err = dayOf(out, rows[:n], lo, hi); err != nil {
			return nil, err
		}
		rows = rows[n:]
	}
	return out, nil
}

// dayOf adds the readings of one day, from lo up to, not with, hi, ms: its series are run through together, in order of time.
func dayOf(out []measure.Sample, rows []blockRow, lo, hi int64) ([]measure.Sample, error) {
	heads := make([][]point, len(series))
	for len(rows) > 0 {
		n := 1
		for n < len(rows) && rows[n].Series == rows[0].Series {
			n++
		}
		ps, err := laid(rows[:n])
		if err != nil {
			return nil, err
		}
		if q := slices.Index(series, rows[0].Series); q >= 0 {
			heads[q] = ps
		}
		rows = rows[n:]
	}
	nan := math.NaN()
	for {
		next := int64(math.MaxInt64)
		for _, ps := range heads {
			if len(ps) > 0 && ps[0].ms < next {
				next = ps[0].ms
			}
		}
		if next == math.MaxInt64 {
			return out, nil
		}
		s := measure.Sample{At: time.UnixMilli(next), Inlet: nan, Outlet: nan, Outdoor: nan, Sun: nan, Speed: nan}
		for q, ps := range heads {
			if len(ps) > 0 && ps[0].ms == next {
				*measure.Quantities[q].Of(&s) = ps[0].v
				heads[q] = ps[1:]
			}
		}
		if next >= lo && next < hi {
			out = append(out, s)
		}
	}
}

// Span returns the first and last instant of a heater's log.
func (s *Store) Span(ctx context.Context, heater int64) (from, to time.Time, ok bool, err error) {
	var d struct{ Lo, Hi *int64 }
	if err = s.db.GetContext(ctx, &d, "SELECT min(b.day) AS lo, max(b.day) AS hi FROM log_blocks b JOIN imports i ON i.id = b.import "+
		"WHERE i.heater = ?", heater); err != nil || d.Lo == nil {
		return from, to, false, err
	}
	return time.UnixMilli(*d.Lo * dayMs), time.UnixMilli((*d.Hi + 1) * dayMs), true, nil
}

// Upload is a file looked at but not taken in.
type Upload struct {
	ID   int64
	Name string
	Data []byte
}

// keepUploads is how long a file waits for its columns to be chosen.
const keepUploads = 24 * time.Hour

// PutUpload keeps a file until its columns are chosen, and drops old ones.
func (s *Store) PutUpload(ctx context.Context, heater int64, name string, data []byte) (int64, error) {
	now := s.now()
	if _, err := s.db.ExecContext(ctx, "DELETE FROM uploads WHERE at < ?", now.Add(-keepUploads).UnixMilli()); err != nil {
		return 0, err
	}
	r, err := s.db.ExecContext(ctx, "INSERT INTO uploads (heater, name, data, at) VALUES (?, ?, ?, ?)", heater, name, data, now.UnixMilli())
	if err != nil {
		return 0, fmt.Errorf("keeping %s: %w", name, err)
	}
	return r.LastInsertId()
}

// DropUploads forgets all files of a heater that wait for their columns.
func (s *Store) DropUploads(ctx context.Context, heater int64) error {
	_, err := s.db.ExecContext(ctx, "DELETE FROM uploads WHERE heater = ?", heater)
	return err
}

// NextUpload is the file of a heater that waits the longest; 0 for none.
func (s *Store) NextUpload(ctx context.Context, heater int64) (id int64, err error) {
	err = s.db.GetContext(ctx, &id, "SELECT id FROM uploads WHERE heater = ? ORDER BY id LIMIT 1", heater)
	if errors.Is(err, sql.ErrNoRows) {
		return 0, nil
	}
	return id, err
}

// Profile is how files of a shape are read, as JSON; empty where none was read yet.
func (s *Store) Profile(ctx context.Context, shape string) (mapping string, err error) {
	err = s.db.GetContext(ctx, &mapping, "SELECT mapping FROM profiles WHERE shape = ?", shape)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return mapping, err
}

// SetProfile keeps how files of a shape are read.
func (s *Store) SetProfile(ctx context.Context, shape, mapping string) error {
	_, err := s.db.ExecContext(ctx, "INSERT INTO profiles (shape, mapping, at) VALUES (?, ?, ?) ON CONFLICT (shape) DO UPDATE SET "+
		"mapping = excluded.mapping, at = excluded.at", shape, mapping, s.now().UnixMilli())
	return err
}

// GetUpload returns a kept file.
func (s *Store) GetUpload(ctx context.Context, heater, id int64) (Upload, error) {
	var u Upload
	err := s.db.GetContext(ctx, &u, "SELECT id, name, data FROM uploads WHERE id = ? AND heater = ?", id, heater)
	if errors.Is(err, sql.ErrNoRows) {
		return u, errors.New("that file is no longer here; choose it again")
	}
	return u, err
}

// DropUpload forgets a kept file.
func (s *Store) DropUpload(ctx context.Context, id int64) error {
	_, err := s.db.ExecContext(ctx, "DELETE FROM uploads WHERE id = ?", id)
	return err
}

// LogDays are the local dates of a heater's readings as they were kept under a stamp; ok is false where there are none.
func (s *Store) LogDays(ctx context.Context, heater int64, stamp string) (days []string, ok bool, err error) {
	var text string
	err = s.db.GetContext(ctx, &text, "SELECT days FROM log_days WHERE heater = ? AND stamp = ?", heater, stamp)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, false, nil
	}
	if err != nil {
		return nil, false, err
	}
	err = json.Unmarshal([]byte(text), &days)
	return days, err == nil, err
}

// SetLogDays keeps the local dates of a heater's readings.
func (s *Store) SetLogDays(ctx context.Context, heater int64, stamp string, days []string) error {
	text, err := json.Marshal(days)
	if err != nil {
		return err
	}
	_, err = s.db.ExecContext(ctx, "INSERT INTO log_days (heater, stamp, days) VALUES (?, ?, ?) ON CONFLICT (heater) DO UPDATE SET "+
		"stamp = excluded.stamp, days = excluded.days", heater, stamp, string(text))
	return err
}
