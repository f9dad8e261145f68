// Package demo fills a workshop with a made-up upland village, Innerkelden:
// three heaters at different stages and two weeks of readings.
//
// The readings come from running each heater's own network through those days
// under an invented sky, with a lag, noise, gaps and one mistake. Nothing here
// is measured; the numbers are for looking round only.
package demo

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"sync"
	"time"

	"gladember/app/store"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/measure"
	"gladember/core/sizing"
	"gladember/core/solar"
	"gladember/core/units"
)

// set is the change of a field to a value that was typed so.
func set[T any](f *design.Of[T], v T, typed string) design.Change {
	c := design.Set(f, v)
	c.Typed = typed
	return c
}

// village is where all three stand; the place is invented.
func village(bearing, tilt float64) []design.Change {
	return []design.Change{
		set(design.PlaceTown, "Innerkelden", ""), set(design.PlaceLatitude, 47.02, "47.02"), set(design.PlaceLongitude, 11.64, "11.64"),
		set(design.PlaceElevation, 1140.0, "1140 m"),
		set(design.PlaceZone, "Europe/Vienna", ""), set(design.PlaceBearing, bearing, ""), set(design.PlaceTilt, tilt, ""),
		set(design.PlaceOutdoor, -4.0, ""),
		set(design.ClimateColdest, -5.0, "-5"), set(design.ClimateWarmest, 15.5, "15.5"), set(design.ClimateSunny, 4.8, "4.8"),
	}
}

// shed is what lies about in the village's workshop.
var shed = []sizing.Thing{
	{Kind: sizing.PaneThing, What: "glass", Width: 0.74, Height: 1.31, Thickness: 0.004, Count: 2, Condition: "sound"},
	{Kind: sizing.PaneThing, What: "twin-wall", Width: 1.05, Height: 2.0, Thickness: 0.010, Count: 1, Condition: "sound", Price: 38},
	{Kind: sizing.PaneThing, What: "glass", Width: 1.2, Height: 0.9, Thickness: 0.006, Count: 1, Condition: "doubtful"},
	{Kind: sizing.MeshThing, What: "aluminium-screen", Width: 1.2, Height: 2.6, Count: 1, Condition: "worn"},
	{Kind: sizing.CanThing, Count: 168, Goal: 260, Condition: "sound"},
	{Kind: sizing.FoamThing, What: "polyiso", Width: 1.2, Height: 2.4, Thickness: 0.030, Count: 1, Condition: "sound", Price: 16},
	{Kind: sizing.FoamThing, What: "mineral-wool", Width: 0.6, Height: 1.2, Thickness: 0.050, Count: 6, Condition: "sound", Price: 24},
	{Kind: sizing.FanThing, What: "inline-4", Count: 1, Condition: "sound", Price: 29},
	{Kind: sizing.FanThing, What: "computer-120", Count: 3, Condition: "sound", Resale: 4},
}

// heater is one of the three, with how its log came about.
type heater struct {
	changes []design.Change
	log     *logger
}

// logger is an invented fortnight at one box.
type logger struct {
	seed     uint64
	room     float64 // C by night
	sunMeter bool
	trueFlow float64 // share of the worked-out flow that really passes
	gaps     [][2]time.Duration
}

// the fortnight starts on a Monday.
var first = time.Date(2026, 2, 9, 0, 0, 0, 0, time.UTC)

const (
	days     = 14
	interval = 2 * time.Minute
	every    = 10 * time.Minute // how often the network is solved
)

