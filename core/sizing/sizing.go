package sizing

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"sync"

	"gladember/core/advice"
	"gladember/core/catalog"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/parallel"
	"gladember/core/season"
	"gladember/core/space"
	"gladember/core/units"
)

// Pane is a sheet at hand; Count of them may lie over each other, up to two.
type Pane struct {
	// Width and Height are in m.
	Width  float64 `json:"width_m"`
	Height float64 `json:"height_m"`
	// Material is a cover of the catalog, Thickness its own, m.
	Material  string  `json:"material"`
	Thickness float64 `json:"thickness_m,omitempty"`
	// Count is how many there are.
	Count int `json:"count"`
	// Price is for each; 0 for what is on hand.
	Price float64 `json:"price"`
}

// Foam is insulation at hand.
type Foam struct {
	// Material is an insulation of the catalog.
	Material string `json:"material"`
	// Thickness is in m.
	Thickness float64 `json:"thickness_m"`
	// Price is for a square meter.
	Price float64 `json:"price_m2"`
}

// Fan is one at hand, by its row of the catalog.
type Fan struct {
	// Model is a fan of the catalog.
	Model string  `json:"model"`
	Price float64 `json:"price"`
}

// Absorber is a way of making it that there is stuff for.
type Absorber struct {
	// Family is a way of making the absorber.
	Family design.Family `json:"family"`
	// Price is for a square meter of aperture.
	Price float64 `json:"price_m2"`
	// Area is what there is material for, m2; 0 for as much as it takes.
	Area float64 `json:"area_m2,omitempty"`
}

// Stock is what is at hand or can be had, and what may be spent.
type Stock struct {
	// Panes are the glazings to choose from; each proposal is built around one.
	Panes     []Pane     `json:"panes"`
	Foams     []Foam     `json:"foams"`
	Fans      []Fan      `json:"fans"`
	Absorbers []Absorber `json:"absorbers"`
	// Ducts are bores, m.
	Ducts []float64 `json:"ducts_m"`
	// Tilts are in degrees; empty keeps the heater's own.
	Tilts []float64 `json:"tilts_deg,omitempty"`
	// Budget is what may be spent; 0 for no limit. Without fans in the list boxes are moved by warmth alone.
	Budget float64 `json:"budget"`
}

// DefaultStock is the stock a heater itself shows: its own pane twice, the
// families that need no hoard, three thicknesses of mineral wool, and the small
// fans.
func DefaultStock(h *design.Heater) Stock {
	s := Stock{Panes: []Pane{{h.Pane.Width, h.Pane.Height, h.Cover.Material, h.Cover.Thickness, 2, 0}},
		Ducts: []float64{0.100, 0.125, 0.150}}
	if h.Indoors() {
		s.Panes[0].Material, s.Panes[0].Thickness = "glass", 0.004
	}
	for _, t := range []float64{0.025, 0.050, 0.080} {
		s.Foams = append(s.Foams, Foam{"faced-wool", t, 0})
	}
	for _, m := range []string{"computer-120", "computer-120-strong", "ec-inline-4", "ec-inline-5"} {
		s.Fans = append(s.Fans, Fan{m, 0})
	}
	for _, f := range []design.Family{design.ScreenBox, design.CanColumns, design.Downpipes, design.RibbedCoil, design.BackPassPlate,
		design.FrontPassPlate, design.DoublePassPlate, design.PassiveBox} {
		s.Absorbers = append(s.Absorbers, Absorber{f, 0, 0})
	}
	return s
}

