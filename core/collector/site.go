package collector

import (
	"fmt"
	"math"
	"time"

	"gladember/core/design"
	"gladember/core/solar"
)

// HeatingMonths are the months over which places, leans and bearings are
// compared. Common practice, no source.
// They are the seven from October to April, in the south from April to October.
func HeatingMonths(latitude float64) []time.Month {
	if latitude < 0 {
		return []time.Month{4, 5, 6, 7, 8, 9, 10}
	}
	return []time.Month{10, 11, 12, 1, 2, 3, 4}
}

// clearHour is a sun of the heating months under a clear sky.
type clearHour struct {
	sun   solar.Sun
	sky   solar.Irradiance
	month time.Month
	// days is how many days its own day stands for.
	days   float64
	albedo float64
}

// clearStep is how far apart they are, h.
const clearStep = 0.25

// clearHours are the suns over the horizon on the 21st of each heating month.
func clearHours(h *design.Heater) (out []clearHour) {
	site := Site(h)
	for _, m := range HeatingMonths(site.Latitude) {
		noon := ClockNoon(site, m)
		days := float64(time.Date(DesignYear, m+1, 0, 0, 0, 0, 0, time.UTC).Day())
		for k := -12 / clearStep; k < 12/clearStep; k++ {
			p := solar.Position(noon.Add(time.Duration((k+0.5)*clearStep*float64(time.Hour))), site, 0, 0)
			if p.TrueZenith < 90 {
				sky := solar.Ineichen(p.TrueZenith, site.Elevation, h.Place.Haze, solar.SolarConstant/(p.Distance*p.Distance))
				out = append(out, clearHour{p, sky, m, days, h.Place.Albedo(int(m))})
			}
		}
	}
	return out
}

// HeatingSun is the mean clear-day sun of the heating months, past all that
// shades it, on the heater's glass at a tilt and bearing, degrees; kWh/m2 a
// day.
// It is what tilts and bearings are compared by, before any box is known.
func HeatingSun(h *design.Heater, tilt, bearing float64) float64 {
	return heatingSun(h, clearHours(h), Surroundings(h), tilt, bearing)
}

// heatingSun is the clear-sky sun on glass of some tilt and bearing behind what
// shades it, the mean of the heating months, kWh/m2.
func heatingSun(h *design.Heater, suns []clearHour, around *solar.Surroundings, tilt, bearing float64) (sum float64) {
	f := around.Fixed(tilt, bearing)
	for _, s := range suns {
		sum += f.Under(s.sun, s.sky, s.month, h.Place.Latitude, s.albedo).Total() * clearStep / 1000
	}
	return sum / float64(len(HeatingMonths(h.Place.Latitude)))
}

// Hidden is what one thing in the sun's way costs over the heating months.
type Hidden struct {
	// Name is the obstacle's.
	Name string
	// Hours is how long it keeps over half of the beam from the glass's middle
	// in the heating months, were the sky clear.
	Hours float64
	// Sun is what would come in without it on clear days, kWh over all of the
	// glass.
	Sun float64
}

