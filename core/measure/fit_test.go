package measure

import (
	"context"
	"math"
	"math/rand/v2"
	"os"
	"testing"
	"time"

	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/solar"
	"gladember/core/units"
)

// truth is a hidden box with its log.
type truth struct {
	flow, leak, bypass, tau float64 // as [Calibrate] names them
	samples                 []Sample
	set                     Setup
}

// hidden makes a log of a box whose flow, leakage, bypass and absorbed sun differ from the heater's document by as much as the fit
// takes for possible beforehand, so that the intervals should hold 95 in 100 and not all of them. It is made by a finer simulation
// than the fit has: every layer's heat storage at 30 s, wind that gusts, a sky that is not Swinbank's, passing clouds, emittance,
// films, gaps, wind, sky and foam drawn from their own uncertainties, probes that lag by a minute, are off by a constant and read in
// steps of 0.1 K, and a flow that follows the warmth of the air. Its seed decides all of it.
func hidden(t *testing.T, h *design.Heater, seed uint64, days int) *truth {
	t.Helper()
	r := rand.New(rand.NewPCG(seed, 99))
	norm := func(sigma float64) float64 { return sigma * r.NormFloat64() }
	box := h.Clone()
	x := &truth{tau: max(0.6, min(1.3, 1+norm(priorTauAlpha)))}
	box.Cover.Takes *= x.tau
	x.tau = box.Cover.Takes
	leak := math.Exp(norm(priorLeak))
	box.Box.Seam *= leak
	if s := box.Absorber.Screens; s != nil {
		s.Bypass = max(0, min(0.35, s.Bypass+norm(priorBypass)))
		x.bypass = s.Bypass
	}
	strength := math.Exp(norm(priorFlow))
	d, err := collector.Describe(&box)
	if err != nil {
		t.Fatal(err)
	}
	noon, err := collector.Rate(h, collector.ConditionsAt(h, collector.WinterNoon(h)))
	if err != nil {
		t.Fatal(err)
	}
	rho := air.Density(h.Room.Air, solar.Pressure(h.Place.Elevation))
	x.flow, x.leak = noon.Mass*strength/rho, noon.Leak*leak/rho
	site := collector.Site(h)
	x.set = Setup{Area: h.Glass(), Pressure: solar.Pressure(h.Place.Elevation), Flow: noon.Mass, Zone: site.Zone,
		Site: &Placement{Site: site, Tilt: h.Place.Tilt, Facing: h.Place.Bearing, Around: collector.Surroundings(h)}}
	offset, meter := norm(uProbe), 1+norm(priorMeter)
	var other collector.Tuning
	for _, u := range collector.Uncertainties(h, true, false) {
		if u.By.TauAlpha == 0 && u.By.Leak == 0 && u.By.Bypass == 0 {
			addScaled(&other, u.By, norm(1))
		}
	}
	at := collector.WinterNoon(h).Add(-4 * time.Hour)
	for day := range days {
		begin := at.AddDate(0, 0, day)
		c := collector.ConditionsAt(h, begin)
		tr, err := d.NewTransient(c)
		if err != nil {
			t.Fatal(err)
		}
		tr.Tune(other)
		outdoor, lag, cloud := c.Ambient+norm(6), h.Room.Air, 1.0
		for step := range 8 * 120 {
			now := begin.Add(time.Duration(step) * 30 * time.Second)
			c := collector.ConditionsAt(h, now)
			hour := float64(step) / 120
			c.Ambient, c.Inlet = outdoor+3*math.Sin(math.Pi*hour/9), h.Room.Air+norm(0.1)+0.4*hour
			c.Sky = solar.Swinbank(c.Ambient) + 4*math.Sin(float64(seed)+hour/3) + other.Sky
			c.Wind = max(0.2, c.Wind*(1+0.5*math.Sin(hour*7)+norm(0.2)))
			if step%40 == 0 { // a new piece of sky every 20 min
				cloud = 1.0
				if r.Float64() < 0.25 {
					cloud = 0.4 + 0.5*r.Float64()
				}
			}
			c.Sun = c.Sun.Dimmed(cloud)
			mass := 0.0
			if c.Sun.Total() > 150 {
				mass = noon.Mass * strength * (1 - 0.0006*(lag-noon.Outlet))
			}
			m, err := tr.Step(c, mass, 30)
			if err != nil {
				t.Fatal(err)
			}
			out := m.Outlet
			if mass == 0 {
				out = c.Inlet
			}
			lag += (out - lag) * 30 / 90 // a probe's minute
			tenth := func(v float64) float64 { return math.Round(10*v) / 10 }
			x.samples = append(x.samples, Sample{At: now, Inlet: tenth(c.Inlet), Outlet: tenth(lag + offset + norm(0.1)),
				Outdoor: tenth(c.Ambient), Sun: math.Round(c.Sun.Total() * meter), Speed: math.NaN()})
		}
	}
	return x
}

