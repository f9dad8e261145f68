package store

import (
	"strings"
	"testing"
	"time"

	"gladember/core/design"
)

// Tests, excluded stretches and waiting files belong to one heater alone and go with it; a test that was removed comes back; a profile
// serves every heater and is replaced by the next.
func TestMeasuringBelongsToItsHeater(t *testing.T) {
	s, _ := fresh(t)
	a := made(s.Create(bg, design.New())).Heater
	b := made(s.Create(bg, design.New())).Heater
	at := time.Date(2026, 2, 10, 12, 0, 0, 0, time.UTC)
	var ids []int64
	for i, kind := range []string{"bag", "quick"} {
		id, err := s.AddTrial(bg, a, Trial{Version: 1, Kind: kind, Made: at.Add(time.Duration(i) * time.Hour).UnixMilli(), Entry: "{}",
			Result: "36 m³/h"})
		if err != nil {
			t.Fatal(err)
		}
		ids = append(ids, id)
	}
	kinds := func(heater int64) (out []string) {
		list, err := s.Trials(bg, heater)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range list {
			out = append(out, x.Kind)
		}
		return out
	}
	if got := kinds(a); len(got) != 2 || got[0] != "quick" || len(kinds(b)) != 0 {
		t.Errorf("%v, of the other %v", got, kinds(b))
	}
	if err := s.DropTrial(bg, b, ids[0], false); err != nil || len(kinds(a)) != 2 {
		t.Errorf("another heater removed a test: %v", err)
	}
	if err := s.DropTrial(bg, a, ids[0], false); err != nil || len(kinds(a)) != 1 {
		t.Errorf("%v, %v", kinds(a), err)
	}
	if err := s.DropTrial(bg, a, ids[0], true); err != nil || len(kinds(a)) != 2 {
		t.Errorf("%v, %v", kinds(a), err)
	}

	if err := s.Exclude(bg, a, at, at.Add(time.Hour), "a cloud"); err != nil {
		t.Fatal(err)
	}
	if err := s.Exclude(bg, a, at.Add(-time.Hour), at, ""); err != nil {
		t.Fatal(err)
	}
	out, err := s.Excluded(bg, a)
	if err != nil || len(out) != 2 || !out[0].From().Equal(at.Add(-time.Hour)) || out[1].Why != "a cloud" ||
		!out[1].To().Equal(at.Add(time.Hour)) {
		t.Fatalf("%+v, %v", out, err)
	}
	if err := s.Include(bg, b, out[0].ID); err != nil {
		t.Fatal(err)
	}
	if err := s.Include(bg, a, out[1].ID); err != nil {
		t.Fatal(err)
	}
	if out, _ = s.Excluded(bg, a); len(out) != 1 {
		t.Errorf("%+v", out)
	}

	for _, name := range []string{"one.csv", "two.csv"} {
		if _, err := s.PutUpload(bg, a, name, strings.NewReader(name)); err != nil {
			t.Fatal(err)
		}
	}
	first, err := s.NextUpload(bg, a)
	if err != nil || first == 0 {
		t.Fatal(first, err)
	}
	if u, err := s.GetUpload(bg, a, first); err != nil || u.Name != "one.csv" {
		t.Errorf("%+v, %v", u, err)
	}
	if err := s.DropUpload(bg, first); err != nil {
		t.Fatal(err)
	}
	if next, _ := s.NextUpload(bg, a); next == 0 || next == first {
		t.Errorf("the next file is %d", next)
	}
	if err := s.DropUploads(bg, a); err != nil {
		t.Fatal(err)
	}
	if next, _ := s.NextUpload(bg, a); next != 0 {
		t.Errorf("%d still waits", next)
	}

	for _, m := range []string{`{"Header":true}`, `{"Header":false}`} {
		if err := s.SetProfile(bg, "time,in,out", m); err != nil {
			t.Fatal(err)
		}
	}
	if m, err := s.Profile(bg, "time,in,out"); err != nil || m != `{"Header":false}` {
		t.Errorf("%q, %v", m, err)
	}
	if m, err := s.Profile(bg, "other"); err != nil || m != "" {
		t.Errorf("%q, %v", m, err)
	}

	of := Logged{a, must2(s.Get(bg, a))(t).Version}
	for stamp, days := range map[string][]string{"one": {"2026-02-10"}, "two": {"2026-02-10", "2026-02-11"}} {
		if err := s.SetLogDays(bg, of, stamp, days, nil); err != nil {
			t.Fatal(err)
		}
		if got, ok, err := s.LogDays(bg, of, stamp); err != nil || !ok || len(got) != len(days) {
			t.Errorf("%v, %v, %v", got, ok, err)
		}
		if _, ok, _ := s.LogDays(bg, of, "another"); ok {
			t.Error("days of another stamp were taken")
		}
	}
}
