package network

// Outside is a fixed temperature that links may end at.
type Outside int

// The fixed temperatures.
const (
	Ambient Outside = iota
	SkyDome
	Indoors
	Outsides
)

// Role says in which part of the energy split a link to the outside counts.
type Role int

// Roles of links; Inner links join two layers.
const (
	Inner Role = iota
	Front
	Back
	Edge
	Room // warms the room without passing through the air
	Roles
)

// A Link carries heat between two layers, or from a layer to the outside. G
// is its conductance in W/m2K of aperture for the two temperatures in C.
type Link struct {
	A int
	// B is the other layer, for an Inner link; To is the other end else.
	B    int
	To   Outside // the other end, else
	Role Role
	// G is the conductance at the two temperatures in C, W/m2K of aperture.
	G func(ta, tb float64) float64
}

// Touch is a layer that an air node sweeps; H is the coefficient times
// surface per m2 of aperture, W/m2K, for layer and air temperature in C.
type Touch struct {
	Layer int
	// H is the film coefficient times surface, W/m2K of aperture, at the two
	// temperatures in C.
	H func(layer, air float64) float64
}

// Sources of a feed that are no air node.
const (
	FromInlet   = -1
	FromOutdoor = -2
)

// Feed is air that enters an air node: from the node From of segment At, from
// the inlet, or from outdoors, in kg/s.
type Feed struct {
	// From is the node, or one of the sources above, and At the segment that
	// the air comes from; Mass is in kg/s.
	From int
	At   int
	Mass float64
}

// A Pair is heat that an air node carries between two layers besides what they
// give to its mean: G is its conductance in W/m2K of aperture, in a segment,
// for the layers' temperatures in C. It may be negative.
type Pair struct {
	A, B int
	G    func(segment int, ta, tb float64) float64
}

// Air is an air node of each segment. Feeds[i] may name nodes of segments i-1, i and i+1; and of any other, as where one
// box follows another, if that one does not depend in turn on segment i.
type Air struct {
	// Name is for messages.
	Name string
	// Feeds are by segment.
	Feeds   [][]Feed
	Touches []Touch
	Pairs   []Pair
	// Scale multiplies the touches by segment; nil means 1.
	Scale []float64
}

// Part is a stretch of segments with its own links and air nodes, as many of
// these as the other parts have. Feeds of its air nodes count segments from the
// part's first.
type Part struct {
	First, Segments int
	Links           []Link
	Airs            []Air
}

// Network is the heat balance as the solver takes it.
type Network struct {
	Segments int
	// Spread is each segment's share of the area; nil for all alike.
	Spread []float64
	// Area is the aperture, m2.
	Area float64
	// Sun is what each layer absorbs, W/m2 of aperture.
	Sun   []float64
	Links []Link
	Airs  []Air
	// Parts stand in for Links and Airs where stretches of segments differ:
	// boxes side by side.
	Parts []Part
	// Outlet is what is mixed to the outlet; Mass in kg/s.
	Outlet []Feed
	// LeakOut is lost to outdoors.
	LeakOut []Feed
	// Cp is in J/kgK, and Inlet in C.
	Cp    float64
	Inlet float64
	// Outside are the fixed temperatures around, C.
	Outside [Outsides]float64

	// For steps in time: what each layer takes up, J/m2K, and the step, s. With
	// Old set, the layers' heat since then is part of the balance.
	Store []float64
	Step  float64
	Old   *State

	// sys is kept between solves of the same shape.
	sys *blocks
}

// State is a solved network: temperatures in C by segment.
type State struct {
	// Layer is by segment and layer, C.
	Layer [][]float64
	// Share is each segment's part of the area.
	Share []float64
	// Air is what leaves each node, by segment and node, C, and Mean the air in
	// it.
	Air    [][]float64
	Mean   [][]float64 // [segment][air], of the air in the node
	Outlet float64
	Lost   [Roles]float64 // W by role
	Rounds int
}

// part is the one that a segment belongs to.
func (n *Network) part(i int) (links []Link, airs []Air, first int) {
	for k := range n.Parts {
		if p := &n.Parts[k]; i < p.First+p.Segments {
			return p.Links, p.Airs, p.First
		}
	}
	return n.Links, n.Airs, 0
}

// airs is how many air nodes a segment has.
func (n *Network) airs() int {
	if len(n.Parts) > 0 {
		return len(n.Parts[0].Airs)
	}
	return len(n.Airs)
}

// share is a segment's part of the area.
func (n *Network) share(i int) float64 {
	if n.Spread == nil {
		return 1 / float64(n.Segments)
	}
	return n.Spread[i]
}
