package collector

import (
	"math"
	"math/rand/v2"
	"os"
	"reflect"
	"testing"

	"gladember/core/design"
)

// exampleOf is one example of each family.
var exampleOf = map[design.Family]string{
	design.ScreenBox: "screen-box", design.CanColumns: "can-columns", design.Downpipes: "downpipes", design.RibbedCoil: "ribbed-coil",
	design.BackPassPlate:  "back-pass-plate",
	design.FrontPassPlate: "front-pass-plate", design.DoublePassPlate: "double-pass-plate", design.DoublePassTubes: "double-pass-tubes",
	design.WindowPanel: "window-panel",
	design.PassiveBox:  "passive-tower", design.OwnAbsorber: "own-absorber",
}

// anyTuning moves all inputs at once, each by its own normal deviate.
func anyTuning(r *rand.Rand, us []Uncertainty) (all Tuning) {
	for _, u := range us {
		all = all.Plus(u.By, r.NormFloat64())
	}
	return all
}

// Every field of a tuning is added; one that is forgotten would move nothing.
func TestTuningsAdd(t *testing.T) {
	var a, b Tuning
	va, vb := reflect.ValueOf(&a).Elem(), reflect.ValueOf(&b).Elem()
	for i := range va.NumField() {
		va.Field(i).SetFloat(float64(i + 1))
		vb.Field(i).SetFloat(0.25)
	}
	sum := reflect.ValueOf(a.Plus(b, 2))
	for i := range sum.NumField() {
		if got := sum.Field(i).Float(); got != float64(i+1)+0.5 {
			t.Errorf("%s is %v", sum.Type().Field(i).Name, got)
		}
	}
}

// The bands of section 3, found by moving one input at a time, against 500 runs
// in which all inputs move at once, each by its own normal deviate: the
// half-width of two standard deviations within 25 %.
func TestBandsAgainstMonteCarlo(t *testing.T) {
	runs := 200
	switch {
	case testing.Short():
		runs = 60
	case os.Getenv("GLADEMBER_LONG") != "":
		runs = 500
	}
	for _, family := range families() {
		h, err := design.Named(exampleOf[family])
		if err != nil || h.Absorber.Family != family {
			t.Fatalf("%s: %v", family, err)
		}
		c := bright()
		e, err := Evaluate(&h, c, true)
		if err != nil {
			t.Fatal(err)
		}
		d, _ := Describe(&h)
		us := Uncertainties(&h, false, true)
		r := rand.New(rand.NewPCG(31, 32))
		var heat, outlet, still []float64
		for range runs {
			all := anyTuning(r, us)
			x, err := d.Rate(c, all, &e.Running)
			if err != nil {
				t.Fatalf("%s at %+v: %v", family, all, err)
			}
			s, err := d.Still(c, all, &e.Still)
			if err != nil {
				t.Fatalf("%s at %+v: %v", family, all, err)
			}
			heat, outlet, still = append(heat, x.Heat), append(outlet, x.Outlet), append(still, s.AbsorberMax)
		}
		allowed := 0.25
		if testing.Short() { // sixty runs scatter by themselves
			allowed = 0.6
		}
		for what, x := range map[string]struct {
			band Band
			runs []float64
		}{"heat": {e.Heat, heat}, "outlet": {e.Outlet, outlet}, "stagnation": {e.Stagnation, still}} {
			mean, square := 0.0, 0.0
			for _, v := range x.runs {
				mean += v / float64(len(x.runs))
			}
			for _, v := range x.runs {
				square += (v - mean) * (v - mean) / float64(len(x.runs)-1)
			}
			u := math.Sqrt(square)
			if math.Abs(x.band.U/u-1) > allowed {
				t.Errorf("%s %s: one at a time %.4g, all together %.4g", family, what, x.band.U, u)
			}
			t.Logf("%s %s: %.4g against %.4g", family, what, x.band.U, u)
		}
	}
}
