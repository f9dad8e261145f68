// Package solar places the sun in the sky and its radiation on a plane.
//
// Conventions: azimuth runs clockwise from north (0 N, 90 E, 180 S, 270 W) in
// degrees; tilt is 0 for a plane lying flat facing up and 90 for an upright
// one; latitude is positive north, longitude positive east; both hemispheres
// work alike. Irradiance is W/m2. Times are absolute ([time.Time]); clock,
// standard and solar time differ and are converted here and nowhere else.
package solar

import (
	"errors"
	"math"
	"time"
)

// Site is a spot on the earth.
type Site struct {
	Latitude  float64        // degrees, north positive, -90..90
	Longitude float64        // degrees, east positive, -180..180
	Elevation float64        // m above sea level
	Zone      *time.Location // for the local day; nil means UTC
}

// zone is the site's clock, UTC where none is given.
func (s Site) zone() *time.Location {
	if s.Zone == nil {
		return time.UTC
	}
	return s.Zone
}

// Sun is where the sun stands for a site at an instant.
type Sun struct {
	Zenith         float64 // degrees from straight up, refracted
	TrueZenith     float64 // degrees, without refraction
	Azimuth        float64 // degrees clockwise from north, 0..360
	Declination    float64 // degrees, geocentric, apparent
	HourAngle      float64 // degrees, 0 at solar noon, afternoon positive, -180..180
	EquationOfTime float64 // minutes, sundial minus clock
	Distance       float64 // astronomical units
}

const deg = math.Pi / 180

func sind(d float64) float64 { return math.Sin(d * deg) }
func cosd(d float64) float64 { return math.Cos(d * deg) }

// wrap brings an angle in degrees into lo to lo+360.
func wrap(d, lo float64) float64 { return d - 360*math.Floor((d-lo)/360) }

// deltaT is terrestrial minus universal time in seconds, from the polynomial
// expressions of Espenak & Meeus (2006) for 1941-2050, and a constant beyond.
func deltaT(year float64) float64 {
	switch {
	case year < 1961:
		t := year - 1950
		return 29.07 + 0.407*t - t*t/233 + t*t*t/2547
	case year < 1986:
		t := year - 1975
		return 45.45 + 1.067*t - t*t/260 - t*t*t/718
	case year < 2005:
		t := year - 2000
		return 63.86 + 0.3345*t - 0.060374*t*t + 0.0017275*t*t*t + 0.000651814*math.Pow(t, 4) + 0.00002373599*math.Pow(t, 5)
	}
	// The 2006 forecast for later years runs fast; 69 s has held since 2016.
	return min(69.2, 63.9+0.5*(year-2005))
}

// Position returns the sun seen from a site. Pressure is in hPa and
// temperature in C; they matter for refraction only, which is left out where
// pressure is zero or the sun is well below the horizon.
//
// The series is that of Meeus, Astronomical Algorithms (1998), ch. 22 and 25,
// with the planetary and lunar terms of his Astronomical Formulae for
// Calculators, ch. 18; topocentric parallax and refraction as in Reda &
// Andreas, Solar Energy 76 (2004). It is good to 0.005 degrees for 1950-2050.
func Position(at time.Time, s Site, pressure, temperature float64) Sun {
	ut := float64(at.UnixNano()) / 86400e9 // days since 1970
	jd := ut + 2440587.5
	year := 1970 + ut/365.2425
	jde := jd + deltaT(year)/86400
	t := (jde - 2451545) / 36525
	t1900 := (jde - 2415020) / 36525

	l0 := 280.46646 + 36000.76983*t + 0.0003032*t*t
	m := 357.52911 + 35999.05029*t - 0.0001537*t*t
	e := 0.016708634 - 0.000042037*t - 0.0000001267*t*t
	c := (1.914602-0.004817*t-0.000014*t*t)*sind(m) + (0.019993-0.000101*t)*sind(2*m) + 0.000289*sind(3*m)
	nu := m + c
	r := 1.000001018 * (1 - e*e) / (1 + e*cosd(nu))
	perturbed := 0.00134*cosd(153.23+22518.7541*t1900) +
		0.00154*cosd(216.57+45037.5082*t1900) +
		0.00200*cosd(312.69+32964.3577*t1900) +
		0.00179*sind(350.74+445267.1142*t1900-0.00144*t1900*t1900)
	omega := 125.04452 - 1934.136261*t
	ls, lm := 280.4665+36000.7698*t, 218.3165+481267.8813*t
	dpsi := (-17.20*sind(omega) - 1.32*sind(2*ls) - 0.23*sind(2*lm) + 0.21*sind(2*omega)) / 3600
	deps := (9.20*cosd(omega) + 0.57*cosd(2*ls) + 0.10*cosd(2*lm) - 0.09*cosd(2*omega)) / 3600
	lambda := l0 + c + perturbed + dpsi - 20.4898/3600/r
	eps := 23 + 26.0/60 + 21.448/3600 - (46.8150*t+0.00059*t*t-0.001813*t*t*t)/3600 + deps

	alpha := math.Atan2(cosd(eps)*sind(lambda), cosd(lambda)) / deg
	delta := math.Asin(sind(eps)*sind(lambda)) / deg

	tu := (jd - 2451545) / 36525
	gmst := 280.46061837 + 360.98564736629*(jd-2451545) + 0.000387933*tu*tu
	h := wrap(gmst+dpsi*cosd(eps)+s.Longitude-alpha, -180)

	// Parallax moves the sun down by at most 8.794 arc seconds.
	sinAlt := sind(s.Latitude)*sind(delta) + cosd(s.Latitude)*cosd(delta)*cosd(h)
	alt := math.Asin(clamp(sinAlt, -1, 1)) / deg
	alt -= 8.794 / 3600 / r * cosd(alt)
	az := math.Atan2(sind(h), cosd(h)*sind(s.Latitude)-math.Tan(delta*deg)*cosd(s.Latitude))/deg + 180

	refraction := 0.0
	if pressure > 0 && alt > -0.8333 {
		refraction = pressure / 1010 * 283 / (273 + temperature) * 1.02 / (60 * math.Tan((alt+10.3/(alt+5.11))*deg))
	}
	eot := 4 * wrap(l0-0.0057183-alpha+dpsi*cosd(eps), -180)
	return Sun{Zenith: 90 - alt - refraction, TrueZenith: 90 - alt, Azimuth: wrap(az, 0), Declination: delta,
		HourAngle: h, EquationOfTime: eot, Distance: r}
}

