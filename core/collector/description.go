package collector

import (
	"fmt"
	"slices"

	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/optics"
)

// Description is a whole box as the solver needs it.
type Description struct {
	// Width and Height are the aperture of one box, m.
	Width, Height float64
	// Cells are the segments of one box's way; zero means [Segments].
	Cells int
	// Boxes are how many equal boxes there are; zero means one.
	Boxes int
	// Series says that they lie one after the other, and not side by side.
	Series bool
	// Gross is the area of all boxes with their frames, m2.
	Gross float64
	// Sheets are the covers, from the outside in; what follows is by cover as
	// well.
	Sheets        []optics.Sheet
	CoverInfrared []optics.Layer
	CoverService  []float64
	CoverMaterial []string
	// CoverStore is the heat that each cover takes up, J/m2K.
	CoverStore []float64
	// Between is the air behind each cover but the last, m.
	Between []float64
	// Webs is the conductance of what crosses that air, W/m2K, as in twin-wall
	// sheets.
	Webs []float64
	// Wave is the surface of the outer cover over its plan; 1 is flat.
	Wave float64
	// Dirt is the share of the sun that it keeps out, and Takes what it was measured to take in
	// over what is computed.
	Dirt, Takes float64
	// Walls is the reflectance of the side walls for the sun.
	Walls float64
	// Depth is from the inner cover to the absorber, m.
	Depth    float64
	Passages Passages
	// BackR is the resistance of foam and board, from the lining to the outside
	// of the back, m2K/W.
	BackR func(Tuning) float64
	// Mount is what lies behind the back: a wall, a rack, or nothing where the
	// box hangs indoors.
	Mount string
	// WallR is from the wall's outer face to the room, m2K/W.
	WallR float64
	// EdgeUA is the loss through the edges of one box, W/K.
	EdgeUA func(Tuning) float64
	// Seam is the leakage of all seams, m3/s at 1 Pa; it grows as the pressure
	// to the power of 0.65.
	Seam float64
	// Cold and Hot are the duct's elements before and behind the box.
	Cold, Hot []airflow.Element
	// bend is the loss coefficient of a right angle of this duct.
	bend float64
	Fan  airflow.Fan
	// FanAtHot says that the fan pulls at the outlet.
	FanAtHot bool
	// Natural says that warmth alone moves the air.
	Natural bool
	// Riser is the height of warm duct above the box, m.
	Riser float64
	// Indoors says that the box hangs behind the room's own window.
	Indoors bool
	// Stages are fans that join in one after the other; below two means one.
	Stages int
	// Strength is the share of its rated curve that the fan was measured to reach.
	Strength float64
	// Panel drives the fan in place of the mains; nil without.
	Panel *PanelDrive
	// FromOutdoors says that the inlet lies outdoors.
	FromOutdoors bool
	// VentCp is the pressure coefficient of the wind on an outdoor vent.
	VentCp float64
	// Conductance of the ducts that lie outdoors, W/K.
	ColdOut, HotOut float64

	row *row // boxes side by side between headers; nil without

	guard *guard // of its materials while the fan stands still; nil without
}

// Staged returns the box with only so many of its staged fans running, 1 or 2;
// one whose fans run together, or that has one, is returned as it is.
func (d *Description) Staged(fans int) *Description {
	if d.Stages < 2 || fans >= d.Stages {
		return d
	}
	x := *d
	x.Fan.Beside = fans
	return &x
}

// boxes is the number of boxes that share the same air or follow one another,
// at least one.
func (d *Description) boxes() float64 { return max(1, float64(d.Boxes)) }

// cells is how many pieces the air's way is cut into in each part.
func (d *Description) cells() int { return d.branching().cells() }

// segments is how many there are in all parts.
func (d *Description) segments() int { return d.cells() * len(d.parts()) }

// Ways is how many ways of the air a balance follows: boxes, classes of tubes and strips. What a balance costs grows with it.
func (d *Description) Ways() int { return len(d.parts()) }

// inSeries is how many boxes the air passes one after the other.
func (d *Description) inSeries() int {
	if d.Series && d.Boxes > 1 {
		return d.Boxes
	}
	return 1
}

// A part is what the balance takes as one way of the air from end to end of a box: a box, or a class of its tubes or
// strips, of boxes in a row the same of each class of them.
type part struct {
	// of is the box, and share the part's share of all the area.
	of    *Description
	share float64
}

// parts are those of a heater in the order of their segments.
func (d *Description) parts() []part { return d.branching().parts() }

