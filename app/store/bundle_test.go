package store

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"errors"
	"image"
	"image/jpeg"
	"io"
	"math"
	"strings"
	"testing"
	"time"

	"gladember/core/design"
	"gladember/core/measure"
	"gladember/core/units"
)

// whole is a heater with something of everything.
func whole(t *testing.T, s *Store) State {
	t.Helper()
	sum := must2(s.PutWeather(bg, "valley.epw", []byte("LOCATION,Valley\n")))(t)
	h := must2(design.Apply(design.New(), units.System{}, design.Set(design.HeaterName, "Shed <north> \"heater\""),
		design.Set(design.ClimateFile, sum)))(t)
	st := must2(s.Create(bg, h))(t)
	at := time.Date(2026, 2, 10, 23, 0, 0, 250e6, time.UTC)
	must2(s.AddReadings(bg, st.Logged(), "first.csv", batch(t, samples(300, at)), false))(t)
	b := must2(s.Branch(bg, st.Seen()))(t)
	b = must2(s.Edit(bg, b.Seen(), "foam", units.System{}, design.Set(design.BoxBackFoam, 0.04)))(t).State
	over := samples(200, at.Add(time.Hour))
	for i := range over {
		over[i].Outlet += 1.0 / 3
		over[i].Sun = math.NaN()
	}
	must2(s.AddReadings(bg, b.Logged(), "second.csv", batch(t, over), true))(t)
	if err := s.AddByHand(bg, b.Logged(), measure.Sample{At: at, Inlet: 18.1, Outlet: 39.7, Outdoor: -2, Sun: math.NaN(),
		Speed: math.NaN()}); err != nil {
		t.Fatal(err)
	}
	var photo bytes.Buffer
	if err := jpeg.Encode(&photo, image.NewGray(image.Rect(0, 0, 40, 30)), nil); err != nil {
		t.Fatal(err)
	}
	must2(s.AddNote(bg, st.Heater, Note{Note: "with a photo", Step: "paint", Cost: 4.25, Width: 40, Height: 30}, photo.Bytes()))(t)
	must2(s.AddNote(bg, st.Heater, Note{Note: "snow slid off", Moment: at.UnixMilli()}, nil))(t)
	must2(s.AddTrial(bg, st.Heater, Trial{Version: b.Version, Kind: "bag", Made: at.UnixMilli(), Entry: `{"volume":[0.2]}`,
		Result: "36 m³/h"}))(t)
	must2(s.AddTrial(bg, st.Heater, Trial{Version: st.Version, Kind: "leak", Made: at.UnixMilli() - 1, Entry: `x`, Result: "small"}))(t)
	if err := errors.Join(s.Exclude(bg, st.Heater, at, at.Add(time.Hour), "a cloud")); err != nil {
		t.Fatal(err)
	}
	for _, q := range []string{"INSERT INTO steps VALUES (?, 'paint', 5, 40, '{\"a\":1}')",
		"INSERT INTO cuts VALUES (?, 'side board', 1.5, 0.1, 2)",
		"INSERT INTO cut_records VALUES (?, '{\"bars\":[]}')", "INSERT INTO bought VALUES (?, 'foam', 3, 'foam board')"} {
		if _, err := s.db.Exec(q, st.Heater); err != nil {
			t.Fatal(q, err)
		}
	}
	return b
}

func exported(t *testing.T, s *Store, heater int64) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := s.ExportHeater(bg, heater, &b); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// A heater that is written to a file, read in another workshop and written again gives the same file; its log is the same, its versions,
// notes and tests are.
func TestHeaterOutAndIn(t *testing.T) {
	s, _ := fresh(t)
	st := whole(t, s)
	first := exported(t, s, st.Heater)
	if again := exported(t, s, st.Heater); !bytes.Equal(first, again) {
		t.Error("written twice, it differs")
	}
	other, _ := fresh(t)
	must2(other.Create(bg, design.New()))(t)
	in := must2(other.ImportHeater(bg, bytes.NewReader(first), int64(len(first))))(t)
	if back := exported(t, other, in.Heater); !bytes.Equal(first, back) {
		t.Errorf("%d bytes, read and written %d", len(first), len(back))
	}
	if in.Name != st.Name || len(in.Versions) != 2 || in.Document.Box.BackFoam != 0.04 || in.Document.Name != "Shed <north> \"heater\"" {
		t.Errorf("%+v", in.Versions)
	}
	from := time.Date(2026, 2, 10, 0, 0, 0, 0, time.UTC)
	want, got := must2(s.Readings(bg, st.Logged(), from, from.AddDate(0, 0, 3)))(t), must2(other.Readings(bg, in.Logged(), from,
		from.AddDate(0, 0, 3)))(t)
	if len(want) != len(got) || len(got) < 200 {
		t.Fatalf("%d readings, %d", len(want), len(got))
	}
	for i := range want {
		if !same(want[i], got[i]) {
			t.Fatalf("reading %d: %+v, was %+v", i, got[i], want[i])
		}
	}
	if _, data, err := other.Weather(bg, in.Document.Climate.File); err != nil || string(data) != "LOCATION,Valley\n" {
		t.Errorf("weather %q, %v", data, err)
	}
	if ns := must2(other.Notes(bg, in.Heater))(t); len(ns) != 2 {
		t.Errorf("%+v", ns)
	}
}

