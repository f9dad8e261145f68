package sizing

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"testing"

	"gladember/core/advice"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/units"
)

// stocks are ten lists of what may lie around, made up by chance from usual
// sizes, with the place and space they are for.
func stock(t testing.TB, i int) (design.Heater, Stock) {
	t.Helper()
	r := rand.New(rand.NewPCG(uint64(i), 77))
	pick := func(vs ...float64) float64 { return vs[r.IntN(len(vs))] }
	name := []string{"screen-box", "double-glazed-screen-box", "greenhouse-plate", "back-pass-plate"}[i%4]
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	h, err = design.Apply(h, units.System{}, design.Set(design.PlaceLatitude, pick(38, 44, 50, 57, -42)),
		design.Set(design.ClimateSunny, pick(3, 4.5, 6)), design.Set(design.RoomFloor, pick(10, 18, 40)))
	if err != nil {
		t.Fatal(err)
	}
	s := Stock{Ducts: []float64{0.100, 0.150}}
	for range 1 + r.IntN(3) {
		s.Panes = append(s.Panes, Pane{pick(0.6, 0.75, 0.9, 1.2), pick(0.9, 1.2, 1.6, 2.0),
			[]string{"glass", "polycarbonate", "twin-wall"}[r.IntN(3)], 0, 1 + r.IntN(3), pick(0, 15, 40)})
	}
	families := []design.Family{design.ScreenBox, design.CanColumns, design.Downpipes, design.RibbedCoil, design.BackPassPlate,
		design.FrontPassPlate, design.DoublePassPlate, design.DoublePassTubes, design.PassiveBox}
	r.Shuffle(len(families), func(a, b int) { families[a], families[b] = families[b], families[a] })
	for _, f := range families[:2+r.IntN(3)] {
		s.Absorbers = append(s.Absorbers, Absorber{f, pick(0, 10, 25), 0})
	}
	for _, m := range []string{"computer-120", "bath-4", "inline-4"}[:1+r.IntN(3)] {
		s.Fans = append(s.Fans, Fan{m, pick(0, 20)})
	}
	for _, d := range []float64{0.013, 0.025, 0.050}[:1+r.IntN(3)] {
		s.Foams = append(s.Foams, Foam{"polyiso", d, pick(0, 12)})
	}
	s.Foams = append(s.Foams, Foam{"mineral-wool", pick(0.03, 0.05, 0.1), pick(0, 8)})
	if r.IntN(2) == 0 {
		s.Budget = 120
	}
	return h, s
}

// firstStock is the number of the first stock that is searched.
const firstStock = 100

// found is the best heater of a stock; two tests look at the same one.
type found struct {
	h     design.Heater
	s     Stock
	y     *climate.Year
	a     *Answer
	err   error
	calls int
}

var searches = map[int]*found{}

// searched finds the best heater of a stock, once.
func searched(t *testing.T, i int) *found {
	t.Helper()
	if x := searches[i]; x != nil {
		return x
	}
	x := &found{}
	searches[i] = x
	x.h, x.s = stock(t, i)
	if testing.Short() { // the race detector needs no more
		x.s.Panes, x.s.Foams, x.s.Ducts = x.s.Panes[:1], x.s.Foams[:1], x.s.Ducts[:1]
		x.s.Absorbers = []Absorber{{design.BackPassPlate, 0, 0}}
	}
	var err error
	if x.y, err = climate.Build(&x.h); err != nil {
		t.Fatal(err)
	}
	x.a, x.err = Best(context.Background(), x.h, x.y, x.s, func(done, of int) { x.calls++ })
	return x
}

// Each proposal is at least as good by its year as heaters made of the same
// stock by chance (200 of them for each of ten stocks with GLADEMBER_LONG set, else a few), keeps to the budget, and its
// reasons leave no single change that would be better.
func TestProposalsBeatChance(t *testing.T) {
	stocks, tries := 1, 10
	if testing.Short() {
		stocks, tries = 1, 2
	}
	if os.Getenv("GLADEMBER_LONG") != "" {
		stocks, tries = 10, 200
	}
	for i := range stocks {
		x := searched(t, firstStock+i)
		h, s, y, a, calls := x.h, x.s, x.y, x.a, x.calls
		if x.err != nil {
			t.Fatalf("stock %d: %v", i, x.err)
		}
		if s.Budget > 0 && a.Proposal.Cost > s.Budget || calls == 0 || a.Rule != h.Room.Floor/10 {
			t.Errorf("stock %d: cost %v of %v, %d words of progress, rule %v", i, a.Proposal.Cost, s.Budget, calls, a.Rule)
		}
		for _, r := range a.Reasons {
			if r.Gain < -0.1 {
				t.Errorf("stock %d: %+v would be better", i, r)
			}
		}
		r := rand.New(rand.NewPCG(uint64(i), 5))
		best, n := math.Inf(-1), 0
		for tried := 0; n < tries && tried < 20*tries; tried++ {
			if c := Random(h, y, s, r.IntN); c != nil {
				n++
				best = max(best, c.Net())
			}
		}
		if n < tries || best > a.Proposal.Net()+0.1 {
			t.Errorf("stock %d: %v kWh by the search, %v by %d of chance", i, a.Proposal.Net(), best, n)
		}
		t.Logf("stock %d: %.1f kWh of %s by %d years, best of %d by chance %.1f", i, a.Proposal.Net(), a.Proposal.Heater.Absorber.Family,
			a.Years, n, best)
	}
}

