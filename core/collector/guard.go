package collector

import (
	"cmp"
	"math"
	"slices"
	"time"

	"gladember/core/airflow"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/internal/root"
	"gladember/core/solar"
)

// guard is what heat opens or closes on a box whose fan stands still in the sun.
type guard struct {
	// begins is the temperature at the actuator from which it moves, C.
	begins float64
	// span is how much warmer it must get to move all the way, K.
	span float64
	// vent is the box as a chimney between vents to outdoors, wide open; nil
	// for a shutter.
	vent *Description
	// passes is the share of the sun that a closed shutter lets through.
	passes float64
}

// Losses of a guard's openings: the loss coefficient of a flap that stands
// open, on the speed in its free area (a sharp-edged opening of discharge
// coefficient 0.6), what the gasket of a closed flap leaks for each meter at 1
// Pa, m3/s, the conductance of a flap lined with 20 mm of foam, W/m2K, and the
// share of the sun that an open shutter's parked slats keep out. Common
// practice, no source.
const (
	lossVent   = 2.8
	flapLeak   = 2e-5
	flapU      = 1.4
	parkedTake = 0.02
)

// protect adds the guard of a heater to its description, and what it costs
// while it is closed.
// A vent makes a second description of the same box: a chimney between two
// vents to outdoors. A shutter only takes sun away.
func (d *Description) protect(h *design.Heater) error {
	g := h.Guard
	if d.Indoors || g.Kind != "vent" && g.Kind != "shutter" {
		return nil
	}
	d.guard = &guard{begins: g.Opens, span: g.Span(), passes: g.Passes}
	if g.Kind == "shutter" {
		d.Dirt = 1 - (1-d.Dirt)*(1-parkedTake)
		return nil
	}
	rim := 2 * 2 * (d.Width + h.VentSlot())
	d.Seam += rim * flapLeak * d.boxes()
	edge := d.EdgeUA
	d.EdgeUA = func(t Tuning) float64 { return edge(t) + 2*g.Area*flapU }

	x := h.Clone()
	x.Guard, x.Array = design.Guard{Kind: "none"}, design.Array{Boxes: 1}
	x.Air.PortFace, x.Air.PortPlaces = "back", "opposite"
	x.Air.Ports, x.Air.Diameter = 1, math.Sqrt(4*g.Area/math.Pi) // the turn from the vent, as of a round hole of its area
	v, err := Describe(&x)
	if err != nil {
		return err
	}
	v.through(g.Area, g.Chimney)
	switch h.Absorber.Family {
	case design.ScreenBox, design.PassiveBox, design.FrontPassPlate: // its own airway runs along the cover
	default:
		v.alongCover()
	}
	v.EdgeUA = d.EdgeUA
	d.guard.vent = &v
	return nil
}

// through turns a box into a chimney: outdoor air enters by a vent of an area,
// m2, at the bottom, rises through the box's own airway, and leaves by an equal
// vent at the top.
func (d *Description) through(area, chimney float64) {
	d.Natural, d.FromOutdoors, d.VentCp, d.Panel = true, true, 0, nil
	d.Riser, d.ColdOut, d.HotOut = chimney, 0, 0
	bore := airflow.Duct{Diameter: math.Sqrt(4 * area / math.Pi), Area: area, Fittings: lossVent}
	d.Cold, d.Hot = []airflow.Element{bore}, []airflow.Element{airflow.Duct{Diameter: bore.Diameter, Area: area, Fittings: lossVent,
		Length: chimney}}
}

// alongCover lets a box's air rise between the cover and the absorber, with
// standing air in the airway of the fan.
func (d *Description) alongCover() {
	gap := d.Passages.Layers[0].Gap
	front := passage{name: "in front", section: heattransfer.Slot, dh: 2 * gap, depth: gap, area: gap * d.Width, length: d.Height,
		fittings: lossInto, walls: [2]wall{{layer: -1, surface: 1}, {layer: 0, surface: 1}}}
	p := d.Passages
	p.Elements, p.Air = routed([][]passage{{front}})
	p.Spread, p.Evenness, p.Strips, p.classes, p.branches, p.tubes = nil, nil, nil, 0, 0, false
	d.Passages, d.row = p, nil
}

// FanOff returns the box with its fan standing still: as [Description.Still],
// and with its guard as far open or closed as the heat moves it. start, if not
// nil, is a result of this kind to begin from.
// Without a guard it is the standing box. With one, the share of its travel is
// searched at which the actuator is as warm as that share says: in an open vent
// it feels the air that leaves, else the middle between absorber and cover.
func (d *Description) FanOff(c Conditions, t Tuning, start *Result) (Result, error) {
	g := d.guard
	if g == nil {
		return d.Still(c, t, start)
	}
	if g.vent == nil {
		return g.balance(func(share float64) (Result, float64, error) {
			dim := c
			dim.Sun = c.Sun.Dimmed(1 - share*(1-g.passes))
			r, err := d.Still(dim, t, start)
			r.Conditions.Sun = c.Sun
			return r, (r.AbsorberMean + r.CoverInner) / 2, err
		})
	}
	if !d.FromOutdoors {
		c.Room = c.Inlet
	}
	c.Inlet, c.NoFlow, c.Flow = c.Ambient, false, 0
	if start != nil && start.Mass <= 0 {
		start = nil
	}
	r, err := g.balance(func(share float64) (Result, float64, error) {
		if share == 0 {
			still := c
			still.Inlet = c.Room
			r, err := d.Still(still, t, nil)
			return r, (r.AbsorberMean + r.CoverInner) / 2, err
		}
		v := *g.vent
		open := func(es []airflow.Element) []airflow.Element {
			return []airflow.Element{scaled{es[0], 1 / (share * share)}}
		}
		v.Cold, v.Hot = open(v.Cold), open(v.Hot)
		r, err := v.Rate(c, t, start)
		if r.Mass <= 0 { // too narrow to draw
			return r, (r.AbsorberMean + r.CoverInner) / 2, err
		}
		return r, r.Outlet, err
	})
	if !d.FromOutdoors {
		r.Conditions.Inlet = c.Room
	}
	return r, err
}

