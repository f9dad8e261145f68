package cost

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"gladember/core/catalog"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/cutting"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/season"
	"gladember/core/sizing"
	"gladember/core/units"
)

// input is what the list of an example takes, after changes.
func input(t *testing.T, name string, cs ...design.Change) Input {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	if h, err = design.Apply(h, units.System{}, cs...); err != nil {
		t.Fatal(name, err)
	}
	l, err := layout.Build(&h)
	if err != nil {
		t.Fatal(name, err)
	}
	return Input{Heater: &h, Layout: &l, Parts: l.Cut(), Shop: cutting.Metric, Saw: cutting.Rules{Kerf: 0.003}}
}

func listed(t *testing.T, in Input) List {
	t.Helper()
	l, err := Build(context.Background(), in)
	if err != nil {
		t.Fatal(err)
	}
	return l
}

func set(path string, v any) design.Change { return design.Change{Path: path, Value: v} }

// Every part of every example is what some line is for, unless it comes from offcuts; every line is asked for somewhere, in
// whole packs that cover what is needed and no more than one pack over.
func TestEveryPartIsBought(t *testing.T) {
	for _, name := range design.ExampleNames() {
		in := input(t, name)
		l := listed(t, in)
		for _, p := range in.Parts {
			found := p.Material == layout.Ripped || p.There
			for _, x := range l.Lines {
				found = found || slices.Contains(x.For, p.Letter)
			}
			if !found {
				t.Errorf("%s: nothing is bought for %s %s of %s", name, p.Letter, p.Name, p.Material)
			}
		}
		ids := map[string]bool{}
		for _, x := range l.Lines {
			if ids[x.ID] {
				t.Errorf("%s: %q is listed twice", name, x.ID)
			}
			ids[x.ID] = true
			if !slices.Contains(Counters, x.Counter) || x.What.In(units.System{}) == "" {
				t.Errorf("%s: %+v", name, x)
			}
			if got := float64(x.Buy)*x.Pack + x.Have; !x.Missing && (got < x.Need-1e-5 || got >= x.Need+x.Pack) {
				t.Errorf("%s: %s: %v needed, %d packs of %v and %v on hand", name, x.What.In(units.System{}), x.Need, x.Buy, x.Pack, x.Have)
			}
			if text := x.How.In(units.System{}) + x.What.In(units.System{}); strings.Contains(text, "%!") {
				t.Errorf("%s: %q", name, text)
			}
		}
	}
}

// By hand. A lath box of two layers, 1.05 x 1.05 m of aperture, with shiny walls is sprayed over 2 x 1.1025 = 2.205 m2 in each
// of two coats: 4.41 m2 at 2 m2 a can are 2.2 cans, of which three are bought; at 0.95 x 0.95 m it is 1.8, and two. Common
// practice, no source: two layers of lath of 26 sq ft took three cans.
func TestPaintByHand(t *testing.T) {
	for side, cans := range map[float64]int{1.05: 3, 0.95: 2} {
		in := input(t, "screen-box", set(design.ScreensMesh.Path, "metal-lath"), set(design.ScreensLayers.Path, 2),
			set(design.BoxWalls.Path,
				"shiny"), set(design.BoxEdgeFoam.Path, 0.012), set(design.PaneRest.Path, 0.012))
		h := in.Heater
		grow := h.Pane.Width - h.ApertureWidth()
		changed, err := design.Apply(
			*h,
			units.System{},
			set(design.PaneWidth.Path, side+grow), set(design.PaneHeight.Path, side+h.Pane.Height-h.ApertureHeight()),
		)
		if err != nil {
			t.Fatal(err)
		}
		l, err := layout.Build(&changed)
		if err != nil {
			t.Fatal(err)
		}
		in.Heater, in.Layout, in.Parts = &changed, &l, l.Cut()
		if got := Sprayed(&changed); math.Abs(got-2*side*side) > 1e-6 {
			t.Errorf("%v m2 are sprayed over, by hand %v", got, 2*side*side)
		}
		list := listed(t, in)
		if x := list.Line(changed.Absorber.Paint); x == nil || x.Buy != cans {
			t.Errorf("%v m: %+v, by hand %d cans", side, x, cans)
		}
	}
	in := input(t, "screen-box", set(design.BoxWalls.Path, "shiny"))
	if m, _ := catalog.FindMesh(in.Heater.Absorber.Screens.Mesh); strings.HasPrefix(m.Name, "black") && Sprayed(in.Heater) != 0 {
		t.Error("a screen that is sold black is painted")
	}
}

