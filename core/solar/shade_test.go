package solar

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"
)

// ASHRAE's boundary layers by hand: 10 m over open country is the station's
// own wind; 10 m in a suburb 0.58 of it.
func TestWindAt(t *testing.T) {
	near(t, "open, 10 m", WindAt(5, "open", 10), 5, 1e-9)
	near(t, "suburb, 10 m", WindAt(5, "suburb", 10), 5*math.Pow(27, 0.14)*math.Pow(10.0/370, 0.22), 1e-9)
	if !(WindAt(5, "town", 3) < WindAt(5, "suburb", 3) && WindAt(5, "suburb", 3) < WindAt(5, "open", 3)) {
		t.Error("more houses, more wind")
	}
}

// The plane's own axes: the normal part is the cosine of incidence, and the
// three make a unit vector.
func TestAxes(t *testing.T) {
	r := rand.New(rand.NewPCG(51, 52))
	for range 1000 {
		z, az, tilt, facing := 90*r.Float64(), 360*r.Float64(), 90*r.Float64(), 360*r.Float64()
		x, y, n := axes(z, az, tilt, facing)
		near(t, "normal", n, cosd(Incidence(z, az, tilt, facing)), 1e-9)
		near(t, "unit", x*x+y*y+n*n, 1, 1e-9)
	}
	// Facing south, the afternoon sun stands to the left of one who looks out,
	// which is the left of one who looks at the glass from the front.
	if x, _, _ := axes(60, 240, 90, 180); x >= 0 {
		t.Errorf("the western sun stands at %v across", x)
	}
}

// rays counts by brute force: points of the glass from which a ray to the sun
// meets the eave or a side wall.
func rays(s *Surroundings, right, up, normal float64) float64 {
	const n = 120
	dark := 0
	for i := range n {
		for j := range n {
			x, y := (float64(i)+0.5)/n*s.Width, (float64(j)+0.5)/n*s.Height
			hit := false
			if s.Eave.Depth > 0 && up > 0 {
				t := (s.Height + s.Eave.Above - y) / up
				xx := x + t*right
				hit = t*normal < s.Eave.Depth && xx > -s.Eave.Over && xx < s.Width+s.Eave.Over
			}
			if s.FinLeft > 0 && right < 0 {
				t := (x + s.FinBeside) / -right
				hit = hit || t*normal < s.FinLeft
			}
			if s.FinRight > 0 && right > 0 {
				t := (s.Width - x + s.FinBeside) / right
				hit = hit || t*normal < s.FinRight
			}
			if hit {
				dark++
			}
		}
	}
	return float64(dark) / n / n
}

// Eave and side walls against 14,400 rays each.
func TestShadeAgainstRays(t *testing.T) {
	r := rand.New(rand.NewPCG(53, 54))
	seen := 0
	for range 400 {
		s := &Surroundings{Width: 0.5 + r.Float64(), Height: 0.8 + r.Float64(), Eave: Eave{Depth: 1.2 * r.Float64(),
			Above: 0.6 * r.Float64(), Over: r.Float64()}}
		if r.IntN(2) == 0 {
			s.FinLeft, s.FinRight, s.FinBeside = 0.5*r.Float64(), 0.5*r.Float64(), 0.3*r.Float64()
		}
		if r.IntN(3) == 0 {
			s.Eave.Depth = 0
		}
		x, y, n := axes(20+60*r.Float64(), 110+140*r.Float64(), 40+50*r.Float64(), 180)
		if n < 0.1 {
			continue
		}
		got, want := s.covered(x, y, n), rays(s, x, y, n)
		if math.Abs(got-want) > 0.015 {
			t.Errorf("%+v, sun %v %v %v: covered %v, rays %v", s, x, y, n, got, want)
		}
		if want > 0.05 && want < 0.95 {
			seen++
		}
	}
	if seen < 100 {
		t.Errorf("only %d partly shaded cases", seen)
	}
}

// A long board square on the glass at its edge hides (1 - cos)/2 of what each
// strip sees; by hand for one as deep as the glass is tall: (2 - sqrt 2)/2.
func TestWedge(t *testing.T) {
	near(t, "as deep as tall", wedge(1, 0, 1), (2-math.Sqrt2)/2, 1e-9)
	near(t, "none", wedge(0, 0.2, 1), 0, 0)
	near(t, "endless", wedge(1e6, 0, 1), 0.5, 1e-5)
}

// The lid against rays sent from it: the sun's share of each strip that lands
// on the glass.
func TestLidAgainstRays(t *testing.T) {
	r := rand.New(rand.NewPCG(55, 56))
	hits := 0
	for range 300 {
		s := &Surroundings{Width: 0.6 + r.Float64(), Height: 0.8 + r.Float64(), Lid: Lid{Length: 0.3 + r.Float64(),
			Angle: 60 + 100*r.Float64(), Reflect: 0.8, Top: r.IntN(2) == 0}}
		x, y, n := axes(20+65*r.Float64(), 120+120*r.Float64(), 45+45*r.Float64(), 180)
		if n < 0.05 {
			continue
		}
		got, angle, _ := s.lid(x, y, n)
		// Rays: points on the lid, the sun's direction mirrored, onto the plane.
		u := y
		if s.Lid.Top {
			u = -y
		}
		a := s.Lid.Angle * deg
		face := u*math.Sin(a) - n*math.Cos(a)
		want := 0.0
		const k = 200
		if face > 0 {
			for i := range k {
				for j := range k {
					m, across := (float64(i)+0.5)/k*s.Lid.Length, (float64(j)+0.5)/k*s.Width
					rr, ru, rn := -x, -u+2*face*math.Sin(a), -n-2*face*math.Cos(a)
					if rn >= 0 {
						continue
					}
					t := m * math.Sin(a) / -rn
					yy, xx := m*math.Cos(a)+t*ru, across+t*rr
					if yy >= 0 && yy <= s.Height && xx >= 0 && xx <= s.Width {
						want += 0.8 * face * s.Lid.Length / s.Height / k / k
					}
				}
			}
		}
		if math.Abs(got-want) > 0.01 {
			t.Errorf("%+v, sun %v %v %v: %v, rays %v", s, x, y, n, got, want)
		}
		if want > 0.05 {
			hits++
			if angle < 0 || angle > 90 {
				t.Errorf("incidence %v", angle)
			}
		}
	}
	if hits < 40 {
		t.Errorf("only %d lids that light the glass", hits)
	}
}