// Check says what is wrong with a stock.
// The error names the list, and of panes the row.
func (s *Stock) Check() error {
	switch {
	case len(s.Panes) == 0:
		return errors.New("panes: there is none; the pane decides the box, so name at least one")
	case len(s.Absorbers) == 0:
		return errors.New("absorbers: there is none; name at least one family, such as screen-box")
	case len(s.Panes) > 12 || len(s.Absorbers) > 12 || len(s.Fans) > 12 || len(s.Foams) > 8 || len(s.Ducts) > 6 || len(s.Tilts) > 6:
		return errors.New("the stock is longer than can be searched; give up to 12 panes, absorbers and fans, 8 foams, 6 ducts and tilts")
	}
	for i, p := range s.Panes {
		if !(p.Width >= 0.15 && p.Height >= 0.15 && p.Width <= 3 && p.Height <= 4) || p.Count < 1 || p.Price < 0 {
			return fmt.Errorf("panes.%d: it is no pane; give width_m 0.15 to 3, height_m 0.15 to 4, a count and a price of 0 or more", i)
		}
		if _, err := catalog.FindCover(p.Material); err != nil {
			return fmt.Errorf("panes.%d: %w", i, err)
		}
	}
	for i, f := range s.Foams {
		if _, err := catalog.FindInsulation(f.Material); err != nil {
			return fmt.Errorf("foams.%d: %w", i, err)
		}
	}
	for i, f := range s.Fans {
		if _, err := catalog.FindFan(f.Model); err != nil {
			return fmt.Errorf("fans.%d: %w", i, err)
		}
	}
	families := design.AbsorberFamily.Choices()
	for i, a := range s.Absorbers {
		if !slices.ContainsFunc(families, func(c catalog.Choice) bool { return c.ID == string(a.Family) }) {
			return fmt.Errorf("absorbers.%d: there is no family %q; name one that `gladember example` lists, such as screen-box", i,
				a.Family)
		}
	}
	return nil
}

// Choice is one step of a heater: what was chosen out of what.
type Choice struct {
	// Step is what is chosen, such as the pane or the fan.
	Step string
	// Changes make a heater take it.
	Changes []design.Change
	Name    string
	// Price is for the whole, and per for a square meter of the pane besides.
	Price float64
	per   float64 // a m2 of the pane besides
}

// The steps of a search, in the order in which a builder meets them. SmallParts
// are what a box calls for beside the stock, such as a vent or a damper.
const (
	PaneStep     = "pane"
	AbsorberStep = "absorber"
	TiltStep     = "tilt"
	CoversStep   = "covers"
	GapStep      = "gap to the glass"
	BackStep     = "back foam"
	DuctStep     = "duct"
	FanStep      = "fan"
	SwitchStep   = "switch"
	SmallParts   = "small parts"
)

// Candidate is a heater with its year.
type Candidate struct {
	Heater design.Heater
	// Choices are one for each step.
	Choices []Choice
	Year    *season.Result
	// Cost is what they come to.
	Cost float64
	// noon is the heat to the room less the fan's power on the clear winter
	// noon, W.
	noon float64
}

// Net is what a year of it is worth: useful heat less the fan's electricity, kWh.
// It is what the search makes as large as it can.
func (c *Candidate) Net() float64 { return c.Year.Year.Net() }

// Reason is why a step was chosen: the best of the other choices, all else the
// same, gives Gain kWh a year less and costs Saves less.
type Reason struct {
	// Step names the choice, Chosen what was taken and Instead the next best.
	Step, Chosen, Instead string
	Is, Other             Choice
	// Gain is what the chosen one gives more, kWh a year, and Saves what it
	// costs less.
	Gain  float64
	Saves float64 // money
}

// Answer is what the search found.
type Answer struct {
	// Proposal is the best that the stock can make.
	Proposal *Candidate
	Reasons  []Reason
	// RunnerUp is the best of another family; nil where there is none.
	RunnerUp *Candidate
	// Rule is the area by the rule of thumb, m2.
	Rule float64
	// Years is how many were run.
	Years int
}

