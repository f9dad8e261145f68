package store

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"image/jpeg"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"

	"gladember/core/design"
	"gladember/core/measure"
)

// Format of the archive and its version: a reader refuses a greater one. A heater as a file is a zip archive that any program can read,
// described in docs/BUNDLE.md; written, read and written again, it is the same to the last byte.
const (
	bundleFormat  = "gladember heater"
	bundleVersion = 2
)

// Bounds of an archive: files in it, and bytes that they unpack to, all of them and one by kind.
const (
	maxEntries  = 4000
	maxManifest = 8 << 20
	maxDocument = 1 << 20
	maxReadings = 512 << 20
	maxPicture  = 16 << 20
	maxVersions = 30
	maxRow      = 1000 // of the readings
)

// maxUnpacked is what all of it may unpack to; a test asks for less.
var maxUnpacked int64 = 1 << 30

// bundle is heater.json of an archive. Names of files in it are those of other entries.
type bundle struct {
	Format   string           `json:"format"`
	Version  int              `json:"version"`
	Current  int              `json:"current"` // the version that is open, from 1
	Versions []bundledVersion `json:"versions"`
	Imports  []bundledImport  `json:"imports"`
	Excluded []bundledStretch `json:"excluded"`
	Tests    []bundledTest    `json:"tests"`
	Journal  []bundledNote    `json:"journal"`
	Steps    []bundledStep    `json:"steps"`
	Cuts     []bundledCut     `json:"cuts"`
	CutPlan  json.RawMessage  `json:"cut_plan"` // null for none
	Bought   []bundledBought  `json:"bought"`
	Weather  []bundledWeather `json:"weather"`
}

type bundledVersion struct {
	Name     string `json:"name"`
	Document string `json:"document"`      // its file
	Log      string `json:"log,omitempty"` // the file of its log's document; version 1 had it in the version's
}

type bundledImport struct {
	Name     string `json:"name"`
	Version  int    `json:"version"` // from 1
	Readings string `json:"readings"`
	Read     int    `json:"read"`
	Added    int    `json:"added"`
	Changed  int    `json:"changed"`
	Replaces bool   `json:"replaces"`
	At       int64  `json:"at_ms"`
}

type bundledStretch struct {
	Lo  int64  `json:"from_ms"`
	Hi  int64  `json:"to_ms"`
	Why string `json:"why"`
	At  int64  `json:"at_ms"`
}

type bundledTest struct {
	Version int             `json:"version"` // from 1; 0 for one that is gone
	Kind    string          `json:"kind"`
	Made    int64           `json:"made_ms"`
	Entry   json.RawMessage `json:"entry"`
	Result  string          `json:"result"`
	At      int64           `json:"at_ms"`
}

type bundledNote struct {
	Step   string  `json:"step"`
	Note   string  `json:"note"`
	Cost   float64 `json:"cost"`
	Photo  string  `json:"photo"` // its file; empty for none
	Width  int     `json:"width"`
	Height int     `json:"height"`
	Moment int64   `json:"moment_ms"`
	At     int64   `json:"at_ms"`
}

type bundledStep struct {
	Step    string          `json:"step"`
	Done    int64           `json:"done_ms"`
	Minutes int64           `json:"minutes"`
	Entry   json.RawMessage `json:"entry"` // null for none
}

type bundledCut struct {
	Name   string  `json:"name"`
	Length float64 `json:"length_m" db:"length_m"`
	Width  float64 `json:"width_m" db:"width_m"`
	Done   int64   `json:"done"`
}

type bundledBought struct {
	What  string `json:"what"`
	Name  string `json:"name,omitempty"`
	Packs int64  `json:"packs"`
}

type bundledWeather struct {
	Sum  string `json:"sum"`
	Name string `json:"name"`
	File string `json:"file"`
}

