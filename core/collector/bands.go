package collector

import (
	"context"
	"errors"
	"math"
	"slices"
	"sort"
	"time"

	"gladember/core/design"
	"gladember/core/internal/parallel"
)

// An Uncertainty is one input and by how much it moves for one sigma.
type Uncertainty struct {
	// Name is how a builder would say it.
	Name string
	// Path is the field by which a better value is entered; empty where none
	// does.
	Path string
	// By moves the input by one standard uncertainty.
	By Tuning
}

// One sigma of each input. The product's own judgment of the correlations'
// scatter and of what a hand-built box varies by.
const (
	sigmaTauAlpha  = 0.025
	sigmaEmittance = 0.03
	sigmaWind      = 0.35
	sigmaSkyDew    = 3.0 // K, with a dew point known
	sigmaSky       = 6.0 // K, without
	sigmaAirNu     = 0.15
	sigmaRibs      = 0.25
	sigmaGapNu     = 0.08
	sigmaFoam      = 0.20
	sigmaFanCurve  = 0.10
	sigmaFittings  = 0.20
	sigmaFlexible  = 0.30
	sigmaBypass    = 0.05
	sigmaClearSky  = 0.05
)

var (
	sigmaLeak = math.Log(1.65)
	// A label gives no pressure: fans of the same flow and power differ by as much.
	sigmaLabel = math.Log(1.8)
	sigmaJet   = math.Log(2)
)

// Uncertainties lists the inputs of a box that are not known. forecast adds
// the sun's own; a flow given leaves out those of fan and ducts.
// With flowGiven the inputs of fan and fittings fall out; with forecast the
// sun's own uncertainty comes in. Sources of the standard uncertainties are in
// METHODS.
func Uncertainties(h *design.Heater, flowGiven, forecast bool) []Uncertainty {
	us := []Uncertainty{
		{"glazing and paint", design.CoverMaterial.Path, Tuning{TauAlpha: sigmaTauAlpha}},
		{"infrared emission of the surfaces", design.AbsorberPaint.Path, Tuning{Emittance: sigmaEmittance}},
		{"wind on the glass", design.PlaceTerrain.Path, Tuning{Wind: sigmaWind}},
		{"sky temperature", "", Tuning{Sky: sigmaSky}},
		{"heat transfer to the air", design.AbsorberFamily.Path, Tuning{AirNu: sigmaAirNu}},
		{"convection in still air", "", Tuning{GapNu: sigmaGapNu}},
		{"insulation and its thermal bridges", design.BoxFoam.Path, Tuning{Foam: sigmaFoam}},
		{"leaks at the seams", design.BoxBody.Path, Tuning{Leak: sigmaLeak}},
	}
	if h.Absorber.Family == design.ScreenBox {
		us = append(us, Uncertainty{"bypass air around the screens", design.ScreensMesh.Path, Tuning{Bypass: sigmaBypass}})
		if s := h.Absorber.Screens; !s.Deflector || s.Baffle < 1 {
			us = append(us, Uncertainty{"inlet jet and baffle", design.ScreensDeflector.Path, Tuning{Jet: sigmaJet}})
		}
	}
	switch e := h.Entry(design.AirFanStrength); {
	case flowGiven:
	case e.U > 0: // the flow was measured, with what the fittings do to it
		us = append(us, Uncertainty{"measured airflow", design.AirFanStrength.Path, Tuning{FanCurve: e.U / h.Air.FanStrength}})
	default:
		f := sigmaFittings
		if h.Air.Duct != "smooth" {
			f = sigmaFlexible
		}
		if h.FanByLabel() {
			us = append(us, Uncertainty{"pressure of a fan known by its label", design.AirFanShutOff.Path, Tuning{ShutOff: sigmaLabel}})
		}
		us = append(us, Uncertainty{"fan curve", design.AirFan.Path, Tuning{FanCurve: sigmaFanCurve}},
			Uncertainty{"pressure drop of duct and fittings", design.AirDuct.Path, Tuning{Fittings: f}})
	}
	for i := range us {
		us[i].measured(h)
	}
	if forecast {
		us = append(us, Uncertainty{"clear-sky sun", "", Tuning{Sun: sigmaClearSky}})
	}
	return us
}

