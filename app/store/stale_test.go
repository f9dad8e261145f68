package store

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"gladember/core/design"
	"gladember/core/units"
)

// Two pages that are always behind each other make five hundred changes each over two versions: each change that is taken is in its
// version, each that meets another version is told so and changes nothing, and the last value of each field stands.
func TestStaleEdits(t *testing.T) {
	if testing.Short() {
		t.Skip("a thousand changes: it runs without the race detector")
	}
	s, _ := fresh(t)
	r := rand.New(rand.NewPCG(121, 122))
	a := must2(s.Create(bg, design.New()))(t)
	b := must2(s.Branch(bg, a.Seen()))(t)
	paths := []string{design.PaneWidth.Path, design.PaneHeight.Path, design.BoxBackFoam.Path}
	from := map[string]float64{design.PaneWidth.Path: 0.6, design.PaneHeight.Path: 0.9, design.BoxBackFoam.Path: 0.01}
	want := map[int64]map[string]float64{a.Version: {}, b.Version: {}}
	shown := []Seen{{Heater: a.Heater, Version: a.Version, Revision: a.Revision, Page: "laptop"}, {Heater: a.Heater, Version: b.Version,
		Revision: b.Revision, Page: "phone"}}
	open, taken, behind := b.Version, 0, 0
	for n := range 1000 {
		page := n % 2
		if r.IntN(20) == 0 { // somebody opens the other version
			open = map[int64]int64{a.Version: b.Version, b.Version: a.Version}[open]
			if err := s.Switch(bg, a.Heater, open); err != nil {
				t.Fatal(err)
			}
		}
		if r.IntN(15) == 0 { // and a page follows it
			st := must2(s.Get(bg, a.Heater))(t)
			shown[page].Version, shown[page].Revision = st.Version, st.Revision
		}
		path := paths[r.IntN(len(paths))]
		value := math.Round((from[path]+0.0001*float64(n))*1e4) / 1e4
		saved, err := s.Edit(bg, shown[page], fmt.Sprint(n), units.System{}, design.Change{Path: path, Value: value})
		var b *Behind
		switch {
		case errors.As(err, &b):
			if shown[page].Version == open {
				t.Fatalf("change %d of the version that is open was refused", n)
			}
			behind++
		case err != nil:
			t.Fatal(err)
		default:
			if saved.Version != shown[page].Version || saved.Version != open {
				t.Fatalf("change %d went to version %d, its page shows %d", n, saved.Version, shown[page].Version)
			}
			want[saved.Version][path] = value
			taken++
		}
	}
	for _, head := range must2(s.Heads(bg, a.Heater))(t) {
		for path, v := range want[head.ID] {
			if got := design.FieldAt(path).Get(&head.Document).(float64); math.Abs(got-v) > 1e-12 {
				t.Errorf("version %s: %s is %v, the last change said %v", head.Name, path, got, v)
			}
		}
	}
	if taken < 200 || behind < 100 {
		t.Errorf("%d taken, %d told that they are behind", taken, behind)
	}
}
