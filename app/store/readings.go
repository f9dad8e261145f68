package store

import (
	"bytes"
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
	"sync"
	"time"

	"github.com/jmoiron/sqlx"

	"gladember/core/measure"
)

// series are the names under which the [measure.Quantities] are kept.
var series = func() (ids []string) {
	for _, q := range measure.Quantities {
		ids = append(ids, q.ID)
	}
	return ids
}()

// sameValue is by how much two values may differ and still be one reading, as a share: a file in Fahrenheit has other last digits.
const sameValue = 1e-6

const dayMs = 24 * 3600 * 1000

// point is one value of a series: ms since 1970.
type point struct {
	ms int64
	v  float64
}

// writers are kept, since making one takes a megabyte.
var writers = sync.Pool{New: func() any {
	w, err := flate.NewWriter(io.Discard, flate.BestSpeed)
	if err != nil { // only for a level that there is not
		panic(err)
	}
	return w
}}

// encode packs points, in order of time, as time differences and values.
func encode(ps []point) ([]byte, error) {
	raw := make([]byte, 0, 12*len(ps))
	last := int64(0)
	for _, p := range ps {
		raw = binary.AppendVarint(raw, p.ms-last)
		last = p.ms
	}
	for _, p := range ps {
		raw = binary.LittleEndian.AppendUint64(raw, math.Float64bits(p.v))
	}
	var out bytes.Buffer
	w := writers.Get().(*flate.Writer)
	defer writers.Put(w)
	w.Reset(&out)
	if _, err := w.Write(raw); err != nil {
		return nil, err
	}
	if err := w.Close(); err != nil {
		return nil, err
	}
	return bytes.Clone(out.Bytes()), nil
}

// errBlock is returned for a block that cannot be unpacked.
var errBlock = errors.New("a block of readings is damaged")

// unpackers are kept, as writers are.
var unpackers = sync.Pool{New: func() any { return flate.NewReader(bytes.NewReader(nil)) }}

// mostPoints is more than any logger writes in a day; only a damaged file says so.
const mostPoints = 50_000_000

func decode(block []byte, count int) ([]point, error) {
	if count < 0 || count > mostPoints {
		return nil, errBlock
	}
	z := unpackers.Get().(io.ReadCloser)
	defer unpackers.Put(z)
	if err := z.(flate.Resetter).Reset(bytes.NewReader(block), nil); err != nil {
		return nil, errBlock
	}
	buf := bytes.NewBuffer(make([]byte, 0, 12*count+bytes.MinRead))
	if _, err := buf.ReadFrom(io.LimitReader(z, int64(count)*(binary.MaxVarintLen64+8)+1)); err != nil {
		return nil, fmt.Errorf("%w: %v", errBlock, err)
	}
	raw := buf.Bytes()
	ps := make([]point, count)
	last := int64(0)
	for i := range ps {
		d, n := binary.Varint(raw)
		if n <= 0 {
			return nil, errBlock
		}
		last, raw = last+d, raw[n:]
		ps[i].ms = last
	}
	if len(raw) != 8*count {
		return nil, errBlock
	}
	for i := range ps {
		ps[i].v = math.Float64frombits(binary.LittleEndian.Uint64(raw[8*i:]))
	}
	return ps, nil
}

// Logged names a log: that of a version of a heater, since readings belong to the box that made them.
type Logged struct{ Heater, Version int64 }

// Logged is the log of the version that is open.
func (st *State) Logged() Logged { return Logged{st.Heater, st.Version} }

