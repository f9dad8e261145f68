package cost

import (
	"cmp"
	"context"
	"errors"
	"math"
	"slices"

	"gladember/core/advice"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/season"
	"gladember/core/units"
)

// Next is what a second, equal heater takes after the first: what two take together less
// what one takes. Lines of which the first leaves enough are left out.
//
// The first box opens packs and sheets that it does not use up. Whoever builds a second, or
// builds one for a neighbor, wants to know what that one really takes.
func Next(ctx context.Context, in Input) (List, error) {
	one, err := Build(ctx, in)
	if err != nil {
		return List{}, err
	}
	two := in
	two.Times = 2 * in.times()
	both, err := Build(ctx, two)
	if err != nil {
		return List{}, err
	}
	var out List
	for _, l := range both.Lines {
		if first := one.Line(l.ID); first != nil {
			l.Need, l.Spare, l.Have = l.Need-first.Need, max(0, l.Spare-first.Spare), l.Have-first.Have
			l.Buy -= first.Buy
		}
		if l.Buy <= 0 {
			continue
		}
		out.Lines = append(out.Lines, l)
		out.Total += l.Sum()
		if !l.Priced() {
			out.Unpriced++
		}
	}
	return out, nil
}

// Alternative is another choice for a part, with what it changes.
type Alternative struct {
	// Path is the field, Name the choice, and Value what it is set to.
	Path string
	Name units.Text
	// Changes are applied to the heater.
	Changes []design.Change
	// Useful is the useful heat less the fan's electricity, kWh a year, and Gain how much
	// more that is than now.
	Useful, Gain float64
	// Limit is the upper 95 % bound of the hottest layer on the hottest noon, C, and More
	// by how much it rises, K.
	Limit, More float64
	// Cost is how much more the list comes to; Unpriced is how many of its lines that
	// differ have no price.
	Cost     float64
	Unpriced int
	// Danger says that the choice brings a danger or a fault that the heater does not have
	// now: what it is.
	Danger string
}

// Basis is a heater with what is known of it, against which alternatives are held.
type Basis struct {
	Input
	Eval collector.Evaluation
	Year *season.Result
	List List
	// Run runs a heater through the same year of weather.
	Run func(h *design.Heater) (*season.Result, error)
}

// option is a choice to try.
type option struct {
	path string
	name units.Text
	to   any
}

// options are the usual other choices, of which those that apply are tried: the next
// insulation up and down, another glazing, one more or one fewer layer, another duct, the
// fan with an electronic motor.
func options(h *design.Heater) (out []option) {
	add := func(path string, to any, name string, values ...units.Value) {
		out = append(out, option{path, units.Say(name, values...), to})
	}
	if h.Indoors() {
		return nil
	}
	for _, t := range []float64{0.025, 0.050, 0.080, 0.100} {
		if math.Abs(t-h.Box.BackFoam) > 0.004 && math.Abs(t-h.Box.BackFoam) < 0.040 {
			add(design.BoxBackFoam.Path, t, "Back insulation %v thick", units.Q(units.Length, t))
		}
	}
	for _, c := range []struct{ id, name string }{{"glass", "Window glass"}, {"twin-wall", "Polycarbonate twin-wall"}, {"polycarbonate",
		"Clear polycarbonate"}, {"low-iron-glass", "Low-iron glass"}} {
		if c.id != h.Cover.Material {
			add(design.CoverMaterial.Path, c.id, c.name)
		}
	}
	if h.Cover.Layers == 1 {
		add(design.CoverLayers.Path, 2, "A second pane")
	} else {
		add(design.CoverLayers.Path, h.Cover.Layers-1, "One pane less")
	}
	if a := h.Absorber.Screens; a != nil {
		if a.Layers > 1 {
			add(design.ScreensLayers.Path, a.Layers-1, "One screen less")
		}
		if a.Layers < 3 {
			add(design.ScreensLayers.Path, a.Layers+1, "One screen more")
		}
	}
	for _, d := range []float64{0.100, 0.125, 0.150} {
		if math.Abs(d-h.Air.Diameter) > 0.010 && math.Abs(d-h.Air.Diameter) < 0.060 {
			add(design.AirDiameter.Path, d, "Ducts %v wide", units.Q(units.Bore, d))
		}
	}
	if h.Air.Filter != "none" {
		add(design.AirFilter.Path, "none", "No filter")
	}
	return out
}

