package solar

import (
	"math"
	"time"
)

// WindAt brings the wind of a weather station (m/s, 10 m over open country) to
// a height in m over other ground: "open", "suburb" or "town".
// Source: ASHRAE Fundamentals, airflow around buildings: boundary layers of
// 270, 370 and 460 m with exponents 0.14, 0.22 and 0.33.
func WindAt(station float64, terrain string, height float64) float64 {
	layer, a := 270.0, 0.14
	switch terrain {
	case "suburb":
		layer, a = 370, 0.22
	case "town":
		layer, a = 460, 0.33
	}
	return station * math.Pow(270.0/10, 0.14) * math.Pow(max(0.1, height)/layer, a)
}

// Piece of the horizon: between two azimuths the sky under an elevation is
// hidden but for a share that shines through. Degrees.
type Piece struct {
	From, To, Elevation float64
	Bare, Leafy         float64
}

// Eave stands out square from the glass's plane.
type Eave struct {
	Depth float64 // m
	Above float64 // from the glass's top edge, m
	Over  float64 // beyond the glass at each side, m
}

// Lid is a flat mirror as wide as the glass, hinged along one edge of it.
type Lid struct {
	Length  float64 // m; zero is none
	Angle   float64 // between lid and glass, degrees
	Reflect float64 // 0..1
	Top     bool    // hinged at the top edge, else at the bottom
}

// Surroundings are what stands between sun and glass. The zero value, with a
// size, is an open place.
type Surroundings struct {
	Width, Height     float64 // of the glass, m
	Eave              Eave
	FinLeft, FinRight float64 // depth of walls beside the glass, seen from the front, m
	FinBeside         float64 // from the glass's edge to them, m
	Horizon           []Piece
	Lid               Lid
}

// axes returns the sun's direction in the plane's own: across to the right as
// seen from the front, up the slope, and along the normal. Degrees in.
func axes(zenith, azimuth, tilt, facing float64) (right, up, normal float64) {
	e, n, v := sind(zenith)*sind(azimuth), sind(zenith)*cosd(azimuth), cosd(zenith)
	normal = e*sind(tilt)*sind(facing) + n*sind(tilt)*cosd(facing) + v*cosd(tilt)
	up = -e*cosd(tilt)*sind(facing) - n*cosd(tilt)*cosd(facing) + v*sind(tilt)
	// right = up x normal: level, at the left hand of one who looks out.
	right = -e*cosd(facing) + n*sind(facing)
	return right, up, normal
}

// covered returns the share of the glass that eave and side walls keep the
// beam from, 0..1, for a sun in the plane's own axes.
func (s *Surroundings) covered(right, up, normal float64) float64 {
	if normal <= 1e-6 {
		return 1
	}
	if s.Width <= 0 || s.Height <= 0 {
		return 0
	}
	// A side wall's shadow is a strip from its side.
	left, end := 0.0, s.Width
	if right < 0 && s.FinLeft > 0 {
		left = clamp(s.FinLeft*-right/normal-s.FinBeside, 0, s.Width)
	}
	if right > 0 && s.FinRight > 0 {
		end = s.Width - clamp(s.FinRight*right/normal-s.FinBeside, 0, s.Width)
	}
	lit := max(0, end-left) * s.Height
	if d := s.Eave.Depth; d > 0 && up > 0 {
		// The eave's runs from y0 to the top; past its ends the sun comes in.
		y0 := clamp(s.Height+s.Eave.Above-d*up/normal, 0, s.Height)
		const strips = 24
		for i := range strips {
			y := y0 + (float64(i)+0.5)/strips*(s.Height-y0)
			shift := (s.Height + s.Eave.Above - y) / up * right
			lo, hi := max(-s.Eave.Over-shift, left), min(s.Width+s.Eave.Over-shift, end)
			lit -= max(0, hi-lo) * (s.Height - y0) / strips
		}
	}
	return clamp(1-lit/(s.Width*s.Height), 0, 1)
}

// wedge returns the mean part of the half space in front of the glass that a
// square-standing board of a depth hides, at a distance off beyond one edge of
// a glass of a length: (1 - cos angle)/2 of a long board.
func wedge(depth, off, length float64) float64 {
	if depth <= 0 || length <= 0 {
		return 0
	}
	// The integral of (1 - t/sqrt(t^2+depth^2))/2 over t from off to off+length.
	f := func(t float64) float64 { return (t - math.Hypot(t, depth)) / 2 }
	return (f(off+length) - f(off)) / length
}

// Horizon returns the elevation hidden at an azimuth (degrees) and the share
// that shines through there.
func (s *Surroundings) horizon(azimuth float64, leafy bool) (elevation, through float64) {
	az := wrap(azimuth, 0)
	for _, p := range s.Horizon {
		if az >= p.From && az < p.To && p.Elevation > elevation {
			elevation, through = p.Elevation, p.Bare
			if leafy {
				through = p.Leafy
			}
		}
	}
	return elevation, through
}