// A cartridge of 300 mL makes 10.6 m of a 6 mm bead: 300 / (pi 0.3^2) cm, the usual table of sealant makers.
func TestCartridgeByHand(t *testing.T) {
	if got := cartridge / volume(sealBead, 1); math.Abs(got-10.6) > 0.05 {
		t.Errorf("a cartridge makes %v m", got)
	}
	in := input(t, "back-pass-plate")
	h := in.Heater
	s := MeasureSeams(h, in.Layout)
	want := 2*2*(h.Pane.Width+h.Pane.Height) + 2*(h.InsideWidth()+h.InsideHeight()) + 4*in.Layout.Depth + 2*2*math.Pi*h.PortBore()
	if math.Abs(s.All()-want) > 1e-9 {
		t.Errorf("%v m of seams, by hand %v", s.All(), want)
	}
	x := listed(t, in)
	if l := x.Line(h.Box.Sealant); l == nil || l.Buy != int(math.Ceil(want*1.1/10.61)) {
		t.Errorf("%+v", l)
	}
}

// Fifteen cans take five in reserve, three hundred thirty; those on hand count, and the rest takes weeks.
func TestCansAndWeeks(t *testing.T) {
	in := input(t, "can-columns")
	for i := range in.Parts {
		if in.Parts[i].Name == "can" {
			in.Parts[i].Count = 15
		}
	}
	l := listed(t, in)
	if x := l.Line("drink can"); x.Need != 20 || x.Spare != 5 || x.Counter != Collected {
		t.Errorf("%+v", x)
	}
	for i := range in.Parts {
		if in.Parts[i].Name == "can" {
			in.Parts[i].Count = 300
		}
	}
	in.Hand = []sizing.Thing{{Kind: sizing.CanThing, Count: 110}}
	l = listed(t, in)
	if x := l.Line("drink can"); x.Need != 330 || x.Have != 110 || l.Weeks(10) != 22 {
		t.Errorf("%+v, %v weeks", x, l.Weeks(10))
	}
	if l := listed(t, input(t, "back-pass-plate")); l.Weeks(10) != 0 {
		t.Error("a plate waits for cans")
	}
}

// Mesh by hand: pieces 1.05 x 0.65 m with 25 mm folded at each edge take a roll 0.9 m wide and 1.1 m each; 0.5 m wide, two lie
// side by side on a roll of 1.2 m.
func TestRollByHand(t *testing.T) {
	p := layout.Part{Length: 1.05, Width: 0.65, Count: 3}
	if got := runningLength(&p, 0.9); math.Abs(got-3.3) > 1e-9 {
		t.Errorf("%v m", got)
	}
	p.Width = 0.5
	if got := runningLength(&p, 1.2); math.Abs(got-2.2) > 1e-9 {
		t.Errorf("%v m side by side", got)
	}
	p.Width = 1.9 // wider than any roll: two strips with a seam
	if got := runningLength(&p, 1.5); math.Abs(got-3*1.95) > 1e-9 {
		t.Errorf("%v m in strips", got)
	}
}

