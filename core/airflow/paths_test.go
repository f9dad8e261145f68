package airflow

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/mat"

	"gladember/core/air"
	"gladember/core/heattransfer"
)

// Idelchik's sharp-edged hole in a wide wall has 2.9 (1.707 squared); in a
// passage as wide as the hole nothing is lost.
func TestOrifice(t *testing.T) {
	within(t, "small hole", OrificeLoss(0), 1.707*1.707, 1e-12)
	if OrificeLoss(1) != 0 {
		t.Errorf("a hole as wide as the passage costs %v", OrificeLoss(1))
	}
}

// Flexible duct of 150 mm pulled to 70 % has about nine times the friction of
// a taut one (ASHRAE's formula, recalled from memory); taut it has its own.
func TestStretch(t *testing.T) {
	within(t, "taut", StretchFactor(0.15, 1), 1, 1e-12)
	within(t, "at 70 %", StretchFactor(0.15, 0.7), 1+58*math.Exp(-0.744)*0.3, 1e-9)
}

// Passages side by side share one pressure and all the air.
func TestParallelSharesThePressure(t *testing.T) {
	r := rand.New(rand.NewPCG(41, 42))
	for range 500 {
		var ps Parallel
		for range 2 + r.IntN(3) {
			d := 0.01 + 0.09*r.Float64()
			ps = append(ps, Duct{Diameter: 2 * d, Area: d * (0.2 + r.Float64()), Length: 0.5 + 2*r.Float64(),
				Fittings: 0.5 + 3*r.Float64(), Section: heattransfer.Slot})
		}
		m := 0.002 + 0.1*r.Float64()
		split := ps.Split(m, 35, 95000)
		sum := 0.0
		for i, e := range ps {
			sum += split[i]
			within(t, "common pressure", e.Loss(split[i], 35, 95000), ps.Loss(m, 35, 95000), 1e-6)
		}
		within(t, "all the air", sum, m, 1e-9)
	}
	// Two equal ones halve it.
	d := Duct{Diameter: 0.1, Length: 2, Fittings: 1}
	within(t, "equal", Parallel{d, d}.Split(0.05, 20, 1e5)[0], 0.025, 1e-9)
}

// A fan's table is met at its rows, falls all the way, and its ends lie where
// its last two rows point.
func TestFanTable(t *testing.T) {
	f := Fan{Power: 20, Table: []FanPoint{{0.01, 120}, {0.03, 90}, {0.05, 30}}}.Fitted()
	for _, p := range f.Table {
		within(t, "row", f.Pressure(p.Flow, Standard), p.Pressure, 1e-9)
	}
	within(t, "free air", f.FreeAir, 0.06, 1e-9)
	within(t, "shut off", f.Pressure(0, Standard), 135, 1e-9)
	last := math.Inf(1)
	for q := 0.0; q < 0.07; q += 0.001 {
		p := f.Pressure(q, Standard)
		if p >= last {
			t.Fatalf("the curve rises at %v", q)
		}
		last = p
	}
	if g := (Fan{FreeAir: 1, ShutOff: 1, Table: []FanPoint{{0.01, 50}, {0.02, 60}}}.Fitted()); g.curve != nil {
		t.Error("a rising table was taken")
	}
	// Fan laws: half speed, a quarter of the pressure at half the flow, an eighth of the power.
	half := f
	half.Speed = 0.5
	within(t, "half speed", half.Pressure(0.015, Standard), 90.0/4, 1e-9)
	within(t, "watts", half.Watts(), 20.0/8, 1e-9)
	// Beside each other they move twice the air, behind each other they press twice.
	two, row := f, f
	two.Beside, row.Behind = 2, 2
	within(t, "beside", two.Pressure(0.06, Standard), 90, 1e-9)
	within(t, "behind", row.Pressure(0.03, Standard), 180, 1e-9)
	within(t, "pulling warm air", f.Pressure(0.03, 1.05), 90*1.05/1.2, 1e-9)
}