// measured replaces the size of an uncertainty by that of a measurement.
func (u *Uncertainty) measured(h *design.Heater) {
	by := func(path string) float64 { return h.Entries[path].U }
	switch {
	case u.By.TauAlpha != 0 && by(design.CoverTauAlpha.Path) > 0:
		u.By.TauAlpha, u.Path = by(design.CoverTauAlpha.Path)/h.Cover.Takes, design.CoverTauAlpha.Path
	case u.By.Leak != 0 && by(design.BoxSeam.Path) > 0 && h.Box.Seam > 0:
		u.By.Leak, u.Path = math.Log(1+by(design.BoxSeam.Path)/h.Box.Seam), design.BoxSeam.Path
	case u.By.Bypass != 0 && by(design.ScreensBypass.Path) > 0:
		u.By.Bypass, u.Path = by(design.ScreensBypass.Path), design.ScreensBypass.Path
	}
}

// Cause is a part of a band: what the figure moves by when one input moves by
// one sigma.
type Cause struct {
	// Name is that of the [Uncertainty].
	Name string
	// Effect is what one standard uncertainty of it does to the figure, in the
	// figure's own unit.
	Effect float64
	// Path is the field that makes it smaller, see [Uncertainty].
	Path string
}

// Band is where a figure lies with 95 % (k = 2), and what makes it wide, the
// largest first.
type Band struct {
	// Value is the figure; Low and High are the ends of its 95 % range.
	Value, Low, High float64
	// U is the standard uncertainty, in the same unit.
	U float64
	// Causes are in the order of their effect, the largest first.
	Causes []Cause
}

// Largest returns the first n causes that matter at all.
// They are those worth entering better values for.
func (b Band) Largest(n int) []Cause {
	for i, c := range b.Causes {
		if i == n || math.Abs(c.Effect) < 1e-3*b.U {
			return b.Causes[:i]
		}
	}
	return b.Causes
}

// NewBand returns the band of a value that inputs move by their effects of one
// sigma each.
// U is the root of the sum of squares of the effects; Low and High lie 2 U
// either side, k = 2 (GUM 5.1.2 and 6.2).
func NewBand(value float64, causes []Cause) Band {
	causes = slices.Clone(causes)
	sum := 0.0
	for _, c := range causes {
		sum += c.Effect * c.Effect
	}
	u := math.Sqrt(sum)
	sort.SliceStable(causes, func(i, j int) bool { return math.Abs(causes[i].Effect) > math.Abs(causes[j].Effect) })
	return Band{Value: value, Low: value - 2*u, High: value + 2*u, U: u, Causes: causes}
}

// Peak is a layer of the box on the worst noon with the fan off.
type Peak struct {
	LayerTemps
	// Likely is its hottest spot on the hottest noon that the place is likely to have with the glass uncovered, C: a clear sky on the
	// plane of the glass, where Max has the sun of the worst noon, which a wall may never see.
	Likely float64
	// Upper is the one-sided upper 95 % bound of its hottest spot on the worst noon, C.
	Upper float64
}

// Evaluation is a box at given conditions with everything that is said of it.
type Evaluation struct {
	Heater design.Heater
	// Running has the fan on, or the flow that was given.
	Running Result
	// Still is the same sun and weather with the fan off, see
	// [Description.FanOff].
	Still Result
	// Noon is the fan off on the worst noon of the year, see
	// [Evaluation.NoonMonth].
	Noon Result
	// NoonMonth is the month of the worst noon; 0 where it is the judged noon
	// with the sun raised to 1,100 W/m2 and the wind at most 1 m/s.
	NoonMonth time.Month
	// Likely is the fan off on the hottest of the clear noons of the place's months.
	Likely Result
	// Peaks are the layers' temperatures of Noon, with their upper bounds.
	Peaks []Peak
	// Heat is the band of the heat to the room, W, see [Result.Warms].
	Heat Band
	// Outlet is that of the outlet temperature, C.
	Outlet Band
	// Efficiency is that of heat over sun on the aperture.
	Efficiency Band
	// Stagnation is that of the absorber's hottest spot in Still, C.
	Stagnation Band
	// Flow is that of the mass flow, kg/s.
	Flow Band
	// forecast says that the sun is computed and not measured, which widens
	// every band.
	forecast bool
}

