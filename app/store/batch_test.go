package store

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"gladember/core/design"
	"gladember/core/measure"
)

// Readings added in any order, days apart and twice, come to the log as if they had been sorted, the first of a time counting.
func TestBatchInAnyOrder(t *testing.T) {
	if testing.Short() {
		t.Skip("thousands of blocks: it runs without the race detector")
	}
	r := rand.New(rand.NewPCG(81, 82))
	s, _ := fresh(t)
	for n := range 20 {
		st := must2(s.Create(bg, design.New()))(t)
		from := time.Date(2025, 12, 30, 0, 0, 0, 0, time.UTC)
		first := map[int64]float64{}
		b := &Batch{}
		for range 400 {
			at := from.Add(time.Duration(r.IntN(100)) * 24 * time.Hour).Add(time.Duration(r.IntN(300)) * 5 * time.Minute)
			x := measure.Sample{At: at, Inlet: 20, Outlet: float64(r.IntN(80)), Outdoor: math.NaN(), Sun: math.NaN(), Speed: math.NaN()}
			if err := b.Add(x); err != nil {
				t.Fatal(err)
			}
			if _, there := first[at.UnixMilli()]; !there {
				first[at.UnixMilli()] = x.Outlet
			}
		}
		if n > 10 { // a preview counts as the whole batch does
			must2(s.AddReadings(bg, st.Logged(), "some.csv", batch(t, samples(400, from.AddDate(0, 0, 3))), false))(t)
			p := must2(s.Preview(bg, st.Logged()))(t)
			for at, v := range first {
				nan := math.NaN()
				if err := p.Add(measure.Sample{At: time.UnixMilli(at), Inlet: 20, Outlet: v, Outdoor: nan, Sun: nan,
					Speed: nan}); err != nil {
					t.Fatal(err)
				}
			}
			a, c := must2(s.CompareReadings(bg, st.Logged(), b))(t), must2(s.CompareReadings(bg, st.Logged(), p))(t)
			if a.New != c.New || a.Same != c.Same || a.Different != c.Different {
				t.Fatalf("run %d: %+v, the preview %+v", n, a, c)
			}
			continue
		}
		imp := must2(s.AddReadings(bg, st.Logged(), "any.csv", b, false))(t)
		if imp.Read != 400 || imp.Added != 2*len(first) {
			t.Fatalf("run %d: %+v, of %d", n, imp, len(first))
		}
		got := must2(s.Readings(bg, st.Logged(), from, from.AddDate(0, 0, 101)))(t)
		if len(got) != len(first) || !slices.IsSortedFunc(got, func(x, y measure.Sample) int { return x.At.Compare(y.At) }) {
			t.Fatalf("run %d: %d readings of %d", n, len(got), len(first))
		}
		for _, x := range got {
			if first[x.At.UnixMilli()] != x.Outlet {
				t.Fatalf("run %d: %v at %v, the first was %v", n, x.Outlet, x.At, first[x.At.UnixMilli()])
			}
		}
	}
}

// Readings belong to the version that made them, and move to another one whole.
func TestReadingsOfVersions(t *testing.T) {
	s, _ := fresh(t)
	a := must2(s.Create(bg, design.New()))(t)
	at := time.Date(2026, 2, 10, 12, 0, 0, 0, time.UTC)
	imp := must2(s.AddReadings(bg, a.Logged(), "one.csv", batch(t, samples(10, at)), false))(t)
	b := must2(s.Branch(bg, a.Seen()))(t)
	count := func(of Logged) int { return len(must2(s.Readings(bg, of, at, at.Add(time.Hour)))(t)) }
	if count(a.Logged()) != 10 || count(b.Logged()) != 0 {
		t.Errorf("%d and %d readings", count(a.Logged()), count(b.Logged()))
	}
	// The same file for the new version is new there.
	if again := must2(s.AddReadings(bg, b.Logged(), "one.csv", batch(t, samples(10, at)), false))(t); again.ID == 0 {
		t.Error("a version's file was taken for another's")
	}
	if err := s.SetImportVersion(bg, a.Heater, imp.ID, b.Version); err != nil {
		t.Fatal(err)
	}
	if count(a.Logged()) != 0 || count(b.Logged()) != 10 || len(must2(s.AllLogged(bg))(t)) != 1 {
		t.Errorf("moved: %d and %d readings", count(a.Logged()), count(b.Logged()))
	}
	other := must2(s.Create(bg, design.New()))(t)
	if err := s.SetImportVersion(bg, a.Heater, imp.ID, other.Version); err == nil {
		t.Error("readings went to another heater")
	}
}