// leastOpen is how far a guard is open when it is called open at all.
const leastOpen = 0.01

// balance returns the box with the guard moved by the share at which the
// temperature that the actuator feels there, C, is the one that moves it so
// far. That temperature falls as it moves.
// At gives the box with the guard moved by a share of its travel. A guard that
// the heat does not reach stays shut, one that is not enough stands all the way
// open.
func (g *guard) balance(at func(share float64) (Result, float64, error)) (Result, error) {
	want := func(share float64) float64 { return g.begins + share*g.span }
	r, feels, err := at(1)
	if err != nil || feels >= want(1) {
		return r, err
	}
	lo, hi, fhi := leastOpen, 1.0, feels-want(1)
	if r, feels, err = at(lo); err != nil {
		return r, err
	}
	flo := feels - want(lo)
	if flo <= 0 {
		r, _, err = at(0)
		return r, err
	}
	_, err = root.Between(lo, flo, hi, fhi, func(x, width float64) (f float64, enough bool, err error) {
		if r, feels, err = at(x); err != nil {
			return 0, false, err
		}
		f = feels - want(x)
		return f, math.Abs(f) < 1e-3 || width < 1e-6, nil
	})
	return r, err
}

// HotNoon returns the conditions of a hot, clear and nearly windless noon of a
// month: its mean temperature and ten kelvins, a sky of little haze.
// Its air is hotDay warmer than the month's mean, its sky clear, and its sun
// that of the 21st.
func HotNoon(h *design.Heater, month time.Month) Conditions {
	// Mean solar noon: the sun is within four degrees of its noon then, and a
	// quarter of a per cent of its strength.
	at := ClockNoon(Site(h), month)
	c := ConditionsIn(h, at, clearDay)
	c.Ambient = h.MonthMean(int(month)) + hotDay
	c.Sky = solar.Swinbank(c.Ambient)
	c.Room = max(c.Room, min(c.Ambient, h.Room.Vent))
	if c.Inlet = c.Room; h.Air.Source == "outdoors" {
		c.Inlet = c.Ambient
	}
	c.Wind = SafetyWind
	return c
}

// How much hotter than the outdoors a box at rest gets, for the choice of the
// months worth a balance alone: it grows a little less than the sun, and falls
// by so much for each kelvin of warmer outdoors, since radiation then takes
// more. Found on the example boxes.
const (
	warming   = 0.9
	radiating = 0.0035
	worth     = 6.0 // K below the hottest within which a month gets its balance
)

// safetyNoon sets the box's worst noon with its fan off: the judged one with
// the sun raised, or the hot noon of a month in which the glass is not covered,
// whichever leaves it hotter.
// The months in which the glazing is not covered are put in order by a rough
// rise of their absorber; the two hottest are solved with the fan off, and
// beside them the judged noon with its sun raised.
func (e *Evaluation) safetyNoon(d *Description, h *design.Heater, c Conditions) (err error) {
	noon := raised(c)
	e.Noon, err = d.FanOff(noon, Tuning{}, &e.Still)
	if e.Likely = e.Noon; err != nil || d.Indoors {
		return err
	}
	type month struct {
		m     time.Month
		c     Conditions
		about float64
	}
	var months []month
	rise := e.Noon.AbsorberMax - noon.Ambient
	for m := time.January; m <= time.December; m++ {
		if h.Cover.Covered(int(m)) {
			continue
		}
		hot := HotNoon(h, m)
		hot.Pressure = c.Pressure
		x := math.Pow(max(0, hot.Sun.Total())/noon.Sun.Total(), warming) * (1 - radiating*(hot.Ambient-noon.Ambient))
		months = append(months, month{m, hot, hot.Ambient + rise*x})
	}
	slices.SortFunc(months, func(a, b month) int { return cmp.Compare(b.about, a.about) })
	for i, m := range months {
		if i == 2 || i > 0 && m.about < e.Noon.AbsorberMax-worth {
			break
		}
		r, err := d.FanOff(m.c, Tuning{}, &e.Noon)
		if err != nil {
			return err
		}
		if i == 0 || r.AbsorberMax > e.Likely.AbsorberMax {
			e.Likely = r
		}
		if r.AbsorberMax > e.Noon.AbsorberMax {
			e.Noon, e.NoonMonth = r, m.m
		}
	}
	return nil
}