// Safety conditions: the windless bright noon against which materials are
// judged, and how a hot clear noon of any month differs from the month's mean
// temperature, K, and how clear its sky is (Linke turbidity). Common practice,
// no source.
const (
	SafetySun  = 1100.0 // W/m2 on the glass
	SafetyWind = 1.0    // m/s
	hotDay     = 10.0
	clearDay   = 2.5
)

// oneSided is the normal quantile of 95 %.
const oneSided = 1.645

// Like evaluates a heater without bands, running, with its fan off and on the
// worst noon. What its materials may be hotter than likely is, where the two
// have the same layers and the same guard, taken from the other evaluation, see
// [Nearly]; else it is computed.
// It is much cheaper than [Evaluate]: the margins, which take one
// run for each uncertain input, are those of the box that it is like.
func Like(h *design.Heater, c Conditions, of *Evaluation) (Evaluation, error) {
	e, d, err := likely(h, c, of)
	if err != nil || h.Guard == of.Heater.Guard && e.scaled(of) {
		return e, err
	}
	return e, e.judge(d, c)
}

// Judged is [Like] with no other evaluation to compare with: no bands, and the
// peaks computed.
// For judgments that need no bands of the running box.
func Judged(h *design.Heater, c Conditions, forecast bool) (Evaluation, error) {
	e, d, err := likely(h, c, &Evaluation{forecast: forecast})
	if err != nil {
		return e, err
	}
	return e, e.judge(d, c)
}

// judge computes the layers' peaks on the worst noon.
func (e *Evaluation) judge(d *Description, c Conditions) (err error) {
	us := Uncertainties(&e.Heater, c.Flow > 0, e.forecast)
	ns := make([]Result, len(us))
	for i, u := range us {
		if ns[i], err = d.FanOff(e.Noon.Conditions, u.By, &e.Noon); err != nil {
			return err
		}
	}
	e.peaks(ns)
	return nil
}

// Nearly is [Like] with the margins of the other evaluation even where the
// guard differs: quick enough to size one by. The two must have the same
// layers.
// The margins are scaled as the temperatures themselves are, which is on the
// safe side for a guard.
func Nearly(h *design.Heater, c Conditions, of *Evaluation) (Evaluation, error) {
	e, _, err := likely(h, c, of)
	if err == nil && !e.scaled(of) {
		err = errors.New("differences between the boxes")
	}
	return e, err
}

// likely evaluates a heater without bands and peaks.
func likely(h *design.Heater, c Conditions, of *Evaluation) (Evaluation, *Description, error) {
	e := Evaluation{Heater: *h, forecast: of.forecast}
	d, err := Describe(h)
	if err != nil {
		return e, &d, err
	}
	if e.Running, err = d.Rate(c, Tuning{}, nil); err != nil {
		return e, &d, err
	}
	if e.Still, err = d.FanOff(c, Tuning{}, nil); err != nil {
		return e, &d, err
	}
	return e, &d, e.safetyNoon(&d, h, c)
}

// scaled sets the layers' peaks by those of another evaluation of the same
// layers, each margin in proportion to how far its layer lies over the
// outdoors; it reports false where the layers differ.
func (e *Evaluation) scaled(of *Evaluation) bool {
	if len(of.Peaks) != len(e.Noon.Layers) {
		return false
	}
	for i, l := range e.Noon.Layers {
		if of.Peaks[i].Kind != l.Kind {
			return false
		}
	}
	for i, l := range e.Noon.Layers {
		p, upper := of.Peaks[i], l.Max
		if over := p.Max - of.Noon.Conditions.Ambient; over > 1 {
			upper += (p.Upper - p.Max) / over * max(0, l.Max-e.Noon.Conditions.Ambient)
		}
		e.Peaks = append(e.Peaks, Peak{l, e.Likely.Layers[i].Max, upper})
	}
	return true
}