// ExportHeater writes a heater as an archive.
func (s *Store) ExportHeater(ctx context.Context, heater int64, to io.Writer) error {
	q, err := s.db.Connx(ctx)
	if err != nil {
		return err
	}
	defer q.Close()
	if _, err := q.ExecContext(ctx, "BEGIN DEFERRED"); err != nil { // one state of all its tables, while others write
		return err
	}
	defer q.ExecContext(context.WithoutCancel(ctx), "ROLLBACK") //nolint:errcheck // it only reads
	x := &exporter{ctx: ctx, q: q, s: s, heater: heater, z: zip.NewWriter(to)}
	if err := x.all(); err != nil {
		return err
	}
	return x.z.Close()
}

// exporter writes an archive.
type exporter struct {
	ctx      context.Context
	q        querier
	s        *Store
	heater   int64
	z        *zip.Writer
	b        bundle
	versions map[int64]int // their numbers in the archive, from 1
}

// entry begins a file of the archive. All have the same date, so that the archive is the same every time.
func (x *exporter) entry(name string) (io.Writer, error) {
	return x.z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate, Modified: time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)})
}

// put writes a file of the archive.
func (x *exporter) put(name string, data []byte) error {
	w, err := x.entry(name)
	if err == nil {
		_, err = w.Write(data)
	}
	return err
}

func (x *exporter) all() error {
	x.b = bundle{Format: bundleFormat, Version: bundleVersion, Versions: []bundledVersion{}, Imports: []bundledImport{},
		Excluded: []bundledStretch{}, Tests: []bundledTest{}, Journal: []bundledNote{}, Steps: []bundledStep{}, Cuts: []bundledCut{},
		CutPlan: json.RawMessage("null"), Bought: []bundledBought{}, Weather: []bundledWeather{}}
	for _, part := range []func() error{x.documents, x.readings, x.tests, x.journal, x.built} {
		if err := part(); err != nil {
			return err
		}
	}
	text, err := json.MarshalIndent(&x.b, "", "  ")
	if err != nil {
		return err
	}
	return x.put("heater.json", append(text, '\n'))
}

// documents writes the versions as they stand, and the weather that they name.
func (x *exporter) documents() error {
	var rows []struct {
		ID      int64
		Name    string
		Current bool
	}
	if err := x.q.SelectContext(x.ctx, &rows, "SELECT v.id AS id, v.name AS name, v.id = h.current AS current FROM versions v JOIN "+
		"heaters h ON h.id = v.heater WHERE v.heater = ? ORDER BY v.id", x.heater); err != nil {
		return err
	}
	if len(rows) == 0 {
		return ErrNotFound
	}
	x.versions = map[int64]int{}
	for i, r := range rows {
		l, err := x.s.line(x.ctx, x.q, r.ID)
		if err != nil {
			return err
		}
		h, err := x.s.joined(l)
		if err != nil {
			return fmt.Errorf("version %s: %w", r.Name, err)
		}
		v := bundledVersion{r.Name, fmt.Sprintf("versions/%d.json", i+1), fmt.Sprintf("logs/%d.json", i+1)}
		x.versions[r.ID] = i + 1
		if r.Current {
			x.b.Current = i + 1
		}
		x.b.Versions = append(x.b.Versions, v)
		for _, part := range []struct {
			name string
			of   design.Document
		}{{v.Document, design.HeaterDocument}, {v.Log, design.LogDocument}} {
			text, err := h.Part(part.of)
			if err != nil {
				return err
			}
			if err := x.put(part.name, text); err != nil {
				return err
			}
		}
		if err := x.weather(h.Climate.File); err != nil {
			return err
		}
	}
	return nil
}

// weather writes a file of weather once.
func (x *exporter) weather(sum string) error {
	if sum == "" || slices.ContainsFunc(x.b.Weather, func(w bundledWeather) bool { return w.Sum == sum }) {
		return nil
	}
	name, data, err := x.s.Weather(x.ctx, sum)
	if errors.Is(err, ErrNotFound) {
		return nil // the page says that it is gone
	}
	if err != nil {
		return err
	}
	w := bundledWeather{sum, name, fmt.Sprintf("weather/%d.csv", len(x.b.Weather)+1)}
	x.b.Weather = append(x.b.Weather, w)
	return x.put(w.File, data)
}

