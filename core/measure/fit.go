package measure

import (
	"context"
	"errors"
	"math"
	"slices"
	"time"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat"

	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/parallel"
	"gladember/core/units"
)

// Parameter is a physical unknown that was fitted.
//
// A log cannot tell everything. A weak fan and a clear pane warm the air as much as a strong fan
// and a dirty one do; only the way in which the outlet follows the sun, the cold and the inlet
// tells them apart, and it tells little. So the fit starts from what is known already (the
// design with its uncertainties, and what tests have measured), moves away from that only as
// far as the readings ask for, and says how much each unknown still hangs on the others.
type Parameter struct {
	// Name is flow_m3_s, leak_m3_s, bypass or tau_alpha; Unit is its SI unit, empty for a share.
	Name, Unit string
	// Design is what the heater's document says, Value what fits best, and Low and High its
	// 95 % interval.
	Design, Value, Low, High float64
	// U is the standard uncertainty.
	U float64
	// Change writes it into the heater.
	Change design.Change
}

// Fit is what a log says of a heater's unknowns.
type Fit struct {
	Parameters []Parameter
	// Correlations are those of the parameters, in their order.
	Correlations [][]float64
	// RMS is what stays of the outlet temperature, K, and Unexplained the same as heat, W.
	RMS, Unexplained float64
	// Next is the ID of the test that would narrow the intervals most; empty where none would.
	Next string
	// Windows is how many stretches of steady running were used.
	Windows  int
	Findings []Finding
}

// Find returns a parameter by its name.
func (f *Fit) Find(name string) (p Parameter, ok bool) {
	i := slices.IndexFunc(f.Parameters, func(p Parameter) bool { return p.Name == name })
	if i < 0 {
		return p, false
	}
	return f.Parameters[i], true
}

// ErrSteady says that a log has too little steady running to fit anything to.
var ErrSteady = errors.New("the log has less than two hours of steady running in the sun; log a clear day with the fan on")

// How a log is cut into windows. The product's own judgment: a box has settled after 20 min,
// and 15 min is the data period of ISO 9806.
const (
	windowLong = 15 * time.Minute
	// windowsMost are spread over the log: more of them tell nothing new.
	windowsMost = 72
	// windowsLess are the fewest that a fit is made from, two hours.
	windowsLess = 8
	// cloudy is the standard deviation of the sun over its mean in a window.
	cloudy = 0.10
	// drifting is by how much the outlet may move from the first to the last third, K.
	drifting = 4.0
	// preceding is how long before a window the sun must have been as even as in it: outlets
	// follow it by some minutes. ISO 9806 asks for 15 min beforehand.
	preceding = 15 * time.Minute
	// dimmest is the least sun on the glass, W/m2: below it the probes decide.
	dimmest = 200.0
)

// Uncertainty of a window: of the model's form as a share of the rise and in K. Windows of one
// day err alike, so that a day counts as no more than dayCounts of them.
const (
	formShare = 0.02
	formK     = 0.30
	dayCounts = 4.0
)

// Prior standard uncertainties of what is fitted, where no test has measured it: what a
// hand-built box may differ from its drawing by, which is more than a careful one does.
const (
	// priorFlow is of the airflow: fan curves and fittings together.
	priorFlow = 0.20
	// priorTauAlpha is of the absorbed sun: thin paint, dirt, an unknown pane.
	priorTauAlpha = 0.10
	// priorBypass is of the share that slips around screens, absolute.
	priorBypass = 0.08
	// priorMeter is of a sun that was measured with a cheap meter that was calibrated once.
	priorMeter = 0.03
)

var priorLeak = math.Log(2)

// While the sun climbs the outlet is that of some minutes ago: a box with one time constant,
// which moves by k K/s, is as warm as a settled one less its time constant times k. A fit that
// took it for settled found 1 to 3 % too much air in whole days, and 6 to 10 % too little in
// mornings alone.
const (
	// probeLag is the time constant of a bead in moving air, common practice, no source.
	probeLag = time.Minute
	// lagShare is the standard uncertainty of box and probe together, as a share.
	lagShare = 0.4
)