// peaks sets the layers' peaks from the noon's balances with each uncertainty
// moved.
// Bound = temperature + 1.645 U, with U from the moved runs of that very layer.
func (e *Evaluation) peaks(moved []Result) {
	for i, l := range e.Noon.Layers {
		square := 0.0
		for _, n := range moved {
			x := n.Layers[i].Max - l.Max
			square += x * x
		}
		e.Peaks = append(e.Peaks, Peak{l, e.Likely.Layers[i].Max, l.Max + oneSided*math.Sqrt(square)})
	}
}

// raised returns conditions with the sun brought up to [SafetySun], what a
// mirror throws on the glass in addition and in proportion, and the wind down
// to [SafetyWind].
// It stands for the brightest noon that a heater without a place may see: 1,100
// W/m2 on the glass and little wind.
func raised(c Conditions) Conditions {
	if s := c.Sun.Total() - c.Sun.Mirror; s <= 0 {
		c.Sun.Beam = SafetySun
	} else if s < SafetySun {
		c.Sun = c.Sun.Dimmed(SafetySun / s)
	}
	c.Wind = min(c.Wind, SafetyWind)
	c.WindH = 0
	return c
}

// Evaluate rates a heater running, with its fan off and on the worst noon,
// each with its band. forecast says that the sun is computed, not measured.
// It is what a page shows at once: the running box with its bands, the same box
// with its fan off, and the worst noon of its year with the peaks of every
// material.
func Evaluate(h *design.Heater, c Conditions, forecast bool) (Evaluation, error) {
	e := Evaluation{Heater: *h, forecast: forecast}
	d, err := Describe(h)
	if err != nil {
		return e, err
	}
	if e.Running, err = d.Rate(c, Tuning{}, nil); err != nil {
		return e, err
	}
	if e.Still, err = d.FanOff(c, Tuning{}, nil); err != nil {
		return e, err
	}
	if err = e.safetyNoon(&d, h, c); err != nil {
		return e, err
	}
	noon := e.Noon.Conditions
	var heat, outlet, eff, still, flow []Cause
	ns := make([]Result, 0, 32)
	us := Uncertainties(h, c.Flow > 0, forecast)
	type moved struct{ r, s, n Result }
	ms := make([]moved, len(us))
	err = parallel.Each(context.Background(), len(us), func(i int) (err error) {
		m := &ms[i]
		if m.r, err = d.Rate(c, us[i].By, &e.Running); err != nil {
			return err
		}
		if m.s, err = d.FanOff(c, us[i].By, &e.Still); err != nil {
			return err
		}
		m.n, err = d.FanOff(noon, us[i].By, &e.Noon)
		return err
	}, nil)
	if err != nil {
		return e, err
	}
	for i, u := range us {
		r, s, n := ms[i].r, ms[i].s, ms[i].n
		heat = append(heat, Cause{u.Name, r.Warms() - e.Running.Warms(), u.Path})
		outlet = append(outlet, Cause{u.Name, r.Outlet - e.Running.Outlet, u.Path})
		eff = append(eff, Cause{u.Name, r.Efficiency - e.Running.Efficiency, u.Path})
		still = append(still, Cause{u.Name, s.AbsorberMax - e.Still.AbsorberMax, u.Path})
		flow = append(flow, Cause{u.Name, r.Mass - e.Running.Mass, u.Path})
		ns = append(ns, n)
	}
	e.Heat, e.Outlet = NewBand(e.Running.Warms(), heat), NewBand(e.Running.Outlet, outlet)
	e.Efficiency, e.Stagnation = NewBand(e.Running.Efficiency, eff), NewBand(e.Still.AbsorberMax, still)
	e.Flow = NewBand(e.Running.Mass, flow)
	e.peaks(ns)
	return e, nil
}
