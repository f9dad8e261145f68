package solar

import (
	"errors"
	"math"
	"time"
)

// Solar constants, W/m2: the present one, and the older one of worked
// examples printed before 2010.
const (
	SolarConstant    = 1361.0
	SolarConstantOld = 1367.0
)

// Extraterrestrial returns the beam outside the air on day n of the year
// (1..366) for a solar constant gsc, W/m2. Source: Spencer 1971 via D&B eq.
// 1.4.1b.
func Extraterrestrial(gsc float64, n int) float64 {
	b := 2 * math.Pi * float64(n-1) / 365
	return gsc * (1.000110 + 0.034221*math.Cos(b) + 0.001280*math.Sin(b) + 0.000719*math.Cos(2*b) + 0.000077*math.Sin(2*b))
}

// DailyExtraterrestrial returns the radiation outside the air on a horizontal
// plane over a day, J/m2, and the day's length in hours, for latitude and
// declination in degrees and the beam gon in W/m2. Source: D&B eq. 1.10.3.
func DailyExtraterrestrial(gon, latitude, declination float64) (h0, hours float64) {
	x := clamp(-math.Tan(latitude*deg)*math.Tan(declination*deg), -1, 1)
	ws := math.Acos(x)
	h0 = 86400 / math.Pi * gon * (cosd(latitude)*cosd(declination)*math.Sin(ws) + ws*sind(latitude)*sind(declination))
	return max(0, h0), 24 / math.Pi * ws
}

// Irradiance is radiation on the horizontal, W/m2, with the beam's own
// strength across it.
type Irradiance struct {
	Global, Beam, Diffuse float64 // on the horizontal
	Normal                float64 // beam on a plane facing the sun
}

// AirMass returns the relative optical air mass for an unrefracted zenith in
// degrees. Beyond 90 it holds the value at 90. Source: Kasten & Young 1989.
func AirMass(zenith float64) float64 {
	z := min(zenith, 90)
	return 1 / (cosd(z) + 0.50572*math.Pow(96.07995-z, -1.6364))
}

// Ineichen returns the clear-sky radiation for a sun zenith in degrees at an
// elevation in m, with Linke turbidity (2 clean winter air .. 7 haze) and the
// extraterrestrial beam gon. Zero with the sun down.
// Source: Ineichen & Perez, Solar Energy 73 (2002).
func Ineichen(zenith, elevation, linke, gon float64) Irradiance {
	cz := cosd(zenith)
	if zenith >= 90 {
		return Irradiance{}
	}
	// The fit holds from sea level to the mountains; below the sea it is level.
	elevation = max(0, elevation)
	am := AirMass(zenith) * Pressure(elevation) / 101325
	f1, f2 := math.Exp(-elevation/8000), math.Exp(-elevation/1250)
	c1, c2 := 5.09e-5*elevation+0.868, 3.92e-5*elevation+0.0387
	g := c1 * gon * cz * math.Exp(-c2*am*(f1+f2*(linke-1)))
	n := (0.664 + 0.163/f1) * gon * math.Exp(-0.09*am*(linke-1))
	n2 := g * (1 - (0.1-0.2*math.Exp(-linke))/(0.1+0.882/f1)) / cz
	n = max(0, min(n, n2))
	return Irradiance{Global: g, Beam: n * cz, Diffuse: g - n*cz, Normal: n}
}

// Bird returns the clear-sky radiation by the model of Bird & Hulstrom (SERI
// TR-642-761, 1981) for zenith in degrees, pressure in Pa, water and ozone in
// cm, broadband aerosol depth tau and ground albedo.
// Only tests reach it, as a reference.
func Bird(zenith, pressure, water, ozone, tau, albedo, gon float64) Irradiance {
	if zenith >= 90 {
		return Irradiance{}
	}
	cz := cosd(zenith)
	am := 1 / (cz + 0.15*math.Pow(93.885-zenith, -1.25))
	ap := am * pressure / 101325
	tr := math.Exp(-0.0903 * math.Pow(ap, 0.84) * (1 + ap - math.Pow(ap, 1.01)))
	xo := ozone * am
	to := 1 - 0.1611*xo*math.Pow(1+139.48*xo, -0.3035) - 0.002715*xo/(1+0.044*xo+0.0003*xo*xo)
	tg := math.Exp(-0.0127 * math.Pow(ap, 0.26))
	xw := water * am
	tw := 1 - 2.4959*xw/(math.Pow(1+79.034*xw, 0.6828)+6.385*xw)
	ta := math.Exp(-math.Pow(tau, 0.873) * (1 + tau - math.Pow(tau, 0.7088)) * math.Pow(am, 0.9108))
	taa := 1 - 0.1*(1-am+math.Pow(am, 1.06))*(1-ta)
	rs := 0.0685 + 0.15*(1-ta/taa)
	id := 0.9662 * gon * ta * tw * tg * to * tr
	ias := gon * cz * 0.79 * to * tg * tw * taa * (0.5*(1-tr) + 0.85*(1-ta/taa)) / (1 - am + math.Pow(am, 1.02))
	g := (id*cz + ias) / (1 - albedo*rs)
	return Irradiance{Global: g, Beam: id * cz, Diffuse: g - id*cz, Normal: id}
}

// Pressure returns the standard atmosphere's pressure in Pa at an elevation
// in m, -500..11000. Source: ICAO / ISO 2533.
func Pressure(elevation float64) float64 {
	return 101325 * math.Pow(1-2.25577e-5*elevation, 5.25588)
}