// An outline has every peak of the log, and is the same after it was kept.
func TestOutline(t *testing.T) {
	r := rand.New(rand.NewPCG(83, 84))
	var o Outline
	from := time.Date(2026, 2, 10, 0, 0, 0, 0, time.UTC)
	peak, least := math.Inf(-1), math.Inf(1)
	for i := range 5000 {
		x := measure.Sample{At: from.Add(time.Duration(i) * 17 * time.Second), Inlet: 18, Outlet: 30 + 10*r.NormFloat64(),
			Outdoor: math.NaN(),
			Sun:     math.NaN(), Speed: math.NaN()}
		peak, least = max(peak, x.Outlet), min(least, x.Outlet)
		o.Add(&x)
	}
	hi, lo := float32(math.Inf(-1)), float32(math.Inf(1))
	back := must2(decodeOutline(must2(o.encode())(t)))(t)
	if len(back) != len(o) || len(o) != 142 { // 5,000 times 17 s are 141.6 times ten minutes
		t.Fatalf("%d buckets, %d", len(o), len(back))
	}
	for i := range back {
		if back[i].At != o[i].At || back[i].Lo[1] != o[i].Lo[1] || back[i].Hi[1] != o[i].Hi[1] || back[i].Hi[2] == back[i].Hi[2] {
			t.Fatalf("bucket %d: %+v, was %+v", i, back[i], o[i])
		}
		hi, lo = max(hi, back[i].Hi[1]), min(lo, back[i].Lo[1])
	}
	if hi != float32(peak) || lo != float32(least) {
		t.Errorf("from %v to %v, want %v to %v", lo, hi, least, peak)
	}
}

func FuzzOutline(f *testing.F) {
	var o Outline
	for i := range 30 {
		o.Add(&measure.Sample{At: time.Unix(int64(i)*400, 0), Inlet: float64(i), Outlet: math.NaN()})
	}
	b, err := o.encode()
	if err != nil {
		f.Fatal(err)
	}
	f.Add(b)
	f.Add([]byte{})
	f.Fuzz(func(t *testing.T, b []byte) {
		if o, err := decodeOutline(b); err == nil && len(o) > 0 {
			if _, err := o.encode(); err != nil {
				t.Fatal(err)
			}
		}
	})
}

// Readings that are typed one by one are one series of the log; typed again, a reading takes the place of the one before.
func TestReadingsByHand(t *testing.T) {
	s, _ := fresh(t)
	st := must2(s.Create(bg, design.New()))(t)
	at := time.Date(2026, 2, 10, 23, 50, 0, 0, time.UTC)
	must2(s.AddReadings(bg, st.Logged(), "log.csv", batch(t, samples(3, at)), false))(t)
	nan := math.NaN()
	for _, x := range []struct {
		minute int
		outlet float64
	}{{0, 41}, {20, 42}, {5, 43}, {20, 44}} {
		if err := s.AddByHand(bg, st.Logged(), measure.Sample{At: at.Add(time.Duration(x.minute) * time.Minute), Inlet: 18,
			Outlet:  x.outlet,
			Outdoor: nan, Sun: nan, Speed: nan}); err != nil {
			t.Fatal(err)
		}
	}
	list := must2(s.Imports(bg, st.Logged()))(t)
	if len(list) != 2 || list[0].Name != ByHand {
		t.Fatalf("%+v", list)
	}
	got := map[float64]float64{}
	for _, x := range must2(s.Readings(bg, st.Logged(), at, at.Add(time.Hour)))(t) {
		got[x.At.Sub(at).Minutes()] = x.Outlet
	}
	if got[0] != 41 || got[5] != 43 || got[20] != 44 {
		t.Errorf("%v", got)
	}
	if err := s.RemoveImport(bg, st.Heater, list[0].ID); err != nil {
		t.Fatal(err)
	}
	if n := len(must2(s.Readings(bg, st.Logged(), at, at.Add(time.Hour)))(t)); n != 3 {
		t.Errorf("%d readings are left", n)
	}
}