var heaters = []heater{
	{changes: append([]design.Change{
		set(design.HeaterName, "Fern house back wall", ""), set(design.SpaceKind, "greenhouse", ""), set(design.RoomFloor, 22.0, "22"),
		set(design.AbsorberFamily, "back-pass-plate", ""), set(design.PlateBaffles, 3, "3"), set(design.PlateMetal, "steel", ""),
		set(design.PaneWidth, 1.22, "1220 mm"), set(design.PaneHeight, 1.83, "1830 mm"), set(design.CoverMaterial, "polycarbonate", ""),
		set(design.CoverLayers, 2, "2"), set(design.BoxFoam, "xps", ""),
	}, village(184, 70)...)},
	{changes: append([]design.Change{
		set(design.HeaterName, "Saddler's shop lean-to", ""), set(design.SpaceKind, "shop", ""), set(design.RoomFloor, 31.0, "31"),
		set(design.RoomHeater, "wood", ""), set(design.RoomInsulation, "usual", ""), set(design.RoomLeakage, "usual", ""),
		set(design.PaneWidth, 0.74, "740 mm"), set(design.PaneHeight, 1.31, "1310 mm"), set(design.CoverLayers, 2, "2"),
		set(design.ScreensLayers, 3, "3"), set(design.BoxFoam, "mineral-wool", ""),
		set(design.AirFan, "computer-120", ""), set(design.AirDiameter, 0.1, "100 mm"), set(design.SwitchKind, "snap", ""),
		set(design.SwitchClose, 34.0, "34"), set(design.SwitchOpen, 25.0, "25"),
		// The one mistake: heat reckoned with what the fan's label says.
		set(design.LogFlowIs, "on-label", ""),
	}, village(171, 65)...), log: &logger{seed: 7, room: 7, trueFlow: 1, gaps: [][2]time.Duration{{50*time.Hour + 40*time.Minute,
		51*time.Hour + 5*time.Minute}}}},
	{changes: append([]design.Change{
		set(design.HeaterName, "Weaving room gable", ""), set(design.SpaceKind, "room", ""), set(design.RoomFloor, 18.0, "18"),
		set(design.RoomAir, 17.0, "17"), set(design.RoomHeater, "oil", ""), set(design.RoomInsulation, "little", ""),
		set(design.AbsorberFamily, "back-pass-plate", ""), set(design.PlateChannel, 0.022, "22 mm"),
		set(design.PlateBaffles, 2, "2"),
		set(design.PaneWidth, 1.04, "1040 mm"), set(design.PaneHeight, 1.96, "1960 mm"), set(design.BoxFoam, "mineral-wool", ""),
		set(design.AirFan, "inline-5", ""), set(design.AirDuct, "smooth", ""), set(design.SwitchKind, "snap", ""),
		set(design.SwitchClose, 33.0, "33"),
		set(design.SwitchOpen, 24.0, "24"),
	}, village(176, 90)...), log: &logger{seed: 3, room: 16, sunMeter: true, trueFlow: 0.97,
		gaps: [][2]time.Duration{{34*time.Hour + 10*time.Minute, 34*time.Hour + 23*time.Minute},
			{205*time.Hour + 2*time.Minute, 205*time.Hour + 50*time.Minute}}}},
}

// Fill puts the village into an empty workshop.
func Fill(ctx context.Context, s *store.Store) error {
	logs := make([][]measure.Sample, len(heaters))
	docs := make([]design.Heater, len(heaters))
	errs := make([]error, len(heaters))
	var wg sync.WaitGroup
	for i, h := range heaters {
		wg.Go(func() {
			if docs[i], errs[i] = design.Apply(design.New(), units.System{}, h.changes...); errs[i] == nil && h.log != nil {
				logs[i], errs[i] = h.log.run(docs[i])
			}
		})
	}
	wg.Wait()
	for _, t := range shed {
		b, err := json.Marshal(t)
		if err != nil {
			return err
		}
		if err := s.PutStock(ctx, string(t.Kind), string(b)); err != nil {
			return err
		}
	}
	for i := range heaters {
		if errs[i] != nil {
			return fmt.Errorf("demo heater %d: %w", i+1, errs[i])
		}
		st, err := s.Create(ctx, docs[i])
		if err != nil {
			return err
		}
		if i == len(heaters)-1 {
			if err := putPrices(ctx, s, st.Heater); err != nil {
				return err
			}
		}
		if logs[i] == nil {
			continue
		}
		b, err := store.NewBatch(logs[i])
		if err != nil {
			return err
		}
		if _, err := s.AddReadings(ctx, st.Logged(), "february.csv", b, false); err != nil {
			return err
		}
	}
	return nil
}

// skies is how clear each day is, 1 being cloudless.
var skies = [days]float64{0.98, 1, 0.35, 0.1, 0.62, 0.97, 1, 0.2, 0.55, 0.95, 0.12, 0.8, 1, 0.45}