// steps are the choices of a heater, in the order in which a builder meets them.
// Steps with one choice are kept, so that an answer lists all that it is made
// of.
func steps(h *design.Heater, s *Stock) [][]Choice {
	var out [][]Choice
	add := func(cs ...Choice) {
		if len(cs) > 0 {
			out = append(out, cs)
		}
	}
	var panes, absorbers, tilts, layers, gaps, foams, ducts, fans, points []Choice
	most := 1
	for _, p := range s.Panes {
		most = max(most, min(2, p.Count))
		cs := []design.Change{design.Set(design.PaneWidth, p.Width), design.Set(design.PaneHeight, p.Height),
			design.Set(design.CoverMaterial, p.Material)}
		if p.Thickness > 0 {
			cs = append(cs, design.Set(design.CoverThickness, p.Thickness))
		}
		panes = append(panes, Choice{Step: PaneStep, Changes: cs, Name: fmt.Sprintf("%.0f x %.0f mm of %s", p.Width*1000, p.Height*1000,
			p.Material), Price: p.Price})
	}
	for _, a := range s.Absorbers {
		absorbers = append(absorbers, Choice{Step: AbsorberStep, Changes: []design.Change{design.Set(design.AbsorberFamily, a.Family)},
			Name: string(a.Family), per: a.Price})
	}
	lean := min(90, max(45, 5*math.Round((math.Abs(h.Place.Latitude)+20)/5)))
	ts := s.Tilts
	if len(ts) == 0 {
		ts = []float64{90, lean}
		if theirs := h.Given(design.PlaceTilt); theirs {
			ts = []float64{h.Place.Tilt}
		}
	}
	for _, t := range ts {
		tilts = append(tilts, Choice{Step: TiltStep, Changes: []design.Change{design.Set(design.PlaceTilt, t)},
			Name: fmt.Sprintf("%.0f degrees", t)})
	}
	for n := 1; n <= most; n++ {
		layers = append(layers, Choice{Step: CoversStep, Changes: []design.Change{design.Set(design.CoverLayers, n)},
			Name: fmt.Sprintf("%d", n)})
	}
	for _, g := range []float64{0.025, 0.040} {
		gaps = append(gaps, Choice{Step: GapStep, Changes: []design.Change{design.Set(design.BoxGap, g)},
			Name: fmt.Sprintf("%.0f mm", g*1000)})
	}
	for _, f := range s.Foams {
		foams = append(foams, Choice{Step: BackStep, Changes: []design.Change{design.Set(design.BoxFoam, f.Material),
			design.Set(design.BoxBackFoam, f.Thickness)}, Name: fmt.Sprintf("%.0f mm of %s", f.Thickness*1000, f.Material), per: f.Price})
	}
	for _, d := range s.Ducts {
		ducts = append(ducts, Choice{Step: DuctStep, Changes: []design.Change{design.Set(design.AirDiameter, d)},
			Name: fmt.Sprintf("%.0f mm", d*1000)})
	}
	if len(s.Fans) == 0 { // none is to be had, and none that a heater has already costs nothing
		fans = append(fans, Choice{Step: FanStep, Changes: []design.Change{design.Set(design.AirDrive, "natural")}, Name: "no fan"})
	}
	for _, f := range s.Fans {
		fans = append(fans, Choice{Step: FanStep, Changes: []design.Change{design.Set(design.AirFan, f.Model)}, Name: f.Model,
			Price: f.Price})
	}
	over := []design.Change{design.Set(design.SwitchKind, "differential"), design.Set(design.SwitchOnAbove, 8.0),
		design.Set(design.SwitchOffAbove, 3.0)}
	for _, p := range []float64{28, 34, 0, 43} {
		if p == 0 { // in the middle, where the search begins
			points = append(points, Choice{Step: SwitchStep, Changes: over, Name: "on 8 K over the space, off 3 K over it"})
			continue
		}
		points = append(points, Choice{Step: SwitchStep, Changes: []design.Change{design.Set(design.SwitchKind, "snap"),
			design.Set(design.SwitchClose, p),
			design.Set(design.SwitchOpen, p-8)}, Name: fmt.Sprintf("on at %.0f C, off at %.0f C", p, p-8)})
	}
	add(panes...)
	add(absorbers...)
	add(tilts...)
	add(layers...)
	add(gaps...)
	add(foams...)
	add(ducts...)
	add(fans...)
	add(points...)
	return out
}

// search is a search on its way.
type search struct {
	ctx   context.Context
	h     design.Heater
	y     *season.Laid
	stock *Stock
	steps [][]Choice
	// together are steps whose choices depend on each other.
	together [][2]int
	lock     sync.Mutex
	seen     map[string]*Candidate
	// guard says whether a box may be made safe by a guard.
	guard bool
	// refused are the boxes left out for a danger or a fault, by its ID.
	refused map[string]*Unsafe
	// guards are those that were found, by pane and family.
	guards map[string][]design.Change
	tried  [][]int
	// leader is the best of the candidates before.
	leader   *Candidate
	done, of int
	progress func(done, of int)
}

// Unsafe is returned where no box of a stock is safe: of the gravest findings,
// the one that left out most of them.
type Unsafe struct {
	// ID and Title are those of the finding that left out most boxes.
	ID, Title string
	severity  advice.Severity
	boxes     int
}

// It names the finding, and what to add to the stock.
func (u *Unsafe) Error() string {
	return fmt.Sprintf("no box of this stock is safe: %s; add what stands the heat or moves the air, such as mineral wool, glass or a fan",
		strings.ToLower(u.Title[:1])+u.Title[1:])
}

