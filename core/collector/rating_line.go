package collector

import (
	"math"

	"gonum.org/v1/gonum/mat"

	"gladember/core/network"
	"gladember/core/solar"
)

// Line is a box as a test laboratory would put it: at a fixed flow, by the
// aperture, Efficiency = Optical - Loss x - Bend G x^2 with x = (Ti - Ta)/G.
// D&B call Optical FR(tau alpha)e and Loss FR UL. Source: ISO 9806:2017, the
// quadratic of steady-state tests, here with the inlet's temperature.
type Line struct {
	// Flow is the mass flow that the line holds for, kg/s.
	Flow float64
	// Optical is eta0, the efficiency with the air at outdoor temperature.
	Optical float64
	// Loss is a1, W/m2K, and Bend is a2, W/m2K2.
	Loss float64
	Bend float64 // W/m2K2
	// Angle is the incidence-angle modifier: what a beam at 0, 10 .. 80 degrees
	// gives the layers behind the covers, over what it gives at 0.
	Angle []float64
	// Worst is the largest miss of the line on its own points, as a share of
	// the efficiency.
	Worst float64
}

// RatingLine fits a box's line at the flow and weather of a rating, from the
// air drawn in as cold as outdoors to 60 K above. It is an error where no air
// moves.
func (d *Description) RatingLine(r *Result) (Line, error) {
	if r.Mass <= 0 {
		return Line{}, network.ErrNoBalance
	}
	l := Line{Flow: r.Mass}
	c := r.Conditions
	c.Flow = r.Mass
	g := c.Sun.Total()
	const points = 7
	a, b := mat.NewDense(points, 3, nil), mat.NewVecDense(points, nil)
	warm := r
	for i := range points {
		c.Inlet = c.Ambient + 10*float64(i)
		x, err := d.Rate(c, Tuning{}, warm)
		if err != nil {
			return l, err
		}
		warm = &x
		t := (c.Inlet - c.Ambient) / g
		a.SetRow(i, []float64{1, -t, -g * t * t})
		b.SetVec(i, x.Heat/(g*x.Aperture))
	}
	var v mat.VecDense
	if err := v.SolveVec(a, b); err != nil {
		return l, err
	}
	l.Optical, l.Loss, l.Bend = v.AtVec(0), v.AtVec(1), v.AtVec(2)
	var back mat.VecDense
	back.MulVec(a, &v)
	for i := range points {
		l.Worst = max(l.Worst, math.Abs(back.AtVec(i)-b.AtVec(i)))
	}
	first := 0.0
	for angle := 0.0; angle <= 80; angle += 10 {
		sun, _, _ := d.lit(Conditions{Sun: solar.OnPlane{Beam: 1, Incidence: angle}, Tilt: c.Tilt}, Tuning{})
		kept := 0.0
		for _, s := range sun[len(d.Sheets):] {
			kept += s
		}
		if angle == 0 {
			first = kept
		}
		l.Angle = append(l.Angle, kept/first)
	}
	return l, nil
}