// Header flow against the closed form of Bajura & Jones's equations without
// friction: for branches so many that they are a slot, the flow w left in the
// header obeys w” = -(A w + B)/(2K), a linear equation; solved here by a matrix
// exponential. U: A = gd - gc, B = 0. Z: A = gd - gc with the far side's gc (1-w).
func TestHeadersAgainstTheContinuum(t *testing.T) {
	for _, otherSide := range []bool{false, true} {
		const n, ratio, loss = 200, 1.4, 3.0 // branches, all their area over the header's, loss of one
		h := Manifold{Kinds: []Element{vents(loss, ratio/n)}, Order: make([]int, n), Duct: Duct{Diameter: 1, Area: 1}, OtherSide: otherSide}
		k := loss / (ratio * ratio) // on the header's speed, for w' of order 1
		// d = k w'^2; d' = -gd (w^2)' ... divided by w': 2 k w'' = -2(gd w - gc ...)
		a, b := Dividing-Combining, 0.0
		if otherSide {
			a, b = Dividing-Combining, Combining
		}
		// state (w, w', 1): w'' = -(a w + b)/k
		m := mat.NewDense(3, 3, []float64{0, 1, 0, -a / k, 0, -b / k, 0, 0, 0})
		var e mat.Dense
		e.Exp(m)
		// w(0) = 1, w(1) = 0 gives w'(0).
		slope := -(e.At(0, 0) + e.At(0, 2)) / e.At(0, 1)
		s, _ := h.Split(1, 30, air.SeaLevel, Lift{}, nil)
		within(t, fmt.Sprintf("first branch, other side %v", otherSide), s[0]*n, -slope, 0.03)
		end := e.At(1, 0) + e.At(1, 1)*slope + e.At(1, 2)
		within(t, fmt.Sprintf("last branch, other side %v", otherSide), s[n-1]*n, -end, 0.03)
	}
}

// Wide headers share evenly, whatever the side; narrow ones do not; the shares
// sum to one; lossy branches even them out.
func TestHeaderProperties(t *testing.T) {
	r := rand.New(rand.NewPCG(43, 44))
	for range 300 {
		area, branch, loss := 0.002+0.02*r.Float64(), 0.001+0.003*r.Float64(), 1+10*r.Float64()
		even := func(area, loss float64) float64 {
			h := Manifold{Kinds: []Element{vents(loss, branch)}, Order: make([]int, 2+r.IntN(20)), Duct: Duct{Diameter: 0.05, Area: area,
				Length: 0.03 * r.Float64(), Roughness: 1e-4}, OtherSide: r.IntN(2) == 0}
			flows, _ := h.Split(0.05, 30, air.SeaLevel, Lift{}, nil)
			sum := 0.0
			for _, x := range flows {
				sum += x
			}
			within(t, "all the air", sum, 0.05, 1e-9)
			return Evenness(flows)
		}
		if wide := even(200*area, loss); wide < 0.97 {
			t.Fatalf("a header of %v m2 gives %v", 200*area, wide)
		}
		if narrow := even(area, loss); narrow < 0 || narrow > 1 {
			t.Fatalf("evenness %v", narrow)
		}
	}
	for range 100 { // more loss in the branches evens them out
		h := Manifold{Kinds: []Element{vents(2, 0.002)}, Order: make([]int, 2+r.IntN(20)), Duct: Duct{Diameter: 0.1},
			OtherSide: r.IntN(2) == 0}
		before, _ := h.Split(0.05, 30, air.SeaLevel, Lift{}, nil)
		h.Kinds = []Element{vents(8, 0.002)}
		if after, _ := h.Split(0.05, 30, air.SeaLevel, Lift{}, nil); Evenness(after) < Evenness(before)-1e-6 {
			t.Fatalf("%d branches: evenness %v, with four times the loss %v", len(h.Order), Evenness(before), Evenness(after))
		}
	}
	if Evenness([]float64{0.3}) != 1 {
		t.Error("one tube is uneven")
	}
}

func sheet(resist float64) Crossing {
	return Crossing{Width: 0.8, Length: 1.3, Front: [2]float64{0.075, 0.03}, Rear: [2]float64{0.03, 0.075},
		Resist: func(v, t, p float64) float64 { return resist * v }}
}

// A sheet that holds back much is crossed evenly and costs its own resistance;
// one that holds back little is crossed where the channels would have it.
func TestCrossing(t *testing.T) {
	const m = 0.03
	dense := sheet(1000)
	for _, s := range dense.At(m, 30, 1e5, nil).Shares(Even(8)) {
		within(t, "even share", s, 1.0/8, 0.02)
	}
	v := m / (1.15 * 0.8 * 1.3)
	within(t, "its own resistance", dense.Loss(m, 30, 1e5), 1000*v, 0.03)
	last := math.Inf(1)
	for _, k := range []float64{200, 20, 2, 0.2} {
		s := sheet(k).At(m, 30, 1e5, nil).Shares(Even(8))
		least, sum := math.Inf(1), 0.0
		for _, x := range s {
			least = min(least, x)
			sum += x
		}
		within(t, "all the air", sum, 1, 1e-9)
		if least > last*1.02 { // tapered channels carry some of it evenly all the same
			t.Errorf("less resistance crosses more evenly: %v", s)
		}
		last = least
	}
	// What was found before does not decide what is found.
	start := new(CrossingStart)
	sheet(5).At(0.08, 30, 1e5, start)
	for i, s := range sheet(5).At(m, 30, 1e5, start).Shares(Even(8)) {
		if math.Abs(s-sheet(5).At(m, 30, 1e5, nil).Shares(Even(8))[i]) > 1e-3 {
			t.Errorf("cell %d: %v after another flow, %v afresh", i, s, sheet(5).At(m, 30, 1e5, nil).Shares(Even(8))[i])
		}
	}
}