// steady is a window of steady running.
type steady struct {
	// Sample holds the means of its readings.
	Sample
	// day is its local date, and count how many windows that has.
	day   string
	count float64
	// rise is from inlet to outlet, K, sun what fell on the glass, W/m2, and drift by how much
	// the outlet moves, K/s.
	rise, sun, drift float64
}

// windows cuts a log into stretches of steady running.
func windows(samples []Sample, set Setup) []steady {
	s, _, _ := Clean(samples)
	on := Running(s, set)
	suns, _ := sunOn(s, set)
	zone := zoneOf(&set)
	gap := Longest(interval(s))
	var out []steady
	for i := 0; i < len(s); {
		if !on[i] {
			i++
			continue
		}
		j := i + 1
		for j < len(s) && on[j] && s[j].At.Sub(s[j-1].At) <= gap {
			j++
		}
		begin := s[i].At.Add(settling)
		for from := i; from < j; {
			to := from
			for to < j && s[to].At.Sub(s[from].At) < windowLong {
				to++
			}
			if !s[from].At.Before(begin) && to < j {
				even := from
				for even > i && s[from].At.Sub(s[even-1].At) <= preceding {
					even--
				}
				if w, ok := window(s[from:to], suns[from:to]); ok && stat.PopStdDev(suns[even:to], nil) <= cloudy*w.sun {
					w.day = w.At.In(zone).Format(time.DateOnly)
					out = append(out, w)
				}
			}
			from = to
		}
		i = j
	}
	return spreadOut(out)
}

// window is the mean of readings, if they are steady.
func window(s []Sample, suns []float64) (w steady, ok bool) {
	n := float64(len(s))
	if n < 3 {
		return w, false
	}
	var in, out, outdoor, sun, speed float64
	for i, x := range s {
		in, out, outdoor, sun, speed = in+x.Inlet/n, out+x.Outlet/n, outdoor+x.Outdoor/n, sun+suns[i]/n, speed+x.Speed/n
	}
	third := max(1, len(s)/3)
	first, _ := Repeated(outlets(s[:third]), 0)
	last, _ := Repeated(outlets(s[len(s)-third:]), 0)
	if sun < dimmest || math.Abs(last-first) > drifting || out-in < minRise {
		return w, false
	}
	w.Sample = Sample{At: s[len(s)/2].At, Inlet: in, Outlet: out, Outdoor: outdoor, Sun: sun, Speed: speed}
	w.rise, w.sun, w.drift = out-in, sun, slope(s)
	return w, true
}

// slope is the regression of the outlet over time, K/s.
func slope(s []Sample) float64 {
	t := make([]float64, len(s))
	for i := range s {
		t[i] = s[i].At.Sub(s[0].At).Seconds()
	}
	_, k := stat.LinearRegression(t, outlets(s), nil, false)
	return k
}

// outlets are the outlet temperatures of readings.
func outlets(s []Sample) (v []float64) {
	for _, x := range s {
		v = append(v, x.Outlet)
	}
	return v
}

// spreadOut thins windows evenly to as many as are worth computing, and counts those of a day.
func spreadOut(ws []steady) []steady {
	if len(ws) > windowsMost {
		var some []steady
		for i := range windowsMost {
			some = append(some, ws[i*len(ws)/windowsMost])
		}
		ws = some
	}
	days := map[string]float64{}
	for _, w := range ws {
		days[w.day]++
	}
	for i := range ws {
		ws[i].count = days[ws[i].day]
	}
	return ws
}

// unknown is something that the fit moves: what is asked for, or what else is uncertain.
type unknown struct {
	name string
	// sigma is the standard uncertainty of its prior; the prior's mean is 0.
	sigma float64
	// tune moves the box, and sun, flow, probe and lag move the sun on the glass, the mass flow,
	// the outlet probe and the time by which that is late, by x.
	tune  func(t *collector.Tuning, x float64)
	sun   bool
	flow  bool
	probe bool
	lag   bool
	// test is what would narrow it, to so many.
	test string
	to   float64
}

