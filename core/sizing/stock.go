package sizing

import (
	"fmt"
	"slices"
	"strings"

	"gladember/core/catalog"
	"gladember/core/design"
)

// Doubtful is the condition of a pane that may carry a coating; it is not built
// with until it has been tested.
const Doubtful = "doubtful"

// Conditions are those an item may be in.
var Conditions = []string{"sound", "worn", Doubtful}

// KnownCondition says whether a condition is one of them.
func KnownCondition(s string) bool { return slices.Contains(Conditions, s) }

// Thing is something that lies in the shed, or a lot of equal things.
type Thing struct {
	// Kind says what it is, which decides the fields below that count.
	Kind Kind `json:"kind"`
	// What is a row of the catalog: a cover, an insulation, a fan, a sheet or a
	// mesh.
	What string `json:"what,omitempty"`
	// Width, Height (or length) and Thickness are in m.
	Width     float64 `json:"width_m,omitempty"`
	Height    float64 `json:"height_m,omitempty"` // or length
	Thickness float64 `json:"thickness_m,omitempty"`
	// Count is how many there are.
	Count int `json:"count"`
	// Goal is how many are being collected; 0 for none.
	Goal int `json:"goal,omitempty"`
	// Condition is sound, worn or doubtful.
	Condition string `json:"condition"`
	// Price is for each; 0 for what is on hand.
	Price float64 `json:"price"`
	// Resale is what one would fetch.
	Resale float64 `json:"resale"`
}

// Kind is a sort of thing.
type Kind string

// The kinds.
const (
	PaneThing  Kind = "pane"
	FoamThing  Kind = "foam"
	MeshThing  Kind = "mesh"
	SheetThing Kind = "sheet"
	CanThing   Kind = "cans"
	PipeThing  Kind = "pipes"
	DuctThing  Kind = "duct" // ribbed flexible duct for a coil
	FanThing   Kind = "fan"
	PanelThing Kind = "panel" // PV
	SwitchKind Kind = "switch"
	BarThing   Kind = "bar" // timber
)

// Kinds lists them with the names that builders use, and what table What is of.
var Kinds = []struct {
	ID    Kind
	Name  string
	Of    func() []catalog.Choice // nil: nothing to choose
	Sized int                     // how many sizes it has: 0, 1 (length) or 2
}{
	{PaneThing, "pane or clear sheet", catalog.Covers, 2}, {FoamThing, "foam board", catalog.Insulations, 2},
	{MeshThing, "insect screen or lath", catalog.Meshes, 2}, {SheetThing, "sheet metal", catalog.Sheets, 2},
	{CanThing, "drink cans", nil, 0}, {PipeThing, "downpipes", nil, 1}, {DuctThing, "ribbed flexible duct", nil, 1},
	{FanThing, "fan", catalog.Fans, 0}, {SwitchKind, "switch", nil, 0}, {PanelThing, "solar panel", nil, 0},
	{BarThing, "bar of timber", nil, 1},
}

// Check says what is wrong with a thing and how it would be right.
// It returns nil, or what to enter instead, for the first thing that is wrong.
func (t *Thing) Check() error {
	for _, k := range Kinds {
		if k.ID != t.Kind {
			continue
		}
		known := k.Of == nil && t.What == ""
		if k.Of != nil {
			for _, c := range k.Of() {
				known = known || c.ID == t.What
			}
		}
		switch {
		case !known:
			return fmt.Errorf("there is no %s called %q; choose one of the list", k.Name, t.What)
		case k.Sized > 0 && !(t.Height >= 0.05 && t.Height <= 50):
			return fmt.Errorf("the size of the %s is missing: enter it like 34 x 58 or 2.4 m", k.Name)
		case k.Sized > 1 && !(t.Width >= 0.05 && t.Width <= 5):
			return fmt.Errorf("a %s has two sizes; write them like 34 x 58", k.Name)
		case t.Kind == FoamThing && !(t.Thickness >= 0.003 && t.Thickness <= 0.3):
			return fmt.Errorf("the thickness of the insulation is missing: enter it like 25 mm or 1 in")
		case t.Count < 1 || t.Count > 10000 || t.Goal < 0 || t.Goal > 10000:
			return fmt.Errorf("%d is not a possible quantity: enter 1 to 10,000", t.Count)
		case !(t.Price >= 0 && t.Price < 1e5 && t.Resale >= 0 && t.Resale < 1e5):
			return fmt.Errorf("a price is 0 or more; 0 for what lies there")
		}
		return nil
	}
	return fmt.Errorf("there is no kind of thing called %q", t.Kind)
}