// Best looks for the best heater of a stock in the place and space of a heater,
// whose other decisions hold as far as they apply.
// h gives place and space; y is its weather. The error is [Unsafe] where every
// box would be dangerous, or says that nothing can be made of the stock or
// within its budget.
func Best(ctx context.Context, h design.Heater, y *climate.Year, s Stock, progress func(done, of int)) (*Answer, error) {
	if err := s.Check(); err != nil {
		return nil, err
	}
	x := &search{ctx: ctx, h: bare(h), y: &season.Laid{Year: y}, stock: &s, steps: steps(&h, &s), seen: map[string]*Candidate{},
		refused: map[string]*Unsafe{}, progress: progress}
	const absorber = 1
	for _, names := range [][2]string{{PaneStep, CoversStep}, {DuctStep, FanStep}} {
		i, j := x.step(names[0]), x.step(names[1])
		if i >= 0 && j >= 0 && len(x.steps[i]) > 1 && len(x.steps[j]) > 1 {
			x.together = append(x.together, [2]int{i, j})
		}
	}
	starts, err := x.begin()
	if err != nil {
		return nil, err
	}
	if len(x.ranked(starts)) == 0 && len(x.refused) > 0 { // a guard against the heat may save them
		x.guard, x.seen, x.guards = true, map[string]*Candidate{}, map[string][]design.Change{}
		if starts, err = x.begin(); err != nil {
			return nil, err
		}
	}
	best := x.ranked(starts)
	if len(best) == 0 && len(x.refused) > 0 {
		worst := slices.MaxFunc(slices.Sorted(maps.Keys(x.refused)),
			func(a, b string) int {
				p, q := x.refused[a], x.refused[b]
				return cmp.Or(-cmp.Compare(p.severity, q.severity), cmp.Compare(p.boxes, q.boxes))
			})
		return nil, x.refused[worst]
	}
	if len(best) == 0 {
		return nil, errors.New("nothing of this stock makes a box within the budget; raise it, or add a pane, a fan or foam")
	}
	// The best pair of each of the best families goes on.
	const families = 4
	var from [][]int
	had := map[int]bool{}
	for _, p := range best {
		if !had[p[absorber]] && len(from) < families && x.at(p).Net() >= promising*x.at(best[0]).Net() {
			had[p[absorber]] = true
			from = append(from, p)
		}
	}
	if from, err = x.improve(from, false); err != nil {
		return nil, err
	}
	// What the others have learned may suit the winner, another family too.
	if from, err = x.improve(x.ranked(from)[:1], true); err != nil {
		return nil, err
	}
	top := from[0]
	for x.guard && !x.holds(x.at(top)) { // judged whole, it does not: the next best
		x.seen[key(top)] = nil
		rest := x.ranked(x.tried)
		if len(rest) == 0 {
			return nil, errors.New("no box of this stock stays below its limits even with a guard against the heat; add what stands " +
				"it, such as mineral wool or glass")
		}
		top = rest[0]
	}
	a := &Answer{Proposal: x.at(top), Rule: space.RuleOfThumb(h.Room.Floor), Years: len(x.seen)}
	for _, c := range x.seen {
		if c != nil && c.Heater.Absorber.Family != a.Proposal.Heater.Absorber.Family && (a.RunnerUp == nil || c.Net() > a.RunnerUp.Net()) {
			a.RunnerUp = c
		}
	}
	a.Reasons = x.reasons(top)
	return a, nil
}

// promising is the share of the best start's worth from which a family is
// improved. Found on the stocks of the tests: a family whose first fan wastes
// power begins at 0.78 of the best and ends above it; those that begin lower
// end at a tie at best.
const promising = 0.75

// begin returns every pane with every absorber, all else as it begins, and runs
// their years.
// Every pane with every family, the other steps at their middle choice.
func (x *search) begin() ([][]int, error) {
	const pane, absorber = 0, 1
	var starts [][]int
	for i := range x.steps[pane] {
		for j := range x.steps[absorber] {
			p := x.middle()
			p[pane], p[absorber] = i, j
			if x.make(p) == nil { // over the budget: begin with the least of everything
				p = x.frugal()
				p[pane], p[absorber] = i, j
			}
			starts = append(starts, p)
		}
	}
	if err := parallel.Each(x.ctx, len(starts), func(i int) error {
		starts[i] = x.sound(starts[i])
		return nil
	}, nil); err != nil {
		return nil, err
	}
	if err := x.all(starts); err != nil {
		return nil, err
	}
	return starts, nil
}

