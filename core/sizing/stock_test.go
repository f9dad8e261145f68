package sizing

import (
	"math"
	"strings"
	"testing"

	"gladember/core/design"
)

// A pane is judged by what it lets through: clear glass 0.8, a coated one 0.35; the hand
// on the ground says the same in words.
func TestPaneVerdicts(t *testing.T) {
	for _, x := range []struct {
		open, under float64
		ground      string
		good, fails bool
	}{{0.50, 0.41, "", true, false}, {0.50, 0.175, "", false, false}, {0.5, 0.36, "same", true, false}, {0, 0, "warmer", true, false},
		{0, 0, "same", false, false}, {0, 0, "colder", false, false}, {0, 0, "", false, true}, {0.3, 0.5, "", false, true},
		{0, 0.4, "warmer", false, true}} {
		v, err := TestPane(x.open, x.under, x.ground)
		if (err != nil) != x.fails || v.Good != x.good || err == nil && v.Text == "" {
			t.Errorf("%+v: %+v, %v", x, v, err)
		}
	}
}

// The shed becomes a stock: a doubtful pane stays out, stuff is counted by the surface it
// makes, and what is not there is offered as bought.
func TestStockOfTheShed(t *testing.T) {
	shed := []Thing{
		{Kind: PaneThing, What: "glass", Width: 0.9, Height: 1.4, Count: 2, Condition: "sound"},
		{Kind: PaneThing, What: "glass", Width: 2, Height: 2, Count: 1, Condition: "doubtful"},
		{Kind: CanThing, Count: 142, Goal: 240, Condition: "sound"},
		{Kind: MeshThing, What: "black-screen", Width: 1.2, Height: 3, Count: 1, Condition: "worn"},
	}
	s := CollectStock(shed, 80)
	if len(s.Panes) != 1 || s.Budget != 80 || len(s.Foams) == 0 || len(s.Fans) == 0 || s.Check() != nil {
		t.Fatalf("%+v", s)
	}
	area := map[design.Family]float64{}
	for _, a := range s.Absorbers {
		area[a.Family] = a.Area
	}
	if math.Abs(area[design.CanColumns]-142*0.066*0.113) > 1e-12 || math.Abs(area[design.ScreenBox]-1.8) > 1e-12 {
		t.Errorf("stuff for %v", area)
	}
	if c := shed[2].Collected(); c != "142 of 240" {
		t.Errorf("collected %q", c)
	}
	short := map[design.Family]float64{}
	for _, r := range Boxes(design.New(), &s) {
		short[r.Family] = r.Short
		if len(design.Validate(&r.Heater)) > 0 || len(r.Changes) == 0 || r.Heater.Absorber.Family != r.Family {
			t.Errorf("%s: %+v", r.Family, r.Changes)
		}
	}
	if short[design.ScreenBox] != 0 || short[design.CanColumns] <= 0 {
		t.Errorf("short of %v", short)
	}
	if s = CollectStock(nil, 0); s.Check() == nil || len(s.Absorbers) == 0 {
		t.Error("a shed without a pane makes a box")
	}
}

// A wrong thing is told what would be right.
func TestThingsAreChecked(t *testing.T) {
	good := Thing{Kind: PaneThing, What: "glass", Width: 0.9, Height: 1.4, Count: 1}
	if err := good.Check(); err != nil {
		t.Fatal(err)
	}
	for _, k := range Kinds {
		x := Thing{Kind: k.ID, Count: 1, Width: 1, Height: 1, Thickness: 0.02}
		if k.Of != nil {
			x.What = k.Of()[0].ID
		}
		if err := x.Check(); err != nil || x.Words() == "" {
			t.Errorf("%s: %v", k.ID, err)
		}
	}
	for _, spoil := range []func(*Thing){
		func(x *Thing) { x.What = "cheese" },
		func(x *Thing) { x.Width = 0 },
		func(x *Thing) { x.Height = math.NaN() },
		func(x *Thing) { x.Count = 0 },
		func(x *Thing) { x.Price = -1 },
		func(x *Thing) { x.Kind = "soup" },
		func(x *Thing) { x.Kind, x.What, x.Thickness = FoamThing, "polyiso", 0 },
	} {
		x := good
		spoil(&x)
		if err := x.Check(); err == nil || !strings.ContainsAny(err.Error(), ";:") && !strings.Contains(err.Error(), "no kind") {
			t.Errorf("%+v: %v", x, err)
		}
	}
}
