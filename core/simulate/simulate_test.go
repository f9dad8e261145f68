package simulate

import (
	"math"
	"os"
	"testing"
	"time"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

var noon = time.Date(2026, 1, 21, 12, 0, 0, 0, time.UTC)

func heater(t testing.TB, changes ...design.Change) design.Heater {
	t.Helper()
	h, err := design.Apply(design.New(), units.System{}, changes...)
	if err != nil {
		t.Fatal(err)
	}
	return h
}

func set(path string, v any) design.Change { return design.Change{Path: path, Value: v} }

// First law over a day, every example and every sky: what the sun brought is
// what bounced off, was lost, was given and is still in the box, within 0.1 %.
func TestFirstLawOverADay(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	for i, name := range design.ExampleNames() {
		h, _ := design.Named(name)
		for k, sky := range []Sky{Clear, HazySky, Broken, Coldest} {
			if i%2 != k%2 && os.Getenv("GLADEMBER_LONG") == "" {
				continue
			}
			d, err := Run(&h, noon, DesignDay(&h, sky))
			if err != nil {
				t.Fatalf("%s %s: %v", name, sky, err)
			}
			if sum := d.Reflected + d.Lost + d.Ducts + d.MakeUp + d.Bare + d.Heat + d.Stored; math.Abs(sum-d.Sun) > 1e-3*d.Sun {
				t.Errorf("%s %s: %v kWh of sun, parts %v", name, sky, d.Sun, sum)
			}
			if d.Heat > d.Sun || len(d.Samples) < 300 {
				t.Errorf("%s %s: %+v", name, sky, d.Heat)
			}
		}
	}
}

// A clear day gives more than a hazy, a broken or the coldest one.
func TestSkiesInTheirOrder(t *testing.T) {
	h := heater(t, set(design.AbsorberFamily.Path, "back-pass-plate"))
	kWh := map[Sky]float64{}
	for _, sky := range []Sky{Clear, HazySky, Broken, Coldest} {
		d, err := Run(&h, noon, DesignDay(&h, sky))
		if err != nil {
			t.Fatal(err)
		}
		kWh[sky] = d.Heat
	}
	if !(kWh[Clear] > kWh[HazySky] && kWh[Clear] > kWh[Broken] && kWh[Clear] > kWh[Coldest] && kWh[HazySky] > 0 && kWh[Broken] > 0) {
		t.Errorf("kWh by sky: %v", kWh)
	}
}

// At noon of a steady hour the day is the rating: the network stepped long
// enough at the same weather ends at the steady balance.
func TestLongStepsEndAtTheRating(t *testing.T) {
	for _, name := range []string{"back-pass-plate", "can-columns", "screen-box", "double-pass-tubes"} {
		h, _ := design.Named(name)
		h.Box.Seam = 0
		d, err := collector.Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		c := collector.ConditionsAt(&h, collector.WinterNoon(&h))
		want, err := d.Rate(c, collector.Tuning{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		tr, err := d.NewTransient(c)
		if err != nil {
			t.Fatal(err)
		}
		var m collector.Moment
		for range 600 {
			if m, err = tr.Step(c, want.Mass, 60); err != nil {
				t.Fatal(err)
			}
		}
		if math.Abs(m.Outlet-want.Outlet) > 0.25 || math.Abs(m.Stored) > 0.5 {
			t.Errorf("%s: ends at %v C, the rating %v; still stores %v W", name, m.Outlet, want.Outlet, m.Stored)
		}
	}
}

// With no sun, no flow and constant coefficients a layer cools towards outdoors
// by its own time constant: the step response of a lump, by hand.
func TestCoolsByItsTimeConstant(t *testing.T) {
	h := heater(t, set(design.AbsorberFamily.Path, "back-pass-plate"))
	d, _ := collector.Describe(&h)
	c := collector.ConditionsAt(&h, collector.WinterNoon(&h))
	tr, err := d.NewTransient(c)
	if err != nil {
		t.Fatal(err)
	}
	c.Sun.Beam, c.Sun.Sky, c.Sun.Ground = 0, 0, 0
	first, _ := tr.Step(c, 0, 1)
	last := first.Absorber
	for range 600 {
		m, err := tr.Step(c, 0, 60)
		if err != nil {
			t.Fatal(err)
		}
		if m.Absorber > last+0.02 { // coefficients are held within half a kelvin
			t.Fatal("it warms in the dark")
		}
		last = m.Absorber
	}
	if last > c.Ambient+1 || last < c.Sky {
		t.Errorf("after ten hours it is at %v, outdoors %v", last, c.Ambient)
	}
}

// Halving the step moves a day's heat by under 1 %, and its starts by few.
func TestStepIsShortEnough(t *testing.T) {
	h := heater(t, set(design.AbsorberFamily.Path, "back-pass-plate"), set(design.SwitchKind.Path, "snap"),
		set(design.SwitchClose.Path, 30.0),
		set(design.SwitchOpen.Path, 24.0))
	d, _ := collector.Describe(&h)
	w := DesignDay(&h, Clear)
	rate, err := d.Rate(w(collector.WinterNoon(&h)), collector.Tuning{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	heat := func(step float64) (sum float64) {
		from := collector.WinterNoon(&h).Add(-3 * time.Hour)
		tr, err := d.NewTransient(w(from))
		if err != nil {
			t.Fatal(err)
		}
		for s := 0.0; s < 6*3600; s += step {
			m, err := tr.Step(w(from.Add(time.Duration(s*float64(time.Second)))), rate.Mass, step)
			if err != nil {
				t.Fatal(err)
			}
			sum += m.Energy.Air * step / 3.6e6
		}
		return sum
	}
	a, b := heat(60), heat(15)
	if math.Abs(a/b-1) > 0.01 {
		t.Errorf("%v kWh by 60 s, %v by 15 s", a, b)
	}
}

// A switch set too high never starts or cycles, one set low runs long; no
// setting gives more heat than a fan that always has its best; a narrow switch
// starts more often than a wide one.
func TestSettings(t *testing.T) {
	h := heater(t, set(design.AbsorberFamily.Path, "back-pass-plate"), set(design.SwitchKind.Path, "snap"))
	var points []float64
	for p := 22.0; p <= 90; p += 4 {
		points = append(points, p)
	}
	ss, err := Settings(t.Context(), &h, noon, DesignDay(&h, Clear), points)
	if err != nil || len(ss) != len(points) {
		t.Fatalf("%d settings, %v", len(ss), err)
	}
	if last := ss[len(ss)-1].Day; last.Heat > 0.7*ss[1].Day.Heat {
		t.Errorf("set to 90 C it gives %v kWh, to 26 C %v", last.Heat, ss[1].Day.Heat)
	}
	most := 0.0
	for _, s := range ss {
		most = max(most, s.Day.Heat)
		if s.Day.RunMinutes > 0 && s.Day.Cycles == 0 {
			t.Errorf("%+v runs without starting", s)
		}
	}
	wide := heater(t, set(design.AbsorberFamily.Path, "back-pass-plate"), set(design.SwitchKind.Path, "snap"),
		set(design.SwitchClose.Path, 45.0),
		set(design.SwitchOpen.Path, 22.0))
	narrow := heater(t, set(design.AbsorberFamily.Path, "back-pass-plate"), set(design.SwitchKind.Path, "snap"),
		set(design.SwitchClose.Path, 45.0),
		set(design.SwitchOpen.Path, 40.0))
	a, _ := Run(&wide, noon, DesignDay(&wide, Clear))
	b, _ := Run(&narrow, noon, DesignDay(&narrow, Clear))
	if b.Cycles <= a.Cycles {
		t.Errorf("%d starts with 5 K between the points, %d with 23 K", b.Cycles, a.Cycles)
	}
	if most <= 0 {
		t.Error("no setting gives heat")
	}
	plug := heater(t, set(design.SwitchKind.Path, "plug"))
	if ss, err := Settings(t.Context(), &plug, noon, DesignDay(&plug, Clear), points); ss != nil || err != nil {
		t.Error("a plug has no point to move")
	}
}

// Far north in winter the sun does not rise, and the words say so.
func TestNoSunNoDay(t *testing.T) {
	h := heater(t)
	h.Place.Latitude, h.Place.Elevation = 76, 0
	if _, err := Run(&h, noon, DesignDay(&h, Clear)); err != ErrSun {
		t.Errorf("polar night: %v", err)
	}
}

func BenchmarkDay(b *testing.B) {
	for _, name := range design.ExampleNames() {
		h, _ := design.Named(name)
		b.Run(name, func(b *testing.B) {
			for range b.N {
				if _, err := Run(&h, noon, DesignDay(&h, Clear)); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// The best range is one piece around the best: a second hump beyond a dip does
// not stretch it.
func TestBestRange(t *testing.T) {
	var ss []Setting
	for i, v := range []float64{3.0, 3.95, 4.0, 3.9, 2.0, 3.99} {
		ss = append(ss, Setting{Close: 24 + 4*float64(i), Day: Day{Heat: v}})
	}
	if best, lo, hi := Best(ss); best.Close != 32 || lo != 28 || hi != 36 {
		t.Errorf("best %v, from %v to %v", best.Close, lo, hi)
	}
}

// A design day of another month has that month's air: as much warmer as its mean is, and no January in July; a room is no colder than
// the air outdoors then. The month of the winter noon has the document's own.
func TestDesignDayHasItsMonthsAir(t *testing.T) {
	h, err := design.Named("back-pass-plate")
	if err != nil {
		t.Fatal(err)
	}
	noon := collector.WinterNoon(&h)
	w := DesignDay(&h, Clear)
	at := func(month time.Month) collector.Conditions {
		return w(time.Date(2026, month, 21, 14, 0, 0, 0, noon.Location()))
	}
	if c := at(time.January); math.Abs(c.Ambient-h.Place.Outdoor) > 0.2 || c.Inlet != h.Room.Air {
		t.Errorf("January: %v C outdoors, %v drawn in", c.Ambient, c.Inlet)
	}
	for m := time.February; m <= time.December; m++ {
		warmer := h.MonthMean(int(m)) - h.MonthMean(1)
		c := at(m)
		if math.Abs(c.Ambient-h.Place.Outdoor-warmer) > 0.2 {
			t.Errorf("%v: %v C outdoors, its mean is %v K over January's", m, c.Ambient, warmer)
		}
		if c.Inlet < min(c.Ambient, h.Room.Vent)-1e-9 {
			t.Errorf("%v: the room has %v C with %v C outdoors", m, c.Inlet, c.Ambient)
		}
	}
	if july := at(time.July); july.Ambient < at(time.January).Ambient+8 {
		t.Errorf("July has %v C", july.Ambient)
	}
}
