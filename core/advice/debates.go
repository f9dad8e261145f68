package advice

import (
	"cmp"
	"context"
	"errors"
	"math"
	"slices"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/parallel"
	"gladember/core/network"
	"gladember/core/season"
	"gladember/core/units"
)

// Side is one answer to a question builders disagree on.
type Side struct {
	// Name is the answer, as the builder would give it.
	Name string
	// Patch are the changes that make the heater take this side; nil where the
	// sides differ by the airflow alone.
	Patch []design.Change
	// Heat is the heat to the room at the noon, W.
	Heat float64
	// Out is the outlet temperature, C.
	Out float64
	// Hot is the absorber's hottest spot with the fan off, C.
	Hot float64
	// Harms says that the side brings a danger or a fault that the box does not
	// have.
	Harms bool
	// Tie says that the side is no worse than the best at the noon by more than
	// the two can be told apart.
	Tie bool

	// Useful is the useful heat less the fan's electricity, kWh a year.
	Useful float64
	// Money is what is saved in a year, in the document's currency.
	Money float64
	// HasYear says whether the year was run for the side.
	HasYear bool
	// YearTie is Tie through the year.
	YearTie bool

	// moves is what each uncertainty, by its name, does to Heat, W.
	moves map[string]float64
	// own are the uncertainties of what only this side is made of.
	own map[string]bool
}

// unshared are the uncertainties, by their field, that two sides do not have in
// common where a side decides another field: each material and each way of
// making has its own.
var unshared = map[string][]string{
	design.CoverMaterial.Path: {design.CoverMaterial.Path}, design.AbsorberPaint.Path: {design.CoverMaterial.Path,
		design.AbsorberPaint.Path},
	design.AbsorberFamily.Path: {design.AbsorberFamily.Path}, design.CansEnds.Path: {design.AbsorberFamily.Path},
	design.BoxFoam.Path: {design.BoxFoam.Path},
}

// Choice is a question builders disagree on, with each answer computed.
type Choice struct {
	// ID names the debate for programs; Question is what builders ask.
	ID, Question string
	// Sides are the answers, in the order in which the trade names them.
	Sides []Side
}

// pick is a side before it is computed.
type pick struct {
	name    string
	changes []design.Change
}

// one is a side that differs by one field.
func one[T any](name string, f *design.Of[T], v T) pick {
	return pick{name, []design.Change{design.Set(f, v)}}
}

// question is a disagreement with what may be picked. Those that only a year
// can tell apart say so.
type question struct {
	id, words string
	picks     []pick
	inYear    bool
}

// questions are the disagreements of the trade.
// Tilt and the months of a cover follow the place's latitude and hemisphere.
func questions(h *design.Heater) []question {
	lean := min(90, math.Abs(h.Place.Latitude)+15)
	from, to := 5, 9
	if h.Place.Latitude < 0 {
		from, to = 11, 3
	}
	return []question{
		{"drive", "Fan or natural draft?", []pick{one("fan", design.AirDrive, "fan"), one("natural draft", design.AirDrive, "natural")},
			false},
		{"side", "Should the fan push or pull?", []pick{one("push", design.AirFanSide, "inlet"), one("pull", design.AirFanSide, "outlet")},
			false},
		{"source", "Room air or outdoor air?", []pick{one("room air", design.AirSource, "room"),
			one("outdoor air", design.AirSource, "outdoors")}, false},
		{"family", "Screens, cans, downpipes or a plate?", []pick{one("screens", design.AbsorberFamily, "screen-box"),
			one("cans", design.AbsorberFamily, "can-columns"), one("downpipes", design.AbsorberFamily, "downpipes"),
			one("back-pass plate", design.AbsorberFamily, "back-pass-plate")}, false},
		{"covers", "Single or double glazing?", []pick{one("single", design.CoverLayers, 1), one("double", design.CoverLayers, 2)}, false},
		{"cover", "Glass, acrylic, polycarbonate or film?", []pick{one("glass", design.CoverMaterial, "glass"),
			one("acrylic", design.CoverMaterial, "acrylic"), one("polycarbonate", design.CoverMaterial, "polycarbonate"),
			one("shrink film", design.CoverMaterial, "shrink-film")}, false},
		{"walls", "Black or shiny walls inside?", []pick{one("black", design.BoxWalls, "black"), one("shiny", design.BoxWalls, "shiny")},
			false},
		{"foam", "Thin or thick insulation?", []pick{one("{12 mm|1/2 in}", design.BoxBackFoam, h.Sold(0.5, 0.012)),
			one("{25 mm|1 in}", design.BoxBackFoam, h.Sold(1, 0.025)), one("{50 mm|2 in}", design.BoxBackFoam, h.Sold(2, 0.050))}, false},
		{"insulation", "Foam or mineral wool?", []pick{one("extruded polystyrene", design.BoxFoam, "xps"),
			one("polyiso", design.BoxFoam, "polyiso"), one("mineral wool", design.BoxFoam, "faced-wool")}, false},
		{"ends", "Can ends cut out, or left to stir the air?", []pick{one("cut out", design.CansEnds, "cut"),
			one("flaps left", design.CansEnds, "torn"), one("drilled", design.CansEnds, "drilled")}, false},
		{"paint", "Engine enamel or grill paint?", []pick{one("engine enamel", design.AbsorberPaint, "engine-enamel"),
			one("grill paint", design.AbsorberPaint, "grill-paint")}, false},
		{"tilt", "Upright or tilted to the winter sun?", []pick{one("upright", design.PlaceTilt, 90.0),
			one("tilt of latitude plus 15°", design.PlaceTilt, math.Round(lean)), one("tilt of latitude", design.PlaceTilt,
				min(90, math.Round(math.Abs(h.Place.Latitude))))}, false},
		{"stones", "Stones in the box to store heat for the evening?", []pick{one("none", design.BoxStones, 0.0),
			one("{20 kg|45 lb}", design.BoxStones, 20.0)}, true},
		{"switch", "Snap disc, controller or timer?", []pick{
			{"snap disc", []design.Change{design.Set(design.SwitchKind, "snap"), design.Set(design.SwitchClose, 43.0),
				design.Set(design.SwitchOpen, 32.0)}},
			{"differential controller", []design.Change{design.Set(design.SwitchKind, "differential")}},
			{"timer", []design.Change{design.Set(design.SwitchKind, "timer")}}}, true},
		{"storage", "Uncovered all year, or covered in the warm months?", []pick{one("uncovered all year", design.CoverCoveredFrom, 0),
			{"covered in the warm months", []design.Change{design.Set(design.CoverCoveredFrom, from),
				design.Set(design.CoverCoveredTo, to)}}}, true},
	}
}