func clamp(x, lo, hi float64) float64 { return max(lo, min(hi, x)) }

// Incidence returns the angle in degrees, 0..180, between the beam of a sun at
// zenith and azimuth and the normal of a plane of the given tilt facing
// azimuth facing, all in degrees. Above 90 the sun is behind the plane.
// Source: spherical geometry, as in D&B eq. 1.6.3.
func Incidence(zenith, azimuth, tilt, facing float64) float64 {
	c := cosd(zenith)*cosd(tilt) + sind(zenith)*sind(tilt)*cosd(azimuth-facing)
	return math.Acos(clamp(c, -1, 1)) / deg
}

// ProfileAngle is the sun's height as seen along a wall that faces an azimuth:
// its angle over the level in the upright plane square to that wall, degrees,
// -180..180. Over 90 the sun stands behind the wall. Source: ASHRAE
// Fundamentals ch. 15 (profile or shadow-line angle).
func ProfileAngle(zenith, azimuth, facing float64) float64 {
	return math.Atan2(cosd(zenith), sind(zenith)*cosd(azimuth-facing)) / deg
}

// SolarTime returns the apparent solar time of an instant at a longitude as
// hours 0..24, noon being 12.
func SolarTime(at time.Time, s Site) float64 {
	h := Position(at, s, 0, 0).HourAngle
	return 12 + h/15
}

// HorizonDip is the zenith angle of the sun's center at sunrise and sunset by
// convention: 34' of refraction and 16' of radius.
const HorizonDip = 90.8333

// A Day is the sun's day at a site. Where the sun stays up or down, Rise and
// Set are zero and Polar says which.
type Day struct {
	Rise, Noon, Set time.Time
	Length          time.Duration
	Polar           string // "", "day" or "night"
}

// NewDay returns sunrise, solar noon and sunset of the *local* calendar day
// that holds the instant, in the site's zone.
func NewDay(at time.Time, s Site) (Day, error) {
	if math.Abs(s.Latitude) > 90 || math.IsNaN(s.Latitude) {
		return Day{}, errors.New("latitude must lie between -90 and 90 degrees")
	}
	local := at.In(s.zone())
	start := time.Date(local.Year(), local.Month(), local.Day(), 0, 0, 0, 0, s.zone())
	end := start.AddDate(0, 0, 1)
	up := func(t time.Time) float64 { return HorizonDip - Position(t, s, 0, 0).TrueZenith }
	cross := func(a, b time.Time) time.Time {
		fa := up(a)
		for b.Sub(a) > 200*time.Millisecond {
			m := a.Add(b.Sub(a) / 2)
			if (up(m) > 0) == (fa > 0) {
				a = m
			} else {
				b = m
			}
		}
		return a.Round(time.Second)
	}
	var d Day
	const step = 10 * time.Minute
	lit := time.Duration(0)
	for a := start; a.Before(end); a = a.Add(step) {
		b := a.Add(step)
		if b.After(end) {
			b = end
		}
		ua, ub := up(a), up(b)
		switch {
		case ua <= 0 && ub > 0:
			d.Rise = cross(a, b)
			lit += b.Sub(d.Rise)
		case ua > 0 && ub <= 0:
			d.Set = cross(a, b)
			lit += d.Set.Sub(a)
		case ua > 0:
			lit += b.Sub(a)
		}
		ha, hb := Position(a, s, 0, 0).HourAngle, Position(b, s, 0, 0).HourAngle
		if ha <= 0 && hb > 0 && hb-ha < 90 {
			d.Noon = a.Add(time.Duration(-ha / (hb - ha) * float64(b.Sub(a)))).Round(time.Second)
		}
	}
	d.Length = lit.Round(time.Second)
	if d.Rise.IsZero() && d.Set.IsZero() {
		d.Polar = "night"
		if lit > 0 {
			d.Polar = "day"
		}
	}
	return d, nil
}