// Whatever stands about, it takes sun away unless it is a mirror, and no place
// gets more than in the open but by its lid.
func TestSurroundingsOnlyTake(t *testing.T) {
	s, _ := goldenSite(t)
	r := rand.New(rand.NewPCG(57, 58))
	for range 500 {
		at := time.Date(2026, time.Month(1+r.IntN(12)), 1+r.IntN(28), 15+r.IntN(9), r.IntN(60), 0, 0, time.UTC)
		open := &Surroundings{Width: 1, Height: 1.5}
		shut := &Surroundings{Width: 1, Height: 1.5, Eave: Eave{r.Float64(), r.Float64(), r.Float64()}, FinLeft: r.Float64(),
			FinRight: r.Float64(), FinBeside: 0.1,
			Horizon: []Piece{{100, 180, 40 * r.Float64(), 0.6, 0.1}, {180, 260, 40 * r.Float64(), 0.6, 0.1}}}
		tilt, facing := 30+60*r.Float64(), 120+120*r.Float64()
		a, b := open.On(at, s, tilt, facing, Air{}), shut.On(at, s, tilt, facing, Air{})
		if b.Beam > a.Beam+1e-9 || b.Sky > a.Sky+1e-9 || b.Total() < 0 {
			t.Fatalf("at %v: open %+v, shut %+v", at, a, b)
		}
		plain := ClearOnPlane(at, s, tilt, facing, Air{})
		if math.Abs(plain.Total()-a.Total()) > 1e-9 {
			t.Fatalf("an open place differs from none: %v, %v", a, plain)
		}
		hazy := open.On(at, s, tilt, facing, Air{Linke: 6})
		if hazy.Beam > a.Beam+1e-9 {
			t.Fatalf("haze brought more beam")
		}
		snow := open.On(at, s, tilt, facing, Air{Albedo: 0.7})
		if snow.Ground < a.Ground {
			t.Fatal("snow throws back less than grass")
		}
	}
}

// Trees let the low winter sun through when bare, and the horizon's edge is as
// wide as the sun.
func TestHorizon(t *testing.T) {
	s := &Surroundings{Horizon: []Piece{{From: 150, To: 210, Elevation: 20, Bare: 0.6, Leafy: 0.1}}}
	near(t, "bare", s.BeamThrough(15, 180, false), 0.6, 1e-9)
	near(t, "in leaf", s.BeamThrough(15, 180, true), 0.1, 1e-9)
	near(t, "above", s.BeamThrough(21, 180, true), 1, 1e-9)
	near(t, "beside", s.BeamThrough(15, 149, true), 1, 1e-9)
	near(t, "half the disc", s.BeamThrough(20, 180, true), 0.55, 1e-9)
	// A ring of hills of elevation h leaves an upright wall (1 - sin h) of its
	// half sky and a level one cos^2 h of all: by hand from the integrals.
	ring := &Surroundings{Horizon: []Piece{{From: 0, To: 360, Elevation: 30}}}
	near(t, "level", ring.SkySeen(0, 180, false), 0.75, 0.01)
	near(t, "upright", ring.SkySeen(90, 180, false), 1-(30*deg+0.5*sind(60))/(math.Pi/2), 0.01)
	near(t, "open", (&Surroundings{}).SkySeen(60, 180, false), 1, 0)
}

// Under an eave the strip that the lowest winter noon leaves dark is the one
// that no higher sun reaches: by hand at noon on an upright south wall.
func TestNeverLit(t *testing.T) {
	site := Site{Latitude: 45, Longitude: 0, Elevation: 100}
	s := &Surroundings{Width: 1, Height: 2, Eave: Eave{Depth: 0.8, Above: 0.1}}
	got := s.NeverLit(site, 90, 180, time.December)
	// Noon of 21 December: elevation 90 - 45 - 23.44 = 21.56 degrees; earlier
	// and later the sun stands lower but slanted: tan of the profile angle.
	if noon := 0.8*math.Tan(21.56*deg) - 0.1; got > noon+0.01 || got < 0 {
		t.Errorf("never lit %v, at the solstice noon %v", got, noon)
	}
	if year := s.NeverLit(site, 90, 180, time.June, time.December); year > got+1e-9 {
		t.Errorf("with June as well %v, December alone %v", year, got)
	}
	if (&Surroundings{Height: 2}).NeverLit(site, 90, 180, time.January) != 0 {
		t.Error("no eave, and a strip stays dark")
	}
}
