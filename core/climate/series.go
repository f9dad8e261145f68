package climate

import (
	"math"
	"time"

	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/solar"
)

// Quarter is the weather of a quarter of an hour at a heater's glass and at the
// space behind it.
type Quarter struct {
	// Sun is on the glass at its middle, W/m2.
	Sun solar.OnPlane
	// Ambient is in C, and Sky the radiant temperature of the sky, C.
	Ambient float64
	Sky     float64 // C, radiant
	// Wind is at the glass, m/s.
	Wind float64
	// Vapor is its pressure, Pa.
	Vapor float64
	// Snow is new on the cover as the day begins, kg/m2.
	Snow float64
	// Upright is the sun on an upright pane to the noon, unshaded, W/m2.
	Upright float64
	// Level is the sun on the level, W/m2.
	Level float64
}

// Series is a year in quarters of an hour, from the first hour of the file.
type Series struct {
	// Quarters are quarters of an hour.
	Quarters []Quarter
	// Begin is in standard time, in a year of 365 days or the file's leap year.
	Begin time.Time
	// Pressure is the year's mean, Pa.
	Pressure float64
	// Source is that of the weather, and Generated whether it was generated:
	// see [Year].
	Source    string
	Generated bool
}

// A day has so many quarters.
const QuartersInDay = 96

// YearShown is the calendar year that a season's clock runs in: a common year,
// or a leap year for files with a 29 February.
func (y *Year) YearShown() int {
	if len(y.Hours) == hoursInLeap {
		return 2028
	}
	return 2025
}

// Series lays a year out at a heater's place, tilt and bearing, among its
// surroundings; in months in which its glass is covered no sun falls on it. Sun
// is that of each quarter's middle; the hour's sum is kept.
func (y *Year) Series(h *design.Heater) *Series {
	year := y.YearShown()
	out := &Series{Source: y.Source, Generated: y.Generated, Begin: y.start(year), Quarters: make([]Quarter, 4*len(y.Hours))}
	almanac := solar.NewAlmanac(year, y.Site)
	around := collector.Surroundings(h).Fixed(h.Place.Tilt, h.Place.Bearing)
	brought := solar.WindAt(1, h.Place.Terrain, h.Place.Above)
	noon := 180.0
	if y.Site.Latitude < 0 {
		noon = 0
	}
	standard := solar.Pressure(y.Site.Elevation)
	pressure := 0.0
	for i := range y.Hours {
		begin := out.Begin.Add(time.Duration(i) * time.Hour)
		month := begin.Month()
		albedo := h.Place.Albedo(int(month))
		b := &y.Hours[i]
		a := &y.Hours[(i+len(y.Hours)-1)%len(y.Hours)]
		if zero(b.Snow) > 0.02 {
			albedo = max(albedo, snowy)
		}
		p := b.Pressure
		if math.IsNaN(p) {
			p = standard
		}
		pressure += p / float64(len(y.Hours))
		var suns [4]solar.Sun
		mean := 0.0
		lit := !(b.Global <= 0 && zero(b.Normal) <= 0 && zero(b.Diffuse) <= 0)
		for k := 0; lit && k < 4; k++ {
			suns[k] = almanac.At(begin.Add(time.Duration(15*k)*time.Minute + 450*time.Second))
			mean += max(0, math.Cos(suns[k].TrueZenith*math.Pi/180)) / 4
		}
		covered := h.Cover.Covered(int(month))
		fell := 0.0
		if b.Hour == 1 && !covered {
			fell = y.fell(begin.Add(12 * time.Hour))
		}
		for k := range suns {
			q := &out.Quarters[4*i+k]
			f := (float64(k) + 0.5) / 4
			y.air(h, a, b, f, brought, q)
			q.Snow = fell
			if !lit {
				continue
			}
			sky := b.split(suns[k], mean)
			if sky.Global <= 0 {
				continue
			}
			gon := solar.SolarConstant / (suns[k].Distance * suns[k].Distance)
			if !covered {
				q.Sun = around.Under(suns[k], sky, month, y.Site.Latitude, albedo)
			}
			q.Upright = solar.HDKR(sky, solar.Incidence(suns[k].TrueZenith, suns[k].Azimuth, 90, noon), suns[k].TrueZenith, 90, albedo,
				gon).Total()
			q.Level = sky.Global
		}
	}
	out.Pressure = pressure
	return out
}

// Brighter returns the year with all its sun times a factor.
// k multiplies all sun, for the uncertainty of it.
func (s *Series) Brighter(k float64) *Series {
	x := *s
	x.Quarters = make([]Quarter, len(s.Quarters))
	for i, q := range s.Quarters {
		q.Sun, q.Upright, q.Level = q.Sun.Dimmed(k), q.Upright*k, q.Level*k
		x.Quarters[i] = q
	}
	return &x
}

// snowy is the reflectance of ground under snow: see [design.Place.Albedo].
const snowy = 0.65

// air fills in what is not sun, a share f of the way from stamp a to stamp b;
// brought is the wind at the glass for one at the station.
func (y *Year) air(h *design.Heater, a, b *Hour, f, brought float64, q *Quarter) {
	mix := func(x, z float64) float64 {
		switch {
		case math.IsNaN(x):
			return z
		case math.IsNaN(z):
			return x
		}
		return x + (z-x)*f
	}
	q.Ambient = mix(a.Temperature, b.Temperature)
	if math.IsNaN(q.Ambient) {
		q.Ambient = h.Place.Outdoor
	}
	q.Wind = h.Place.Wind
	if w := mix(a.Wind, b.Wind); !math.IsNaN(w) {
		q.Wind = brought * w
	}
	ir, dew, cloud := mix(a.Infrared, b.Infrared), mix(a.DewPoint, b.DewPoint), zero(mix(a.Cloud, b.Cloud))
	switch {
	case ir > 50:
		q.Sky = math.Pow(ir/heattransfer.Sigma, 0.25) - air.Kelvin
	case !math.IsNaN(dew):
		q.Sky = solar.MartinBerdahl(q.Ambient, dew, cloud)
	default:
		q.Sky = solar.Swinbank(q.Ambient)
	}
	if !math.IsNaN(dew) {
		q.Vapor = air.SaturationPressure(dew)
	}
}

// split is the beam and diffuse light of an instant of the hour, by the sun and
// the mean of its height's sine over the hour.
func (h *Hour) split(p solar.Sun, mean float64) solar.Irradiance {
	cz := math.Cos(p.TrueZenith * math.Pi / 180)
	if cz <= 0 || mean <= 0 {
		return solar.Irradiance{}
	}
	shape := cz / mean
	global, normal, diffuse := h.Global, h.Normal, h.Diffuse
	switch {
	case math.IsNaN(normal) && math.IsNaN(diffuse) && !math.IsNaN(global): // split by Erbs
		gon := solar.SolarConstant / (p.Distance * p.Distance)
		diffuse = global * solar.ErbsDiffuse(global/max(1, gon*mean))
		normal = (global - diffuse) / max(0.05, mean)
	case math.IsNaN(diffuse):
		diffuse = max(0, global-normal*mean)
	case math.IsNaN(normal):
		normal = max(0, global-diffuse) / max(0.05, mean)
	}
	normal, diffuse = zero(normal), zero(diffuse)
	d := diffuse * min(3, shape)
	return solar.Irradiance{Global: normal*cz + d, Beam: normal * cz, Diffuse: d, Normal: normal}
}