// readings writes the log's files in the order of their imports, since later ones may lie over earlier ones.
func (x *exporter) readings() error {
	var imports []Import
	if err := x.q.SelectContext(x.ctx, &imports, "SELECT "+importColumns+" FROM imports WHERE gone = 0 AND heater = ? ORDER BY id",
		x.heater); err != nil {
		return err
	}
	for i, imp := range imports {
		name := fmt.Sprintf("readings/%d.csv", i+1)
		x.b.Imports = append(x.b.Imports, bundledImport{imp.Name, x.versions[imp.Version], name, imp.Read, imp.Added, imp.Changed,
			imp.Replaces,
			imp.At})
		w, err := x.entry(name)
		if err != nil {
			return err
		}
		if err := x.readingsOf(imp.ID, w); err != nil {
			return err
		}
	}
	return x.q.SelectContext(x.ctx, &x.b.Excluded, "SELECT lo, hi, why, at FROM log_excluded WHERE heater = ? ORDER BY lo, hi, id",
		x.heater)
}

// stampForm writes a moment to the millisecond, in UTC.
const stampForm = "2006-01-02T15:04:05.000Z"

// readingsOf writes one import, day by day.
func (x *exporter) readingsOf(id int64, to io.Writer) error {
	w := csv.NewWriter(to)
	if err := w.Write(append([]string{"time"}, series...)); err != nil {
		return err
	}
	var days []int64
	if err := x.q.SelectContext(x.ctx, &days, "SELECT DISTINCT day FROM log_blocks WHERE import = ? ORDER BY day", id); err != nil {
		return err
	}
	row := make([]string, 1+len(series))
	for _, day := range days {
		var blocks []blockRow
		if err := x.q.SelectContext(x.ctx, &blocks,
			"SELECT series, day, count, block FROM log_blocks WHERE import = ? AND day = ? ORDER BY "+
				"series", id, day); err != nil {
			return err
		}
		samples, err := dayOf(nil, blocks, math.MinInt64, math.MaxInt64)
		if err != nil {
			return err
		}
		for i := range samples {
			row[0] = samples[i].At.UTC().Format(stampForm)
			for q := range series {
				row[1+q] = ""
				if v := *measure.Quantities[q].Of(&samples[i]); !math.IsNaN(v) {
					row[1+q] = strconv.FormatFloat(v, 'f', -1, 64)
				}
			}
			if err := w.Write(row); err != nil {
				return err
			}
		}
	}
	w.Flush()
	return w.Error()
}

// raw is text as JSON, or a string of it where it is none.
func raw(text string) json.RawMessage {
	if json.Valid([]byte(text)) {
		var b bytes.Buffer
		if json.Compact(&b, []byte(text)) == nil {
			return b.Bytes()
		}
	}
	if text == "" {
		return json.RawMessage("null")
	}
	b, _ := json.Marshal(text) // a string always can be
	return b
}

// text is [raw] backwards.
func text(r json.RawMessage) string {
	var s string
	switch {
	case len(r) == 0 || string(r) == "null":
		return ""
	case r[0] == '"' && json.Unmarshal(r, &s) == nil:
		return s
	}
	var b bytes.Buffer
	if json.Compact(&b, r) != nil {
		return ""
	}
	return b.String()
}

func (x *exporter) tests() error {
	list, err := x.s.Trials(x.ctx, x.heater)
	if err != nil {
		return err
	}
	slices.Reverse(list) // the first one first
	for _, t := range list {
		x.b.Tests = append(x.b.Tests, bundledTest{x.versions[t.Version], t.Kind, t.Made, raw(t.Entry), t.Result, t.Made})
	}
	return nil
}