// Area is what one covers or makes an absorber for, m2; 0 for what has none. A
// can is 66 mm wide and 113 mm of its 115 count once joined; ribbed duct lies
// in runs 0.11 m apart (common practice, no source).
// m2 of one; of a can, a pipe or a hose what it covers of the aperture.
func (t *Thing) Area() float64 {
	switch t.Kind {
	case CanThing:
		return 0.066 * 0.113
	case PipeThing:
		return 0.075 * t.Height
	case DuctThing:
		return 0.11 * t.Height
	}
	return t.Width * t.Height
}

// Makes are the families that a thing is the absorber of.
// A pane makes none by itself.
func (t *Thing) Makes() []design.Family {
	switch t.Kind {
	case MeshThing:
		return []design.Family{design.ScreenBox}
	case SheetThing:
		return []design.Family{design.BackPassPlate, design.FrontPassPlate, design.DoublePassPlate}
	case CanThing:
		return []design.Family{design.CanColumns}
	case PipeThing:
		return []design.Family{design.Downpipes, design.DoublePassTubes}
	case DuctThing:
		return []design.Family{design.RibbedCoil}
	}
	return nil
}

// sheets of screen a screen box takes.
const screenLayers = 2

// CollectStock makes a stock of what lies in the shed. What the shed does not
// hold of foam and fans is offered as bought, at prices that are common
// practice, no source. Doubtful panes stay out.
// Prices of what lies there are 0. budget is in the document's currency.
func CollectStock(things []Thing, budget float64) Stock {
	s := Stock{Budget: budget, Ducts: []float64{0.100, 0.125, 0.150}}
	areas, prices := map[design.Family]float64{}, map[design.Family]float64{}
	var order []design.Family
	for i := range things {
		t := &things[i]
		n := float64(t.Count)
		switch t.Kind {
		case PaneThing:
			if t.Condition != Doubtful && len(s.Panes) < 12 {
				s.Panes = append(s.Panes, Pane{t.Width, t.Height, t.What, t.Thickness, t.Count, t.Price})
			}
		case FoamThing:
			if len(s.Foams) < 8 {
				s.Foams = append(s.Foams, Foam{t.What, t.Thickness, t.Price / max(0.01, t.Area())})
			}
		case FanThing:
			if len(s.Fans) < 12 {
				s.Fans = append(s.Fans, Fan{t.What, t.Price})
			}
		}
		for _, f := range t.Makes() {
			if _, known := areas[f]; !known {
				order = append(order, f)
			}
			a := n * t.Area()
			if f == design.ScreenBox {
				a /= screenLayers
			}
			areas[f] += a
			prices[f] = max(prices[f], t.Price/max(0.01, t.Area()))
		}
	}
	for _, f := range order {
		s.Absorbers = append(s.Absorbers, Absorber{f, prices[f], areas[f]})
	}
	if len(s.Absorbers) == 0 { // what every shop for building sells
		s.Absorbers = []Absorber{{design.ScreenBox, 6, 0}, {design.BackPassPlate, 14, 0}, {design.FrontPassPlate, 12, 0}}
	}
	if len(s.Foams) == 0 {
		s.Foams = []Foam{{"faced-wool", 0.030, 6}, {"faced-wool", 0.050, 9}}
	}
	if len(s.Fans) == 0 {
		s.Fans = []Fan{{"computer-120", 12}, {"inline-4", 30}, {"inline-5", 38}}
	}
	return s
}