// BeamThrough returns the share of the beam that the horizon lets pass for a
// sun at an elevation and azimuth; it changes over the sun's own width.
func (s *Surroundings) BeamThrough(elevation, azimuth float64, leafy bool) float64 {
	const radius = 0.267
	h, through := s.horizon(azimuth, leafy)
	if h <= 0 {
		return 1
	}
	w := clamp((elevation-h+radius)/(2*radius), 0, 1)
	return w + (1-w)*through
}

// Through returns the share of the beam that eave, walls and horizon let come
// to a glass, as a mean over it, for a sun before it.
func (s *Surroundings) Through(p Sun, tilt, facing float64, leafy bool) float64 {
	return (1 - s.covered(axes(p.TrueZenith, p.Azimuth, tilt, facing))) * s.BeamThrough(90-p.TrueZenith, p.Azimuth, leafy)
}

// SkySeen returns the share of the sky's light on the plane that the horizon
// leaves, for an even sky, by steps of 5 and 2 degrees.
func (s *Surroundings) SkySeen(tilt, facing float64, leafy bool) float64 {
	if len(s.Horizon) == 0 {
		return 1
	}
	all, seen := 0.0, 0.0
	for az := 2.5; az < 360; az += 5 {
		h, through := s.horizon(az, leafy)
		for el := 1.0; el < 90; el += 2 {
			_, _, n := axes(90-el, az, tilt, facing)
			if n <= 0 {
				continue
			}
			w := n * cosd(el)
			all += w
			// The row of the sky that the horizon cuts is hidden in part.
			hidden := clamp((h-(el-1))/2, 0, 1)
			seen += w * (1 - hidden*(1-through))
		}
	}
	if all == 0 {
		return 1
	}
	return seen / all
}

// lid returns what the mirror adds, as a mean over the glass per unit of beam:
// the share of the normal beam thrown on it and its incidence (degrees), and
// the share of the glass that the lid itself shades.
func (s *Surroundings) lid(right, up, normal float64) (gain, incidence, shaded float64) {
	l := s.Lid
	if l.Length <= 0 || s.Width <= 0 || s.Height <= 0 {
		return 0, 0, 0
	}
	if l.Top {
		up = -up // reckon from the hinge
	}
	a := l.Angle * deg
	// The lid runs along (cos a, sin a) in (up, normal); its face looks along
	// (sin a, -cos a).
	face := up*math.Sin(a) - normal*math.Cos(a)
	if face <= 0 { // the sun is behind it: it shades
		if normal <= 1e-6 {
			return 0, 0, 0
		}
		t := l.Length * math.Sin(a) / normal
		y := l.Length*math.Cos(a) - t*up
		across := clamp(1-math.Abs(t*right)/s.Width/2, 0, 1)
		return 0, 0, clamp(y/s.Height, 0, 1) * across
	}
	// The ray after the mirror, in (right, up, normal).
	rr, ru, rn := -right, -up+2*face*math.Sin(a), -normal-2*face*math.Cos(a)
	if rn >= -1e-6 {
		return 0, 0, 0
	}
	const strips = 40
	for i := range strips {
		m := (float64(i) + 0.5) / strips * l.Length
		t := -m * math.Sin(a) / rn
		y0, half := m*math.Cos(a)+t*ru, l.Length/strips/2*math.Abs(math.Cos(a)-math.Sin(a)/rn*ru)
		on := clamp((min(y0+half, s.Height)-max(y0-half, 0))/max(2*half, 1e-9), 0, 1)
		across := clamp(1-math.Abs(t*rr)/s.Width, 0, 1)
		gain += l.Reflect * face * l.Length / strips / s.Height * on * across
	}
	return gain, math.Acos(clamp(-rn, 0, 1)) / deg, 0
}

// On returns clear-sky sun on a glass among its surroundings at an instant.
func (s *Surroundings) On(at time.Time, site Site, tilt, facing float64, a Air) OnPlane {
	a = a.filled()
	p := Position(at, site, 0, 0)
	return s.under(p, Ineichen(p.TrueZenith, site.Elevation, a.Linke, SolarConstant/(p.Distance*p.Distance)), at, site, tilt, facing,
		a.Albedo)
}

// Under returns the sun on a glass among its surroundings for a sky that is
// known on the level, W/m2.
func (s *Surroundings) Under(h Irradiance, at time.Time, site Site, tilt, facing, albedo float64) OnPlane {
	return s.under(Position(at, site, 0, 0), h, at, site, tilt, facing, albedo)
}

