package measure

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"sort"
	"time"

	"gladember/core/air"
	"gladember/core/solar"
	"gladember/core/units"
)

// Sample is one reading. NaN stands for what was not measured.
type Sample struct {
	// At is the instant of the reading.
	At time.Time
	// Inlet, Outlet and Outdoor are temperatures, C; NaN where nothing was
	// read.
	Inlet   float64
	Outlet  float64 // C
	Outdoor float64 // C
	// Sun is in the plane of the glass, W/m2.
	Sun float64
	// Speed is in the duct on its axis, m/s.
	Speed float64
}

// FlowOrigin says where the flow comes from: it decides its uncertainty and
// what to doubt first.
type FlowOrigin string

// Origins of a flow.
const (
	FlowGiven     FlowOrigin = "given"     // no word on how
	FlowPredicted FlowOrigin = "predicted" // fan curve against resistance
	FlowFreeAir   FlowOrigin = "free-air"  // the fan's label
	FlowSpeed     FlowOrigin = "speed"     // from the logged speed
	FlowMeasured  FlowOrigin = "measured"  // predicted, with the fan as it was measured
)

// uFlow is one sigma of a flow by its origin, as a share of it: a flow that is
// merely given is trusted to 10 %, a MeanOverCenter speed to 9 %.
var uFlow = map[FlowOrigin]float64{FlowGiven: 0.10, FlowPredicted: 0.12, FlowFreeAir: 0.10, FlowSpeed: 0.09,
	FlowMeasured: 0.05}

// One sigma of a hobby probe, K, and how far two probes on a logger err alike.
const (
	uProbe           = 0.5
	probeCorrelation = 0.5
)

// MeanOverCenter is the mean speed over that on the axis of a round duct in
// turbulent flow with 10 diameters of straight run; u = 9 %.
const MeanOverCenter = 0.82

// Setup is what is known besides the readings.
type Setup struct {
	// Flow is the mass flow, kg/s; with DuctArea and logged speeds it is not
	// needed.
	Flow float64
	// FlowOrigin says how Flow was found.
	FlowOrigin FlowOrigin
	// FlowU is its standard uncertainty as a share; zero takes that of the
	// origin.
	FlowU float64
	// DuctArea is the cross section for logged speeds, m2.
	DuctArea float64
	// Area is the aperture, m2.
	Area float64
	// FanPower is what the fan takes while it runs, W; the heat does not hang on it.
	FanPower float64
	// Pressure is that of the air, Pa; zero means sea level.
	Pressure float64
	// UsefulAbove is the outlet temperature from which an hour is useful, C.
	UsefulAbove float64
	// ProbeU is the standard uncertainty of a probe, K, once its offset is taken off, see
	// [Mending]; zero is that of a hobby probe.
	ProbeU float64
	// Ahead and Swapped are what the readings were put right by, see [Mending]: a finding goes
	// on from there.
	Ahead   time.Duration
	Swapped bool
	// Close and Open are the thermostat's points, C; both zero: running when
	// the rise says so.
	Close, Open float64
	// Site is where the heater stands; nil leaves no clear sky to judge by.
	Site *Placement
	// Zone is that in which days are counted.
	Zone *time.Location
	// Units are those of what findings say.
	Units units.System
}

// Mending is what is known to be wrong with a logger and can be put right.
type Mending struct {
	// Inlet, Outlet and Outdoor are by how much the probes read too high, K.
	Inlet, Outlet, Outdoor float64
	// Ahead is how far its clock is ahead.
	Ahead time.Duration
	// Swapped says that its inlet is the outlet.
	Swapped bool
}

// Apply returns readings that are put right; the readings given stay as they are.
func (m Mending) Apply(samples []Sample) []Sample {
	if m == (Mending{}) {
		return samples
	}
	out := slices.Clone(samples)
	for i := range out {
		s := &out[i]
		if m.Swapped {
			s.Inlet, s.Outlet = s.Outlet, s.Inlet
		}
		s.At, s.Inlet, s.Outlet, s.Outdoor = s.At.Add(-m.Ahead), s.Inlet-m.Inlet, s.Outlet-m.Outlet, s.Outdoor-m.Outdoor
	}
	return out
}