// Shaders returns what each thing in the sun's way costs by itself: the eave,
// each wall beside, and each piece of the horizon.
// Each obstacle is taken away by itself, so that their shares may sum to more
// than all of them together.
func Shaders(h *design.Heater) (out []Hidden) {
	site, all, suns := Site(h), Surroundings(h), clearHours(h)
	with := heatingSun(h, suns, all, h.Place.Tilt, h.Place.Bearing)
	days := 0.0
	for _, m := range HeatingMonths(site.Latitude) {
		days += float64(time.Date(DesignYear, m+1, 0, 0, 0, 0, 0, time.UTC).Day())
	}
	add := func(name string, without, alone solar.Surroundings) {
		// Less than is shown: the balance of beam and sky light has rounding of
		// its own.
		sun := max(0, heatingSun(h, suns, &without, h.Place.Tilt, h.Place.Bearing)-with) * days * h.Glass()
		out = append(out, Hidden{name, hidden(h, suns, &alone), sun})
	}
	bare := solar.Surroundings{Width: all.Width, Height: all.Height}
	if all.Eave.Depth > 0 {
		w, a := *all, bare
		w.Eave, a.Eave = solar.Eave{}, all.Eave
		add("the eave", w, a)
	}
	for i, f := range []struct {
		name  string
		depth float64
	}{{"the wall at the left", all.FinLeft}, {"the wall at the right", all.FinRight}} {
		if f.depth <= 0 {
			continue
		}
		w, a := *all, bare
		a.FinBeside = all.FinBeside
		if i == 0 {
			w.FinLeft, a.FinLeft = 0, f.depth
		} else {
			w.FinRight, a.FinRight = 0, f.depth
		}
		add(f.name, w, a)
	}
	for i, p := range all.Horizon {
		w, a := *all, bare
		w.Horizon = append(append([]solar.Piece(nil), all.Horizon[:i]...), all.Horizon[i+1:]...)
		a.Horizon = []solar.Piece{p}
		name := map[string]string{"solid": "the skyline", "evergreen": "the evergreen", "tree": "the tree"}[h.Shade.Horizon[i].Kind()]
		add(fmt.Sprintf("%s from %.0f° to %.0f°", name, p.From, p.To), w, a)
	}
	return out
}

// hidden counts the hours of the heating months with the sun before the glass
// in which the surroundings let less than half of its beam through.
func hidden(h *design.Heater, suns []clearHour, around *solar.Surroundings) (hours float64) {
	for _, s := range suns {
		before := solar.Incidence(s.sun.TrueZenith, s.sun.Azimuth, h.Place.Tilt, h.Place.Bearing) < 90
		if before && around.Through(s.sun, h.Place.Tilt, h.Place.Bearing, solar.Leafy(s.month, h.Place.Latitude)) < 0.5 {
			hours += s.days * clearStep
		}
	}
	return hours
}

// Lean is a way to set the box up.
type Lean struct {
	// Name is what builders call this position.
	Name string
	// Tilt and Bearing are in degrees.
	Tilt    float64
	Bearing float64
	// Sun is in kWh/m2 a day, see [HeatingSun].
	Sun float64
}

// Leans returns the ways a builder can set this box up at its place, and the
// best of all leans by tens and bearings by fifteen degrees, last.
// The present position comes first, the best of all tilts and bearings tried
// last.
func Leans(h *design.Heater) []Lean {
	rack := min(90, 5*math.Round((math.Abs(h.Place.Latitude)+20)/5))
	noon := 180.0
	if h.Place.Latitude < 0 {
		noon = 0
	}
	out := []Lean{{Name: "present position", Tilt: h.Place.Tilt, Bearing: h.Place.Bearing}, {Name: "flat on the wall", Tilt: 90,
		Bearing: h.Place.Bearing}, {Name: "tilted on the wall", Tilt: 70, Bearing: h.Place.Bearing},
		{Name: "on a rack to the noon sun", Tilt: rack, Bearing: noon}, {Name: "as on a roof", Tilt: 40,
			Bearing: h.Place.Bearing}}
	best := Lean{Name: "best tilt and bearing"}
	suns, around := clearHours(h), Surroundings(h)
	for i := range out {
		out[i].Sun = heatingSun(h, suns, around, out[i].Tilt, out[i].Bearing)
	}
	for _, off := range []float64{-30, -15, 0, 15, 30} {
		for tilt := 40.0; tilt <= 90; tilt += 10 {
			b := math.Mod(noon+off+360, 360)
			if s := heatingSun(h, suns, around, tilt, b); s > best.Sun {
				best.Tilt, best.Bearing, best.Sun = tilt, b, s
			}
		}
	}
	for _, l := range out {
		if l.Sun > best.Sun {
			best.Tilt, best.Bearing, best.Sun = l.Tilt, l.Bearing, l.Sun
		}
	}
	return append(out, best)
}