func (x *exporter) journal() error {
	var rows []struct {
		Note
		Photo []byte
	}
	if err := x.q.SelectContext(x.ctx, &rows,
		"SELECT id, step, note, cost, photo, width, height, moment, at FROM journal WHERE heater = ? "+
			"AND gone = 0 ORDER BY at, id", x.heater); err != nil {
		return err
	}
	for i, r := range rows {
		n := bundledNote{Step: r.Step, Note: r.Note.Note, Cost: r.Cost, Width: r.Width, Height: r.Height, Moment: r.Moment, At: r.At}
		if r.Photo != nil {
			n.Photo = fmt.Sprintf("photos/%d.jpg", i+1)
			if err := x.put(n.Photo, r.Photo); err != nil {
				return err
			}
		}
		x.b.Journal = append(x.b.Journal, n)
	}
	return nil
}

// built is what is built, cut and bought.
func (x *exporter) built() error {
	var steps []struct {
		Step    string
		Done    int64
		Minutes int64
		Entry   string
	}
	if err := x.q.SelectContext(x.ctx, &steps, "SELECT step, done, minutes, entry FROM steps WHERE heater = ? ORDER BY done, step",
		x.heater); err != nil {
		return err
	}
	for _, r := range steps {
		x.b.Steps = append(x.b.Steps, bundledStep{r.Step, r.Done, r.Minutes, raw(r.Entry)})
	}
	if err := x.q.SelectContext(x.ctx, &x.b.Cuts,
		"SELECT name, length_m, width_m, done FROM cuts WHERE heater = ? ORDER BY name, length_m, "+
			"width_m", x.heater); err != nil {
		return err
	}
	var plan []string
	if err := x.q.SelectContext(x.ctx, &plan, "SELECT record FROM cut_records WHERE heater = ?", x.heater); err != nil {
		return err
	}
	if len(plan) > 0 {
		x.b.CutPlan = raw(plan[0])
	}
	return x.q.SelectContext(x.ctx, &x.b.Bought, "SELECT what, name, packs FROM bought WHERE heater = ? ORDER BY what", x.heater)
}

// ImportHeater adds the heater of an archive to the workshop. What is damaged, of a newer version or no archive of a heater is refused, and
// changes nothing.
func (s *Store) ImportHeater(ctx context.Context, file io.ReaderAt, size int64) (State, error) {
	x, err := newImporter(file, size)
	if err != nil {
		return State{}, err
	}
	if err := x.read(); err != nil {
		return State{}, err
	}
	for _, w := range x.b.Weather {
		sum, err := s.PutWeather(ctx, w.Name, x.weather[w.Sum])
		if err != nil {
			return State{}, err
		}
		if sum != w.Sum {
			return State{}, refusal("the weather file %s does not have its sum", w.Name)
		}
	}
	var id int64
	err = s.tx(ctx, func(q *sqlx.Tx) error {
		id, err = x.write(ctx, s, q)
		return err
	})
	if err != nil {
		return State{}, fmt.Errorf("taking in the heater: %w", err)
	}
	return s.Get(ctx, id)
}

// ErrBundle is wrapped by what is said of an archive that cannot be taken in.
var ErrBundle = errors.New("this file cannot be taken in as a heater")

func refusal(format string, args ...any) error {
	return fmt.Errorf("%w: %s; choose a file that Glad Ember wrote", ErrBundle, fmt.Sprintf(format, args...))
}

// importer reads an archive.
type importer struct {
	files     map[string]*zip.File
	left      int64 // bytes that may still be unpacked
	b         bundle
	documents []design.Heater
	batches   []*Batch
	photos    map[string][]byte
	weather   map[string][]byte
}