// What is on hand is not bought: a pane of the size, a fan of the model, a bar of the section; a doubtful pane is.
func TestOnHandIsNotBought(t *testing.T) {
	in := input(t, "back-pass-plate")
	h := in.Heater
	pane := sizing.Thing{
		Kind:      sizing.PaneThing,
		What:      h.Cover.Material,
		Width:     h.Pane.Width,
		Height:    h.Pane.Height,
		Thickness: h.Cover.Thickness,
		Count:     1,
		Condition: "sound",
	}
	glass := func(l List) int {
		for _, x := range l.Lines {
			if x.Counter == Glazing && x.Unit == Piece {
				return x.Buy
			}
		}
		return -1
	}
	bare := listed(t, in)
	in.Hand = []sizing.Thing{pane, {Kind: sizing.FanThing, What: h.Air.FanModel, Count: 1}}
	with := listed(t, in)
	if glass(bare) != 1 || glass(with) != 0 || bare.Line("fan "+h.Air.FanModel).Buy != 1 || with.Line("fan "+h.Air.FanModel).Buy != 0 {
		t.Errorf("panes %d and %d", glass(bare), glass(with))
	}
	pane.Condition = sizing.Doubtful
	in.Hand = []sizing.Thing{pane}
	if glass(listed(t, in)) != 1 {
		t.Error("a doubtful pane is built with")
	}
	pane.Condition, pane.Width = "sound", h.Pane.Width+0.1
	in.Hand = []sizing.Thing{pane}
	if glass(listed(t, in)) != 1 {
		t.Error("a larger glass pane is cut down")
	}
}

// Own prices: the total is the sum of the lines with one, the others are counted; a dearer price never makes the list
// cheaper; and of two lengths the plan takes the one that is cheaper by its own price.
func TestPricesAndTheirTotal(t *testing.T) {
	in := input(t, "back-pass-plate")
	l := listed(t, in)
	if l.Total != 0 || l.Unpriced == 0 {
		t.Errorf("%v, %d without a price", l.Total, l.Unpriced)
	}
	r := rand.New(rand.NewPCG(13, 1))
	for i, x := range l.Lines {
		in.Prices = append(
			in.Prices,
			Price{What: x.ID, Pack: 1 + math.Round(1000*r.Float64())/100, Seen: fmt.Sprintf("2026-11-%02d", 1+i%28)},
		)
	}
	for _, stock := range in.Shop.Bars { // every length has a price, so that the plan can weigh them
		for _, p := range in.Parts {
			if p.Form == layout.InBars {
				id := cutting.StockID(p.Material, p.Thickness, p.Width, 0, stock.Length)
				if !slices.ContainsFunc(in.Prices, func(x Price) bool { return x.What == id }) {
					in.Prices = append(in.Prices, Price{What: id, Pack: 3 * stock.Length})
				}
			}
		}
	}
	all := listed(t, in)
	sum := 0.0
	for _, x := range all.Lines {
		sum += x.Sum()
	}
	if math.Abs(all.Total-sum) > 1e-9 || all.Total <= 0 || all.Unpriced != 0 {
		t.Errorf("total %v, sum %v, %d without a price", all.Total, sum, all.Unpriced)
	}
	for i := range in.Prices {
		dearer := in
		dearer.Prices = slices.Clone(in.Prices)
		dearer.Prices[i].Pack *= 1.5
		if got := listed(t, dearer); got.Total < all.Total-1e-9 {
			t.Errorf("%s dearer by half: %v instead of %v", in.Prices[i].What, got.Total, all.Total)
		}
	}
}

// A second box from the same rolls and packs never costs more than the first, and less where a pack is left over.
func TestNextBoxCostsNoMore(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	for _, name := range design.ExampleNames() {
		in := input(t, name)
		for _, x := range listed(t, in).Lines {
			in.Prices = append(in.Prices, Price{What: x.ID, Pack: 5})
		}
		first := listed(t, in)
		next, err := Next(context.Background(), in)
		if err != nil {
			t.Fatal(err)
		}
		if next.Total > first.Total+1e-9 {
			t.Errorf("%s: the first box %v, the next %v", name, first.Total, next.Total)
		}
		if p := next.Line("wood screws, short"); p != nil && first.Line(p.ID).Need < 50 {
			t.Errorf("%s: another box of screws for the second heater", name)
		}
	}
}