// under is the sun on a plane behind what shades it at an instant; leaves are
// on the trees by month and hemisphere.
func (s *Surroundings) under(p Sun, h Irradiance, at time.Time, site Site, tilt, facing, albedo float64) OnPlane {
	leafy := Leafy(at.In(site.zone()).Month(), site.Latitude)
	return s.onGlass(p, h, tilt, facing, albedo, leafy, s.SkySeen(tilt, facing, leafy))
}

// Leafy says whether trees bear leaves in a month: May to October in the north,
// November to April in the south. Common practice, no source.
func Leafy(month time.Month, latitude float64) bool {
	if latitude < 0 {
		return month >= time.November || month <= time.April
	}
	return month >= time.May && month <= time.October
}

// onGlass is [Surroundings.under] with the share of the sky that the plane sees
// already known.
func (s *Surroundings) onGlass(p Sun, h Irradiance, tilt, facing, albedo float64, leafy bool, seen float64) OnPlane {
	o := HDKR(h, Incidence(p.TrueZenith, p.Azimuth, tilt, facing), p.TrueZenith, tilt, albedo, SolarConstant/(p.Distance*p.Distance))
	return s.shade(o, h, p.TrueZenith, p.Azimuth, tilt, facing, leafy, seen)
}

// Fixed is a glass that keeps its place among its surroundings, for work that
// asks for its sun many thousand times.
type Fixed struct {
	s            *Surroundings
	tilt, facing float64
	seen         [2]float64 // of the sky, bare and in leaf
}

// Fixed returns the surroundings of a glass of a tilt and facing.
func (s *Surroundings) Fixed(tilt, facing float64) *Fixed {
	return &Fixed{s, tilt, facing, [2]float64{s.SkySeen(tilt, facing, false), s.SkySeen(tilt, facing, true)}}
}

// Under is [Surroundings.Under] for a sun that is known already.
func (f *Fixed) Under(p Sun, h Irradiance, month time.Month, latitude, albedo float64) OnPlane {
	leafy, seen := Leafy(month, latitude), f.seen[0]
	if leafy {
		seen = f.seen[1]
	}
	return f.s.onGlass(p, h, f.tilt, f.facing, albedo, leafy, seen)
}

// shade takes away what the surroundings hide and adds what the lid throws.
func (s *Surroundings) shade(o OnPlane, h Irradiance, zenith, azimuth, tilt, facing float64, leafy bool, seen float64) OnPlane {
	right, up, normal := axes(zenith, azimuth, tilt, facing)
	through := s.BeamThrough(90-zenith, azimuth, leafy)
	gain, angle, shaded := s.lid(right, up, normal)
	if normal > 0 {
		o.Beam *= through * (1 - s.covered(right, up, normal)) * (1 - shaded)
	}
	hidden := wedge(s.Eave.Depth, s.Eave.Above, s.Height)
	sides := wedge(s.FinLeft, s.FinBeside, s.Width) + wedge(s.FinRight, s.FinBeside, s.Width)
	sky, ground := (1+cosd(tilt))/2, (1-cosd(tilt))/2
	left := max(0, sky-hidden) / sky * max(0, 1-sides) * seen
	if l := s.Lid; l.Length > 0 && s.Height > 0 {
		// View from glass to lid by crossed strings; it hides ground first at
		// the bottom, sky at the top, and shows the sky it sees instead.
		f := (s.Height + l.Length - math.Sqrt(s.Height*s.Height+l.Length*l.Length-2*s.Height*l.Length*cosd(l.Angle))) / (2 * s.Height)
		shown := f * l.Reflect * h.Diffuse
		if !l.Top {
			g := min(f, ground)
			if ground > 0 {
				o.Ground *= 1 - g/ground
			}
			f -= g
		}
		left *= max(0, 1-f/sky)
		o.Mirror = h.Normal * through * gain
		o.MirrorIncidence = angle
		o.Sky *= left
		o.Sky += shown
		return o
	}
	o.Sky *= left
	return o
}

// NeverLit returns how much of the glass's height, from its top down, an eave
// never lets the noon-side sun reach on any day of the months given, m. No
// absorber is needed there.
func (s *Surroundings) NeverLit(site Site, tilt, facing float64, months ...time.Month) float64 {
	if s.Eave.Depth <= 0 {
		return 0
	}
	least := s.Height
	for _, m := range months {
		for _, day := range []int{1, 11, 21} {
			noon := time.Date(2025, m, day, 12, 0, 0, 0, time.UTC).Add(-time.Duration(site.Longitude / 15 * float64(time.Hour)))
			for k := -8; k <= 8; k++ {
				p := Position(noon.Add(time.Duration(k)*30*time.Minute), site, 0, 0)
				_, up, normal := axes(p.TrueZenith, p.Azimuth, tilt, facing)
				if p.TrueZenith > 85 || normal <= 0.05 {
					continue
				}
				least = min(least, clamp(s.Eave.Depth*up/normal-s.Eave.Above, 0, s.Height))
			}
		}
	}
	return least
}