// rezip changes the files of an archive.
func rezip(t *testing.T, archive []byte, change func(name string, data []byte) (string, []byte)) []byte {
	t.Helper()
	z := must2(zip.NewReader(bytes.NewReader(archive), int64(len(archive))))(t)
	var b bytes.Buffer
	w := zip.NewWriter(&b)
	for _, f := range z.File {
		r := must2(f.Open())(t)
		name, data := change(f.Name, must2(io.ReadAll(r))(t))
		if name == "" {
			continue
		}
		if _, err := must2(w.Create(name))(t).Write(data); err != nil {
			t.Fatal(err)
		}
	}
	w.Close()
	return b.Bytes()
}

// What is newer, damaged, too large or would write elsewhere is refused in words, and the workshop stays as it was.
func TestHeaterFilesAreRefused(t *testing.T) {
	if testing.Short() {
		t.Skip("whole files are copied: it runs without the race detector")
	}
	s, _ := fresh(t)
	st := whole(t, s)
	good := exported(t, s, st.Heater)
	manifest := func(change func(m map[string]any)) []byte {
		return rezip(t, good, func(name string, data []byte) (string, []byte) {
			if name != "heater.json" {
				return name, data
			}
			var m map[string]any
			if err := json.Unmarshal(data, &m); err != nil {
				t.Fatal(err)
			}
			change(m)
			return name, must2(json.Marshal(m))(t)
		})
	}
	swap := func(old, now string) []byte {
		return rezip(t, good, func(name string, data []byte) (string, []byte) {
			if name == old {
				name = now
			}
			return name, data
		})
	}
	content := func(of string, data []byte) []byte {
		return rezip(t, good, func(name string, was []byte) (string, []byte) {
			if name == of {
				return name, data
			}
			return name, was
		})
	}
	cut := bytes.Clone(good)
	cut[len(cut)/3] ^= 0xff
	bomb := bytes.Repeat([]byte("2026-02-10T12:00:00.000Z,18,40,,,\n"), 200_000)
	defer func(was int64) { maxUnpacked = was }(maxUnpacked)
	maxUnpacked = 4 << 20
	for name, x := range map[string]struct {
		archive []byte
		want    string
	}{
		"newer":             {manifest(func(m map[string]any) { m["version"] = bundleVersion + 1 }), "update the program"},
		"of something else": {manifest(func(m map[string]any) { m["format"] = "song" }), "not that of a heater"},
		"with more":         {manifest(func(m map[string]any) { m["colour"] = "red" }), "damaged"},
		"no archive":        {[]byte("PK\x03\x04 but no more"), "no zip archive"},
		"cut off":           {good[:len(good)/2], "no zip archive"},
		"a byte wrong":      {cut, "choose a file"},
		"a path up":         {swap("photos/1.jpg", "photos/../../w.db"), "no part of a heater"},
		"an absolute path":  {swap("photos/1.jpg", "/etc/passwd"), "no part of a heater"},
		"a drive":           {swap("photos/1.jpg", `photos/C:\x`), "no part of a heater"},
		"one missing":       {swap("versions/2.json", "versions/3.json"), "versions/2.json is missing"},
		"a bomb": {content("readings/1.csv", append([]byte("time,inlet,outlet,outdoor,sun,speed\n"), bomb...)),
			"unpacks to too much"},
		"a long line":   {content("readings/1.csv", bytes.Repeat([]byte("x"), 1<<20)), "a line of over"},
		"other columns": {content("readings/1.csv", []byte("a,b\n1,2\n")), "other columns"},
		"a script":      {content("photos/1.jpg", []byte("<svg onload=alert(1)>")), "no photo"},
		"no document":   {content("versions/1.json", []byte("{}")), "version A"},
		"no version":    {manifest(func(m map[string]any) { m["versions"] = []any{} }), "0 versions"},
	} {
		before := len(must2(s.Heaters(bg))(t))
		_, err := s.ImportHeater(bg, bytes.NewReader(x.archive), int64(len(x.archive)))
		if !errors.Is(err, ErrBundle) || !strings.Contains(err.Error(), x.want) {
			t.Errorf("%s: %v, want %q", name, err, x.want)
		}
		if after := len(must2(s.Heaters(bg))(t)); after != before {
			t.Errorf("%s: a heater was added", name)
		}
	}
}

func FuzzBundle(f *testing.F) {
	f.Add([]byte(`{"format":"gladember heater","version":1,"current":1,"versions":[{"name":"A","document":"versions/1.json"}]}`),
		[]byte("time,inlet,outlet,outdoor,sun,speed\n2026-02-10T12:00:00.000Z,18,40,,,\n"))
	doc, err := design.Encode(design.New())
	if err != nil {
		f.Fatal(err)
	}
	f.Fuzz(func(t *testing.T, manifest, readings []byte) {
		var b bytes.Buffer
		z := zip.NewWriter(&b)
		for name, data := range map[string][]byte{"heater.json": manifest, "versions/1.json": doc, "readings/1.csv": readings} {
			w, _ := z.Create(name)
			_, _ = w.Write(data)
		}
		z.Close()
		x, err := newImporter(bytes.NewReader(b.Bytes()), int64(b.Len()))
		if err != nil {
			t.Fatal(err)
		}
		if err := x.read(); err != nil && !errors.Is(err, ErrBundle) {
			t.Fatal(err)
		}
	})
}
