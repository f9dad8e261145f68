package season

import (
	"errors"
	"math"

	"gonum.org/v1/gonum/floats"
	"gonum.org/v1/gonum/mat"
)

// A surface is a figure as a function of a few conditions, fitted to points at
// which it was worked out: a full quadratic by least squares, and what that
// leaves at the points by a cubic radial basis over them.
type surface struct {
	// centers are the points that it was fitted to.
	centers [][dims]float64
	outputs int
	// beta are the coefficients of the quadratic part, and radial those of the
	// centers.
	beta   []float64
	radial []float64 // [output][center]
}

// dims is the number of conditions, quadratic its terms.
const (
	dims      = 6
	quadratic = 1 + dims + dims*(dims+1)/2
)

// fewest is how many points a surface needs.
const fewest = quadratic + 2

var errFew = errors.New("season: too few points for a surface")

// basis fills in the quadratic's terms.
// One, the conditions, their squares and their products.
func basis(x *[dims]float64, out *[quadratic]float64) {
	out[0] = 1
	k := 1
	for i := range dims {
		out[k] = x[i]
		k++
	}
	for i := range dims {
		for j := i; j < dims; j++ {
			out[k] = x[i] * x[j]
			k++
		}
	}
}

// fit makes a surface of points xs and, for each, its outputs.
// Least squares for the quadratic; then cubic radial functions with a straight
// part go through what is left, so that the surface meets its points. xs and ys
// are one row a point; the error is that of points too alike.
func fit(xs [][dims]float64, ys [][]float64) (*surface, error) {
	n := len(xs)
	if n < fewest {
		return nil, errFew
	}
	outs := len(ys[0])
	// A little of the square of the coefficients keeps conditions that hardly
	// vary in this year from running away.
	const ridge = 1e-4
	a := mat.NewDense(n+quadratic, quadratic, nil)
	y := mat.NewDense(n+quadratic, outs, nil)
	var b [quadratic]float64
	for i := range xs {
		basis(&xs[i], &b)
		a.SetRow(i, b[:])
		y.SetRow(i, ys[i])
	}
	for k := 1; k < quadratic; k++ {
		a.Set(n+k, k, ridge)
	}
	var beta mat.Dense
	if err := beta.Solve(a, y); err != nil {
		var c mat.Condition
		if !errors.As(err, &c) {
			return nil, err
		}
	}
	s := &surface{outputs: outs}
	for o := range outs {
		for k := range quadratic {
			s.beta = append(s.beta, beta.At(k, o))
		}
	}
	left := mat.NewDense(n, outs, nil)
	phi, row := mat.NewDense(n, n, nil), make([]float64, n)
	for i := range xs {
		basis(&xs[i], &b)
		for o := range outs {
			v := 0.0
			for k := range quadratic {
				v += b[k] * s.beta[o*quadratic+k]
			}
			left.Set(i, o, ys[i][o]-v)
		}
		cubes(&xs[i], xs, row)
		phi.SetRow(i, row)
		s.centers = append(s.centers, xs[i])
	}
	var w mat.Dense
	if err := w.Solve(phi, left); err != nil {
		var c mat.Condition
		if !errors.As(err, &c) {
			return nil, err
		}
	}
	for o := range outs {
		for j := range n {
			s.radial = append(s.radial, w.At(j, o))
		}
	}
	return s, nil
}

// cubes fills in the third powers of the distances of x from the centers.
// The cube of the distance to each center.
func cubes(x *[dims]float64, centers [][dims]float64, out []float64) {
	x0, x1, x2, x3, x4, x5 := x[0], x[1], x[2], x[3], x[4], x[5]
	out = out[:len(centers)]
	for j := range centers {
		c := &centers[j]
		a, b, d, e, f, g := x0-c[0], x1-c[1], x2-c[2], x3-c[3], x4-c[4], x5-c[5]
		r := a*a + b*b + (d*d + e*e) + (f*f + g*g)
		out[j] = r * math.Sqrt(r)
	}
}

// scratch is room in which a surface is read: one for each reader.
type scratch struct {
	// terms and near are room for the quadratic and radial terms of one
	// reading, so that a year makes no garbage.
	terms [quadratic]float64
	near  [upTo + moreOf]float64
}

// at reads the first of the outputs at conditions into out.
// x are the conditions and out the values, as many as the surface has outputs; of no surface they are zero.
func (s *surface) at(x *[dims]float64, out []float64, room *scratch) {
	if s == nil {
		for o := range out {
			out[o] = 0
		}
		return
	}
	basis(x, &room.terms)
	near := room.near[:len(s.centers)]
	cubes(x, s.centers, near)
	for o := range out {
		out[o] = floats.Dot(room.terms[:], s.beta[o*quadratic:][:quadratic]) + floats.Dot(near, s.radial[o*len(near):][:len(near)])
	}
}