// Import is a file of readings taken in.
type Import struct {
	ID       int64
	Version  int64 // of the heater, that made the readings
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

// blockRow is a block as it is kept.
type blockRow struct {
	Series   string
	Day      int64
	Count    int
	Block    []byte
	Replaces bool
}

const blockQuery = "SELECT b.series, b.day, b.count, b.block, i.replaces FROM log_blocks b JOIN imports i ON i.id = b.import WHERE " +
	"i.gone = 0 AND i.heater = ? AND i.version = ? AND b.day BETWEEN ? AND ?"

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

// AddReadings takes a batch into the log of a heater's version in one transaction. A value whose series and time
// are there already stays, or gives way if the batch replaces. A batch that would change nothing
// leaves no trace: its ID is 0.
func (s *Store) AddReadings(ctx context.Context, of Logged, name string, b *Batch, replace bool) (imp Import, err error) {
	err = s.tx(ctx, func(q *sqlx.Tx) error {
		imp, err = s.addReadings(ctx, q, of, name, b, replace)
		return err
	})
	return imp, err
}

// addReadings is [Store.AddReadings] in a transaction.
func (s *Store) addReadings(ctx context.Context, q *sqlx.Tx, of Logged, name string, b *Batch, replace bool) (Import, error) {
	imp := Import{Name: name, Version: of.Version, Read: b.Count, Replaces: replace}
	var one int
	if err := q.GetContext(ctx, &one, "SELECT 1 FROM versions WHERE heater = ? AND id = ?", of.Heater, of.Version); err != nil {
		return imp, ErrNotFound
	}
	c, err := compare(ctx, q, of, b)
	if err != nil {
		return imp, err
	}
	imp.Added = c.New
	if replace {
		imp.Changed = c.Different
	}
	if imp.Added+imp.Changed == 0 {
		return imp, nil
	}
	imp.At = s.now().UnixMilli()
	imp.ID, err = putImport(ctx, q, of, imp, b)
	return imp, err
}

// putImport writes an import with its blocks.
func putImport(ctx context.Context, q *sqlx.Tx, of Logged, imp Import, b *Batch) (id int64, err error) {
	const insert = "INSERT INTO imports (heater, version, name, read, added, changed, replaces, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)"
	r, err := q.ExecContext(ctx, insert, of.Heater, of.Version, imp.Name, imp.Read, imp.Added, imp.Changed, imp.Replaces, imp.At)
	if err != nil {
		return 0, err
	}
	if id, err = r.LastInsertId(); err != nil {
		return 0, err
	}
	put, err := q.PreparexContext(ctx, "INSERT INTO log_blocks (import, series, day, count, block) VALUES (?, ?, ?, ?, ?)")
	if err != nil {
		return 0, err
	}
	defer put.Close()
	return id, b.each(func(k key, x packed) error {
		_, err := put.ExecContext(ctx, id, series[k.series], k.day, x.count, x.block)
		return err
	})
}

// ByHand is the name of the readings that were typed; a log has one series of them.
const ByHand = "Readings by hand"

// AddByHand adds a reading that was typed to those of a log. It takes the place of what is there for its time.
func (s *Store) AddByHand(ctx context.Context, of Logged, x measure.Sample) error {
	return s.tx(ctx, func(q *sqlx.Tx) error {
		b := &Batch{}
		if err := b.Add(x); err != nil { // first, so that it counts before an earlier one of its time
			return err
		}
		var before []int64
		if err := q.SelectContext(ctx, &before,
			"SELECT id FROM imports WHERE gone = 0 AND heater = ? AND version = ? AND name = ? AND replaces = 1 "+
				"ORDER BY id DESC", of.Heater, of.Version, ByHand); err != nil {
			return err
		}
		for _, id := range before {
			if err := addTyped(ctx, q, b, id); err != nil {
				return err
			}
		}
		_, err := s.addReadings(ctx, q, of, ByHand, b, true)
		return err
	})
}

// addTyped moves the readings of an import into a batch.
func addTyped(ctx context.Context, q *sqlx.Tx, b *Batch, id int64) error {
	var rows []blockRow
	if err := q.SelectContext(ctx, &rows, "SELECT series, day, count, block FROM log_blocks WHERE import = ? ORDER BY day, series",
		id); err != nil {
		return err
	}
	for len(rows) > 0 {
		n := 1
		for n < len(rows) && rows[n].Day == rows[0].Day {
			n++
		}
		day, err := dayOf(nil, rows[:n], math.MinInt64, math.MaxInt64)
		if err != nil {
			return err
		}
		for _, x := range day {
			if err := b.Add(x); err != nil {
				return err
			}
		}
		rows = rows[n:]
	}
	_, err := q.ExecContext(ctx, "DELETE FROM imports WHERE id = ?", id)
	return err
}

// CompareReadings says what of a batch the log of a heater's version holds already, and what otherwise.
func (s *Store) CompareReadings(ctx context.Context, of Logged, b *Batch) (Compared, error) {
	return compare(ctx, s.db, of, b)
}

// Preview is a batch for [Store.CompareReadings] alone: it packs only the days of which the log has readings.
func (s *Store) Preview(ctx context.Context, of Logged) (*Batch, error) {
	have, err := daysOf(ctx, s.db, of)
	return &Batch{only: have}, err
}

// daysOf are the days, in UTC, of which a log has readings.
func daysOf(ctx context.Context, q querier, of Logged) (map[int64]bool, error) {
	var days []int64
	if err := q.SelectContext(ctx, &days, "SELECT DISTINCT b.day FROM log_blocks b JOIN imports i ON i.id = b.import WHERE "+
		"i.gone = 0 AND i.heater = ? AND i.version = ?", of.Heater, of.Version); err != nil {
		return nil, err
	}
	have := map[int64]bool{}
	for _, d := range days {
		have[d] = true
	}
	return have, nil
}

// compare counts what of a batch a log holds already.
func compare(ctx context.Context, q querier, of Logged, b *Batch) (c Compared, err error) {
	have, err := daysOf(ctx, q, of)
	if err != nil {
		return c, err
	}
	c.New = b.others
	err = b.each(func(k key, x packed) error {
		if !have[k.day] {
			c.New += x.count
			return nil
		}
		ps, err := decode(x.block, x.count)
		if err != nil {
			return err
		}
		return c.against(ctx, q, of, k, ps)
	})
	return c, err
}

// against counts a block of points against those that the log has of its series and day.
func (c *Compared) against(ctx context.Context, q querier, of Logged, k key, ps []point) error {
	var rows []blockRow
	if err := q.SelectContext(ctx, &rows, blockQuery+" AND b.series = ? ORDER BY b.import", of.Heater, of.Version, k.day, k.day,
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
		case math.Abs(have[i].v-p.v) <= sameValue*max(1, math.Abs(p.v)):
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

// RemoveImport takes a file out of a heater's log: what is left is the log without it. It waits in the trash.
func (s *Store) RemoveImport(ctx context.Context, heater, id int64) error {
	return s.one(ctx, "UPDATE imports SET gone = ? WHERE gone = 0 AND id = ? AND heater = ?", s.now().UnixMilli(), id, heater)
}

// RestoreImport puts a file back into its log.
func (s *Store) RestoreImport(ctx context.Context, heater, id int64) error {
	return s.one(ctx, "UPDATE imports SET gone = 0 WHERE gone > 0 AND id = ? AND heater = ?", id, heater)
}

// RemovedImports lists the files of a log that wait in the trash, the last one first.
func (s *Store) RemovedImports(ctx context.Context, of Logged) (out []Import, err error) {
	err = s.db.SelectContext(ctx, &out,
		"SELECT "+importColumns+" FROM imports WHERE gone > 0 AND heater = ? AND version = ? ORDER BY gone "+
			"DESC, id DESC", of.Heater, of.Version)
	return out, err
}

// keptRemoved is how long a removed file waits in the trash.
const keptRemoved = 30 * 24 * time.Hour

// sweepImports deletes the files that have waited long enough.
func (s *Store) sweepImports(ctx context.Context) error {
	_, err := s.db.ExecContext(ctx, "DELETE FROM imports WHERE gone > 0 AND gone < ?", s.now().Add(-keptRemoved).UnixMilli())
	return err
}

const importColumns = "id, version, name, read, added, changed, replaces, at"

// Imports lists the files taken into a heater's log, the newest first.
func (s *Store) Imports(ctx context.Context, of Logged) (out []Import, err error) {
	err = s.db.SelectContext(ctx, &out,
		"SELECT "+importColumns+" FROM imports WHERE gone = 0 AND heater = ? AND version = ? ORDER BY id DESC",
		of.Heater, of.Version)
	return out, err
}

// SetImportVersion says that the readings of a file were made by another version of the heater.
func (s *Store) SetImportVersion(ctx context.Context, heater, id, version int64) error {
	r, err := s.db.ExecContext(ctx, "UPDATE imports SET version = ? WHERE id = ? AND heater = ? AND EXISTS (SELECT 1 FROM versions "+
		"WHERE id = ? AND heater = imports.heater)", version, id, heater, version)
	if err != nil {
		return err
	}
	if n, _ := r.RowsAffected(); n == 0 {
		return ErrNotFound
	}
	return nil
}

// AllLogged lists the logs that have readings, by heater and version, of heaters that are not in the trash.
func (s *Store) AllLogged(ctx context.Context) (out []Logged, err error) {
	err = s.db.SelectContext(ctx, &out, "SELECT DISTINCT i.heater, i.version FROM imports i JOIN heaters h ON h.id = i.heater WHERE "+
		"i.gone = 0 AND h.trashed IS NULL ORDER BY i.heater, i.version")
	return out, err
}

// Readings returns the readings of a log from one instant up to, not with,
// another, in order of time. Channels without a value are NaN.
func (s *Store) Readings(ctx context.Context, of Logged, from, to time.Time) (out []measure.Sample, err error) {
	// Room for all of them at once: growing would take twice the memory.
	room := 0
	if err := s.db.GetContext(ctx, &room, "SELECT coalesce(sum(b.count), 0) FROM log_blocks b JOIN imports i ON i.id = b.import WHERE "+
		"i.gone = 0 AND i.heater = ? AND i.version = ? AND b.series = 'outlet' AND b.day BETWEEN ? AND ?", of.Heater, of.Version,
		floorDiv(from.UnixMilli(), dayMs), floorDiv(to.UnixMilli()-1, dayMs)); err != nil {
		return nil, fmt.Errorf("reading the log: %w", err)
	}
	out = make([]measure.Sample, 0, room)
	err = s.EachDay(ctx, of, from, to, func(day []measure.Sample) error {
		out = append(out, day...)
		return nil
	})
	return out, err
}

// EachDay is [Store.Readings] day by day in UTC, for logs that are too long to be in memory; the readings are good during the call.
func (s *Store) EachDay(ctx context.Context, of Logged, from, to time.Time, do func(day []measure.Sample) error) error {
	lo, hi := from.UnixMilli(), to.UnixMilli()
	rows, err := s.db.QueryxContext(ctx, blockQuery+" ORDER BY b.day, b.series, b.import", of.Heater, of.Version, floorDiv(lo, dayMs),
		floorDiv(hi-1, dayMs))
	if err != nil {
		return fmt.Errorf("reading the log: %w", err)
	}
	defer rows.Close()
	var day []blockRow
	var buf []measure.Sample
	flush := func() error {
		if len(day) == 0 {
			return nil
		}
		buf, err = dayOf(buf[:0], day, lo, hi)
		day = day[:0]
		if err != nil || len(buf) == 0 {
			return err
		}
		return do(buf)
	}
	for rows.Next() {
		var r blockRow
		if err := rows.StructScan(&r); err != nil {
			return fmt.Errorf("reading the log: %w", err)
		}
		if len(day) > 0 && day[0].Day != r.Day {
			if err := flush(); err != nil {
				return err
			}
		}
		day = append(day, r)
	}
	if err := rows.Err(); err != nil {
		return fmt.Errorf("reading the log: %w", err)
	}
	return flush()
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
		s := measure.Missing(time.UnixMilli(next))
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

// Span returns the first and last instant of a log, in whole days of UTC.
func (s *Store) Span(ctx context.Context, of Logged) (from, to time.Time, ok bool, err error) {
	var d struct{ Lo, Hi *int64 }
	if err = s.db.GetContext(ctx, &d, "SELECT min(b.day) AS lo, max(b.day) AS hi FROM log_blocks b JOIN imports i ON i.id = b.import "+
		"WHERE i.gone = 0 AND i.heater = ? AND i.version = ?", of.Heater, of.Version); err != nil || d.Lo == nil {
		return from, to, false, err
	}
	return time.UnixMilli(*d.Lo * dayMs), time.UnixMilli((*d.Hi + 1) * dayMs), true, nil
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

// LogDays are the local dates of a log's readings as they were kept under a stamp; ok is false where there are none.
func (s *Store) LogDays(ctx context.Context, of Logged, stamp string) (days []string, ok bool, err error) {
	var text string
	err = s.db.GetContext(ctx, &text, "SELECT days FROM log_days WHERE version = ? AND stamp = ?", of.Version, stamp)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, false, nil
	}
	if err != nil {
		return nil, false, err
	}
	err = json.Unmarshal([]byte(text), &days)
	return days, err == nil, err
}

// LogOutline is the outline that was kept with [Store.LogDays]; nil where there is none.
func (s *Store) LogOutline(ctx context.Context, of Logged, stamp string) (Outline, error) {
	var block []byte
	err := s.db.GetContext(ctx, &block, "SELECT outline FROM log_days WHERE version = ? AND stamp = ?", of.Version, stamp)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return decodeOutline(block)
}

// SetLogDays keeps the local dates of a log's readings, and its outline.
func (s *Store) SetLogDays(ctx context.Context, of Logged, stamp string, days []string, o Outline) error {
	text, err := json.Marshal(days)
	if err != nil {
		return err
	}
	block, err := o.encode()
	if err != nil {
		return err
	}
	_, err = s.db.ExecContext(ctx, "INSERT INTO log_days (version, stamp, days, outline) VALUES (?, ?, ?, ?) ON CONFLICT (version) DO "+
		"UPDATE SET stamp = excluded.stamp, days = excluded.days, outline = excluded.outline", of.Version, stamp, string(text), block)
	return spared(err)
}

// LogReport is what a log came to as it was kept under a stamp; nil where nothing was.
func (s *Store) LogReport(ctx context.Context, of Logged, stamp string) (report []byte, err error) {
	err = s.db.GetContext(ctx, &report, "SELECT report FROM log_reports WHERE version = ? AND stamp = ?", of.Version, stamp)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return report, err
}

// SetLogReport keeps what a log came to.
func (s *Store) SetLogReport(ctx context.Context, of Logged, stamp string, report []byte) error {
	_, err := s.db.ExecContext(ctx, "INSERT INTO log_reports (version, stamp, report) VALUES (?, ?, ?) ON CONFLICT (version) DO UPDATE "+
		"SET stamp = excluded.stamp, report = excluded.report", of.Version, stamp, report)
	return spared(err)
}
