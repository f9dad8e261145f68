package measure

import (
	"fmt"
	"math"
	"time"

	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/root"
	"gladember/core/solar"
	"gladember/core/units"
)

// Moment is when a test can be made.
type Moment string

// The moments.
const (
	AnyTime Moment = "any"
	InSun   Moment = "sun"  // a clear sky, the sun square on the glass
	InDark  Moment = "dark" // after sunset
)

// Spot is a place on or around a heater where something is measured.
type Spot string

// The spots.
const (
	AtInlet   Spot = "inlet"
	AtOutlet  Spot = "outlet"
	AtOutdoor Spot = "outdoor"
	AtGlass   Spot = "glass" // beside the glass, in its plane
	AtTop     Spot = "top"   // of the absorber
	InRoom    Spot = "room"
)

// Probe is where one thing is measured, and how.
type Probe struct {
	At   Spot
	Text units.Text
}

// Ask is one thing to enter.
type Ask struct {
	ID, Label string
	Kind      units.Kind
	// Unit is shown for a plain number, such as A.
	Unit string
	// Many is how many readings of it are taken at most; 1 where it is 0.
	Many int
	// Optional says that there is a result without it.
	Optional bool
	// Low and High bound what can be, in SI.
	Low, High float64
	// Trap says what this instrument is known to get wrong here.
	Trap units.Text
	// Still is how far the last four readings may drift to count as settled, in SI; 0 where
	// drift means nothing.
	Still float64
}

// Readings is how many readings of it are taken at most.
func (a *Ask) Readings() int { return max(1, a.Many) }

// Trial is a guided test.
type Trial struct {
	ID, Title string
	// Group is what it is about.
	Group string
	// Tells is what one knows afterwards.
	Tells units.Text
	When  Moment
	// Minutes is how long it takes.
	Minutes float64
	// Ready is what to have at hand, Do what is done in order, Spoils what makes it worthless,
	// Cautions what can hurt.
	Ready                []string
	Do, Spoils, Cautions []units.Text
	Probes               []Probe
	Asks                 []Ask
	// suits says which heaters it is for; nil for all that are no window panel.
	suits func(h *design.Heater) bool
	judge func(c *Case, o *Outcome) error
}

// Ask finds something to enter; nil for an unknown name.
// Only tests reach it, as a reference.
func (t *Trial) Ask(id string) *Ask {
	for i := range t.Asks {
		if t.Asks[i].ID == id {
			return &t.Asks[i]
		}
	}
	return nil
}

// Case is a test that was made on a heater.
type Case struct {
	Heater *design.Heater
	// Eval is the heater on its clear winter noon.
	Eval *collector.Evaluation
	// At is when it was made.
	At time.Time
	// Got are the readings by what was asked, SI.
	Got map[string][]float64
}

// Measured is a figure with its range.
type Measured struct {
	Name string
	Kind units.Kind
	Unit string // of a plain number
	collector.Band
}

// Likely is what may explain a difference, and the test that would show it.
type Likely struct {
	Text units.Text
	Test string // the ID of a [Trial]
}

// Outcome is what a test gave.
type Outcome struct {
	// Missing are the labels of what must still be entered before there is a result.
	Missing []string
	// Results are the figures, the one asked for first, and Predicted is what was expected of
	// that; nil where nothing was.
	Results   []Measured
	Predicted *Measured
	// Verdict says what it means, and Notes what to do better or again.
	Verdict units.Text
	Notes   []units.Text
	// Differs says that measured and predicted disagree beyond both ranges.
	Differs bool
	Likely  []Likely
	// Changes write what was measured into the heater.
	Changes []design.Change
}

// Suits says whether a test can be made on a heater.
func (t *Trial) Suits(h *design.Heater) bool {
	if t.suits != nil {
		return t.suits(h)
	}
	return !h.Indoors()
}

// Judge works out a test from what was entered so far. The error is one of the computation;
// what is missing or strange is told in the outcome.
func (t *Trial) Judge(c *Case) (*Outcome, error) {
	o := &Outcome{}
	for _, a := range t.Asks {
		if len(c.Got[a.ID]) == 0 && !a.Optional {
			o.Missing = append(o.Missing, a.Label)
		}
		if got := c.Got[a.ID]; a.Still > 0 && a.Many > 3 && len(got) > 3 && !Settled(got, a.Still) {
			o.note("%v has not settled: the last four readings still drift.", units.Word(a.Label))
		}
	}
	if len(o.Missing) > 0 {
		return o, nil
	}
	err := t.judge(c, o)
	return o, err
}

// note adds a sentence.
func (o *Outcome) note(format string, values ...units.Value) {
	o.Notes = append(o.Notes, units.Say(format, values...))
}

// first is the only reading of something, or the mean of several; NaN where there is none.
func (c *Case) first(id string) float64 {
	m, _ := Repeated(c.Got[id], 0)
	return m
}

// has says whether something was entered.
func (c *Case) has(id string) bool { return len(c.Got[id]) > 0 }

// input is what was entered as an input with its instrument's standard uncertainty: absolute,
// plus a share of the value.
func (c *Case) input(id, name string, absolute, share float64) Input {
	m, _ := Repeated(c.Got[id], 0)
	mean, u := Repeated(c.Got[id], math.Hypot(absolute, share*m))
	return Input{name, mean, u}
}

