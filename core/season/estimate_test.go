package season

import (
	"context"
	"math"
	"os"
	"slices"
	"testing"

	"gladember/core/climate"
	"gladember/core/design"
	"gladember/core/internal/parallel"
	"gladember/core/normals"
)

// A heater with a town alone has a year: stations of the table are estimated from all others,
// and the useful heat of that year is set beside the useful heat of the station's own months. At
// least nine in ten lie within two sigma of what the estimate's own doubts, winter's and summer's
// sunshine and temperature moved through the year, make of it. With GLADEMBER_LONG it is every
// station, else every 24th.
func TestTownAloneByLeavingStationsOut(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	every := 24
	if os.Getenv("GLADEMBER_LONG") != "" {
		every = 1
	} else if testing.Short() {
		every = 60
	}
	type result struct {
		name            string
		own, guess, two float64
	}
	var chosen []int
	for i := 3; i < len(normals.Stations()); i += every {
		chosen = append(chosen, i)
	}
	out := make([]result, len(chosen))
	err := parallel.Each(t.Context(), len(chosen), func(k int) error {
		s, e := &normals.Stations()[chosen[k]], normals.Without(chosen[k])
		h, err := design.Named("back-pass-plate")
		if err != nil {
			return err
		}
		p := &h.Place
		p.Latitude, p.Longitude, p.Elevation, p.Zone, p.Bearing = s.Latitude, s.Longitude, s.Elevation, "UTC", 180
		if s.Latitude < 0 {
			p.Bearing = 0
		}
		useful := func(table climate.Table) (float64, error) {
			y, err := climate.Generate(&h, table, "")
			if err != nil {
				return 0, err
			}
			r, err := RunIn(&h, y.Series(&h))
			if err != nil {
				return 0, err
			}
			return r.Year.Useful, nil
		}
		var own climate.Table
		nan := math.NaN()
		for m := range own {
			own[m] = climate.Month{Mean: s.Temperature[m], Min: nan, Max: nan, Sunshine: s.Sunshine[m] * normals.Light(s.Latitude, m),
				Radiation: nan, Wind: nan}
		}
		facts := climate.Facts{Coldest: slices.Min(e.Temperature[:]), Warmest: slices.Max(e.Temperature[:]),
			Summer: 10 * normals.Mean(&e.Sunshine, normals.Bright(s.Latitude)), Winter: 10 * normals.Mean(&e.Sunshine,
				normals.Dark(s.Latitude))}
		warm, sunny := facts, facts
		warm.Coldest, warm.Warmest = warm.Coldest+e.UTemperature, warm.Warmest+e.UTemperature
		sunny.Winter, sunny.Summer = sunny.Winter+10*e.UWinter, sunny.Summer+10*e.USummer
		x := result{name: s.Name}
		if x.own, err = useful(own); err != nil {
			return err
		}
		if x.guess, err = useful(facts.Table(s.Latitude, &e)); err != nil {
			return err
		}
		a, err := useful(warm.Table(s.Latitude, &e))
		if err != nil {
			return err
		}
		b, err := useful(sunny.Table(s.Latitude, &e))
		if err != nil {
			return err
		}
		x.two = 2 * math.Hypot(a-x.guess, b-x.guess)
		out[k] = x
		return nil
	}, nil)
	if err != nil {
		t.Fatal(err)
	}
	in, square := 0, 0.0
	for _, x := range out {
		if math.Abs(x.guess-x.own) <= x.two {
			in++
		} else {
			t.Logf("%s: %.0f kWh by its neighbors, %.0f by its own months, two sigma %.0f", x.name, x.guess, x.own, x.two)
		}
		square += math.Pow((x.guess-x.own)/x.own, 2)
	}
	t.Logf("%d of %d within two sigma; root mean square error %.0f %% of the useful heat", in, len(out),
		100*math.Sqrt(square/float64(len(out))))
	if float64(in) < 0.9*float64(len(out))-0.5 {
		t.Errorf("only %d of %d stations lie within two sigma", in, len(out))
	}
}

// The band of a year by the town alone holds the stations' own error as causes of its own, and each
// fact that is given narrows it.
func TestFactsNarrowTheBand(t *testing.T) {
	h := named(t, "back-pass-plate")
	for _, path := range []string{design.ClimateColdest.Path, design.ClimateWarmest.Path, design.ClimateSunny.Path} {
		delete(h.Entries, path)
	}
	design.Refresh(&h)
	last := math.Inf(1)
	for _, c := range []design.Change{{}, to(design.ClimateSunnyWinter.Path, h.Climate.Winter),
		to(design.ClimateColdest.Path, h.Climate.Coldest)} {
		if c.Path != "" {
			h.Entries[c.Path] = design.Entry{Origin: design.Yours}
		}
		s := yearOf(t, &h).Series(&h)
		r, err := RunIn(&h, s)
		if err != nil {
			t.Fatal(err)
		}
		b, err := EstimateBands(context.Background(), &h, s, r, nil)
		if err != nil {
			t.Fatal(err)
		}
		causes := 0
		for _, x := range b.Useful.Causes {
			if (x.Path == design.ClimateSunnyWinter.Path || x.Path == design.ClimateColdest.Path) && x.Effect != 0 {
				causes++
			}
		}
		if causes != 2 || b.Useful.U >= last {
			t.Errorf("with %q given: u %v kWh, before %v; %d causes of the estimate's own", c.Path, b.Useful.U, last, causes)
		}
		last = b.Useful.U
		t.Logf("with %q given: useful %.0f kWh, u %.0f", c.Path, r.Year.Useful, b.Useful.U)
	}
}