// holds says whether a box with a guard has no danger or fault by its whole
// judgment.
// It is judged whole, with margins of its own.
func (x *search) holds(c *Candidate) bool {
	_, _, left, err := advice.Mended(&c.Heater, func(string) bool { return false }, false)
	return err == nil && len(left) == 0
}

// bare gives back to us what the search decides.
func bare(h design.Heater) design.Heater {
	n := h.Clone()
	for _, f := range design.Fields {
		switch f.Part() {
		case design.PanePart, design.CoverPart, design.AbsorberPart, design.BoxPart, design.AirPart, design.SwitchPart, design.GuardPart:
			delete(n.Entries, f.Path)
		}
	}
	delete(n.Entries, design.MoneySpent.Path)
	design.Refresh(&n)
	return n
}

// step is the index of a step, or -1.
func (x *search) step(name string) int {
	return slices.IndexFunc(x.steps, func(cs []Choice) bool { return cs[0].Step == name })
}

// middle is the choice in the middle of each step.
func (x *search) middle() []int {
	p := make([]int, len(x.steps))
	for i := range p {
		p[i] = len(x.steps[i]) / 2
	}
	return p
}

// frugal is the cheapest choice of each step.
// It is the cheapest of every step.
func (x *search) frugal() []int {
	p := make([]int, len(x.steps))
	for i, cs := range x.steps {
		for k, c := range cs {
			if c.Price+c.per < cs[p[i]].Price+cs[p[i]].per {
				p[i] = k
			}
		}
	}
	return p
}

// key names a set of picks in the cache.
func key(p []int) string { return fmt.Sprint(p) }

// at is a candidate already worked out, nil where it is not.
func (x *search) at(p []int) *Candidate {
	x.lock.Lock()
	defer x.lock.Unlock()
	return x.seen[key(p)]
}

// make builds a candidate's heater; nil where the choices do not go together,
// or cost too much.
func (x *search) make(p []int) *Candidate { return x.made(p, true) }

// made is make; without strict, stuff and money need not suffice.
// p are the indices of the choices; strict leaves out boxes over the budget and
// those that there is not enough absorber for.
func (x *search) made(p []int, strict bool) *Candidate {
	c := &Candidate{}
	h := x.h
	var err error
	area := 0.0
	for i, k := range p {
		choice := x.steps[i][k]
		for _, change := range choice.Changes {
			f := design.FieldAt(change.Path)
			if !f.Applies(&h) {
				continue
			}
			if h, err = design.Apply(h, units.System{}, change); err != nil {
				return nil
			}
		}
		if i == 0 {
			area = h.Pane.Width * h.Pane.Height
		}
		c.Cost += choice.Price + choice.per*area
		c.Choices = append(c.Choices, choice)
	}
	if h.Cover.Layers > 1 { // the second pane is one of the same
		c.Cost += x.steps[0][p[0]].Price
		if x.stock.Panes[p[0]].Count < h.Cover.Layers {
			return nil
		}
	}
	if strict && x.stock.Budget > 0 && c.Cost > x.stock.Budget {
		return nil
	}
	if a := x.stock.Absorbers[p[1]].Area; strict && a > 0 && a < h.Aperture() {
		return nil
	}
	if len(design.Validate(&h)) > 0 {
		return nil
	}
	c.Heater = h
	return c
}

// all runs the years of the points not yet known.
// The candidates are run two at a time; those seen before are not run again.
func (x *search) all(ps [][]int) error {
	var todo [][]int
	for _, p := range ps {
		if _, known := x.seen[key(p)]; !known && !slices.ContainsFunc(todo, func(q []int) bool { return slices.Equal(p, q) }) {
			todo = append(todo, p)
		}
	}
	x.of += len(todo)
	x.tried = append(x.tried, todo...)
	defer func() {
		for _, p := range todo {
			if c := x.at(p); c != nil && (x.leader == nil || c.Net() > x.leader.Net()) {
				x.leader = c
			}
		}
	}()
	return parallel.Each(x.ctx, len(todo), func(i int) error {
		c := x.make(todo[i])
		if c != nil {
			if c = x.safe(c); c != nil && x.hopeless(c) {
				c = nil
			}
			if c != nil {
				var err error
				if c.Year, err = x.y.Run(&c.Heater); err != nil {
					c = nil
				}
			}
		}
		x.lock.Lock()
		defer x.lock.Unlock()
		x.seen[key(todo[i])] = c
		x.done++
		if x.progress != nil {
			x.progress(x.done, max(x.of, x.done))
		}
		return nil
	}, nil)
}