// newImporter looks at the list of an archive: every name must be one that an archive of a heater can have.
func newImporter(file io.ReaderAt, size int64) (*importer, error) {
	z, err := zip.NewReader(file, size)
	if err != nil {
		return nil, refusal("it is no zip archive, or it is damaged")
	}
	if len(z.File) > maxEntries {
		return nil, refusal("it holds %d files", len(z.File))
	}
	x := &importer{files: map[string]*zip.File{}, left: maxUnpacked, photos: map[string][]byte{}, weather: map[string][]byte{}}
	for _, f := range z.File {
		dir, rest, nested := strings.Cut(f.Name, "/")
		switch {
		case f.Name == "heater.json":
		case nested && rest != "" && !strings.ContainsAny(rest, `/\:`) && !strings.Contains(rest, "..") &&
			(dir == "versions" || dir == "logs" || dir == "readings" || dir == "photos" || dir == "weather"):
		default:
			return nil, refusal("it holds %q, which is no part of a heater", clipped(f.Name))
		}
		if x.files[f.Name] != nil {
			return nil, refusal("it holds %s twice", f.Name)
		}
		x.files[f.Name] = f
	}
	return x, nil
}

func clipped(s string) string {
	if r := []rune(s); len(r) > 60 {
		return string(r[:60]) + "…"
	}
	return s
}

// open opens a file of the archive, of which so many bytes may be read, and of a line so many.
func (x *importer) open(name string, most int64, row int) (io.ReadCloser, error) {
	f := x.files[name]
	if f == nil {
		return nil, refusal("%s is missing in it", clipped(name))
	}
	r, err := f.Open()
	if err != nil {
		return nil, refusal("%s in it is damaged", name)
	}
	return struct {
		io.Reader
		io.Closer
	}{&rationed{r: r, x: x, most: most, name: name, row: row}, r}, nil
}

// rationed reads no more than there is left: an archive of kilobytes may unpack to terabytes.
type rationed struct {
	r    io.Reader
	x    *importer
	most int64
	name string
	row  int // bytes that a line may have; 0 for any
	now  int // bytes of the line that is being read
}

// Read implements [io.Reader].
func (r *rationed) Read(b []byte) (int, error) {
	n, err := r.r.Read(b)
	r.most -= int64(n)
	r.x.left -= int64(n)
	if r.most < 0 || r.x.left < 0 {
		return 0, refusal("%s in it unpacks to too much", r.name)
	}
	for _, c := range b[:n] {
		if r.now++; c == '\n' {
			r.now = 0
		} else if r.row > 0 && r.now > r.row {
			return 0, refusal("%s in it has a line of over %d letters", r.name, r.row)
		}
	}
	if err != nil && err != io.EOF {
		return n, refusal("%s in it is damaged", r.name)
	}
	return n, err
}

// all reads a file of the archive whole.
func (x *importer) all(name string, most int64) ([]byte, error) {
	r, err := x.open(name, most, 0)
	if err != nil {
		return nil, err
	}
	defer r.Close()
	return io.ReadAll(r)
}

// read reads and checks all of the archive, before anything is written.
func (x *importer) read() error {
	text, err := x.all("heater.json", maxManifest)
	if err != nil {
		return err
	}
	var head struct {
		Format  string `json:"format"`
		Version int    `json:"version"`
	}
	if err := json.Unmarshal(text, &head); err != nil || head.Format != bundleFormat {
		return refusal("its heater.json is not that of a heater")
	}
	if head.Version > bundleVersion {
		return fmt.Errorf("%w: it was written by a newer program (version %d, this one knows %d); update the program", ErrBundle,
			head.Version, bundleVersion)
	}
	d := json.NewDecoder(bytes.NewReader(text))
	d.DisallowUnknownFields()
	if err := d.Decode(&x.b); err != nil {
		return refusal("its heater.json is damaged (%v)", err)
	}
	for _, part := range []func() error{x.readVersions, x.readImports, x.readRest} {
		if err := part(); err != nil {
			return err
		}
	}
	return nil
}