// Placement is where the glass stands.
type Placement struct {
	solar.Site
	// Tilt and Facing are in degrees.
	Tilt, Facing float64
	// Around is what shades the glass; nil is an open place.
	Around *solar.Surroundings
	// Sky is the air's clearness; zero is ordinary clear air over bare ground.
	Sky solar.Air
}

// Clear is the clear-sky sun on the glass at an instant, W/m2.
func (p *Placement) Clear(at time.Time) float64 {
	around := p.Around
	if around == nil {
		around = &solar.Surroundings{}
	}
	return around.On(at, p.Site, p.Tilt, p.Facing, p.Sky).Total()
}

// minRise is the outlet's rise over the inlet, K, from which a fan is taken to
// run when nothing else tells.
const minRise = 2.0

// MaxSun is more than the sun ever puts on a tilted pane, W/m2: the bound
// where neither place nor sun is known. Clear-sky peaks with snow in front
// stay below 1,300.
const MaxSun = 1300.0

// Gap is a hole in the log.
type Gap struct{ From, To time.Time }

// Run is a stretch with the fan on.
type Run struct{ From, To time.Time }

// Day is one local day of a log.
type Day struct {
	// Date is local, as 2026-02-10.
	Date string
	// Heat is in kWh, and Band its 95 % range.
	Heat float64
	Band [2]float64
	// Sun is what fell on the aperture while it was logged, kWh: measured or of
	// a clear sky; NaN if unknown.
	Sun float64
	// RunHours is how long the fan ran.
	RunHours float64
	// Rise is the mean while the fan ran, weighted by flow, K.
	Rise float64
	// Flow is the mean while the fan ran, kg/s.
	Flow float64
	// Useful is in hours.
	Useful float64
	// Peak is the highest outlet temperature, C, at PeakAt.
	Peak    float64
	PeakAt  time.Time
	Runs    []Run
	Gaps    []Gap
	Samples int
	// Impossible says that the heat is more than the sun gave.
	Impossible bool
}

// Efficiency is the day's heat over the sun on the glass while it was logged;
// NaN without a sun.
// NaN where the sun is not known.
func (d Day) Efficiency() float64 {
	if d.Sun > 0 {
		return d.Heat / d.Sun
	}
	return math.NaN()
}

// FanEnergy is what the fan took that day, kWh, at a power in W while it ran.
func (d Day) FanEnergy(power float64) float64 { return d.RunHours * power / 1000 }

// Report is a judged log.
type Report struct {
	// Samples is how many distinct readings were used.
	Samples int
	// Repeated is how many were given twice or more.
	Repeated int
	// Unordered says that their times ran backwards somewhere.
	Unordered bool
	// Interval is the usual time from one to the next.
	Interval time.Duration
	Gaps     []Gap
	// Heat is in kWh, Band its 95 % range and U its standard uncertainty.
	Heat float64
	Band [2]float64
	U    float64 // kWh
	// Refused says that the heat is more than the sun gave, so that it is not
	// shown as a result.
	Refused bool
	// Useful is in hours.
	Useful float64
	// Peak is the highest outlet temperature, C, at PeakAt.
	Peak     float64
	PeakAt   time.Time
	Days     []Day
	Findings []Finding
	// SunIs is "measured", "of a clear sky" or empty.
	SunIs string
	// Flow is the one that was used, kg/s, and FlowOrigin how it was found.
	Flow       float64
	FlowOrigin FlowOrigin
	// Causes are the parts of U, the largest first.
	Causes []Cause
}

// Cause is a part of the band: kWh for one sigma of one input.
type Cause struct {
	// Name is what is uncertain, and Effect what it does to the heat, kWh.
	Name   string
	Effect float64
}

// Combine returns the standard uncertainty of a result from the sensitivity to
// each input, the input's standard uncertainty, and the correlation of each
// pair. Source: JCGM 100:2008 eq. 16. r may be nil: no correlation.
// c are sensitivities, u standard uncertainties, r the correlations, all of one
// length; nil for r is none.
func Combine(c, u []float64, r [][]float64) float64 {
	sum := 0.0
	for i := range c {
		for j := range c {
			rho := 0.0
			switch {
			case i == j:
				rho = 1
			case r != nil:
				rho = r[i][j]
			}
			sum += c[i] * c[j] * u[i] * u[j] * rho
		}
	}
	return math.Sqrt(max(0, sum))
}