// unknowns are those of a heater: first what is asked for, then what else is uncertain, by the
// same standard uncertainties as every prediction has.
func unknowns(h *design.Heater, lag float64, set Setup, sunMeasured bool) []unknown {
	flow := priorFlow
	if u := h.Entry(design.AirFanStrength).U; u > 0 {
		flow = u / h.Air.FanStrength
	}
	tau, leak := priorTauAlpha, priorLeak
	if u := h.Entry(design.CoverTauAlpha).U; u > 0 {
		tau = u / h.Cover.Takes
	}
	if u := h.Entry(design.BoxSeam).U; u > 0 && h.Box.Seam > 0 {
		leak = math.Log1p(u / h.Box.Seam)
	}
	probe := uProbe
	if set.ProbeU > 0 {
		probe = set.ProbeU
	}
	us := []unknown{{name: "flow_m3_s", sigma: flow, flow: true, test: "bag", to: 0.05},
		{name: "leak_m3_s", sigma: leak, tune: func(t *collector.Tuning, x float64) { t.Leak += x }, test: "leak", to: uLeak},
		{name: "tau_alpha", sigma: tau, tune: func(t *collector.Tuning, x float64) { t.TauAlpha += x }},
		{name: "probe", sigma: probe, probe: true, test: "offsets", to: 0.1},
		{name: "lag", sigma: lagShare * lag, lag: true}}
	if h.Absorber.Screens != nil {
		bypass := priorBypass
		if u := h.Entry(design.ScreensBypass).U; u > 0 {
			bypass = u
		}
		us = append(us, unknown{name: "bypass", sigma: bypass, tune: func(t *collector.Tuning, x float64) { t.Bypass += x }})
	}
	sun := unknown{name: "sun", sigma: uClearSky, sun: true, test: "sun", to: priorMeter}
	if sunMeasured {
		sun.sigma, sun.test = priorMeter, ""
	}
	us = append(us, sun)
	for _, x := range collector.Uncertainties(h, true, false) {
		by := x.By
		if by.TauAlpha != 0 || by.Leak != 0 || by.Bypass != 0 {
			continue // asked for
		}
		us = append(us, unknown{name: x.Name, sigma: 1, tune: func(t *collector.Tuning, k float64) { addScaled(t, by, k) }})
	}
	return us
}

// addScaled adds k times a tuning to another one.
func addScaled(t *collector.Tuning, by collector.Tuning, k float64) {
	t.Emittance, t.Wind, t.Sky = t.Emittance+k*by.Emittance, t.Wind+k*by.Wind, t.Sky+k*by.Sky
	t.AirNu, t.GapNu, t.Foam, t.Jet = t.AirNu+k*by.AirNu, t.GapNu+k*by.GapNu, t.Foam+k*by.Foam, t.Jet+k*by.Jet
}

// fitting is a fit on its way.
type fitting struct {
	h   *design.Heater
	d   collector.Description
	set Setup
	us  []unknown
	ws  []steady
	// mass is the flow by the design, kg/s, and lag by how much the outlet is late, s.
	mass, lag float64
	// warm are the results from which each window's balances start.
	warm []collector.Result
}

// outlet is what the outlet probe should read in a window with the unknowns at x, C.
func (f *fitting) outlet(w int, x []float64) (float64, error) {
	var t collector.Tuning
	sun, flow, probe, lag := 1.0, f.mass, 0.0, f.lag
	for i, u := range f.us {
		switch {
		case u.flow:
			flow *= math.Exp(x[i])
		case u.sun:
			sun += x[i]
		case u.probe:
			probe = x[i]
		case u.lag:
			lag += x[i]
		default:
			u.tune(&t, x[i])
		}
	}
	c := conditions(f.h, f.ws[w].Sample, f.ws[w].sun, f.set, flow)
	c.Sun = c.Sun.Dimmed(sun)
	var start *collector.Result
	if f.warm[w].Mass > 0 {
		start = &f.warm[w]
	}
	r, err := f.d.Rate(c, t, start)
	if err != nil {
		return 0, err
	}
	if start == nil {
		f.warm[w] = r
	}
	return r.Outlet + probe - lag*f.ws[w].drift, nil
}

