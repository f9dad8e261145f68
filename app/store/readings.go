package store

import (
	"bytes"
	"compress/flate"
	"context"
	"database/sql"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"math"
	"sort"
	"time"

	"github.com/jmoiron/sqlx"

	"gladember/core/measure"
)

// Series of a heater's log.
var series = []struct {
	name string
	get  func(*measure.Sample) *float64
}{
	{"inlet", func(s *measure.Sample) *float64 { return &s.Inlet }},
	{"outlet", func(s *measure.Sample) *float64 { return &s.Outlet }},
	{"outdoor", func(s *measure.Sample) *float64 { return &s.Outdoor }},
	{"sun", func(s *measure.Sample) *float64 { return &s.Sun }},
	{"speed", func(s *measure.Sample) *float64 { return &s.Speed }},
}

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

// Import is a file taken in.
type Import struct {
	ID    int64
	Name  string
	Read  int
	Added int
	At    int64
}

// Day returns when the file was taken in.
func (i Import) Day() time.Time { return time.UnixMilli(i.At) }

// AddReadings merges readings into a heater's log in one transaction. A value
// whose series and time are already there is left as it is, so taking in the
// same file twice changes nothing.
func (s *Store) AddReadings(ctx context.Context, heater int64, name string, samples []measure.Sample) (Import, error) {
	type key struct {
		series int
		day    int64
	}
	blocks := map[key][]point{}
	for i := range samples {
		ms := samples[i].At.UnixMilli()
		for k, sr := range series {
			if v := *sr.get(&samples[i]); !math.IsNaN(v) {
				d := key{k, floorDiv(ms, dayMs)}
				blocks[d] = append(blocks[d], point{ms, v})
			}
		}
	}
	keys := make([]key, 0, len(blocks))
	for k := range blocks {
		keys = append(keys, k)
	}
	sort.Slice(keys, func(i, j int) bool {
		if keys[i].day != keys[j].day {
			return keys[i].day < keys[j].day
		}
		return keys[i].series < keys[j].series
	})
	imp := Import{Name: name, Read: len(samples)}
	err := s.tx(ctx, func(q *sqlx.Tx) error {
		var one int
		if err := q.GetContext(ctx, &one, "SELECT 1 FROM heaters WHERE id = ?", heater); err != nil {
			return ErrNotFound
		}
		imp.At = s.now().UnixMilli()
		r, err := q.ExecContext(ctx, "INSERT INTO imports (heater, name, read, added, at) VALUES (?, ?, ?, 0, ?)", heater, name, imp.Read, imp.At)
		if err != nil {
			return err
		}
		if imp.ID, err = r.LastInsertId(); err != nil {
			return err
		}
		for _, k := range keys {
			ps := blocks[k]
			sort.SliceStable(ps, func(i, j int) bool { return ps[i].ms < ps[j].ms })
			var old struct {
				Count *int
				Block []byte
			}
			err := q.GetContext(ctx, &old, "SELECT count, block FROM readings WHERE heater = ? AND series = ? AND day = ?", heater, series[k.series].name, k.day)
			if err != nil && !errors.Is(err, sql.ErrNoRows) {
				return err
			}
			if errors.Is(err, sql.ErrNoRows) {
				old.Count = nil // the mapper has made one for nothing
			}
			var have []point
			if old.Count != nil {
				if have, err = decode(old.Block, *old.Count); err != nil {
					return err
				}
			}
			merged, added := merge(have, ps)
			if added == 0 {
				continue
			}
			if series[k.series].name == "outlet" {
				imp.Added += added
			}
			if _, err := q.ExecContext(ctx, "INSERT INTO import_blocks (import, series, day, count, before) VALUES (?, ?, ?, ?, ?)", imp.ID, series[k.series].name, k.day, old.Count, old.Block); err != nil {
				return err
			}
			b, err := encode(merged)
			if err != nil {
				return err
			}
			if _, err := q.ExecContext(ctx, "INSERT INTO readings (heater, series, day, count, block) VALUES (?, ?, ?, ?, ?) ON CONFLICT DO UPDATE SET count = excluded.count, block = excluded.block",
				heater, series[k.series].name, k.day, len(merged), b); err != nil {
				return err
			}
		}
		if imp.Added == 0 { // nothing new: leave no trace
			_, err = q.ExecContext(ctx, "DELETE FROM imports WHERE id = ?", imp.ID)
			imp.ID = 0
			return err
		}
		_, err = q.ExecContext(ctx, "UPDATE imports SET added = ? WHERE id = ?", imp.Added, imp.ID)
		return err
	})
	return imp, err
}

func floorDiv(a, b int64) int64 {
	d := a / b
	if a%b < 0 {
		d--
	}
	return d
}