// Choices puts the disagreements of the trade to an evaluated heater, at its
// noon; those that say nothing of it, or that only a year can tell, are left
// out.
func Choices(e *collector.Evaluation) (cs []Choice) {
	if c, ok := hotOrMuch(e); ok {
		cs = append(cs, c)
	}
	for _, x := range questions(&e.Heater) {
		if x.inYear {
			continue
		}
		if c := answered(e, x); len(c.Sides) > 1 {
			cs = append(cs, c)
		}
	}
	return cs
}

// Disagreements are all of them, at the noon, those as well that only a year
// tells apart.
func Disagreements(e *collector.Evaluation) []Choice {
	cs := Choices(e)
	for _, x := range questions(&e.Heater) {
		if x.inYear {
			if c := answered(e, x); len(c.Sides) > 1 {
				cs = append(cs, c)
			}
		}
	}
	return cs
}

// answered computes a question's sides at the noon.
// A side that the document refuses, such as double glazing on a panel behind a
// window, is left out; a debate needs two that remain. Each uncertain input is
// moved for each side, so that two sides can be compared with what they share
// taken out.
func answered(e *collector.Evaluation, x question) Choice {
	b := newBox(e)
	ch := Choice{ID: x.id, Question: x.words}
	for _, p := range x.picks {
		h, err := design.Apply(e.Heater, units.System{}, p.changes...)
		if err != nil {
			continue
		}
		d, err := collector.Describe(&h)
		if err != nil {
			continue
		}
		c := b.conditions(&h)
		r, err := d.Rate(c, collector.Tuning{}, nil)
		if err != nil {
			continue
		}
		s, err := d.FanOff(c, collector.Tuning{}, nil)
		if err != nil {
			continue
		}
		// Fan-off temperatures are those of the same noon, so that the sides
		// compare; the dangers are judged on the worst noon.
		side := Side{Name: p.name, Patch: p.changes, Heat: r.Warms(), Out: r.Outlet, Hot: s.AbsorberMax, moves: map[string]float64{},
			own: map[string]bool{}, Harms: !b.allows("", p.changes...)}
		for _, u := range collector.Uncertainties(&h, c.Flow > 0, true) {
			if m, err := d.Rate(c, u.By, &r); err == nil {
				side.moves[u.Name] = m.Warms() - r.Warms()
			}
			for _, ch := range p.changes {
				side.own[u.Name] = side.own[u.Name] || slices.Contains(unshared[ch.Path], u.Path)
			}
		}
		ch.Sides = append(ch.Sides, side)
	}
	best := 0
	for i := range ch.Sides {
		if ch.Sides[i].Heat > ch.Sides[best].Heat {
			best = i
		}
	}
	for i := range ch.Sides {
		ch.Sides[i].Tie = ch.Sides[best].Heat-ch.Sides[i].Heat <= ch.Sides[best].apart(&ch.Sides[i])
	}
	return ch
}

// apart is by how many watts two sides must differ to be told apart at 95 %:
// each uncertainty that they share moves both at once and falls out as
// far as it moves them alike.
// The variance of a difference is the sum of squares of x - y where an input is
// shared, of x and y where each side has its own (GUM 5.1.2 with correlation 1
// and 0). Twice it is a 95 % statement, k = 2.
func (s *Side) apart(o *Side) float64 {
	if s == o {
		return 0
	}
	sum := 0.0
	for name, x := range s.moves {
		y := o.moves[name]
		// Each side has a material of its own here: both move by themselves.
		if s.own[name] || o.own[name] {
			sum += x*x + y*y
		} else {
			sum += (x - y) * (x - y)
		}
	}
	for name, y := range o.moves {
		// Inputs that only the other side has.
		if _, both := s.moves[name]; !both {
			sum += y * y
		}
	}
	return 2 * math.Sqrt(sum)
}