// In seeded runs the hidden flow, leakage, bypass and absorbed sun lie within their stated 95 % intervals in at least nine of ten, over
// three families; intervals are narrower than what was known before; every correlation is one. Six runs in ./test, 100 of each family
// with GLADEMBER_LONG.
func TestCalibrationCoversTheTruth(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	runs := 2
	if os.Getenv("GLADEMBER_LONG") != "" {
		runs = 100
	}
	asked, outside := 0, 0
	for _, name := range []string{"screen-box", "back-pass-plate", "can-columns"} {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		missed := map[string]int{}
		narrow := 0.0
		for seed := range runs {
			x := hidden(t, &h, uint64(seed), 3)
			f, err := Calibrate(context.Background(), &h, x.samples, x.set, nil)
			if err != nil {
				t.Fatal(err)
			}
			for _, p := range f.Parameters {
				want := map[string]float64{"flow_m3_s": x.flow, "leak_m3_s": x.leak, "bypass": x.bypass, "tau_alpha": x.tau}[p.Name]
				asked++
				if want < p.Low || want > p.High {
					missed[p.Name]++
					outside++
				}
				if p.Name == "flow_m3_s" {
					narrow += p.U / p.Value / float64(runs)
				}
			}
			for i := range f.Correlations {
				for k, v := range f.Correlations[i] {
					if math.Abs(v) > 1+1e-9 || i == k && math.Abs(v-1) > 1e-9 {
						t.Errorf("correlation %v", v)
					}
				}
			}
			if seed == 0 {
				for _, p := range f.Parameters {
					t.Logf("%s: %s %.5f (%.5f to %.5f), design %.5f", name, p.Name, p.Value, p.Low, p.High, p.Design)
				}
				t.Logf("rms %.2f K, %.0f W unexplained, next %q, %d windows, %v", f.RMS, f.Unexplained, f.Next, f.Windows, f.Correlations)
			}
		}
		t.Logf("%s: of %d missed %v; flow to %.1f %%", name, runs, missed, 100*narrow)
		for what, n := range missed {
			if n > max(1, runs/10) { // both of two by chance once in four hundred times
				t.Errorf("%s: %s lies outside its interval in %d of %d", name, what, n, runs)
			}
		}
		if narrow > 0.9*priorFlow {
			t.Errorf("%s: the log tells nothing of the flow: %v", name, narrow)
		}
	}
}