// Collected says how far a lot that is being collected has come.
// In words, such as "140 of 300"; empty without a goal.
func (t *Thing) Collected() string {
	if t.Goal <= t.Count {
		return ""
	}
	return fmt.Sprintf("%d of %d", t.Count, t.Goal)
}

// Verdict is what a pane's test says.
type Verdict struct {
	// Good says that the pane lets enough sun through to be used.
	Good bool
	// Share is the part of the sun that it lets through, if that was measured.
	Share float64
	// Text is the verdict in a sentence.
	Text string
}

// leastThrough is what a clear pane lets through at the least: 4 mm of window
// glass about 0.82, double 0.70; a coated or tinted one 0.2 to 0.55. Common
// practice, no source.
const leastThrough = 0.62

// TestPane judges a pane laid in the sun for two minutes: by the current of a
// small solar panel in the open and under it, or, where these are zero, by
// whether the ground under it felt warmer, the same or colder than the ground
// beside it.
// open and under are a small panel's current in the open and under the pane, in
// any one unit; ground is warmer, same or colder, for a builder without a
// panel.
func TestPane(open, under float64, ground string) (Verdict, error) {
	switch {
	case open > 0 || under > 0:
		if !(open > 0 && under >= 0 && under <= 1.02*open) {
			return Verdict{}, fmt.Errorf("the current under the pane cannot be higher than without it: measure both again with the " +
				"panel square to the sun")
		}
		v := Verdict{Share: under / open}
		if v.Good = v.Share >= leastThrough; v.Good {
			v.Text = fmt.Sprintf("It lets %.0f %% of the sun through: clear enough for a box.", 100*v.Share)
		} else {
			v.Text = fmt.Sprintf("It lets only %.0f %% of the sun through: tinted or coated against the sun. Keep it for something else.",
				100*v.Share)
		}
		return v, nil
	case ground == "warmer":
		return Verdict{Good: true, Text: "The ground under it warms: it lets the sun in and holds its heat. Good for a box."}, nil
	case ground == "same" || ground == "colder":
		return Verdict{Text: "The ground under it does not warm: it is coated or tinted against the sun. Do not use it."}, nil
	}
	return Verdict{}, fmt.Errorf("choose whether the ground under the pane is warmer, the same or colder, or enter the two currents of " +
		"the panel")
}

// Ranked is a box that a pane makes with a way of building.
type Ranked struct {
	// Heater is the box that the pane and the absorber on hand would make.
	Heater design.Heater
	Pane   Pane
	Family design.Family
	// Short is the absorber that is still missing, m2.
	Short float64
	// Changes make a heater of one's own into it: pane, cover and family.
	Changes []design.Change
}

// Boxes returns the boxes that each pane of a stock makes with each absorber,
// in the place and space of a heater, without any of them being worked out;
// those that the stuff suffices for come first.
// In the order of the stock, each with the absorber that is still missing.
// Nothing is run: whether a box is safe or good is another question.
func Boxes(h design.Heater, s *Stock) (out []Ranked) {
	b := bare(h)
	x := &search{h: b, stock: s, steps: steps(&b, s)}
	for i := range x.steps[0] {
		for j := range x.steps[1] {
			p := x.middle()
			p[0], p[1] = i, j
			if k := x.step("covers"); k >= 0 {
				p[k] = 0 // one cover, so that a single pane makes one too
			}
			if c := x.made(p, false); c != nil {
				a := s.Absorbers[j]
				r := Ranked{Heater: c.Heater, Pane: s.Panes[i], Family: a.Family, Changes: append(append([]design.Change(nil),
					c.Choices[0].Changes...), c.Choices[1].Changes...)}
				if a.Area > 0 {
					r.Short = max(0, c.Heater.Aperture()-a.Area)
				}
				out = append(out, r)
			}
		}
	}
	return out
}

// Words names a thing in a line.
func (t *Thing) Words() string {
	name := string(t.Kind)
	for _, k := range Kinds {
		if k.ID == t.Kind {
			name = k.Name
			if k.Of != nil {
				for _, c := range k.Of() {
					if c.ID == t.What {
						name = c.Name
					}
				}
			}
		}
	}
	return strings.TrimSpace(name)
}