// sigma is one standard uncertainty of a window, K, with what it shares with others of its
// day.
func (f *fitting) sigma(w int) float64 {
	x := &f.ws[w]
	return math.Hypot(formK, formShare*x.rise) * math.Sqrt(max(1, x.count/dayCounts))
}

// Calibrate fits flow, leakage, bypass and the absorbed sun of a heater to a log, together with
// all else that is uncertain about it.
//
// It is the maximum of the posterior by Gauss and Newton's method, with normal priors: the
// outlet temperature of each window of steady running is predicted by the heater's own network;
// the covariance is (J'WJ + P)^-1, widened where the residuals are larger than they should be.
// Tests that measured something before enter as its prior. progress may be nil; an ended ctx
// ends the fit. The error is [ErrSteady], [ErrEmpty] or one of the network.
func Calibrate(ctx context.Context, h *design.Heater, samples []Sample, set Setup, progress func(done, of int)) (*Fit, error) {
	s, _, _ := Clean(samples)
	if len(s) == 0 {
		return nil, ErrEmpty
	}
	ws := windows(s, set)
	if len(ws) < windowsLess {
		return nil, ErrSteady
	}
	e, err := collector.Evaluate(h, collector.ConditionsAt(h, collector.WinterNoon(h)), true)
	if err != nil {
		return nil, err
	}
	d, err := collector.Describe(h)
	if err != nil {
		return nil, err
	}
	late, err := (&Case{Heater: h, Eval: &e}).lag()
	if err != nil {
		return nil, err
	}
	late += probeLag.Seconds()
	_, sunIs := sunOn(s, set)
	f := &fitting{h: h, d: d, set: set, ws: ws, us: unknowns(h, late, set, sunIs == "measured"), mass: e.Running.Mass, lag: late,
		warm: make([]collector.Result, len(ws))}
	x, cov, miss, err := f.solve(ctx, progress)
	if err != nil {
		return nil, err
	}
	return f.report(x, cov, miss, &e), nil
}

// rounds of Gauss and Newton: the outlet is nearly linear in all that is moved, so that the
// third changes nothing that is shown.
const fitRounds = 3

// solve finds the unknowns, their covariance and what the windows miss, K.
func (f *fitting) solve(ctx context.Context, progress func(done, of int)) (x []float64, cov *mat.SymDense, miss []float64, err error) {
	n, p := len(f.ws), len(f.us)
	x = make([]float64, p)
	miss = make([]float64, n)
	jac := mat.NewDense(n, p, nil)
	for round := range fitRounds {
		if err = parallel.Each(ctx, n, func(w int) error { return f.slopes(w, x, jac, miss) }, func(done, _ int) {
			if progress != nil {
				progress(round*n+done, fitRounds*n)
			}
		}); err != nil {
			return nil, nil, nil, err
		}
		a, b := mat.NewSymDense(p, nil), mat.NewVecDense(p, nil)
		for w := range n {
			weight := 1 / (f.sigma(w) * f.sigma(w))
			for i := range p {
				b.SetVec(i, b.AtVec(i)+weight*jac.At(w, i)*miss[w])
				for k := i; k < p; k++ {
					a.SetSym(i, k, a.At(i, k)+weight*jac.At(w, i)*jac.At(w, k))
				}
			}
		}
		for i, u := range f.us { // the prior's mean is 0
			a.SetSym(i, i, a.At(i, i)+1/(u.sigma*u.sigma))
			b.SetVec(i, b.AtVec(i)-x[i]/(u.sigma*u.sigma))
		}
		var chol mat.Cholesky
		if !chol.Factorize(a) {
			return nil, nil, nil, errors.New("the readings do not determine the unknowns; log another clear day")
		}
		var step mat.VecDense
		if err := chol.SolveVecTo(&step, b); err != nil {
			return nil, nil, nil, err
		}
		for i := range x {
			x[i] = f.within(i, x[i]+step.AtVec(i))
		}
		cov = mat.NewSymDense(p, nil)
		if err := chol.InverseTo(cov); err != nil {
			return nil, nil, nil, err
		}
	}
	chi := 0.0
	for w := range n {
		if miss[w], err = f.missed(w, x); err != nil {
			return nil, nil, nil, err
		}
		chi += miss[w] * miss[w] / (f.sigma(w) * f.sigma(w)) * max(1, f.ws[w].count/dayCounts) / float64(n)
	}
	if chi > 1 { // the form of the model does worse than it should
		cov.ScaleSym(chi, cov)
	}
	return x, cov, miss, nil
}

