package measure

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/solar"
)

// A fan behind a thermostat that turns up to 2.5 K from its label is known to run when it runs: of its hours few are taken wrongly on
// clear days and under clouds that a meter sees, and a minority where nobody measured the sun. By the label's points alone all of them
// were wrong where it closed 2.5 K early.
func TestRunningBehindAThermostat(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	h, err := design.Named("back-pass-plate")
	if err != nil {
		t.Fatal(err)
	}
	d, err := collector.Describe(&h)
	if err != nil {
		t.Fatal(err)
	}
	noon, err := collector.Rate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h, 2026)))
	if err != nil {
		t.Fatal(err)
	}
	site := collector.Site(&h)
	set := Setup{Area: h.Glass(), Flow: noon.Mass, Close: 40, Open: 26, Zone: site.Zone,
		Site: &Placement{Site: site, Tilt: h.Place.Tilt, Facing: h.Place.Bearing, Around: collector.Surroundings(&h)}}
	r := rand.New(rand.NewPCG(5, 6))
	worst := map[[2]bool]float64{}
	var clear []Sample
	var clearly []bool
	for _, off := range [][2]float64{{0, 0}, {-2.5, 0}, {2.5, 0}, {0, -2.5}, {0, 2.5}, {-2, 2}, {2, -2}} {
		for _, sky := range [][2]bool{{false, false}, {true, false}, {false, true}, {true, true}} {
			ran, wrong := 0.0, 0.0
			for day := range 3 {
				begin := collector.WinterNoon(&h, 2026).Add(-5*time.Hour).AddDate(0, 0, day)
				tr, err := d.NewTransient(collector.ConditionsAt(&h, begin))
				if err != nil {
					t.Fatal(err)
				}
				var s []Sample
				var truth []bool
				fan, read, cloud := false, h.Room.Air, 1.0
				for step := range 10 * 120 {
					now := begin.Add(time.Duration(step) * 30 * time.Second)
					c := collector.ConditionsAt(&h, now)
					c.Sky = solar.Swinbank(c.Ambient)
					if sky[0] && step%30 == 0 {
						cloud = []float64{1, 1, 0.8, 0.5}[r.IntN(4)]
					}
					c.Sun = c.Sun.Dimmed(cloud)
					mass := 0.0
					if fan {
						mass = noon.Mass
					}
					m, err := tr.Step(c, mass, 30)
					if err != nil {
						t.Fatal(err)
					}
					feels := m.Top
					if fan {
						feels = m.Outlet
					}
					read += (feels - read) * 30 / 90
					fan = fan && read > set.Open+off[1] || read >= set.Close+off[0]
					s = append(s, Sample{At: now, Inlet: c.Inlet, Outlet: math.Round(10*read+2*r.NormFloat64()) / 10, Outdoor: c.Ambient,
						Sun: math.Round(c.Sun.Total() * (1 + 0.01*r.NormFloat64())), Speed: math.NaN()})
					if sky[1] {
						s[step].Sun = math.NaN()
					}
					truth = append(truth, fan)
				}
				if off == [2]float64{} && sky == [2]bool{} {
					clear, clearly = append(clear, s...), append(clearly, truth...)
				}
				for i, on := range Running(s, set) {
					if truth[i] {
						ran++
					}
					if on != truth[i] {
						wrong++
					}
				}
			}
			worst[sky] = math.Max(worst[sky], wrong/ran)
			t.Logf("closes %+.1f K, opens %+.1f K off, clouds %v, unseen %v: ran %.1f h, wrong %.2f h", off[0], off[1], sky[0], sky[1],
				ran/120, wrong/120)
		}
	}
	for sky, most := range map[[2]bool]float64{{false, false}: 0.04, {false, true}: 0.04, {true, false}: 0.12, {true, true}: 0.35} {
		if worst[sky] > most {
			t.Errorf("clouds %v, unseen %v: %.1f %% of the hours are wrong", sky[0], sky[1], 100*worst[sky])
		}
	}
	// A log that is longer than a piece of it is judged as its days are.
	var long []Sample
	var truth []bool
	for n := range 15 {
		for _, x := range clear {
			x.At = x.At.AddDate(0, 0, 3*n)
			long = append(long, x)
		}
		truth = append(truth, clearly...)
	}
	ran, wrong := 0.0, 0.0
	for i, on := range Running(long, set) {
		if truth[i] {
			ran++
		}
		if on != truth[i] {
			wrong++
		}
	}
	if wrong > 0.03*ran || len(long) < 2*piece {
		t.Errorf("of %d readings %.0f are wrong", len(long), wrong)
	}
}