// Alternatives tries the usual other choices, each alone. Those that cannot be built are
// left out. They come in the order of the gain. Progress may be nil.
func Alternatives(ctx context.Context, b *Basis, progress func(done, of int)) (out []Alternative, err error) {
	os := options(b.Heater)
	for i, o := range os {
		if progress != nil {
			progress(i, len(os))
		}
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		a, ok, err := b.try(ctx, o)
		if err != nil {
			return nil, err
		}
		if ok {
			out = append(out, a)
		}
	}
	slices.SortStableFunc(out, func(x, y Alternative) int { return cmp.Compare(y.Gain, x.Gain) })
	return out, nil
}

// hottest is the highest upper bound of any layer, C.
func hottest(e *collector.Evaluation) (c float64) {
	for _, p := range e.Peaks {
		c = max(c, p.Upper)
	}
	return c
}

// worst are the titles of a heater's dangers and faults.
func worst(noon, year []advice.Finding) map[string]string {
	out := map[string]string{}
	for _, f := range slices.Concat(noon, year) {
		if f.Severity <= advice.Fault {
			out[f.ID] = f.Title
		}
	}
	return out
}

// try runs one choice; ok is false where it cannot be built.
func (b *Basis) try(ctx context.Context, o option) (a Alternative, ok bool, err error) {
	change := design.Change{Path: o.path, Value: o.to}
	next, err := design.Apply(*b.Heater, units.System{}, change)
	if err != nil {
		return a, false, nil // not possible for this heater
	}
	l, err := layout.Build(&next)
	var misfit *layout.Misfit
	if errors.As(err, &misfit) {
		return a, false, nil
	}
	if err != nil {
		return a, false, err
	}
	e, err := collector.Evaluate(&next, b.Eval.Running.Conditions, true)
	if err != nil {
		return a, false, nil
	}
	r, err := b.Run(&next)
	if err != nil {
		return a, false, err
	}
	in := b.Input
	in.Heater, in.Layout, in.Parts = &next, &l, l.Cut()
	list, err := Build(ctx, in)
	if err != nil {
		return a, false, err
	}
	a = Alternative{Path: o.path, Name: o.name, Changes: []design.Change{change}, Useful: r.Year.Net(), Limit: hottest(&e)}
	a.Gain = a.Useful - b.Year.Year.Net()
	a.More = a.Limit - hottest(&b.Eval)
	a.Cost, a.Unpriced = differ(&b.List, &list)
	before := worst(advice.Evaluate(&b.Eval), advice.YearFaults(b.Heater, b.Year))
	for id, title := range worst(advice.Evaluate(&e), advice.YearFaults(&next, r)) {
		if _, had := before[id]; !had {
			a.Danger = title
		}
	}
	return a, true, nil
}

// differ is how much more one list comes to than another, and how many of the lines in
// which they differ have no price.
func differ(was, is *List) (cost float64, unpriced int) {
	seen := map[string]bool{}
	one := func(id string) {
		if seen[id] {
			return
		}
		seen[id] = true
		a, b := was.Line(id), is.Line(id)
		n := 0
		var x *Line
		if a != nil {
			n, x = n-a.Buy, a
		}
		if b != nil {
			n, x = n+b.Buy, b
		}
		if n == 0 {
			return
		}
		if !x.Priced() {
			unpriced++
			return
		}
		cost += float64(n) * x.Price.Pack
	}
	for _, l := range was.Lines {
		one(l.ID)
	}
	for _, l := range is.Lines {
		one(l.ID)
	}
	return cost, unpriced
}

// Payback is what a part earns against what it costs.
type Payback struct {
	Name units.Text
	// Cost is its price, and Gives the useful heat less fan that it brings, kWh a year.
	Cost, Gives float64
	// Years is until the fuel that it saves has paid it; +Inf for never.
	Years float64
}

// Never says whether a part outlasts the box before it has earned its price.
func (p *Payback) Never(life float64) bool { return p.Years > life }

// Paybacks are of the parts that can be left out: each is the alternative without it,
// turned around. Parts without a price are left out. PerKWh is what a kWh of useful heat
// is worth.
func Paybacks(as []Alternative, perKWh float64) (out []Payback) {
	for _, a := range as {
		if a.Cost >= 0 || a.Unpriced > 0 { // it takes money to do without
			continue
		}
		p := Payback{Name: a.Name, Cost: -a.Cost, Gives: -a.Gain, Years: math.Inf(1)}
		if worth := p.Gives * perKWh; worth > 0 {
			p.Years = p.Cost / worth
		}
		out = append(out, p)
	}
	return out
}