// run makes the fortnight's readings of a box.
func (l *logger) run(h design.Heater) ([]measure.Sample, error) {
	d, err := collector.Describe(&h)
	if err != nil {
		return nil, err
	}
	rng := rand.New(rand.NewPCG(l.seed, 11))
	site := collector.Site(&h)
	base, err := d.Rate(collector.ConditionsAt(&h, collector.WinterNoon(&h)), collector.Tuning{}, nil)
	if err != nil {
		return nil, err
	}
	flow := base.Mass * l.trueFlow
	var out []measure.Sample
	var now momentary
	const lag = 7.0 // minutes
	for day := range days {
		cloud := 1.0
		night := -8 + 5*math.Sin(float64(day)*1.3)
		room := l.room
		box := night
		on := false
		now.solved = time.Time{}
		nan := math.NaN()
		for m := 6*60 + 20; m < 18*60+40; m += int(interval.Minutes()) {
			since := time.Duration(day)*24*time.Hour + time.Duration(m)*time.Minute
			t := first.Add(since)
			local := time.Date(t.Year(), t.Month(), t.Day(), t.Hour(), t.Minute(), 0, 0, site.Zone)
			hour := float64(m) / 60
			outdoor := night + (5+4*skies[day])*max(0, math.Sin((hour-7.5)/10*math.Pi)) + 0.25*rng.NormFloat64()
			// Clouds pass in spells; a clear day has none.
			target := skies[day]
			if skies[day] < 0.9 && math.Sin(hour*5.1+float64(day))+0.6*rng.NormFloat64() > 0.4 {
				target *= 0.45
			}
			cloud += (target - cloud) * 0.25
			c := collector.ConditionsAt(&h, local)
			g := c.Sun.Total() * cloud
			c.Sun.Beam *= cloud
			c.Sun.Sky *= cloud
			c.Sun.Ground *= cloud
			c.Ambient, c.Inlet, c.Sky, c.Flow = outdoor, room, solar.Swinbank(outdoor), flow
			if err := now.solve(&d, c, local, g); err != nil {
				return nil, err
			}
			goal := outdoor + now.still*0.8
			if on {
				goal = room + now.run
			}
			box += (goal - box) * (1 - math.Exp(-interval.Minutes()/lag))
			if box >= h.Switch.Close {
				on = true
			} else if box <= h.Switch.Open {
				on = false
			}
			if on {
				room += 0.012
			} else if room > l.room {
				room -= 0.004
			}
			if l.missing(since) {
				continue
			}
			s := measure.Sample{At: local, Inlet: round(room + 0.12*rng.NormFloat64()), Outlet: round(box + 0.2*rng.NormFloat64()),
				Outdoor: round(outdoor), Sun: nan, Speed: nan}
			if l.sunMeter {
				s.Sun = math.Round(max(0, g*(1+0.015*rng.NormFloat64())))
			}
			out = append(out, s)
		}
	}
	return out, nil
}

// momentary is the box at the last solve of its network: how far running air is warmer than the room
// and the standing absorber warmer than outdoors, K.
type momentary struct {
	run, still         float64
	sun                float64 // W/m2
	solved             time.Time
	lastRun, lastStill *collector.Result
}

// solve finds both anew where time has passed or the sun has moved.
func (m *momentary) solve(d *collector.Description, c collector.Conditions, at time.Time, sun float64) error {
	if !m.solved.IsZero() && at.Sub(m.solved) < every && math.Abs(sun-m.sun) <= 60 {
		return nil
	}
	run, err := d.Rate(c, collector.Tuning{}, m.lastRun)
	if err != nil {
		return err
	}
	still, err := d.Still(c, collector.Tuning{}, m.lastStill)
	if err != nil {
		return err
	}
	m.lastRun, m.lastStill = &run, &still
	m.run, m.still, m.solved, m.sun = run.Outlet-c.Inlet, still.AbsorberMean-c.Ambient, at, sun
	return nil
}

func round(v float64) float64 { return math.Round(v*10) / 10 }

func (l *logger) missing(since time.Duration) bool {
	for _, g := range l.gaps {
		if since > g[0] && since < g[1] {
			return true
		}
	}
	return false
}