// An alternative is a rerun: its gain is that of a year run with the change, its limit that of the evaluation, its cost the
// difference of two lists.
func TestAlternativesAreReruns(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	in := input(t, "screen-box")
	for _, x := range listed(t, in).Lines {
		in.Prices = append(in.Prices, Price{What: x.ID, Pack: 7})
	}
	h := in.Heater
	year, err := climate.Build(h)
	if err != nil {
		t.Fatal(err)
	}
	laid := &season.Laid{Year: year}
	r, err := laid.Run(h)
	if err != nil {
		t.Fatal(err)
	}
	e, err := collector.Evaluate(h, collector.ConditionsAt(h, collector.WinterNoon(h)), true)
	if err != nil {
		t.Fatal(err)
	}
	b := &Basis{Input: in, Eval: e, Year: r, List: listed(t, in), Run: laid.Run}
	as, err := Alternatives(context.Background(), b, nil)
	if err != nil {
		t.Fatal(err)
	}
	if len(as) < 5 {
		t.Fatalf("%d alternatives", len(as))
	}
	for i, a := range as {
		if i > 0 && a.Gain > as[i-1].Gain {
			t.Error("they are not in the order of the gain")
		}
		next, err := design.Apply(*h, units.System{}, a.Changes...)
		if err != nil {
			t.Fatal(err)
		}
		again, err := laid.Run(&next)
		if err != nil {
			t.Fatal(err)
		}
		if got := again.Year.Net() - r.Year.Net(); math.Abs(got-a.Gain) > 1e-6 {
			t.Errorf("%s: gains %v, a rerun %v", a.Name.In(units.System{}), a.Gain, got)
		}
		t.Logf(
			"%-34s %+7.1f kWh, limit %5.1f C (%+5.1f), cost %+6.1f, %d unpriced %s",
			a.Name.In(units.System{}),
			a.Gain,
			a.Limit,
			a.More,
			a.Cost,
			a.Unpriced,
			a.Danger,
		)
	}
	// A year in which a disc hardly starts the fan in January marks a choice, whatever its noon says.
	disc, err := design.Apply(*h, units.System{}, design.Set(design.SwitchKind, "snap"))
	if err != nil {
		t.Fatal(err)
	}
	if b.Eval, err = collector.Evaluate(&disc, collector.ConditionsAt(&disc, collector.WinterNoon(&disc)), true); err != nil {
		t.Fatal(err)
	}
	b.Input.Heater = &disc
	b.Run = func(h *design.Heater) (*season.Result, error) {
		idle := *r
		m := &idle.Months[0]
		m.Need, m.Sun, m.Run = 100, 100*r.Aperture, 0
		return &idle, nil
	}
	marked, err := Alternatives(context.Background(), b, nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, a := range marked {
		if a.Danger != "The thermostat starts the fan too late" {
			t.Errorf("%s: a fan that stands all January is no fault", a.Name.In(units.System{}))
		}
	}
}

// By hand: a pane of 40 that brings 20 kWh a year, each worth 0.10, has paid after 20 years; what brings nothing never has;
// what costs nothing or has no price is not judged.
func TestPaybackByHand(t *testing.T) {
	without := func(cost, gain float64, unpriced int) Alternative {
		return Alternative{Cost: cost, Gain: gain, Unpriced: unpriced}
	}
	ps := Paybacks([]Alternative{without(-40, -20, 0), without(-10, 3, 0), without(5, -9, 0), without(-5, -9, 1)}, 0.10)
	if len(ps) != 2 || math.Abs(ps[0].Years-20) > 1e-9 || !math.IsInf(ps[1].Years, 1) {
		t.Fatalf("%+v", ps)
	}
	if ps[0].Never(25) || !ps[0].Never(15) || !ps[1].Never(100) {
		t.Errorf("%+v", ps)
	}
}
