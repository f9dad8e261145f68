package heattransfer

import (
	"math"
	"math/rand/v2"
	"testing"

	"gladember/core/air"
)

func within(t *testing.T, what string, got, want, share float64) {
	t.Helper()
	if !(math.Abs(got-want) <= share*math.Abs(want)) {
		t.Errorf("%s = %.6g, want %.6g within %.2g %%", what, got, want, share*100)
	}
}

// Hollands et al. 1976 by D&B example 3.11.1: 25 mm, 70 and 50 C, tilt 45.
func TestGapHollands(t *testing.T) {
	ra := Rayleigh(60, air.SeaLevel, 20, 0.025)
	within(t, "Nu", GapHollands(ra, 45), 2.37, 0.03)
	within(t, "h", GapCoefficient(70, 50, 0.025, 2, 45, air.SeaLevel), 2.73, 0.03)
}

// Incropera example 9.2: 0.71 m, 232 C in air at 23 C; his table is at 1 bar.
func TestUprightPlateIncropera(t *testing.T) {
	ra := 1.813e9
	within(t, "Ra", Rayleigh(127.5, 1e5, 209, 0.71), ra, 0.01)
	within(t, "Nu", UprightPlate(ra, 0.690), 147, 0.005)
	within(t, "h", UprightPlate(ra, 0.690)*33.8e-3/0.71, 7.0, 0.005)
}

// Gnielinski with f = (0.79 ln Re - 1.64)^-2 at Re 1e4, Pr 0.7; Shah & London.
func TestChannels(t *testing.T) {
	within(t, "turbulent", Gnielinski(1e4, 0.7, 0), 29.8, 0.005)
	within(t, "laminar slot, long", Slot(500, 0.7, 0.05, 1e6), 5.39, 0.001)
}

// Collis & Williams 1959: Nu = 0.24 + 0.56 Re^0.45, at Re 1 and 44.
func TestWire(t *testing.T) {
	within(t, "Re 1", Wire(1), 0.80, 1e-9)
	within(t, "Re 44", Wire(44), 3.315, 0.001)
}

// Coefficients have no steps: a 0.01 % move of the driving number moves the
// result by less than 0.1 %, across every switch of regime.
func TestContinuous(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	for range 20000 {
		ra := math.Exp(r.Float64() * 16)
		tilt := r.Float64() * 90
		re := math.Exp(r.Float64() * 12)
		v := r.Float64() * 8
		pairs := [][2]float64{
			{Gap(ra, tilt, 60, 1), Gap(ra*1.0001, tilt, 60, 1)},
			{Gap(ra, tilt, 60, 1), Gap(ra, tilt*1.0001, 60, 1)},
			{Gap(ra, tilt, 60, -1), Gap(ra*1.0001, tilt, 60, -1)},
			{Slot(re, 0.7, 0.05, 1.2), Slot(re*1.0001, 0.7, 0.05, 1.2)},
			{Wire(re), Wire(re * 1.0001)},
			{Outer(v, 20, 5, 1, 1e5), Outer(v*1.0001, 20, 5, 1, 1e5)},
			{Outer(v, 20, 5, 1, 1e5), Outer(v, 20.0005, 5, 1, 1e5)},
		}
		for i, p := range pairs {
			if math.Abs(p[1]-p[0]) > 1e-3*p[0] || p[0] <= 0 {
				t.Fatalf("pair %d at Ra %v tilt %v Re %v v %v: %v", i, ra, tilt, re, v, p)
			}
		}
	}
}