// spread is each segment's share of all the area; nil where they are alike.
func (d *Description) spread() (shares []float64) {
	parts := d.parts()
	if len(parts) == 1 && d.Passages.Spread == nil {
		return nil
	}
	n := d.cells()
	for _, p := range parts {
		own := slices.Repeat([]float64{1 / float64(n)}, n)
		if cut := p.of.Passages.Spread; cut != nil {
			own = cut(n)
		}
		for _, s := range own {
			shares = append(shares, s*p.share)
		}
	}
	return shares
}

// Aperture is the area of all boxes that lets sun in, m2.
func (d *Description) Aperture() float64 { return d.branching().aperture() }

// Describe turns a valid heater into what the solver needs.
// Nothing in it depends on weather or flow, so that one description serves a
// whole year. The error names a material that the catalog does not know.
func Describe(h *design.Heater) (Description, error) {
	d, err := describe(h)
	if err != nil {
		return d, err
	}
	if h.IsRow() {
		if d, err = d.inRow(h); err != nil {
			return d, err
		}
	}
	return d, d.protect(h)
}

// describe is [Describe] without a guard, and of a row with all boxes alike and
// wide plenums.
func describe(h *design.Heater) (Description, error) {
	d := Description{Width: h.ApertureWidth(), Height: h.ApertureHeight(), Boxes: h.Array.Boxes,
		Series: h.Array.Boxes > 1 && h.Array.Join == "series",
		Dirt:   h.Cover.Dirt, Takes: h.Cover.Takes, Strength: h.Air.FanStrength, FanAtHot: h.Air.FanSide == "outlet",
		Natural: h.Air.Drive == "natural", Riser: h.Air.Riser,
		Indoors: h.Indoors(), Depth: h.Box.Gap}
	d.Gross = h.Gross() * d.boxes()
	if s := h.Absorber.Screens; s != nil && (!s.Deflector || s.Baffle < 1) { // the crossing changes within the length too
		d.Cells = 2 * Segments
	}
	if folded, _ := h.Folded(); folded && h.Absorber.Screens != nil { // each half is cut as finely as a whole box
		d.Cells = 2 * max(Segments, d.Cells)
	}
	if err := d.glaze(h); err != nil {
		return d, err
	}
	foam, err := catalog.FindInsulation(h.Box.Foam)
	if err != nil {
		return d, err
	}
	if err := d.body(h, foam); err != nil {
		return d, err
	}
	if err := d.ducts(h); err != nil {
		return d, err
	}
	if err := d.fan(h); err != nil {
		return d, err
	}
	k, err := newMaker(h, foam)
	if err != nil {
		return d, err
	}
	bare, ok := makers[h.Absorber.Family]
	if !ok {
		return d, fmt.Errorf("no way of making is called %q", h.Absorber.Family)
	}
	p, err := bare(k)
	if err != nil {
		return d, err
	}
	d.Passages = p.curtained(h).inClasses()
	d.join()
	return d, nil
}

// makers are how each family's passages are made; the file of a family puts its own in.
var makers = design.Each("passages", map[design.Family]func(*maker) (Passages, error){})

// join puts equal boxes together: side by side each has its share of the air,
// one after the other the second takes what the first gives.
// Boxes between headers are no part of this: see row.go.
func (d *Description) join() {
	if d.Boxes < 2 {
		return
	}
	one, elements := d.Passages.Air, d.Passages.Elements
	if d.Series {
		d.Passages.Elements = nil
		for range d.Boxes {
			d.Passages.Elements = append(d.Passages.Elements, elements...)
		}
		n := d.Boxes
		d.Passages.Air = func(f Flow) AirNet {
			f.LeakIn, f.LeakOut = f.LeakIn/float64(n), f.LeakOut/float64(n)
			var nets []AirNet
			for range n {
				nets = append(nets, one(f))
				f.Mass += f.LeakIn - f.LeakOut
			}
			return follow(nets)
		}
		return
	}
	n := float64(d.Boxes)
	d.Passages.Elements = []airflow.Element{shared{elements, n}}
	d.Passages.Air = func(f Flow) AirNet {
		f.Mass, f.LeakIn, f.LeakOut = f.Mass/n, f.LeakIn/n, f.LeakOut/n
		return times(one(f), n)
	}
}

// shared is equal ways side by side.
type shared struct {
	// of are the elements that each of n equal ways has.
	of []airflow.Element
	n  float64
}

// Loss implements [airflow.Element].
// Equal ways side by side share the mass and have one pressure drop.
func (s shared) Loss(m, t, p float64) (dp float64) {
	for _, e := range s.of {
		dp += e.Loss(m/s.n, t, p)
	}
	return dp
}