// A box that is exactly as designed is found to be so, from whole days and from mornings alone, in which the sun only climbs and the
// outlet is late; whole days of one box, of all with GLADEMBER_LONG.
// Without the lag of box and probe the airflow came out 1 to 3 % high, and from mornings 6 to 10 % low.
func TestCalibrationOfABoxAsDesigned(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	for _, name := range []string{"screen-box", "back-pass-plate", "can-columns"} {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		d, err := collector.Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		noon, err := collector.Rate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)))
		if err != nil {
			t.Fatal(err)
		}
		site := collector.Site(&h)
		set := Setup{Area: h.Glass(), Pressure: solar.Pressure(h.Place.Elevation), Flow: noon.Mass, Zone: site.Zone,
			Site: &Placement{Site: site, Tilt: h.Place.Tilt, Facing: h.Place.Bearing, Around: collector.Surroundings(&h)}}
		for _, hours := range []int{8, 4} {
			if hours == 8 && name != "back-pass-plate" && os.Getenv("GLADEMBER_LONG") == "" {
				continue
			}
			var samples []Sample
			for day := range 16 / hours {
				begin := collector.WinterNoon(&h).Add(-4*time.Hour).AddDate(0, 0, day)
				tr, err := d.NewTransient(collector.ConditionsAt(&h, begin))
				if err != nil {
					t.Fatal(err)
				}
				read := h.Room.Air
				for step := range hours * 120 {
					now := begin.Add(time.Duration(step) * 30 * time.Second)
					c := collector.ConditionsAt(&h, now)
					c.Ambient += 3 * math.Sin(math.Pi*float64(step)/1080)
					c.Sky, c.Inlet = solar.Swinbank(c.Ambient), h.Room.Air+0.4*float64(step)/120
					m, err := tr.Step(c, noon.Mass, 30)
					if err != nil {
						t.Fatal(err)
					}
					read += (m.Outlet - read) * 30 / 90
					samples = append(samples, Sample{At: now, Inlet: c.Inlet, Outlet: read, Outdoor: c.Ambient, Sun: c.Sun.Total(),
						Speed: math.NaN()})
				}
			}
			f, err := Calibrate(context.Background(), &h, samples, set, nil)
			if err != nil {
				t.Fatal(err)
			}
			for _, p := range f.Parameters {
				if within := map[string]float64{"flow_m3_s": 0.005, "tau_alpha": 0.002}[p.Name]; within > 0 &&
					math.Abs(p.Value/p.Design-1) > within {
					t.Errorf("%s, days of %d h: %s is %.4f of the design", name, hours, p.Name, p.Value/p.Design)
				} else if within > 0 {
					t.Logf("%s, days of %d h: %s is %.4f of the design, %.2f K stay", name, hours, p.Name, p.Value/p.Design, f.RMS)
				}
			}
		}
	}
}

// A measured flow that enters as its prior makes the absorbed sun sharper; a log of an hour, an empty one and one of the night are
// refused with their reason; an ended context ends the fit.
func TestCalibrationTakesTests(t *testing.T) {
	h, err := design.Named("back-pass-plate")
	if err != nil {
		t.Fatal(err)
	}
	x := hidden(t, &h, 5, 2)
	free, err := Calibrate(context.Background(), &h, x.samples, x.set, nil)
	if err != nil {
		t.Fatal(err)
	}
	e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
	if err != nil {
		t.Fatal(err)
	}
	c := &Case{Heater: &h, Eval: &e}
	strength, _, ok := c.strength(x.flow * air.Density(h.Room.Air, c.pressure()) / air.Density(e.Running.Outlet, c.pressure()))
	if !ok {
		t.Fatal("no fan of this heater gives that flow")
	}
	known, err := design.Apply(h, units.System{}, design.Measure(design.AirFanStrength, strength, 0.03))
	if err != nil {
		t.Fatal(err)
	}
	with, err := Calibrate(context.Background(), &known, x.samples, x.set, nil)
	if err != nil {
		t.Fatal(err)
	}
	a, _ := free.Find("tau_alpha")
	b, _ := with.Find("tau_alpha")
	if b.U > 0.8*a.U || x.tau < b.Low || x.tau > b.High {
		t.Errorf("u of the absorbed sun %v, with a measured flow %v (%v to %v, true %v)", a.U, b.U, b.Low, b.High, x.tau)
	}
	if free.Next == "" {
		t.Error("no test is named that would help")
	}
	if _, err := Calibrate(context.Background(), &h, x.samples[:150], x.set, nil); err == nil {
		t.Error("an hour is fitted")
	}
	if _, err := Calibrate(context.Background(), &h, nil, x.set, nil); err == nil {
		t.Error("nothing is fitted")
	}
	ended, end := context.WithCancel(context.Background())
	end()
	if _, err := Calibrate(ended, &h, x.samples, x.set, nil); err == nil {
		t.Error("an ended fit goes on")
	}
}