// LogLinear returns the measuring depths of a round duct as shares of its
// diameter. Source: ISO 3966, log-linear method, 4 or 6 points a diameter.
// Shares of the diameter from the wall, for 4 or 6 points on one diameter.
// Only tests reach it, as a reference.
func LogLinear(points int) ([]float64, error) {
	switch points {
	case 4:
		return []float64{0.043, 0.290, 0.710, 0.957}, nil
	case 6:
		return []float64{0.032, 0.135, 0.321, 0.679, 0.865, 0.968}, nil
	}
	return nil, fmt.Errorf("%d points on a diameter: use 4 or 6", points)
}

// ErrEmpty is returned for a log without a single usable reading.
var ErrEmpty = errors.New("the log holds no reading with a time, an inlet and an outlet temperature")

// Clean sorts readings by time, drops those that repeat a time and those
// without a plausible inlet and outlet.
// They come by time, each instant once, of which the first given is kept.
// Values that cannot be are taken for missing, and readings without inlet or
// outlet are left out. Readings that are clean already are returned as they were given.
func Clean(samples []Sample) (clean []Sample, repeated int, unordered bool) {
	if isClean(samples) {
		return samples, 0, false
	}
	for i, s := range samples {
		s, _ = s.Plausible()
		if math.IsNaN(s.Inlet) || math.IsNaN(s.Outlet) || s.At.IsZero() {
			continue
		}
		if i > 0 && s.At.Before(samples[i-1].At) {
			unordered = true
		}
		clean = append(clean, s)
	}
	sort.SliceStable(clean, func(i, j int) bool { return clean[i].At.Before(clean[j].At) })
	kept := clean[:0]
	for i, s := range clean {
		if i > 0 && s.At.Equal(kept[len(kept)-1].At) {
			repeated++
			continue
		}
		kept = append(kept, s)
	}
	return kept, repeated, unordered
}

// isClean says whether there is nothing to clean, so that a log of a million readings is not copied.
func isClean(samples []Sample) bool {
	for i := range samples {
		s := &samples[i]
		if _, odd := s.Plausible(); len(odd) > 0 || math.IsNaN(s.Inlet) || math.IsNaN(s.Outlet) || s.At.IsZero() ||
			i > 0 && !s.At.After(samples[i-1].At) {
			return false
		}
	}
	return true
}

// interval is the median time between readings.
// The median, so that gaps do not count.
func interval(s []Sample) time.Duration {
	if len(s) < 2 {
		return 0
	}
	var d []time.Duration
	for i := 1; i < len(s); i++ {
		d = append(d, s[i].At.Sub(s[i-1].At))
	}
	sort.Slice(d, func(i, j int) bool { return d[i] < d[j] })
	return d[len(d)/2]
}

// Longest is the time between two readings that belong together: three times the usual interval,
// and at least two minutes. A longer one is a gap, over which nothing is summed.
func Longest(interval time.Duration) time.Duration { return max(3*interval, 2*time.Minute) }

// Running says for each reading whether the fan runs: by logged speed where
// there is any, by the switch where it is known, see [switched], else by the
// rise. One answer a reading.
func Running(s []Sample, set Setup) []bool {
	on := make([]bool, len(s))
	speeds := false
	for _, x := range s {
		speeds = speeds || !math.IsNaN(x.Speed)
	}
	if !speeds && set.Close > set.Open {
		switched(on, s, set)
		return on
	}
	for i, x := range s {
		if speeds {
			on[i] = x.Speed > 0.2
		} else {
			on[i] = x.Outlet-x.Inlet >= minRise
		}
	}
	return on
}