// YearChoices puts the disagreements to a heater through its year as well. What
// can be told apart in the year is taken in proportion to what can be at the
// noon, and no less than [tie]; the proportion is the product's own judgment.
// Running the bands of every side through the year would take minutes; the
// proportion says what the noon's uncertainty is worth over the year.
func YearChoices(ctx context.Context, e *collector.Evaluation, y *season.Laid) ([]Choice, error) {
	cs := Disagreements(e)
	type place struct{ c, s int }
	var todo []place
	for i := range cs {
		for j := range cs[i].Sides {
			if cs[i].Sides[j].Patch != nil {
				todo = append(todo, place{i, j})
			}
		}
	}
	err := parallel.Each(ctx, len(todo), func(k int) error {
		s := &cs[todo[k].c].Sides[todo[k].s]
		h, err := design.Apply(e.Heater, units.System{}, s.Patch...)
		if err != nil {
			return err
		}
		r, err := y.Run(&h)
		if errors.Is(err, network.ErrNoBalance) {
			return nil // the other sides have theirs
		}
		if err != nil {
			return err
		}
		m, err := season.Worth(&h, r)
		if err != nil {
			return err
		}
		s.Useful, s.Money, s.HasYear = r.Year.Net(), m.Saved, true
		return nil
	}, nil)
	if err != nil {
		return nil, err
	}
	for i := range cs {
		ss := cs[i].Sides
		best := 0
		for j := range ss {
			if ss[j].HasYear && ss[j].Useful > ss[best].Useful {
				best = j
			}
		}
		b := &ss[best]
		for j := range ss {
			least := max(leastYear, tie*math.Abs(b.Useful))
			if b.Heat > 0 {
				least = max(least, b.apart(&ss[j])/b.Heat*math.Abs(b.Useful))
			}
			ss[j].YearTie = ss[j].HasYear && b.Useful-ss[j].Useful <= least
		}
	}
	return cs, nil
}

// hotOrMuch compares a low, a medium and a high airflow of this heater.
// The flows are 8, 25 and 60 g/s for each square meter of aperture: a trickle,
// a common fan, and more than most boxes get. Fan and duct are left out of it,
// since the question is about the air alone.
func hotOrMuch(e *collector.Evaluation) (Choice, bool) {
	if e.Heater.Indoors() || e.Running.Aperture <= 0 {
		return Choice{}, false
	}
	d, err := collector.Describe(&e.Heater)
	if err != nil {
		return Choice{}, false
	}
	ch := Choice{ID: "flow", Question: "Little hot air or much warm air?"}
	for _, x := range []struct {
		name string
		flux float64 // kg/s m2
	}{{"low flow", 0.008}, {"medium flow", 0.025}, {"high flow", 0.060}} {
		c := e.Running.Conditions
		c.Flow = x.flux * e.Running.Aperture
		r, err := d.Rate(c, collector.Tuning{}, nil)
		if err != nil {
			return ch, false
		}
		ch.Sides = append(ch.Sides, Side{Name: x.name, Heat: r.Warms(), Out: r.Outlet, Hot: e.Still.AbsorberMax})
	}
	return ch, true
}

// stakes is how far the sides of a debate lie apart: kWh a year where the year
// was run for them, and W at the noon.
// Debates that move nothing on this heater come last.
func (c *Choice) stakes() (year, noon float64) {
	var useful, heat []float64
	for _, s := range c.Sides {
		heat = append(heat, s.Heat)
		if s.HasYear {
			useful = append(useful, s.Useful)
		}
	}
	if len(useful) > 1 {
		year = slices.Max(useful) - slices.Min(useful)
	}
	return year, slices.Max(heat) - slices.Min(heat)
}

// ByStakes sorts debates by how much depends on them for this heater, the most
// first.
func ByStakes(cs []Choice) []Choice {
	out := slices.Clone(cs)
	slices.SortStableFunc(out, func(a, b Choice) int {
		ya, na := a.stakes()
		yb, nb := b.stakes()
		return cmp.Or(cmp.Compare(yb, ya), cmp.Compare(nb, na))
	})
	return out
}

// Ties says of each side whether it is as good as the best, for all that can be
// told: through the year where the year was run, else at the noon. No side is a
// tie where only one is best.
func (c *Choice) Ties() []bool {
	years := slices.ContainsFunc(c.Sides, func(s Side) bool { return s.HasYear })
	out, n := make([]bool, len(c.Sides)), 0
	for i, s := range c.Sides {
		out[i] = years && s.HasYear && s.YearTie || !s.HasYear && s.Tie
		if out[i] {
			n++
		}
	}
	for i, s := range c.Sides {
		out[i] = n > 1 && out[i] && (s.HasYear || !years)
	}
	return out
}