// A bar half-way up sends more air through the lower half, the more so the less it leaves open; a
// jet sends it up. Both vanish with their cause, and the grid is fine enough for both.
func TestBaffleAndJetShapeTheCrossing(t *testing.T) {
	const m = 0.03
	flat := func(grid int, jet, baffle float64) Crossing {
		c := sheet(5)
		c.Front, c.Rear, c.Grid, c.Jet, c.Dies, c.Baffle = [2]float64{0.04, 0.04}, [2]float64{0.04, 0.04}, grid, jet, 1.2, baffle
		return c
	}
	lower := func(c Crossing) float64 {
		s := c.At(m, 30, 1e5, nil).Shares(Even(8))
		return s[0] + s[1] + s[2] + s[3]
	}
	plain := lower(flat(0, 0, 0))
	within(t, "no jet, no bar", lower(flat(0, 1e-6, 1e-6)), plain, 2e-3)
	last := plain
	for _, open := range []float64{0.7, 0.5, 0.3, 0.15} {
		x := lower(flat(0, 0, OrificeLoss(open)/open/open))
		if x <= last {
			t.Errorf("a bar that leaves %v open: %v through the lower half after %v", open, x, last)
		}
		last = x
	}
	last = plain
	for _, jet := range []float64{0.2, 0.5, 1} {
		x := lower(flat(0, jet, 0))
		if x >= last {
			t.Errorf("a jet of %v: %v through the lower half after %v", jet, x, last)
		}
		last = x
	}
	for _, c := range [][2]float64{{0, 10}, {0.5, 0}, {0.5, 10}} {
		if a, b := lower(flat(0, c[0], c[1])), lower(flat(8*CrossingGrid, c[0], c[1])); math.Abs(a-b) > 0.01 {
			t.Errorf("jet and bar %v: %v through the lower half, %v on a grid eight times as fine", c, a, b)
		}
	}
	// Where a bar is all that matters the pressures on both sides of it differ by its own loss.
	bar := flat(8*CrossingGrid, 0, 400)
	bar.Rear = [2]float64{0.4, 0.4}
	x := bar.At(m, 30, 1e5, nil)
	n := len(x.cells)
	d0, _ := x.cells[n/2-1].across(x.f[n/2-1]-x.f[n/2], 1, x.back)
	d1, _ := x.cells[n/2].across(x.f[n/2]-x.f[n/2+1], 1, x.back)
	v := x.f[n/2] / (x.rho * 0.04 * 0.8)
	within(t, "across the bar, Pa", d0-d1, 400*x.rho*v*v/2, 0.05)
}

// The crossing of every channel, sheet, jet and bar is found: the pressures agree along all of it, on
// the usual grid and on one of 384 cells, dead stretches included.
func TestCrossingSettles(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	u := func(a, b float64) float64 { return a + (b-a)*r.Float64() }
	n := 320
	if testing.Short() {
		n = 64
	}
	for i := range n {
		k := u(0.05, 3)
		c := Crossing{Width: u(0.4, 1.2), Length: u(0.8, 2.2), Front: [2]float64{u(0.02, 0.15), u(0.01, 0.05)},
			Rear: [2]float64{u(0.005, 0.05), u(0.01, 0.15)}, Dies: 1.3,
			Resist: func(v, t, p float64) float64 { return k*v + k*3*v*v }}
		if i%2 > 0 {
			c.Jet = u(0, 4)
		}
		if i%4 > 1 {
			open := u(0.05, 1)
			c.Baffle = OrificeLoss(open) / open / open
		}
		if i%8 > 3 {
			c.Grid = 384
		}
		m := u(0.01, 0.06)
		x := c.At(m, 30, 1e5, nil)
		v := m / x.rho / c.Width / c.Length
		if off := x.residual(x.f, 1) / (c.Resist(v, 30, 1e5) + x.rho*v*v); off > 1e-6 {
			t.Errorf("%d: pressures disagree by %.1e of the sheet's", i, off)
		}
	}
}

