package season

import (
	"math"
	"os"
	"testing"
	"time"

	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/simulate"
	"gladember/core/space"
	"gladember/core/units"
)

// The year against the product's own days on the same hours of weather, six heaters whose
// fans cycle and some that do not: heat, hours of running and the fan's electricity within
// 2 % of the days' sum. The room is held within a tenth of a kelvin of the temperature that
// days take it at, so that both draw in the same air (half a kelvin more lengthens the runs by 1.6 %), and the winter
// is mild: snow that stays on the glass from one day to the
// next is in the year and not in days that each begin with what fell on them. With GLADEMBER_LONG set it is all of
// the year, else its first 20 days. The summer is cool, since in a day the space stays as warm as it is held.
func TestYearIsTheSumOfItsDays(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	upTo := 20
	if os.Getenv("GLADEMBER_LONG") != "" {
		upTo = 365
	}
	held := []design.Change{to(design.ClimateColdest.Path, 4.0), to(design.ClimateWarmest.Path, 11.0),
		to(design.RoomHeater.Path, "electric"),
		to(design.RoomWanted.Path, 20.0), to(design.RoomSetback.Path, 20.0), to(design.RoomAir.Path, 20.0), to(design.RoomVent.Path, 20.1),
		to(design.SwitchRoomLimit.Path, 45.0), to(design.RoomGains.Path, 0.0), to(design.RoomSunnyWindow.Path, 0.0),
		to(design.RoomMass.Path, "heavy")}
	for _, x := range []struct {
		name    string
		changes []design.Change
	}{
		{"back-pass-plate", []design.Change{to(design.SwitchKind.Path, "snap"), to(design.SwitchClose.Path, 35.0),
			to(design.SwitchOpen.Path, 27.0)}},
		{"back-pass-plate", []design.Change{to(design.SwitchKind.Path, "snap"), to(design.SwitchClose.Path, 43.0),
			to(design.SwitchOpen.Path, 32.0)}},
		{"screen-box", []design.Change{to(design.SwitchKind.Path, "snap"), to(design.SwitchClose.Path, 38.0),
			to(design.SwitchOpen.Path, 30.0)}},
		{"can-columns", []design.Change{to(design.SwitchKind.Path, "snap"), to(design.SwitchClose.Path, 32.0),
			to(design.SwitchOpen.Path, 24.0)}},
		{"front-pass-plate", []design.Change{to(design.SwitchKind.Path, "differential"), to(design.SwitchOnAbove.Path, 8.0),
			to(design.SwitchOffAbove.Path, 3.0)}},
		{"passive-box", nil},
	} {
		h := named(t, x.name)
		for _, c := range append(append([]design.Change(nil), held...), x.changes...) {
			if n, err := design.Apply(h, units.System{}, c); err == nil {
				h = n
			} else if c.Path != design.SwitchRoomLimit.Path {
				t.Fatal(err)
			}
		}
		y := yearOf(t, &h)
		s := y.Series(&h)
		r, err := firstDays(&h, s, upTo)
		if err != nil {
			t.Fatal(err)
		}
		heat, run, fan, starts := 0.0, 0.0, 0.0, 0
		for day := range upTo {
			at := s.Begin.AddDate(0, 0, day).Add(12 * time.Hour)
			d, err := simulate.Run(&h, at, func(i time.Time) collector.Conditions { return y.Conditions(&h, i) })
			if err != nil {
				t.Fatal(err)
			}
			heat, run, fan, starts = heat+d.Heat, run+d.RunMinutes/60, fan+d.Fan, starts+d.Cycles
		}
		t.Logf("%s: %.1f kWh, days %.1f; %.1f h, days %.1f; fan %.2f kWh, days %.2f; %d starts, days %d", x.name, r.Year.Heat, heat,
			r.Year.Run, run, r.Year.Fan, fan, r.Year.Cycles, starts)
		for what, v := range map[string][2]float64{"heat": {r.Year.Heat, heat}, "hours of running": {r.Year.Run, run},
			"fan": {r.Year.Fan, fan}} {
			if what != "heat" && !h.Fanned() {
				continue
			}
			within := 0.02
			if upTo < 365 { // a start more or less of the fan shows in a few days
				within = 0.03
			}
			if math.Abs(v[0]/v[1]-1) > within {
				t.Errorf("%s: %s %.2f in the year, %.2f in its days", x.name, what, v[0], v[1])
			}
		}
	}
}

// firstDays is the fast year up to a day.
func firstDays(h *design.Heater, s *climate.Series, upTo int) (*Result, error) {
	sp, err := space.New(h)
	if err != nil {
		return nil, err
	}
	lo, hi := inlets(h, s)
	f, err := newFast(h, s, lo, hi, collector.Tuning{}, nil)
	if err != nil {
		return nil, err
	}
	return through(h, s, sp, f, 0, upTo*climate.QuartersInDay)
}

// A watch looks on as a box goes through a year, and adds up what its nights take by the
// whole network, hour by hour, with a flap and without.
type watch struct {
	*fast
	open, shut float64 // J
	err        error
}

func (w *watch) through(q *climate.Quarter, room, hour float64, out *quarterSum) error {
	if w.fast.stages == 0 && q.Sun.Total() <= darkSun && hour == math.Floor(hour) && room > q.Ambient && w.err == nil {
		c := asConditions(w.h, q, room, w.pressure)
		for shut, sum := range map[bool]*float64{false: &w.open, true: &w.shut} {
			r, err := w.d.BackFlow(c, shut)
			if err != nil {
				w.err = err
			}
			*sum += max(0, -r.Heat) * 4 * quarter
		}
	}
	return w.fast.through(q, room, hour, out)
}

// What falls through a box without a flap in a year is what its nights take one by one, and
// the space needs as much more.
func TestNightsInTheYear(t *testing.T) {
	h := named(t, "can-columns", to(design.AirFlap.Path, "none"))
	shut := named(t, "can-columns", to(design.AirFlap.Path, "membrane"))
	s := yearOf(t, &h).Series(&h)
	upTo := 15 // of the winter
	if os.Getenv("GLADEMBER_LONG") != "" {
		upTo = 365
	}
	with, err := firstDays(&shut, s, upTo)
	if err != nil {
		t.Fatal(err)
	}
	sp, _ := space.New(&h)
	lo, hi := inlets(&h, s)
	f, err := newFast(&h, s, lo, hi, collector.Tuning{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	w := &watch{fast: f}
	open, err := through(&h, s, sp, w, 0, upTo*climate.QuartersInDay)
	if err != nil || w.err != nil {
		t.Fatal(err, w.err)
	}
	sum, kept := (w.open-w.shut)/kWh, open.Year.Back-with.Year.Back
	t.Logf("without a flap %.1f kWh fall through, with one %.1f; the nights one by one differ by %.1f; useful %.1f and %.1f kWh",
		open.Year.Back, with.Year.Back, sum, open.Year.Useful, with.Year.Useful)
	if math.Abs(kept/sum-1) > 0.05 {
		t.Errorf("the flap keeps %v kWh back, the nights' own sum is %v", kept, sum)
	}
	if saved := with.Year.Useful - open.Year.Useful; saved < 0.6*kept || saved > 1.02*kept {
		t.Errorf("a flap saves %v kWh of useful heat and keeps %v back", saved, kept)
	}
}