func (x *importer) readVersions() error {
	n := len(x.b.Versions)
	if n == 0 || n > maxVersions || x.b.Current < 1 || x.b.Current > n {
		return refusal("it has %d versions, of which number %d is open", n, x.b.Current)
	}
	names := map[string]bool{}
	for _, v := range x.b.Versions {
		if !nameable(v.Name) || names[v.Name] {
			return refusal("a version cannot be named %q", clipped(v.Name))
		}
		names[v.Name] = true
		doc, err := x.all(v.Document, maxDocument)
		if err != nil {
			return err
		}
		h, err := design.Decode(doc)
		if err != nil {
			return fmt.Errorf("%w: version %s: %w", ErrBundle, v.Name, err)
		}
		if err := x.readLog(&h, v); err != nil {
			return err
		}
		x.documents = append(x.documents, h)
	}
	return nil
}

// readLog puts a version's log into its heater. A file of version 1 holds the log and the workshop with the heater; a later one holds no
// workshop, which is that of whoever takes it in.
func (x *importer) readLog(h *design.Heater, v bundledVersion) error {
	if x.b.Version == 1 {
		return nil
	}
	err := h.Replace(design.WorkshopDocument, nil)
	if err == nil && v.Log != "" {
		var text []byte
		if text, err = x.all(v.Log, maxDocument); err == nil {
			err = h.Replace(design.LogDocument, text)
		}
	}
	if err != nil && !errors.Is(err, ErrBundle) {
		err = fmt.Errorf("%w: the log of version %s: %w", ErrBundle, v.Name, err)
	}
	return err
}

func (x *importer) readImports() error {
	for _, i := range x.b.Imports {
		if i.Version < 1 || i.Version > len(x.b.Versions) || len(i.Name) > 400 {
			return refusal("the readings %s belong to no version of it", clipped(i.Name))
		}
		b, err := x.readings(i.Readings)
		if err != nil {
			return err
		}
		x.batches = append(x.batches, b)
	}
	return nil
}

// readings reads a CSV of the archive.
func (x *importer) readings(name string) (*Batch, error) {
	r, err := x.open(name, maxReadings, maxRow)
	if err != nil {
		return nil, err
	}
	defer r.Close()
	c := csv.NewReader(r)
	c.FieldsPerRecord, c.ReuseRecord = 1+len(series), true
	head, err := c.Read()
	if errors.Is(err, ErrBundle) {
		return nil, err
	}
	if err != nil || head[0] != "time" || !slices.Equal(head[1:], series) {
		return nil, refusal("%s in it has other columns", name)
	}
	b := &Batch{}
	for {
		row, err := c.Read()
		if err == io.EOF {
			return b, nil
		}
		if err != nil {
			if errors.Is(err, ErrBundle) {
				return nil, err
			}
			return nil, refusal("%s in it cannot be read (%v)", name, err)
		}
		at, err := time.Parse(stampForm, row[0])
		if err != nil || at.Year() < 1970 || at.Year() > 2200 {
			return nil, refusal("%s in it has the time %q", name, clipped(row[0]))
		}
		s := measure.Sample{At: at}
		for q := range series {
			v := math.NaN()
			if row[1+q] != "" {
				if v, err = strconv.ParseFloat(row[1+q], 64); err != nil {
					return nil, refusal("%s in it has the value %q", name, clipped(row[1+q]))
				}
			}
			*measure.Quantities[q].Of(&s) = v
		}
		if err := b.Add(s); err != nil {
			return nil, err
		}
	}
}

func (x *importer) readRest() error {
	for _, n := range x.b.Journal {
		if n.Photo == "" {
			continue
		}
		p, err := x.all(n.Photo, maxPicture)
		if err != nil {
			return err
		}
		c, err := jpeg.DecodeConfig(bytes.NewReader(p))
		if err != nil || c.Width != n.Width || c.Height != n.Height {
			return refusal("%s in it is no photo of its size", n.Photo)
		}
		x.photos[n.Photo] = p
	}
	for _, w := range x.b.Weather {
		data, err := x.all(w.File, maxWeather)
		if err != nil {
			return err
		}
		x.weather[w.Sum] = data
	}
	for _, t := range x.b.Tests {
		if t.Version < 0 || t.Version > len(x.b.Versions) {
			return refusal("a test belongs to no version of it")
		}
	}
	for _, e := range x.b.Excluded {
		if e.Hi <= e.Lo {
			return refusal("a stretch of its log ends before it begins")
		}
	}
	for _, c := range x.b.Cuts {
		if c.Done <= 0 {
			return refusal("a part of it was cut %d times", c.Done)
		}
	}
	for _, b := range x.b.Bought {
		if b.Packs <= 0 {
			return refusal("%d packs of something were bought", b.Packs)
		}
	}
	return nil
}