// No proposal carries a danger or a fault, of its noon or of its year; a
// stock of which nothing holds is refused with what would mend it. Thirty stocks with
// GLADEMBER_LONG set.
func TestProposalsAreSafe(t *testing.T) {
	if testing.Short() {
		t.Skip("years of a hundred heaters; the others run them")
	}
	n := 1
	if os.Getenv("GLADEMBER_LONG") != "" {
		n = 30
	}
	made := 0
	for i := range n {
		x := searched(t, firstStock+i)
		h, y, a := x.h, x.y, x.a
		if x.err != nil {
			t.Logf("stock %d: %v", i, x.err)
			continue
		}
		made++
		proposed := &a.Proposal.Heater
		e, err := collector.Evaluate(proposed, collector.ConditionsAt(proposed, collector.WinterNoon(proposed)), true)
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range append(advice.Evaluate(&e), advice.YearFaults(proposed, a.Proposal.Year)...) {
			if f.Severity <= advice.Fault {
				t.Errorf("stock %d: %s: %s", i, f.ID, f.Finding.In(units.System{}))
			}
		}
		// What is taken over choice by choice is the heater whose year is shown.
		taken := bare(h)
		for _, c := range a.Proposal.Choices {
			for _, change := range c.Changes {
				if f := design.FieldAt(change.Path); f.Applies(&taken) {
					if taken, err = design.Apply(taken, units.System{}, change); err != nil {
						t.Fatal(err)
					}
				}
			}
		}
		r, err := season.Run(&taken, y)
		if err != nil {
			t.Fatal(err)
		}
		if math.Abs(r.Year.Net()-a.Proposal.Net()) > 1e-6 {
			t.Errorf("stock %d: taken over it gives %v kWh, shown are %v", i, r.Year.Net(), a.Proposal.Net())
		}
	}
	t.Logf("%d of %d stocks have a proposal", made, n)
	if made < n*5/6 {
		t.Errorf("only %d of %d stocks have a proposal", made, n)
	}
	// Of foam that softens alone no box is proposed.
	h, s := stock(t, firstStock)
	s.Foams = []Foam{{"eps", 0.03, 0}}
	y, err := climate.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	if a, err := Best(context.Background(), h, y, s, nil); err == nil {
		for _, c := range a.Proposal.Choices {
			t.Logf("%s %s", c.Step, c.Name)
		}
	} else if u := (*Unsafe)(nil); !errors.As(err, &u) || u.ID != "too-hot-eps" {
		t.Errorf("of polystyrene: %v", err)
	}
}

func TestBadStock(t *testing.T) {
	h, _ := design.Named("screen-box")
	y, err := climate.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	for _, s := range []Stock{{}, {Panes: []Pane{{0.8, 1.2, "glass", 0, 1, 0}}}, {Panes: []Pane{{0.8, 1.2, "glass", 0, 0, 0}},
		Absorbers: []Absorber{{design.ScreenBox, 0, 0}}},
		{Panes: []Pane{{0.8, 1.2, "glass", 0, 1, 500}}, Absorbers: []Absorber{{design.ScreenBox, 0, 0}}, Budget: 100}} {
		if a, err := Best(context.Background(), h, y, s, nil); err == nil {
			t.Errorf("%+v made %v", s, a.Proposal.Choices)
		}
	}
	ctx, stop := context.WithCancel(context.Background())
	stop()
	if _, err := Best(ctx, h, y, DefaultStock(&h), nil); err == nil {
		t.Error("a search that was called off found something")
	}
}

func ExampleStock() {
	s := Stock{Panes: []Pane{{Width: 0.8, Height: 1.2, Material: "glass", Count: 1}}}
	fmt.Println(s.Check())
	// Output: absorbers: there is none; name at least one family, such as screen-box
}