// ErbsDiffuse returns the diffuse share of an hour's horizontal radiation for
// its clearness index kt. Source: Erbs et al. 1982 via D&B eq. 2.10.1.
func ErbsDiffuse(kt float64) float64 {
	switch {
	case kt <= 0.22:
		return 1 - 0.09*max(kt, 0)
	case kt <= 0.80:
		return 0.9511 - 0.1604*kt + 4.388*kt*kt - 16.638*kt*kt*kt + 12.336*kt*kt*kt*kt
	}
	return 0.165
}

// OnPlane is the sun on a tilted plane, W/m2, by where it comes from.
type OnPlane struct {
	Beam      float64 // with the circumsolar part
	Sky       float64
	Ground    float64
	Incidence float64 // of the beam, degrees
	// What a mirror lid throws on it, and the incidence of that.
	Mirror, MirrorIncidence float64
}

// Total is the sum of the parts, W/m2.
func (p OnPlane) Total() float64 { return p.Beam + p.Sky + p.Ground + p.Mirror }

// Dimmed returns the light with a share of each part left.
func (p OnPlane) Dimmed(share float64) OnPlane {
	p.Beam, p.Sky, p.Ground, p.Mirror = p.Beam*share, p.Sky*share, p.Ground*share, p.Mirror*share
	return p
}

// DiffuseShare is the part of the total that is not beam, 0..1.
func (p OnPlane) DiffuseShare() float64 {
	if t := p.Total(); t > 0 {
		return (p.Sky + p.Ground) / t
	}
	return 1
}

// HDKR puts horizontal radiation on a plane: incidence and zenith of the beam
// and the tilt in degrees, extraterrestrial beam gon in W/m2, ground
// reflectance albedo 0..1. Rb is held below the value at 88 degrees of zenith,
// where the ratio of two small cosines stops meaning anything.
// Source: Hay, Davies, Klucher, Reindl in D&B eq. 2.16.7.
func HDKR(h Irradiance, incidence, zenith, tilt, albedo, gon float64) OnPlane {
	if h.Global <= 0 {
		return OnPlane{Incidence: incidence}
	}
	rb := max(0, cosd(incidence)) / max(cosd(88), cosd(zenith))
	return hdkr(h, rb, tilt, albedo, gon*max(cosd(88), cosd(zenith)), incidence)
}

// hdkr is the model with the beam's ratio rb given: isotropic, circumsolar and
// horizon-brightening sky. Source: Duffie and Beckman, Solar Engineering of
// Thermal Processes, section 2.16.
func hdkr(h Irradiance, rb, tilt, albedo, g0, incidence float64) OnPlane {
	ai := clamp(h.Beam/g0, 0, 1)
	f := math.Sqrt(max(0, h.Beam/h.Global))
	s1 := sind(tilt / 2)
	s3 := s1 * s1 * s1
	return OnPlane{
		Beam:      (h.Beam + h.Diffuse*ai) * rb,
		Sky:       h.Diffuse * (1 - ai) * (1 + cosd(tilt)) / 2 * (1 + f*s3),
		Ground:    h.Global * albedo * (1 - cosd(tilt)) / 2,
		Incidence: incidence,
	}
}

// Air describes a clear sky. The zero value is ordinary clear winter air over
// bare ground: Linke 3, albedo 0.2.
type Air struct {
	Linke  float64
	Albedo float64
}

// filled puts the usual values where none are given.
func (a Air) filled() Air {
	if a.Linke == 0 {
		a.Linke = 3
	}
	if a.Albedo == 0 {
		a.Albedo = 0.2
	}
	return a
}

// ClearOnPlane returns the clear-sky sun on a plane of a tilt (degrees) that
// faces an azimuth (degrees), at an instant.
// Only tests reach it, as a reference.
func ClearOnPlane(at time.Time, s Site, tilt, facing float64, a Air) OnPlane {
	return (&Surroundings{}).On(at, s, tilt, facing, a)
}

// ClearDay returns the clear-sky sun on a glass among its surroundings over the
// solar day that holds the instant, kWh/m2, by the middle of each half hour.
func (around *Surroundings) ClearDay(day time.Time, s Site, tilt, facing float64, a Air) float64 {
	noon := time.Date(day.Year(), day.Month(), day.Day(), 12, 0, 0, 0, time.UTC).Add(-time.Duration(s.Longitude / 15 * float64(time.Hour)))
	sum := 0.0
	for k := -24; k < 24; k++ {
		sum += around.On(noon.Add(time.Duration(k)*30*time.Minute+15*time.Minute), s, tilt, facing, a).Total() / 2000
	}
	return sum
}

// PlaneHorizon returns the elevation in degrees below which a plane of a tilt
// that faces an azimuth cannot see the sky at azimuth az: where the incidence
// is 90 degrees. In front of the plane it is negative.
func PlaneHorizon(az, tilt, facing float64) float64 {
	return math.Atan(-cosd(az-facing)*math.Tan(min(tilt, 89.99)*deg)) / deg
}

// Swinbank returns the sky's radiant temperature in C for a clear sky over
// air of ta C: Ts = 0.0552 Ta^1.5 in K. Source: Swinbank 1963.
func Swinbank(ta float64) float64 {
	return 0.0552*math.Pow(ta+273.15, 1.5) - 273.15
}

// MartinBerdahl returns the sky's radiant temperature in C for air of ta C,
// dew point tdp C and cloud cover 0..1, without the hour term.
// Source: Martin & Berdahl, Solar Energy 33 (1984).
func MartinBerdahl(ta, tdp, cloud float64) float64 {
	x := tdp / 100
	clearness := 0.711 + 0.56*x + 0.73*x*x
	e := clearness + (1-clearness)*0.8*clamp(cloud, 0, 1)
	return (ta+273.15)*math.Sqrt(math.Sqrt(e)) - 273.15
}

// ErrBelow is returned where a figure needs the sun above the horizon.
var ErrBelow = errors.New("the sun is below the horizon then; choose a time between sunrise and sunset")