// missed is what a window's outlet is above what it should be, K.
func (f *fitting) missed(w int, x []float64) (float64, error) {
	at, err := f.outlet(w, x)
	return f.ws[w].Outlet - at, err
}

// slopes fills in what a window misses and how its outlet moves with each unknown.
func (f *fitting) slopes(w int, x []float64, jac *mat.Dense, miss []float64) error {
	at, err := f.outlet(w, x)
	if err != nil {
		return err
	}
	miss[w] = f.ws[w].Outlet - at
	moved := slices.Clone(x)
	for i, u := range f.us {
		step := 0.3 * u.sigma
		if x[i]+step != f.within(i, x[i]+step) {
			step = -step
		}
		moved[i] = x[i] + step
		y, err := f.outlet(w, moved)
		if err != nil {
			return err
		}
		jac.Set(w, i, (y-at)/step)
		moved[i] = x[i]
	}
	return nil
}

// within keeps an unknown where the box can be: no bypass below zero, no sun taken in above
// what a perfect box would.
func (f *fitting) within(i int, x float64) float64 {
	switch f.us[i].name {
	case "bypass":
		now := f.h.Absorber.Screens.Bypass
		return max(-now, min(0.5-now, x))
	case "tau_alpha":
		return max(-0.6, min(0.2, x))
	case "flow_m3_s":
		return max(math.Log(0.2), min(math.Log(3), x))
	case "leak_m3_s":
		return max(-4, min(4, x))
	}
	return x
}

// report turns the unknowns into what is asked for.
func (f *fitting) report(x []float64, cov *mat.SymDense, miss []float64, e *collector.Evaluation) *Fit {
	out := &Fit{Windows: len(f.ws)}
	rho := air.Density(f.h.Room.Air, f.set.Pressure)
	if f.set.Pressure <= 0 {
		rho = air.Density(f.h.Room.Air, air.SeaLevel)
	}
	var asked []int
	for i, u := range f.us {
		sd := math.Sqrt(cov.At(i, i))
		p := Parameter{Name: u.name, Value: x[i], U: sd}
		origin := design.Change{Origin: design.Measured}
		switch u.name {
		case "flow_m3_s":
			flow := f.mass / rho
			p.Unit, p.Design, p.Value = "m3/s", flow, flow*math.Exp(x[i])
			p.Low, p.High, p.U = flow*math.Exp(x[i]-2*sd), flow*math.Exp(x[i]+2*sd), p.Value*sd
			origin.Path = design.AirFanStrength.Path
		case "leak_m3_s":
			leak := e.Running.Leak / rho
			p.Unit, p.Design, p.Value = "m3/s", leak, leak*math.Exp(x[i])
			p.Low, p.High, p.U = leak*math.Exp(x[i]-2*sd), leak*math.Exp(x[i]+2*sd), p.Value*sd
			origin.Path, origin.Value = design.BoxSeam.Path, min(0.001, f.h.Box.Seam*math.Exp(x[i]))
			origin.U = f.h.Box.Seam * math.Exp(x[i]) * sd
		case "tau_alpha":
			now := f.h.Cover.Takes
			p.Design, p.Value, p.U = now, now*(1+x[i]), now*sd
			p.Low, p.High = p.Value-2*p.U, p.Value+2*p.U
			origin.Path, origin.Value, origin.U = design.CoverTauAlpha.Path, max(0.3, min(1.2, p.Value)), p.U
		case "bypass":
			now := f.h.Absorber.Screens.Bypass
			p.Design, p.Value = now, now+x[i]
			p.Low, p.High = max(0, p.Value-2*sd), min(1, p.Value+2*sd)
			origin.Path, origin.Value, origin.U = design.ScreensBypass.Path, max(0, min(0.3, p.Value)), sd
		default:
			continue
		}
		p.Change = origin
		asked = append(asked, i)
		out.Parameters = append(out.Parameters, p)
	}
	for _, i := range asked {
		var row []float64
		for _, k := range asked {
			row = append(row, cov.At(i, k)/math.Sqrt(cov.At(i, i)*cov.At(k, k)))
		}
		out.Correlations = append(out.Correlations, row)
	}
	f.strength(out, e)
	for w, m := range miss {
		out.RMS += m * m / float64(len(miss))
		flow, _ := out.Find("flow_m3_s")
		out.Unexplained += math.Abs(m) * flow.Value * rho * air.Cp(f.ws[w].Outlet) / float64(len(miss))
	}
	out.RMS = math.Sqrt(out.RMS)
	out.Next = f.next(cov, asked)
	out.Findings = f.findings(out, x)
	return out
}