// hopeless says whether a box gives so much less than the best so far on the
// clear winter noon that its year need not be run.
// It solves the clear winter noon, which takes a small part of the time of a
// year.
func (x *search) hopeless(c *Candidate) bool {
	noon := func(h *design.Heater) float64 {
		r, err := collector.Rate(h, collector.ConditionsAt(h, collector.WinterNoon(h)))
		if err != nil {
			return math.Inf(-1)
		}
		return r.Warms() - r.Bought
	}
	c.noon = noon(&c.Heater)
	return x.leader != nil && c.noon < unlikely*x.leader.noon
}

// unlikely is the share of the best noon under which a box is left out. On the
// stocks of the tests the proposal is the same with any share from 0.5 to 0.85.
const unlikely = 0.8

// smallParts are what the search buys beside the stock, so that a box holds;
// guardParts what it adds where no box of the stock holds without a guard
// against the heat.
var (
	smallParts = []string{design.BoxSealant.Path, design.BoxAdhesive.Path, design.BoxTape.Path, design.AbsorberPaint.Path}
	guardParts = []string{design.GuardKind.Path, design.GuardActuator.Path, design.GuardOpens.Path, design.GuardArea.Path,
		design.GuardPasses.Path}
)

// safe returns a candidate with the small parts that it calls for; nil where a
// danger or a fault stays.
// Better sealant, adhesive, tape and paint are taken with it; a guard only
// where guards are allowed in this search.
func (x *search) safe(c *Candidate) *Candidate {
	kind := fmt.Sprint(c.Choices[0].Name, c.Heater.Absorber.Family)
	if x.guard { // what saved its like, if it saves this one
		x.lock.Lock()
		known := x.guards[kind]
		x.lock.Unlock()
		if h, err := design.Apply(c.Heater, units.System{}, known...); known != nil && err == nil {
			if n, made, left, err := advice.Mended(&h, func(path string) bool { return slices.Contains(smallParts, path) },
				true); err == nil && len(left) == 0 {
				c.Heater = n
				c.Choices = append(c.Choices, Choice{Step: SmallParts, Changes: slices.Concat(known, made)})
				return c
			}
		}
	}
	h, made, left, err := advice.Mended(&c.Heater, func(path string) bool {
		return slices.Contains(smallParts, path) || x.guard && slices.Contains(guardParts, path)
	}, true)
	if err != nil {
		return nil
	}
	if len(left) > 0 {
		x.lock.Lock()
		defer x.lock.Unlock()
		for _, f := range left {
			if x.refused[f.Title] == nil {
				x.refused[f.Title] = &Unsafe{ID: f.ID, Title: f.Title, severity: f.Severity}
			}
			x.refused[f.Title].boxes++
		}
		return nil
	}
	if len(made) > 0 {
		if x.guard {
			var guard []design.Change
			for _, m := range made {
				if slices.Contains(guardParts, m.Path) {
					guard = append(guard, m)
				}
			}
			x.lock.Lock()
			x.guards[kind] = guard
			x.lock.Unlock()
		}
		c.Heater = h
		c.Choices = append(c.Choices, Choice{Step: SmallParts, Changes: made})
	}
	return c
}

// sound returns a point that is safe, with one step besides the pane and the
// absorber changed where that is needed; the point itself where none is.
// It returns p itself where its box is sound already, or where none is.
func (x *search) sound(p []int) []int {
	try := func(p []int) bool {
		c := x.make(p)
		return c != nil && x.safe(c) != nil
	}
	if try(p) {
		return p
	}
	for i := 2; i < len(x.steps); i++ {
		for k := range x.steps[i] {
			q := slices.Clone(p)
			q[i] = k
			if k != p[i] && try(q) {
				return q
			}
		}
	}
	return p
}

// ranked orders points by what they are worth, without those that are nothing.
// Those that could not be made or run are left out.
func (x *search) ranked(ps [][]int) [][]int {
	var out [][]int
	for _, p := range ps {
		if x.at(p) != nil {
			out = append(out, p)
		}
	}
	slices.SortStableFunc(out, func(a, b []int) int { return cmp.Compare(x.at(b).Net(), x.at(a).Net()) })
	return out
}