// Analyze judges a log.
// Samples may be in any order. The error says that nothing can be read from
// them, such as a log without an outlet.
func Analyze(samples []Sample, set Setup) (Report, error) {
	s, repeated, unordered := Clean(samples)
	r := Report{Samples: len(s), Repeated: repeated, Unordered: unordered, Peak: math.Inf(-1), FlowOrigin: set.FlowOrigin}
	if len(s) == 0 {
		return r, ErrEmpty
	}
	a := analysis{s: s, set: set, r: &r}
	if err := a.begin(); err != nil {
		return r, err
	}
	for i := range s {
		a.step(i)
	}
	a.closeDay(len(s))
	a.sums()
	r.Findings = doubts(s, a.suns, a.set, &r)
	return r, nil
}

// analysis is a log on its way through [Analyze].
type analysis struct {
	s   []Sample
	set Setup
	r   *Report
	// speeds says that the flow is that of logged speeds.
	speeds bool
	// longest is the time between two readings that belong together.
	longest time.Duration
	// on says of each reading whether the fan ran, and suns is the sun at it,
	// W/m2.
	on   []bool
	suns []float64

	// perKelvin is in kWh for each kelvin that either probe is off; flowSum in
	// kg/s times h; flowHours in h.
	perKelvin, flowSum, flowHours float64
	day                           *Day
	midnight                      time.Time // after the day
	firstOfDay                    int
	today                         daySums
}

// daySums are what a day's own judgment takes.
type daySums struct {
	perKelvin, massRise, mass float64
	// steadyHeat and steadySun are those of long runs, kWh, and steadyHours
	// their length.
	steadyHeat, steadySun, steadyHours float64
}

// begin fills in what the setup leaves open.
func (a *analysis) begin() error {
	set := &a.set
	if !(set.Area > 0) {
		return errors.New("the glazing area is missing; enter the clear opening in m2")
	}
	if set.Pressure <= 0 {
		set.Pressure = air.SeaLevel
	}
	set.Zone = zoneOf(set)
	if set.FlowOrigin == "" {
		set.FlowOrigin = FlowGiven
	}
	const moving = 0.2 // m/s
	a.speeds = set.DuctArea > 0 && slices.ContainsFunc(a.s, func(x Sample) bool { return x.Speed > moving })
	if a.speeds {
		set.FlowOrigin, set.FlowU = FlowSpeed, 0
	} else if !(set.Flow > 0) {
		return errors.New("the airflow is missing; enter the kg/s that leaves the box")
	}
	if set.ProbeU == 0 {
		set.ProbeU = uProbe
	}
	if set.FlowU == 0 {
		set.FlowU = uFlow[set.FlowOrigin]
	}
	a.r.FlowOrigin = set.FlowOrigin
	a.r.Interval = interval(a.s)
	a.longest = Longest(a.r.Interval)
	a.on = Running(a.s, *set)
	a.suns, a.r.SunIs = sunOn(a.s, *set)
	return nil
}

// mass is the flow at a reading, kg/s.
// kg/s, by the reading's own speed where there is one.
func (a *analysis) mass(x Sample) float64 {
	if a.speeds {
		return MeanOverCenter * max(0, x.Speed) * a.set.DuctArea * air.Density(x.Outlet, a.set.Pressure)
	}
	return a.set.Flow
}

// power is the heat at a reading, W.
// W, at reading i.
func (a *analysis) power(i int) float64 {
	if !a.on[i] {
		return 0
	}
	x := a.s[i]
	return a.mass(x) * air.Cp((x.Inlet+x.Outlet)/2) * (x.Outlet - x.Inlet)
}

// closeDay judges the day that ends before a reading.
// end is the index after the day's last reading.
func (a *analysis) closeDay(end int) {
	if a.day == nil {
		return
	}
	d, t := a.day, &a.today
	if d.RunHours > 0 && t.mass > 0 {
		d.Flow = t.mass / d.RunHours
		d.Rise = t.massRise / t.mass
	}
	const telling = 0.6 // h of long runs
	d.Impossible = impossible(*d, a.s[a.firstOfDay:end], a.set, a.r.SunIs) ||
		t.steadyHeat > bestCover*(1+sunMargin[a.r.SunIs])*t.steadySun && t.steadyHours > telling
	u := a.uncertainty(d.Heat, t.perKelvin)
	d.Band = [2]float64{max(0, d.Heat-2*u), d.Heat + 2*u}
	a.firstOfDay, a.today = end, daySums{}
}