// write adds the heater.
func (x *importer) write(ctx context.Context, s *Store, q *sqlx.Tx) (heater int64, err error) {
	r, err := q.ExecContext(ctx, "INSERT INTO heaters (created) VALUES (?)", s.now().UnixMilli())
	if err != nil {
		return 0, err
	}
	if heater, err = r.LastInsertId(); err != nil {
		return 0, err
	}
	ids := make([]int64, 1+len(x.documents)) // by number, 0 for none
	for i := range x.documents {
		h := &x.documents[i]
		if ids[i+1], err = s.addVersion(ctx, q, heater, x.b.Versions[i].Name, "taken in from a file", "", h); err != nil {
			return 0, err
		}
		if err := s.adopt(ctx, q, h); err != nil {
			return 0, err
		}
	}
	if _, err := q.ExecContext(ctx, "UPDATE heaters SET current = ? WHERE id = ?", ids[x.b.Current], heater); err != nil {
		return 0, err
	}
	for i, b := range x.b.Imports {
		imp := Import{Name: b.Name, Read: b.Read, Added: b.Added, Changed: b.Changed, Replaces: b.Replaces, At: b.At}
		if _, err := putImport(ctx, q, Logged{heater, ids[b.Version]}, imp, x.batches[i]); err != nil {
			return 0, err
		}
	}
	return heater, x.writeRest(ctx, q, heater, ids)
}

// writeRest adds what belongs to the heater besides its versions and readings.
func (x *importer) writeRest(ctx context.Context, q *sqlx.Tx, heater int64, ids []int64) error {
	type row struct {
		query string
		args  []any
	}
	var rows []row
	add := func(query string, args ...any) { rows = append(rows, row{query, append([]any{heater}, args...)}) }
	for _, e := range x.b.Excluded {
		add("INSERT INTO log_excluded (heater, lo, hi, why, at) VALUES (?, ?, ?, ?, ?)", e.Lo, e.Hi, e.Why, e.At)
	}
	for _, t := range x.b.Tests {
		add("INSERT INTO trials (heater, version, kind, made, entry, result, at) VALUES (?, ?, ?, ?, ?, ?, ?)", ids[t.Version], t.Kind,
			t.Made,
			text(t.Entry), t.Result, t.At)
	}
	for _, n := range x.b.Journal {
		add("INSERT INTO journal (heater, step, note, cost, photo, width, height, moment, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)", n.Step,
			n.Note,
			n.Cost, x.photos[n.Photo], n.Width, n.Height, n.Moment, n.At)
	}
	for _, t := range x.b.Steps {
		add("INSERT INTO steps (heater, step, done, minutes, entry) VALUES (?, ?, ?, ?, ?)", t.Step, t.Done, t.Minutes, text(t.Entry))
	}
	for _, c := range x.b.Cuts {
		add("INSERT INTO cuts (heater, name, length_m, width_m, done) VALUES (?, ?, ?, ?, ?)", c.Name, c.Length, c.Width, c.Done)
	}
	if plan := text(x.b.CutPlan); plan != "" {
		add("INSERT INTO cut_records (heater, record) VALUES (?, ?)", plan)
	}
	for _, b := range x.b.Bought {
		add("INSERT INTO bought (heater, what, name, packs) VALUES (?, ?, ?, ?)", b.What, b.Name, b.Packs)
	}
	for _, r := range rows {
		if _, err := q.ExecContext(ctx, r.query, r.args...); err != nil {
			return err
		}
	}
	return nil
}