// strength turns the fitted flow into the strength of the fan that gives it.
func (f *fitting) strength(out *Fit, e *collector.Evaluation) {
	c := &Case{Heater: f.h, Eval: e}
	p := &out.Parameters[slices.IndexFunc(out.Parameters, func(p Parameter) bool { return p.Name == "flow_m3_s" })]
	volume := e.Running.Mass * p.Value / p.Design / air.Density(e.Running.Outlet, c.pressure())
	if s, _, ok := c.strength(volume); ok {
		p.Change.Value, p.Change.U = s, s*p.U/p.Value
		return
	}
	p.Change = design.Change{} // a heater without a fan
}

// next is the test that narrows the intervals of what is asked for most, as the sum of the
// shares of their variances; empty where none takes a tenth off.
func (f *fitting) next(cov *mat.SymDense, asked []int) string {
	best, most := "", 0.1
	for k, u := range f.us {
		if u.test == "" || u.to*u.to >= cov.At(k, k) {
			continue
		}
		gain := 0.0
		for _, i := range asked {
			gain += cov.At(i, k) * cov.At(i, k) / (cov.At(k, k) + u.to*u.to) / cov.At(i, i)
		}
		if gain > most {
			best, most = u.test, gain
		}
	}
	return best
}

// findings say what of a fit is strange.
func (f *fitting) findings(out *Fit, x []float64) (fs []Finding) {
	u := f.set.Units
	if out.RMS > 2 {
		fs = append(fs, Finding{ID: "fit-poor", Title: "The heater as described does not explain the log", Doubt: "probes",
			Text:     "After the fit the outlet is still off by " + units.Format(units.Rise, out.RMS, u) + ".",
			Evidence: "Flow, leakage and absorbed sun were all free to move.",
			Remedy:   "Check the probes and the clock, and whether the heater is described as it was built."})
	}
	for i, w := range f.us {
		if math.Abs(x[i]) < 2.5*w.sigma {
			continue
		}
		names := map[string]string{"flow_m3_s": "airflow", "leak_m3_s": "leakage", "tau_alpha": "absorbed sun", "bypass": "bypass air",
			"probe": "outlet probe", "sun": "sun on the glass"}
		if name := names[w.name]; name != "" {
			f := Finding{ID: "fit-" + w.name, Title: "The " + name + " is far from what was expected", Doubt: name,
				Text:     "The readings ask for a value that a box built as described hardly has.",
				Evidence: "It lies beyond two and a half standard uncertainties of the estimate.",
				Remedy:   "Measure it by a test of its own before you believe it."}
			fs = append(fs, f)
		}
	}
	return fs
}