// pressure is that of the air at the heater's place, Pa.
func (c *Case) pressure() float64 { return solar.Pressure(c.Heater.Place.Elevation) }

// against sets a prediction beside the first result and says whether the two differ.
func (o *Outcome) against(p Measured) {
	o.Predicted = &p
	r := &o.Results[0]
	o.Differs = math.Abs(r.Value-p.Value) > 2*math.Hypot(r.U, p.U)
	low := r.Value < p.Value
	a, b := quantity(r, r.Value), quantity(&p, p.Value)
	switch {
	case !o.Differs:
		o.Verdict = units.Say("%v measured, %v predicted: the two agree within their ranges.", a, b)
	case low:
		o.Verdict = units.Say("%v measured, %v predicted: less than both ranges allow.", a, b)
	default:
		o.Verdict = units.Say("%v measured, %v predicted: more than both ranges allow.", a, b)
	}
}

// quantity is a value of a figure for a sentence.
func quantity(m *Measured, v float64) units.Value {
	if m.Unit != "" {
		return units.Word(fmt.Sprintf("%.3g %s", v, m.Unit))
	}
	return units.Q(m.Kind, v)
}

// told are the tests that settle an uncertain input, by the field that makes it smaller.
var told = map[string]string{design.AirFan.Path: "bag", design.AirDuct.Path: "bag", design.AirFanStrength.Path: "bag",
	design.ScreensMesh.Path:   "look",
	design.ScreensBypass.Path: "look", design.ScreensDeflector.Path: "look", design.BoxBody.Path: "leak", design.BoxSeam.Path: "leak",
	design.CoverMaterial.Path: "steady", design.CoverTauAlpha.Path: "steady", design.AbsorberPaint.Path: "look"}

// explain ranks what may explain a difference in the heat: the inputs of the prediction's
// budget by their size, and the sun where it was not measured.
func (o *Outcome) explain(b collector.Band, sunMeasured bool) {
	if !o.Differs {
		return
	}
	for _, c := range b.Largest(5) {
		test, ok := told[c.Path]
		if c.Name == "clear-sky sun" {
			test, ok = "sun", !sunMeasured
		}
		if ok {
			o.Likely = append(o.Likely, Likely{units.Say("%v", units.Word(c.Name)), test})
		}
	}
	o.Likely = append(o.Likely, Likely{units.Say("the difference between the probes"), "offsets"})
}

// predictedFlow is the volume flow that is predicted where the air leaves the box, m3/s.
func (c *Case) predictedFlow() Measured {
	rho := air.Density(c.Eval.Running.Outlet, c.pressure())
	b := c.Eval.Flow
	m := Measured{Name: "Airflow at the outlet", Kind: units.Flow}
	m.Band = collector.Band{Value: b.Value / rho, Low: b.Low / rho, High: b.High / rho, U: b.U / rho}
	return m
}

// strength is the share of its rated curve at which the fan moves a volume flow out of the
// box, m3/s, on the clear winter noon, and room what that is as air of the inlet, m3/s; ok is
// false for a heater without a fan and for a flow that no strength between 0.1 and 2 gives.
func (c *Case) strength(volume float64) (s, room float64, ok bool) {
	if !c.Heater.Fanned() {
		return 0, 0, false
	}
	miss := func(s float64) float64 {
		h := c.Heater.Clone()
		h.Air.FanStrength = s
		d, err := collector.Describe(&h)
		if err != nil {
			return math.NaN()
		}
		r, err := d.Rate(c.Eval.Running.Conditions, collector.Tuning{}, nil)
		if err != nil {
			return math.NaN()
		}
		room = r.Volume
		return r.Mass/air.Density(r.Outlet, c.pressure()) - volume
	}
	lo, hi := 0.1, 2.0
	if !(miss(lo) < 0 && miss(hi) > 0) {
		return 0, 0, false
	}
	lo, hi = root.Bisect(lo, hi, 15, func(s float64) bool { return miss(s) < 0 }) // to 1e-4
	return (lo + hi) / 2, room, true
}

// flow makes a measured volume flow the result, and writes it into the heater as the strength
// of its fan.
func (o *Outcome) flow(c *Case, v collector.Band) {
	o.Results = append(o.Results, Measured{Name: "Airflow at the outlet", Kind: units.Flow, Band: v})
	o.against(c.predictedFlow())
	if o.Differs {
		o.Likely = []Likely{{units.Say("a duct that is squeezed, slack or narrower than drawn"), "look"},
			{units.Say("a fan weaker or stronger than its rated curve"), "orifice"},
			{units.Say("leaks between the fan and where you measured"), "leak"}}
	}
	s, room, ok := c.strength(v.Value)
	if !ok {
		o.note("No fan of this curve moves that in this system: check the readings, and the fan that is chosen on the air station.")
		return
	}
	// The same air as it enters the box, which is what is called the airflow elsewhere.
	by := room / v.Value
	o.Results = append(o.Results, Measured{Name: "Airflow, as room air on the clear noon", Kind: units.Flow,
		Band: collector.Band{Value: room, Low: v.Low * by, High: v.High * by, U: v.U * by}})
	u := s * v.U / v.Value
	if up, _, ok := c.strength(v.Value + v.U); ok {
		u = up - s
	}
	o.Changes = append(o.Changes, design.Measure(design.AirFanStrength, s, u),
		design.Change{Path: design.LogFlowIs.Path, Value: string(design.WorkedOut), Origin: design.Measured})
}