// step takes a reading in.
func (a *analysis) step(i int) {
	x := a.s[i]
	if a.day == nil || !x.At.Before(a.midnight) {
		local := x.At.In(a.set.Zone)
		date := local.Format(time.DateOnly)
		a.midnight = time.Date(local.Year(), local.Month(), local.Day()+1, 0, 0, 0, 0, a.set.Zone)
		a.closeDay(i)
		nd := Day{Date: date, Peak: math.Inf(-1)}
		if a.r.SunIs == "" {
			nd.Sun = math.NaN()
		}
		a.r.Days = append(a.r.Days, nd)
		a.day = &a.r.Days[len(a.r.Days)-1]
	}
	d := a.day
	d.Samples++
	if a.on[i] && x.Outlet > d.Peak {
		d.Peak, d.PeakAt = x.Outlet, x.At
	}
	if i == 0 {
		return
	}
	before := a.s[i-1]
	dt := x.At.Sub(before.At)
	if dt > a.longest {
		if before.At.In(a.set.Zone).Format(time.DateOnly) == d.Date { // a night without logging is no gap worth a word
			g := Gap{before.At, x.At}
			a.r.Gaps = append(a.r.Gaps, g)
			d.Gaps = append(d.Gaps, g)
		}
		return
	}
	a.add(i, dt.Hours())
	if !a.on[i] {
		return
	}
	if n := len(d.Runs); a.on[i-1] && n > 0 && d.Runs[n-1].To.Equal(before.At) {
		d.Runs[n-1].To = x.At
	} else {
		d.Runs = append(d.Runs, Run{x.At, x.At})
	}
}

// add sums heat and sun over the h hours before a reading, by trapezoid. Long
// runs are held against the sun of their own minutes, once the heat stored
// while the fan stood still has left.
func (a *analysis) add(i int, h float64) {
	const bright = 300.0 // W/m2
	d, t, sunKnown := a.day, &a.today, a.r.SunIs != ""
	got := (a.power(i-1) + a.power(i)) / 2 * h / 1000
	d.Heat += got
	long := false
	if n := len(d.Runs); a.on[i] && a.on[i-1] && n > 0 {
		long = a.s[i].At.Sub(d.Runs[n-1].From) > settling
	}
	if long && (!sunKnown || a.suns[i] > bright) {
		t.steadyHours += h
		t.steadyHeat += got
		if !sunKnown {
			t.steadySun += MaxSun * a.set.Area * h / 1000
		} else {
			t.steadySun += (a.suns[i-1] + a.suns[i]) / 2 * a.set.Area * h / 1000
		}
	}
	if sunKnown {
		d.Sun += (a.suns[i-1] + a.suns[i]) / 2 * a.set.Area * h / 1000
	}
	for _, k := range []int{i - 1, i} {
		if !a.on[k] {
			continue
		}
		y := a.s[k]
		per := a.mass(y) * air.Cp(y.Outlet) * h / 2 / 1000
		t.perKelvin += per
		a.perKelvin += per
		a.flowSum += a.mass(y) * h / 2
		a.flowHours += h / 2
		d.RunHours += h / 2
		t.mass += a.mass(y) * h / 2
		t.massRise += a.mass(y) * (y.Outlet - y.Inlet) * h / 2
		if y.Outlet >= a.set.UsefulAbove {
			d.Useful += h / 2
		}
	}
}

// sums adds the days up.
func (a *analysis) sums() {
	r := a.r
	for i := range r.Days {
		d := &r.Days[i]
		r.Heat += d.Heat
		r.Useful += d.Useful
		if d.Peak > r.Peak {
			r.Peak, r.PeakAt = d.Peak, d.PeakAt
		}
		if math.IsInf(d.Peak, -1) {
			d.Peak = math.NaN()
		}
		r.Refused = r.Refused || d.Impossible
	}
	if math.IsInf(r.Peak, -1) {
		r.Peak = math.NaN()
	}
	if a.flowHours > 0 {
		r.Flow = a.flowSum / a.flowHours
	}
	r.U = a.uncertainty(r.Heat, a.perKelvin)
	r.Band = [2]float64{max(0, r.Heat-2*r.U), r.Heat + 2*r.U}
	r.Causes = []Cause{
		{"the airflow", r.Heat * a.set.FlowU},
		{"the difference between the probes", a.perKelvin * a.set.ProbeU * math.Sqrt(2*(1-probeCorrelation))},
	}
	sort.Slice(r.Causes, func(i, j int) bool { return r.Causes[i].Effect > r.Causes[j].Effect })
}