// The parts of a day sum to its sun within a thousandth; what the fitted box gives to the air is what was measured, within the misfit;
// a box that takes in less reflects more of the same sun.
func TestPartsOfADay(t *testing.T) {
	h, err := design.Named("back-pass-plate")
	if err != nil {
		t.Fatal(err)
	}
	x := hidden(t, &h, 3, 1)
	p, err := Parts(&h, x.samples, x.set, 0)
	if err != nil {
		t.Fatal(err)
	}
	sum := p.Reflected + p.Front + p.Back + p.Edge + p.Leak + p.Air
	if p.Sun < 1 || math.Abs(sum/p.Sun-1) > 1e-3 {
		t.Errorf("parts sum to %v of %v", sum, p.Sun)
	}
	dull := h.Clone()
	dull.Cover.Takes = 0.8
	q, err := Parts(&dull, x.samples, x.set, 0)
	if err != nil {
		t.Fatal(err)
	}
	if q.Sun != p.Sun || q.Reflected <= p.Reflected || q.Air >= p.Air {
		t.Errorf("%+v, duller %+v", p, q)
	}
}

// Each fault is found in at least 95 of 100 seeded logs and invented in at most 5 of 100 clean ones; eight of each in ./test, 100 with
// GLADEMBER_LONG. The clean logs are those of the finer simulation, with clouds, noise, offsets and steps of 0.1 K.
func TestFaultsAreFoundAndNotInvented(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	h, err := design.Named("back-pass-plate")
	if err != nil {
		t.Fatal(err)
	}
	runs := 8
	if os.Getenv("GLADEMBER_LONG") != "" {
		runs = 100
	}
	each := func(f func(i int, s *Sample)) func(s []Sample, set *Setup) {
		return func(s []Sample, _ *Setup) {
			for i := range s {
				f(i, &s[i])
			}
		}
	}
	warm := 0.0
	faults := map[string]func(s []Sample, set *Setup){
		"swapped": each(func(_ int, s *Sample) { s.Inlet, s.Outlet = s.Outlet, s.Inlet }),
		"units-swapped": each(func(_ int, s *Sample) {
			s.Inlet, s.Outlet, s.Outdoor = s.Inlet*1.8+32, s.Outlet*1.8+32, s.Outdoor*1.8+32
		}),
		"clock-off": each(func(_ int, s *Sample) { s.At = s.At.Add(time.Hour) }),
		"off-scale-outlet": func(s []Sample, _ *Setup) {
			top := 0.0
			for _, x := range s {
				top = max(top, x.Outlet)
			}
			for i := range s {
				s[i].Outlet = min(s[i].Outlet, top-8)
			}
		},
		"stuck-inlet": func(s []Sample, _ *Setup) {
			for i := len(s) / 4; i < len(s)/4+300; i++ {
				s[i].Inlet = s[len(s)/4].Inlet
			}
		},
		MoreThanSun: func(_ []Sample, set *Setup) { set.Flow, set.FlowOrigin = 4*set.Flow, FlowFreeAir },
		"in-the-sun-outdoor": func(s []Sample, _ *Setup) {
			warm = 0
			for i := range s { // a dark probe of two minutes
				warm += (8*s[i].Sun/1000 - warm) * 30 / 120
				s[i].Outdoor += warm
			}
		},
	}
	found, invented := map[string]int{}, map[string]int{}
	for seed := range runs {
		x := hidden(t, &h, uint64(1000+seed), 2)
		look := func(s []Sample, set Setup) map[string]bool {
			r, err := Analyze(s, set)
			if err != nil {
				t.Fatal(err)
			}
			ids := map[string]bool{}
			for _, f := range r.Findings {
				ids[f.ID] = true
			}
			return ids
		}
		for id := range look(x.samples, x.set) {
			invented[id]++
		}
		for id, spoil := range faults {
			s, set := append([]Sample(nil), x.samples...), x.set
			spoil(s, &set)
			if look(s, set)[id] {
				found[id]++
			}
		}
	}
	for id := range faults {
		t.Logf("%s: found %d of %d, invented %d", id, found[id], runs, invented[id])
		if found[id] < runs*95/100 {
			t.Errorf("%s is found in %d of %d", id, found[id], runs)
		}
	}
	for id, n := range invented {
		if n > max(1, runs*5/100) {
			t.Errorf("%s is invented in %d of %d clean logs", id, n, runs)
		}
	}
}