// merge unites two runs ordered by time; what is there wins.
func merge(have, more []point) (out []point, added int) {
	out = make([]point, 0, len(have)+len(more))
	i := 0
	for _, p := range more {
		for i < len(have) && have[i].ms < p.ms {
			out = append(out, have[i])
			i++
		}
		if i < len(have) && have[i].ms == p.ms || len(out) > 0 && out[len(out)-1].ms == p.ms {
			continue
		}
		out = append(out, p)
		added++
	}
	return append(out, have[i:]...), added
}

// UndoImport takes the last import of a heater back.
func (s *Store) UndoImport(ctx context.Context, heater int64) error {
	return s.tx(ctx, func(q *sqlx.Tx) error {
		var id *int64
		if err := q.GetContext(ctx, &id, "SELECT max(id) FROM imports WHERE heater = ?", heater); err != nil {
			return err
		}
		if id == nil {
			return ErrNothing
		}
		for _, stmt := range []string{
			"DELETE FROM readings WHERE heater = ?1 AND (series, day) IN (SELECT series, day FROM import_blocks WHERE import = ?2)",
			"INSERT INTO readings (heater, series, day, count, block) SELECT ?1, series, day, count, before FROM import_blocks WHERE import = ?2 AND before IS NOT NULL",
		} {
			if _, err := q.ExecContext(ctx, stmt, heater, *id); err != nil {
				return err
			}
		}
		_, err := q.ExecContext(ctx, "DELETE FROM imports WHERE id = ?", *id)
		return err
	})
}

// Imports lists the files taken into a heater's log, the newest first.
func (s *Store) Imports(ctx context.Context, heater int64) (out []Import, err error) {
	err = s.db.SelectContext(ctx, &out, "SELECT id, name, read, added, at FROM imports WHERE heater = ? ORDER BY id DESC", heater)
	return out, err
}

// Readings returns a heater's readings from one instant up to, not with,
// another, in order of time. Channels without a value are NaN.
func (s *Store) Readings(ctx context.Context, heater int64, from, to time.Time) ([]measure.Sample, error) {
	var rows []struct {
		Series string
		Count  int
		Block  []byte
	}
	lo, hi := from.UnixMilli(), to.UnixMilli()
	err := s.db.SelectContext(ctx, &rows, "SELECT series, count, block FROM readings WHERE heater = ? AND day BETWEEN ? AND ? ORDER BY day", heater, floorDiv(lo, dayMs), floorDiv(hi-1, dayMs))
	if err != nil {
		return nil, fmt.Errorf("reading the log: %w", err)
	}
	index := map[int64]int{}
	var out []measure.Sample
	for _, row := range rows {
		ps, err := decode(row.Block, row.Count)
		if err != nil {
			return nil, err
		}
		for _, sr := range series {
			if sr.name != row.Series {
				continue
			}
			for _, p := range ps {
				if p.ms < lo || p.ms >= hi {
					continue
				}
				i, ok := index[p.ms]
				if !ok {
					i = len(out)
					index[p.ms] = i
					nan := math.NaN()
					out = append(out, measure.Sample{At: time.UnixMilli(p.ms), Inlet: nan, Outlet: nan, Outdoor: nan, Sun: nan, Speed: nan})
				}
				*sr.get(&out[i]) = p.v
			}
		}
	}
	sort.Slice(out, func(i, j int) bool { return out[i].At.Before(out[j].At) })
	return out, nil
}

// Span returns the first and last instant of a heater's log.
func (s *Store) Span(ctx context.Context, heater int64) (from, to time.Time, ok bool, err error) {
	var d struct{ Lo, Hi *int64 }
	if err = s.db.GetContext(ctx, &d, "SELECT min(day) AS lo, max(day) AS hi FROM readings WHERE heater = ?", heater); err != nil || d.Lo == nil {
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
	if _, err := s.db.ExecContext(ctx, "DELETE FROM uploads WHERE at < ? OR heater = ?", now.Add(-keepUploads).UnixMilli(), heater); err != nil {
		return 0, err
	}
	r, err := s.db.ExecContext(ctx, "INSERT INTO uploads (heater, name, data, at) VALUES (?, ?, ?, ?)", heater, name, data, now.UnixMilli())
	if err != nil {
		return 0, fmt.Errorf("keeping %s: %w", name, err)
	}
	return r.LastInsertId()
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

// Days are the local dates on which a heater has readings, in their order.
func (s *Store) Days(ctx context.Context, heater int64, zone *time.Location) ([]string, error) {
	from, to, ok, err := s.Span(ctx, heater)
	if err != nil || !ok {
		return nil, err
	}
	rs, err := s.Readings(ctx, heater, from, to)
	if err != nil {
		return nil, err
	}
	var out []string
	for _, r := range rs {
		if d := r.At.In(zone).Format(time.DateOnly); len(out) == 0 || out[len(out)-1] != d {
			out = append(out, d)
		}
	}
	return out, nil
}