// uncertainty of a heat from its flow and two probes that err alike in part;
// the errors last through the log, so they do not average out.
// Root of the sum of squares, kWh.
func (a *analysis) uncertainty(heat, perKelvin float64) float64 {
	return Combine([]float64{heat, perKelvin, -perKelvin}, []float64{a.set.FlowU, a.set.ProbeU, a.set.ProbeU},
		[][]float64{{1, 0, 0}, {0, 1, probeCorrelation}, {0, probeCorrelation, 1}})
}

// sunOn returns the sun on the glass at each reading, W/m2: measured where the
// log has it, else of a clear sky where the place is known.
// The second result is what [Report.SunIs] says.
func sunOn(s []Sample, set Setup) ([]float64, string) {
	suns := make([]float64, len(s))
	measured := 0
	for _, x := range s {
		if !math.IsNaN(x.Sun) {
			measured++
		}
	}
	if measured > len(s)/2 {
		last := 0.0
		for i, x := range s {
			if !math.IsNaN(x.Sun) {
				last = max(0, x.Sun)
			}
			suns[i] = last
			if set.Site != nil {
				suns[i] *= set.Site.mirrored(x.At)
			}
		}
		return suns, "measured"
	}
	if set.Site == nil {
		return suns, ""
	}
	clearSky := set.Site.clearly()
	for i, x := range s {
		suns[i] = clearSky(x.At)
	}
	return suns, "of a clear sky"
}

// clearly returns [Placement.Clear] for instants that rise: computed every two minutes and on a
// straight line between, which over a day differs from it by less than a thousandth.
func (p *Placement) clearly() func(at time.Time) float64 {
	const step = 2 * time.Minute
	var from time.Time
	var a, b float64
	return func(at time.Time) float64 {
		if t := at.Truncate(step); from.IsZero() || !t.Equal(from) {
			if !from.IsZero() && t.Equal(from.Add(step)) {
				a = b
			} else {
				a = p.Clear(t)
			}
			from, b = t, p.Clear(t.Add(step))
		}
		return a + (b-a)*float64(at.Sub(from))/float64(step)
	}
}

// mirrored is the sun on the glass over that of a meter beside it, which a
// mirror above the box does not reach; 1 without one.
func (p *Placement) mirrored(at time.Time) float64 {
	if p.Around == nil || p.Around.Lid.Length <= 0 {
		return 1
	}
	s := p.Around.On(at, p.Site, p.Tilt, p.Facing, p.Sky)
	if direct := s.Total() - s.Mirror; direct > 0 {
		return s.Total() / direct
	}
	return 1
}

// sunMargin is by how much the true sun of a day may outdo the one used: two
// sigma of the clear-sky model's hour, or of a cheap meter.
var sunMargin = map[string]float64{"measured": 0.10, "of a clear sky": 0.10}

// bestCover is the most that a sheet of any glazing lets through: two faces of
// index 1.5 without absorption.
const bestCover = 0.92

// settling is how long after its start a run may still give stored heat.
const settling = 20 * time.Minute

// impossible reports whether a day's heat exceeds all the sun that fell on the
// glass until the fan last stopped. No box keeps more than some 85 % of it, so
// a true reading stays far below.
func impossible(d Day, s []Sample, set Setup, sunIs string) bool {
	if d.Heat < 0.05 || len(d.Runs) == 0 {
		return false
	}
	bound := d.Sun * (1 + sunMargin[sunIs])
	if sunIs == "" {
		// All the time in which the outlet was the warmer.
		bound = 0
		for i := 1; i < len(s); i++ {
			if s[i].Outlet > s[i].Inlet {
				bound += min(1, s[i].At.Sub(s[i-1].At).Hours()) * MaxSun * set.Area / 1000
			}
		}
	}
	// The flow's own doubt is left out: it is what the finding is about.
	return d.Heat > bestCover*bound
}
