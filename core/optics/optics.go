// Package optics follows light and heat radiation through a stack of layers:
// covers, plates and screens.
//
// A single sheet is solved exactly (Fresnel at both faces, extinction inside,
// all internal reflections, each polarisation apart). A stack of any layers is
// solved by net radiation: with downward and upward fluxes in each gap, layer
// after layer, which for clear sheets is the exact ray trace. The same stack
// with infrared properties gives the exchange factors between every pair of
// layers, so that a film that lets infrared pass, or a screen with holes,
// needs no rule of its own.
//
// Angles are degrees from the normal; shares are 0..1.
package optics

import "math"

// Sheet is a plain transparent sheet: refractive index n and extinction times
// thickness KL.
type Sheet struct {
	N    float64
	KL   float64
	Coat *Layer // on its rear face, nil for none
}

// Fresnel returns the reflectance of one face of index n at incidence theta
// for light polarised perpendicular and parallel to the plane of incidence.
// Source: D&B eqs. 5.1.1-5.1.4.
func Fresnel(n, theta float64) (perpendicular, parallel float64) {
	if theta < 0.01 { // the limit at the normal
		r := (n - 1) / (n + 1)
		return r * r, r * r
	}
	a := min(theta, 89.999) * math.Pi / 180
	b := math.Asin(math.Sin(a) / n)
	s, d := math.Sin(b-a)/math.Sin(b+a), math.Tan(b-a)/math.Tan(b+a)
	return s * s, d * d
}

// single returns transmittance and reflectance of the sheet for one
// polarisation whose face reflectance is r. Source: D&B eqs. 5.3.1-5.3.3.
func (s Sheet) single(r, theta float64) (tau, rho float64) {
	b := math.Asin(math.Sin(min(theta, 89.999)*math.Pi/180) / s.N)
	a := math.Exp(-s.KL / math.Cos(b))
	d := 1 - (r*a)*(r*a)
	tau = a * (1 - r) * (1 - r) / d
	rho = r + a*a*r*(1-r)*(1-r)/d
	return tau, rho
}

// Through is what a set of covers does to a beam.
type Through struct {
	Transmitted float64
	Reflected   float64
	Absorbed    []float64 // by each cover, outermost first
}

// Covers returns what sheets in series, outermost first, do to unpolarised
// light at incidence theta. No sheets let everything pass.
func Covers(sheets []Sheet, theta float64) Through {
	t := Through{Absorbed: make([]float64, len(sheets))}
	var layers []Layer
	var of []int // the sheet each layer belongs to
	for pol := range 2 {
		layers, of = layers[:0], of[:0]
		for i, s := range sheets {
			rs, rp := Fresnel(s.N, theta)
			r := rs
			if pol == 1 {
				r = rp
			}
			tau, rho := s.single(r, theta)
			layers, of = append(layers, Layer{Transmit: tau, ReflectFront: rho, ReflectBack: rho}), append(of, i)
			if s.Coat != nil {
				layers, of = append(layers, *s.Coat), append(of, i)
			}
		}
		f := Solve(layers, 1, nil)
		t.Transmitted += f.Down / 2
		t.Reflected += f.Up / 2
		for i, a := range f.Absorbed {
			t.Absorbed[of[i]] += a / 2
		}
	}
	return t
}

// DiffuseAngle is the incidence at which a sheet treats isotropic light from
// one side as it treats the whole hemisphere. Source: D&B section 5.4.
const DiffuseAngle = 60.0

// GroundAngle returns the effective incidence of ground-reflected light on a
// plane of a tilt. Source: Brandemuehl & Beckman 1980, D&B eq. 5.4.1.
func GroundAngle(tilt float64) float64 { return 90 - 0.5788*tilt + 0.002693*tilt*tilt }

// SkyAngle returns the effective incidence of sky light on a plane of a tilt.
// Source: Brandemuehl & Beckman 1980, D&B eq. 5.4.2.
func SkyAngle(tilt float64) float64 { return 59.7 - 0.1388*tilt + 0.001497*tilt*tilt }

// Layer is one member of a stack: shares of the light falling on it that pass
// and that each side throws back. The rest is absorbed.
type Layer struct {
	Transmit     float64
	ReflectFront float64
	ReflectBack  float64
}

func (l Layer) absorbFront() float64 { return 1 - l.Transmit - l.ReflectFront }
func (l Layer) absorbBack() float64  { return 1 - l.Transmit - l.ReflectBack }

// Flux is the solution of a stack.
type Flux struct {
	Absorbed []float64 // by each layer, front first
	Up       float64   // leaving at the front
	Down     float64   // leaving at the back
}

// Emission is light that starts at a layer: Down on its rear side, Up on its
// front side.
type Emission struct{ Down, Up float64 }

// Solve returns where light goes in a stack, front layer first, lit from the
// front with flux incident and from within by an emission per layer (nil for
// none). What is put in equals Absorbed + Up + Down.
func Solve(layers []Layer, incident float64, emit []Emission) Flux {
	n := len(layers)
	// Below layer g the rest of the stack answers a downward flux d with
	// r[g+1] d + s[g+1].
	r, s := make([]float64, n+1), make([]float64, n+1)
	at := func(g int) Emission {
		if emit == nil {
			return Emission{}
		}
		return emit[g]
	}
	for g := n - 1; g >= 0; g-- {
		l, e := layers[g], at(g)
		k := 1 / (1 - l.ReflectBack*r[g+1])
		r[g] = l.ReflectFront + l.Transmit*l.Transmit*r[g+1]*k
		s[g] = e.Up + l.Transmit*(s[g+1]+r[g+1]*(l.ReflectBack*s[g+1]+e.Down)*k)
	}
	f := Flux{Absorbed: make([]float64, n), Up: r[0]*incident + s[0]}
	d := incident
	for g := range n {
		l, e := layers[g], at(g)
		next := (l.Transmit*d + l.ReflectBack*s[g+1] + e.Down) / (1 - l.ReflectBack*r[g+1])
		up := r[g+1]*next + s[g+1]
		f.Absorbed[g] = l.absorbFront()*d + l.absorbBack()*up
		d = next
	}
	f.Down = d
	return f
}

// Exchange returns the gray-body exchange factors of a stack whose layers
// carry infrared properties: F[i][j] is the share of the black emission of one
// side of j that i absorbs, i and j being layers and, with index n, the world
// in front. It is symmetric, and the net heat from j to i is
// F[i][j] sigma (Tj^4 - Ti^4) per m2. Nothing passes the last layer: its
// transmittance counts as absorbed.
func Exchange(layers []Layer) [][]float64 {
	n := len(layers)
	ls := append([]Layer(nil), layers...)
	if n > 0 {
		ls[n-1].Transmit = 0
	}
	f := make([][]float64, n+1)
	for i := range f {
		f[i] = make([]float64, n+1)
	}
	for j := range n {
		emit := make([]Emission, n)
		emit[j] = Emission{Down: ls[j].absorbBack(), Up: ls[j].absorbFront()}
		if j == n-1 {
			emit[j].Down = 0
		}
		flux := Solve(ls, 0, emit)
		for i := range n {
			if i != j {
				f[i][j] = flux.Absorbed[i]
			}
		}
		f[n][j] = flux.Up
		f[j][n] = flux.Up
	}
	return f
}
