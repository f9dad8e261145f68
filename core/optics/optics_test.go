package optics

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
)

func near(t *testing.T, what string, got, want, tol float64) {
	t.Helper()
	if !(math.Abs(got-want) <= tol) {
		t.Errorf("%s = %.6g, want %.6g within %.2g", what, got, want, tol)
	}
}

// D&B example 5.1.1, n = 1.526.
func TestFresnel(t *testing.T) {
	for theta, want := range map[float64]float64{0: 0.0434, 60: 0.0935} {
		s, p := Fresnel(1.526, theta)
		near(t, fmt.Sprint("r at ", theta), (s+p)/2, want, 2e-4)
	}
}

// D&B example 5.1.2: two covers without absorption.
func TestTwoCovers(t *testing.T) {
	two := []Sheet{{N: 1.526, KL: 0}, {N: 1.526, KL: 0}}
	near(t, "normal", Covers(two, 0).Transmitted, 0.85, 0.005)
	near(t, "60 degrees", Covers(two, 60).Transmitted, 0.76, 0.005)
}

// D&B example 5.3.1: one cover, KL 0.0370, at 60 degrees.
func TestAbsorbingCover(t *testing.T) {
	c := Covers([]Sheet{{N: 1.526, KL: 0.0370}}, 60)
	near(t, "transmittance", c.Transmitted, 0.804, 0.002)
	near(t, "absorptance", c.Absorbed[0], 0.044, 0.0005)
}

// Brandemuehl & Beckman at 60 degrees of tilt.
func TestDiffuseAngles(t *testing.T) {
	near(t, "ground", GroundAngle(60), 64.97, 0.01)
	near(t, "sky", SkyAngle(60), 56.76, 0.01)
}

// D&B eq. 5.5.1: (tau alpha) = tau alpha / (1 - (1 - alpha) rho_d), which the
// stack must give for one cover over a plate.
func TestTauAlpha(t *testing.T) {
	const tau, rho, alpha, rhoD = 0.84, 0.10, 0.92, 0.16
	f := Solve([]Layer{{0.7, 0.14, rhoD}, {0, 1 - alpha, 0}}, 0, []Emission{{Down: tau}, {}})
	near(t, "tau alpha", f.Absorbed[1], tau*alpha/(1-(1-alpha)*rhoD), 1e-12)
}

// Two gray parallel plates: F = 1/(1/e1 + 1/e2 - 1); with a thin gray shield
// between them the resistances add.
func TestExchangeParallelPlates(t *testing.T) {
	plate := func(e float64) Layer { return Layer{0, 1 - e, 1 - e} }
	f := Exchange([]Layer{plate(0.88), plate(0.95)})
	near(t, "two plates", f[0][1], 1/(1/0.88+1/0.95-1), 1e-12)
	near(t, "to the sky", f[0][2], 0.88, 1e-12)
	near(t, "the plate sees no sky through glass", f[1][2], 0, 1e-12)
}

// A stack of random layers keeps every bit of light, and its exchange factors
// are symmetric.
func TestStackConservesAndIsReciprocal(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 10))
	for range 2000 {
		n := 1 + r.IntN(6)
		layers := make([]Layer, n)
		emit := make([]Emission, n)
		in := r.Float64()
		for i := range layers {
			a, b := r.Float64(), r.Float64()
			layers[i] = Layer{a * b, (1 - a) * r.Float64(), 0}
			layers[i].ReflectBack = (1 - layers[i].Transmit) * r.Float64()
			layers[i].ReflectFront = min(layers[i].ReflectFront, 1-layers[i].Transmit)
			emit[i] = Emission{r.Float64(), r.Float64()}
		}
		f := Solve(layers, in, emit)
		sum, put := f.Up+f.Down, in
		for i := range layers {
			sum += f.Absorbed[i]
			put += emit[i].Down + emit[i].Up
		}
		near(t, "sum", sum, put, 1e-9*put+1e-12)
		x := Exchange(layers)
		for i := range n {
			for j := range n {
				near(t, "reciprocity", x[i][j], x[j][i], 1e-9)
			}
		}
	}
}

func ExampleCovers() {
	c := Covers([]Sheet{{N: 1.526, KL: 0.0370}}, 60)
	fmt.Printf("%.2f through, %.2f kept\n", c.Transmitted, c.Absorbed[0])
	// Output: 0.80 through, 0.04 kept
}

// A coat on a sheet is one more layer behind it: by hand, sheet tau 0.9, rho
// 0.08 at a face where Fresnel and extinction are put in by the sheet itself.
func TestCoat(t *testing.T) {
	plain := Covers([]Sheet{{N: 1.526, KL: 0.064}}, 0)
	coat := Layer{Transmit: 0.74, ReflectFront: 0.14, ReflectBack: 0.14}
	got := Covers([]Sheet{{N: 1.526, KL: 0.064, Coat: &coat}}, 0)
	want := plain.Transmitted * coat.Transmit / (1 - plain.Reflected*coat.ReflectFront)
	near(t, "through", got.Transmitted, want, 1e-9)
	near(t, "adds up", got.Transmitted+got.Reflected+got.Absorbed[0], 1, 1e-9)
	if len(got.Absorbed) != 1 || got.Absorbed[0] <= plain.Absorbed[0] {
		t.Errorf("the coat's share is not the sheet's: %+v", got)
	}
}
