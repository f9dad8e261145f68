package collector

import "gladember/core/solar"

// Uptake is how much of each part of the sun a box takes up, found once for its
// covers and surfaces, for work that asks many thousand times. The beam is found
// degree by degree and drawn straight between.
type Uptake struct {
	// beam holds absorber and covers for each W/m2, by whole degrees of
	// incidence.
	beam        [91][2]float64
	sky, ground [2]float64
}

// Uptake returns the box's, at a tilt, with its uncertain inputs moved.
func (d *Description) Uptake(tilt float64, t Tuning) *Uptake {
	u := &Uptake{}
	one := func(sun solar.OnPlane) (out [2]float64) {
		absorbed, _, _ := d.lit(Conditions{Sun: sun, Tilt: tilt}, t)
		for i, a := range absorbed {
			if i < len(d.Sheets) {
				out[1] += a
			} else {
				out[0] += a
			}
		}
		return out
	}
	for i := range u.beam {
		u.beam[i] = one(beamAt(i))
	}
	u.sky, u.ground = one(solar.OnPlane{Sky: 1}), one(solar.OnPlane{Ground: 1})
	return u
}

// beamAt is 1 W/m2 of beam at a whole degree of incidence, 0 to 90.
func beamAt(degree int) solar.OnPlane {
	return solar.OnPlane{Beam: 1, Incidence: min(89.9, float64(degree))}
}

// degree is the whole degree at or below an incidence, which is taken as 0 to 89.99.
func degree(incidence float64) (whole int, of float64) {
	of = max(0, min(89.99, incidence))
	return int(of), of
}

// at is the share of a beam that absorber and covers take up at an incidence in
// degrees, between whole degrees by a straight line.
func (u *Uptake) at(incidence float64) (absorber, cover float64) {
	i, x := degree(incidence)
	f := x - float64(i)
	a, b := u.beam[i], u.beam[i+1]
	return a[0] + (b[0]-a[0])*f, a[1] + (b[1]-a[1])*f
}

// Absorbed returns what absorber and back, and what the covers take up of the
// sun, W/m2 of aperture.
func (u *Uptake) Absorbed(sun solar.OnPlane) (absorber, cover float64) {
	a, c := u.at(sun.Incidence)
	absorber, cover = a*sun.Beam+u.sky[0]*sun.Sky+u.ground[0]*sun.Ground, c*sun.Beam+u.sky[1]*sun.Sky+u.ground[1]*sun.Ground
	if sun.Mirror > 0 {
		a, c = u.at(sun.MirrorIncidence)
		absorber, cover = absorber+a*sun.Mirror, cover+c*sun.Mirror
	}
	return absorber, cover
}

// response is what a watt a square meter of one part of the sun comes to.
type response struct {
	// absorbed is in W/m2 of each layer, for 1 W/m2 of sun.
	absorbed        []float64
	reflected, edge float64
}

// responses are those of a box's covers and surfaces at a tilt, found as they are
// asked for: of the beam degree by degree and drawn straight between.
type responses struct {
	tilt        float64
	beam        [91]*response
	sky, ground *response
}

// lit is [Description.lit] by responses, for work that asks many thousand times
// in the sun as it goes.
func (d *Description) litBy(u *responses, sun solar.OnPlane) (absorbed []float64, reflected, edge float64) {
	one := func(at **response, part solar.OnPlane) *response {
		if *at == nil {
			r := &response{}
			r.absorbed, r.reflected, r.edge = d.lit(Conditions{Sun: part, Tilt: u.tilt}, Tuning{})
			*at = r
		}
		return *at
	}
	absorbed = make([]float64, len(d.Sheets)+len(d.Passages.Layers))
	add := func(r *response, w float64) {
		for i, a := range r.absorbed {
			absorbed[i] += w * a
		}
		reflected, edge = reflected+w*r.reflected, edge+w*r.edge
	}
	beam := func(w, incidence float64) {
		if w <= 0 {
			return
		}
		i, x := degree(incidence)
		add(one(&u.beam[i], beamAt(i)), w*(1-x+float64(i)))
		add(one(&u.beam[i+1], beamAt(i+1)), w*(x-float64(i)))
	}
	beam(sun.Beam, sun.Incidence)
	beam(sun.Mirror, sun.MirrorIncidence)
	if sun.Sky > 0 {
		add(one(&u.sky, solar.OnPlane{Sky: 1}), sun.Sky)
	}
	if sun.Ground > 0 {
		add(one(&u.ground, solar.OnPlane{Ground: 1}), sun.Ground)
	}
	return absorbed, reflected, edge
}