// improve changes the choices of points while that helps, and leaves behind
// those that fall far below the best of them; the family changes only if it is
// free. A round tries every choice of every step by itself, so that the years
// of a round run side by side, and then all the choices that helped at once.
// Steps that hang together are tried in pairs when no single choice helps.
// free lets the family vary too. Candidates that fall behind the best are
// dropped on the way.
func (x *search) improve(ps [][]int, free bool) ([][]int, error) {
	pairs := false
	for {
		var around [][][]int
		for _, p := range ps {
			around = append(around, x.neighbors(p, free, pairs))
		}
		if err := x.all(slices.Concat(around...)); err != nil {
			return nil, err
		}
		var joined [][]int
		for i, p := range ps {
			joined = append(joined, x.join(p, around[i]))
		}
		if err := x.all(joined); err != nil {
			return nil, err
		}
		better := false
		for i, p := range ps {
			q := x.ranked(slices.Concat([][]int{p, joined[i]}, around[i]))[0]
			if x.at(q).Net() > x.at(p).Net()+0.05 {
				ps[i], better = q, true
			}
		}
		best := x.at(x.ranked(ps)[0]).Net()
		ps = slices.DeleteFunc(ps, func(p []int) bool { return x.at(p).Net() < best-(1-within)*math.Abs(best) })
		if !better && pairs {
			return ps, nil
		}
		pairs = !better
	}
}

// within is the share of the best point's worth below which a family is left
// behind after a round. The first round brings nearly all of the gain.
const within = 0.95

// neighbors are the points that differ from one in a single step, or with pairs
// in two steps that hang together.
// All that differ from p by one choice; with pairs, those that differ by two
// that depend on each other instead.
func (x *search) neighbors(p []int, free, pairs bool) (out [][]int) {
	const absorber = 1
	if pairs {
		for _, two := range x.together {
			for k := range x.steps[two[0]] {
				for l := range x.steps[two[1]] {
					q := slices.Clone(p)
					q[two[0]], q[two[1]] = k, l
					out = append(out, q)
				}
			}
		}
		return out
	}
	for i := range x.steps {
		if i == absorber && !free {
			continue
		}
		for k := range x.steps[i] {
			if k != p[i] {
				q := slices.Clone(p)
				q[i] = k
				out = append(out, q)
			}
		}
	}
	return out
}

// join takes the best choice of each step from the points around one.
// Choices that helped one by one may not help together, so the joined candidate
// is run as well and has to win by itself.
func (x *search) join(p []int, around [][]int) []int {
	q := slices.Clone(p)
	most := make([]float64, len(p))
	for i := range most {
		most[i] = x.at(p).Net()
	}
	for _, n := range around {
		c := x.at(n)
		for i := range n {
			if c != nil && n[i] != p[i] && c.Net() > most[i] {
				q[i], most[i] = n[i], c.Net()
			}
		}
	}
	return q
}

// reasons compares each step's choice with the best of the others.
// Most of these were run on the way already.
func (x *search) reasons(p []int) (out []Reason) {
	here := x.at(p)
	around := x.neighbors(p, true, false)
	if err := x.all(around); err != nil {
		return nil
	}
	for i := range x.steps {
		r := Reason{Step: here.Choices[i].Step, Chosen: here.Choices[i].Name, Is: here.Choices[i], Gain: math.Inf(1)}
		for _, q := range around {
			if o := x.at(q); o != nil && q[i] != p[i] && here.Net()-o.Net() < r.Gain {
				r.Instead, r.Other, r.Gain, r.Saves = o.Choices[i].Name, o.Choices[i], here.Net()-o.Net(), here.Cost-o.Cost
			}
		}
		if r.Instead != "" {
			out = append(out, r)
		}
	}
	return out
}

// Random returns a heater of the stock by chance, with its year, for comparison;
// nil where the choices do not go together.
// pick returns a number below n; it returns nil where the box cannot be made or
// is not safe.
// Only tests reach it, as a reference.
func Random(h design.Heater, y *climate.Year, s Stock, pick func(n int) int) *Candidate {
	x := &search{ctx: context.Background(), h: bare(h), y: &season.Laid{Year: y}, stock: &s, steps: steps(&h, &s),
		seen: map[string]*Candidate{}, refused: map[string]*Unsafe{}}
	p := make([]int, len(x.steps))
	for i := range p {
		p[i] = pick(len(x.steps[i]))
	}
	if err := x.all([][]int{p}); err != nil {
		return nil
	}
	return x.at(p)
}