// De Soto's five parameters give back the label they were fitted to, and the
// panel's most power lies where the label says.
func TestPanelMeetsItsLabel(t *testing.T) {
	for _, p := range []Panel{{Isc: 0.62, Voc: 21.6, Imp: 0.57, Vmp: 17.5, Cells: 36}, {Isc: 3.1, Voc: 22.1, Imp: 2.8, Vmp: 18.0,
		Cells: 36}, {Isc: 8.2, Voc: 32.9, Imp: 7.6, Vmp: 26.3, Cells: 54}} {
		d, err := p.Fit()
		if err != nil {
			t.Fatal(err)
		}
		within(t, "short circuit", d.Current(0, 1000, 25), p.Isc, 1e-6)
		if i := d.Current(p.Voc, 1000, 25); math.Abs(i) > 1e-6*p.Isc {
			t.Errorf("%v A at open circuit", i)
		}
		within(t, "at the knee", d.Current(p.Vmp, 1000, 25), p.Imp, 1e-6)
		best, at := 0.0, 0.0
		for v := 0.5 * p.Voc; v < p.Voc; v += 0.01 {
			if w := v * d.Current(v, 1000, 25); w > best {
				best, at = w, v
			}
		}
		within(t, "most power", best, p.Imp*p.Vmp, 0.005)
		within(t, "where", at, p.Vmp, 0.02)
		// Its voltage falls by 0.33 % a kelvin, its current follows the sun.
		within(t, "warm", d.open(1000, 45), p.Voc*(1-0.0033*20), 0.01)
		within(t, "half the sun", d.Current(0, 500, 25), p.Isc/2, 0.01)
		last := math.Inf(1)
		for v := 0.0; v < 1.1*p.Voc; v += 0.2 {
			i := d.Current(v, 700, 30)
			if i > last+1e-12 {
				t.Fatalf("the current rises at %v V", v)
			}
			last = i
		}
	}
	if _, err := (Panel{Isc: 1, Imp: 2, Voc: 20, Vmp: 17, Cells: 36}).Fit(); err == nil {
		t.Error("a panel with more current at work than short-circuited was fitted")
	}
}

// A fan straight off its panel: stands in the dark, runs faster in more sun,
// and at the crossing of the two curves both carry one current.
func TestFanOnItsPanel(t *testing.T) {
	d, err := Panel{Isc: 0.62, Voc: 21.6, Imp: 0.57, Vmp: 17.5, Cells: 36}.Fit()
	if err != nil {
		t.Fatal(err)
	}
	m := Motor{Volts: 12, Watts: 4, Stall: 5}
	if s, _ := m.Run(d, 0, 10, 0.1); s != 0 {
		t.Error("the fan runs in the dark")
	}
	if s, _ := m.Run(d, 30, 10, 0.1); s != 0 {
		t.Errorf("the fan starts at dawn with %v", s)
	}
	last := 0.0
	for _, g := range []float64{150, 300, 500, 800, 1000} {
		s, v := m.Run(d, g, 25, 0.3)
		if s < last {
			t.Errorf("slower in more sun: %v at %v W/m2", s, g)
		}
		last = s
		i := 4.0 / 12 * v * v / 144
		within(t, "one current", d.Current(v+0.3*i, g, 25), i, 1e-6)
	}
	if Autonomy(100, 0.5, 5, 5, 0.1) != 100*0.5*0.9/25 || !math.IsInf(Autonomy(10, 0.5, 0, 5, 0), 1) {
		t.Error("days without sun")
	}
}

// Dampers that Balance asks for make the paths share as wished.
func TestBalance(t *testing.T) {
	a := Duct{Diameter: 0.1, Length: 3, Fittings: 2}
	b := Duct{Diameter: 0.1, Length: 7, Fittings: 2}
	area := math.Pi / 4 * 0.01
	k := Parallel{a, b}.Balance(0.05, 30, 1e5, []float64{0.5, 0.5}, []float64{area, area})
	if k[1] != 0 || k[0] <= 0 {
		t.Fatalf("the longer path is damped: %v", k)
	}
	a.Fittings += k[0]
	within(t, "share", Parallel{a, b}.Split(0.05, 30, 1e5)[0], 0.025, 1e-6)
	within(t, "5 m/s on a wall", WindPressure(5, 0.6, 1.2), 9, 1e-9)
}
