package airflow

import (
	"math"
	"slices"

	"gladember/core/air"
	"gladember/core/internal/root"
)

// Momentum coefficients of headers, on rho v dv: pressure won where a header
// gives air to branches, and lost where it gathers from them.
// Source: Bajura & Jones, J. Fluids Engineering 98 (1976) (recalled from memory).
const (
	Dividing  = 1.05
	Combining = 2.66
)

// Manifold is branches between two straight headers, alike or not, each at one
// end of the header or at the other from the inlet on: tubes in a box, or boxes in a row.
type Manifold struct {
	// Kinds are the ways through a branch.
	Kinds []Element
	// Order is the kind of each branch, the one nearest to the inlet first.
	Order []int
	// Extra is the loss coefficient that an orifice adds in each branch, on the
	// speed in Stub; nil for none.
	Extra []float64
	// Stub is the cross section in which orifices lie, m2.
	Stub float64
	// Duct is each header; its Length is from one branch to the next.
	Duct Duct
	// OtherSide says that the outlet lies at the far end (Z), else at the
	// inlet's end (U).
	OtherSide bool
	// Wide says that what feeds the branches is so wide that all have the same pressure before them, and
	// only the header that gathers their air tells them apart.
	Wide bool
	// Entry is the loss coefficient of entering the first header from a space at rest, its speed included,
	// on the speed of all the air in it; 0 where the air comes as fast out of a duct. A wide one has none.
	Entry float64
}

// Lift is the pressure that warmth adds in the branches of a manifold.
type Lift struct {
	// Of is that in a branch of a kind that passes m kg/s, over the mean of all, Pa; nil for none.
	Of func(kind int, m float64) float64
	// At is the mean flow of the branches of which Of is the mean, kg/s: with another one it is moved, so that it tells branches apart and
	// adds nothing to all of them; 0 leaves it as it is.
	At float64
}

// over returns the lift with a mean flow of the branches, kg/s.
func (l Lift) over(order []int, mean float64) Lift {
	if l.Of == nil || l.At <= 0 {
		return l
	}
	by := 0.0
	for _, k := range order {
		by += (l.Of(k, mean) - l.Of(k, l.At)) / float64(len(order))
	}
	of := l.Of
	return Lift{Of: func(kind int, m float64) float64 { return of(kind, m) - by }}
}

// Split returns the mass flow of each branch, kg/s, for m kg/s of air at t C
// and p Pa in all, and the pressure lost from the headers' inlet to their
// outlet, Pa. start may be nil, or has the flows of a like case to begin from, in any measure. A branch in which the headers
// would push the air backwards counts as dead.
//
// The air that is left in the first header behind each branch is found by Newton's method, all branches at once: the loss of a branch
// less its lift differs from that of the next by what both headers change from the one to the other. Each step is held back as
// inertia would, the less the nearer it comes (pseudo-transient continuation, Kelley & Keyes, SIAM J. Numer. Anal. 35, 1998), so
// that it settles where air that speeds up by itself would.
func (f Manifold) Split(m, t, p float64, lift Lift, start []float64) (flows []float64, loss float64) {
	n := len(f.Order)
	flows = make([]float64, n)
	if m <= 0 || n == 0 {
		return flows, 0
	}
	s := f.system(m, t, p, lift.over(f.Order, m/float64(n)))
	s.settle(start)
	loss = s.loss()
	sum := 0.0
	for i, x := range s.flows { // none is quite dead, so that what it feeds has a temperature
		s.flows[i] = max(1e-6*m/float64(n), x)
		sum += s.flows[i]
	}
	for i := range s.flows {
		s.flows[i] *= m / sum
	}
	return s.flows, loss
}

// manifold is the equations of one flow through a [Manifold].
type manifold struct {
	Manifold
	m, rho float64
	lift   Lift
	curves []curve
	// half is the pressure of the speed of a flow in a header over its square, Pa s2/kg2.
	half float64
	// rub is what a header loses from one branch to the next with all the air in it, Pa, and power the power of the flow by which it
	// falls with less.
	rub, power float64
	// dead is how many times as much a branch resists air that goes backwards.
	dead float64
	// left is the flow in the first header behind each branch but the last, kg/s.
	left []float64
	// flows are those of the branches; need is what each loses less its lift, Pa, and slope how that grows with its flow.
	flows, need, slope []float64
	// miss are the residuals, Pa, and lower, main and upper the diagonals of their derivatives.
	miss, lower, main, upper []float64
}

// system sets the equations up, with the air shared out evenly.
func (f Manifold) system(m, t, p float64, lift Lift) *manifold {
	n := len(f.Order)
	s := &manifold{Manifold: f, m: m, rho: air.Density(t, p), lift: lift}
	a := f.Duct.area()
	s.half = 1 / (2 * s.rho * a * a)
	if s.rub = f.Duct.Loss(m, t, p); s.rub > 0 {
		s.power = math.Log(s.rub/f.Duct.Loss(m/4, t, p)) / math.Log(4)
	}
	for _, e := range f.Kinds {
		s.curves = append(s.curves, curve{of: e, t: t, p: p, mean: m / float64(n)})
	}
	room := make([]float64, 3*n)
	for _, v := range []*[]float64{&s.flows, &s.need, &s.slope} {
		*v, room = room[:n:n], room[n:]
	}
	for _, v := range []*[]float64{&s.left, &s.miss, &s.lower, &s.main, &s.upper} {
		*v = make([]float64, n-1)
	}
	for i := range s.left {
		s.left[i] = m * float64(n-1-i) / float64(n)
	}
	return s
}

// behind is the flow in the first header behind a branch; -1 is before the first.
func (s *manifold) behind(i int) float64 {
	switch {
	case i < 0:
		return s.m
	case i >= len(s.left):
		return 0
	}
	return s.left[i]
}

// gathered is the flow in the second header between a branch and the next, in the direction that its outlet asks for.
func (s *manifold) gathered(i int) float64 {
	if s.OtherSide {
		return s.m - s.behind(i)
	}
	return s.behind(i)
}

// friction is what a header loses from one branch to the next at a flow, Pa, and its derivative.
func (s *manifold) friction(flow float64) (dp, slope float64) {
	if s.rub <= 0 || flow == 0 {
		return 0, 0
	}
	x := math.Abs(flow)
	dp = s.rub * math.Pow(x/s.m, s.power)
	return math.Copysign(dp, flow), s.power * dp / x
}

// fall is by how much the difference between both headers falls from a branch to the next, Pa, with its derivatives by the flows
// behind the branch before, this one and the next. With the outlet at the inlet's end a branch feels what stands behind it in
// both headers, where both are at rest at last; with the outlet at the far end, what stands before it. So what both headers do
// depends on one branch: with the means of both sides, or with unlike ones, every second branch would swing against the others
// where branches resist little.
func (s *manifold) fall(i int) (dp, before, here, after float64) {
	a, b, c := s.behind(i-1), s.behind(i), s.behind(i+1)
	rub, slope := s.friction(b)
	if s.OtherSide {
		if !s.Wide {
			dp = rub - Dividing*s.half*(a*a-b*b)
			before, here = -2*Dividing*s.half*a, slope+2*Dividing*s.half*b
		}
		// The second header gathers along the branches, and its flow falls as the first one's grows.
		u, v := s.gathered(i-1), s.gathered(i)
		rub, slope = s.friction(v)
		dp -= rub + Combining*s.half*(v*v-u*u)
		return dp, before - 2*Combining*s.half*u, here + slope + 2*Combining*s.half*v, 0
	}
	won := Combining - Dividing
	if s.Wide {
		won = Combining
	} else {
		dp, here = rub, slope
	}
	return dp + rub + won*s.half*(b*b-c*c), 0, here + slope + 2*won*s.half*b, -2 * won * s.half * c
}

// branch finds what a branch loses less its lift, Pa, and how that grows with its flow.
func (s *manifold) branch(i int) {
	x := s.flows[i]
	kind := s.Order[i]
	dp, slope := s.curves[kind].at(math.Abs(x))
	if s.Extra != nil && s.Extra[i] > 0 {
		k := s.extra(i, s.rho)
		dp, slope = dp+k*x*x, slope+2*k*math.Abs(x)
	}
	if x < 0 {
		dp, slope = -s.dead*dp, s.dead*slope
	}
	if s.lift.Of != nil {
		at := max(x, 0)
		step := 0.01 * s.m / float64(len(s.Order))
		l := s.lift.Of(kind, at)
		dp -= l
		if x > 0 {
			slope += max(0, (l-s.lift.Of(kind, at+step))/step) // warmth that fades with the flow holds it
		}
	}
	s.need[i], s.slope[i] = dp, slope
}

// assemble finds the residuals and their derivatives, and returns the greatest residual, Pa.
func (s *manifold) assemble() (worst float64) {
	for i := range s.flows {
		s.flows[i] = s.behind(i-1) - s.behind(i)
		s.branch(i)
	}
	for i := range s.miss {
		dp, before, here, after := s.fall(i)
		s.miss[i] = s.need[i] - s.need[i+1] - dp
		s.lower[i] = s.slope[i] - before
		s.main[i] = -s.slope[i] - s.slope[i+1] - here
		s.upper[i] = s.slope[i+1] - after
		worst = max(worst, math.Abs(s.miss[i]))
	}
	return worst
}

// settle searches the flows, with branches that let air back hardly at first and less and less then. From a like case it begins with
// those that let none back.
func (s *manifold) settle(start []float64) {
	s.dead = 1
	s.assemble()
	inertia := 0.0
	for i := range s.slope {
		inertia = max(inertia, s.slope[i])
	}
	if len(start) == len(s.flows) {
		all := 0.0
		for _, x := range start {
			all += x
		}
		left := s.m
		for i := range s.left {
			left -= s.m * start[i] / all
			s.left[i] = left
		}
		if s.dead = 1e8; s.search(0, inertia) {
			return
		}
		for i := range s.left {
			s.left[i] = s.m * float64(len(s.left)-i) / float64(len(s.flows))
		}
	}
	held := inertia
	for _, s.dead = range []float64{1e2, 1e4, 1e6, 1e8} {
		_ = s.search(held, inertia)
		if slices.Min(s.flows) >= 0 {
			return
		}
		held = inertia / 100
	}
}

// search is the steps of one search, begun held back so much, Pa s/kg; inertia is a usual measure of that. It reports whether the
// flows settled; one that is begun without is given up soon.
func (s *manifold) search(held, inertia float64) bool {
	const near = 1e-8
	rounds := 150
	if held == 0 {
		rounds = 40
	}
	worst := s.assemble()
	scale := s.half*s.m*s.m + 1e-12
	for _, x := range s.need {
		scale = max(scale, math.Abs(x))
	}
	old := make([]float64, len(s.left))
	for range rounds {
		if worst <= near*scale {
			return true
		}
		copy(old, s.left)
		if !s.step(held) {
			held = 4*held + inertia/10
			continue
		}
		now := s.assemble()
		if math.IsNaN(now) || now > 2*worst { // too far: hold it back more
			copy(s.left, old)
			s.assemble()
			held = 4*held + 1e-3*inertia
			continue
		}
		held *= min(0.5, now/max(worst, 1e-300))
		worst = now
	}
	return false
}

// step moves the flows by Newton's method, held back by inertia, Pa s/kg; it reports whether the equations could be solved.
func (s *manifold) step(held float64) bool {
	n := len(s.left)
	c, d := make([]float64, n), make([]float64, n)
	for i := range n {
		low, main, up := s.lower[i]+held, s.main[i]-2*held, s.upper[i]+held
		r := -s.miss[i]
		if i > 0 {
			main -= low * c[i-1]
			r -= low * d[i-1]
		}
		if main >= 0 {
			return false // not a settling system: it needs more inertia
		}
		c[i], d[i] = up/main, r/main
	}
	for i := n - 1; i >= 0; i-- {
		if i+1 < n {
			d[i] -= c[i] * d[i+1]
		}
	}
	for i := range d {
		s.left[i] += d[i]
	}
	return true
}

// loss is the pressure lost in all, Pa, along the first branch and from it to the outlet.
func (s *manifold) loss() float64 {
	n := len(s.flows)
	moved := func(coefficient, a, b float64) float64 { return coefficient * s.half * (a*a - b*b) }
	dp := s.need[0]
	if !s.Wide {
		dp += s.Entry * s.half * s.m * s.m
	}
	if !s.OtherSide {
		if !s.Wide {
			dp -= moved(Dividing, s.m, s.behind(0))
		}
		return dp + moved(Combining, s.m, s.behind(0))
	}
	for i := range n - 1 {
		rub, _ := s.friction(s.gathered(i))
		dp += rub
	}
	return dp + moved(Combining, s.m, 0)
}

// curve is how a branch's loss grows with its flow: by powers between flows at which it is found as they are asked for.
type curve struct {
	of   Element
	t, p float64
	// mean is the mean flow of the branches, kg/s, from which the flows are stepped.
	mean float64
	// found are the losses at those flows, Pa.
	found [2*curveSteps + 1]float64
}

const (
	curveSteps = 48
	curveRatio = 1.15
)

// at is the loss at a flow, Pa, and its derivative. Under about a thousandth of the mean flow it goes straight to nothing.
func (c *curve) at(x float64) (dp, slope float64) {
	step := math.Log(max(x, 1e-300)/c.mean) / math.Log(curveRatio)
	k := int(math.Floor(step))
	if k < -curveSteps {
		y, least := c.loss(-curveSteps), c.mean*math.Pow(curveRatio, -curveSteps)
		return y * x / least, y / least
	}
	k = min(k, curveSteps-1)
	lo, hi := c.loss(k), c.loss(k+1)
	power := math.Log(hi/lo) / math.Log(curveRatio)
	dp = lo * math.Pow(curveRatio, (step-float64(k))*power)
	return dp, power * dp / x
}

// loss is what is lost at a stepped flow, Pa.
func (c *curve) loss(k int) float64 {
	y := &c.found[k+curveSteps]
	if *y == 0 {
		*y = max(1e-12, c.of.Loss(c.mean*math.Pow(curveRatio, float64(k)), c.t, c.p))
	}
	return *y
}

// extra is the coefficient of an orifice on the square of the mass flow, Pa
// s2/kg2.
func (f Manifold) extra(i int, rho float64) float64 {
	if f.Extra == nil {
		return 0
	}
	return f.Extra[i] / (2 * rho * f.Stub * f.Stub)
}

// Loss implements [Element], without lifts.
func (f Manifold) Loss(m, t, p float64) float64 {
	_, loss := f.Split(m, t, p, Lift{}, nil)
	return loss
}

// Evenness is the least flow of a branch over the mean: 1 is even, 0 a dead branch.
func Evenness(flows []float64) float64 {
	least, sum := math.Inf(1), 0.0
	for _, x := range flows {
		least, sum = min(least, x), sum+x
	}
	if sum <= 0 {
		return 0
	}
	return max(0, least*float64(len(flows))/sum)
}

// Balance returns the loss coefficients, on the speed in Stub, of the orifices
// with which m kg/s of air at t C and p Pa in all share out as wished (shares
// that sum to 1). The branch that needs the most pressure gets none.
func (f Manifold) Balance(m, t, p float64, shares []float64) []float64 {
	s := f.system(m, t, p, Lift{})
	left := m
	for i := range s.left {
		left -= m * shares[i]
		s.left[i] = left
	}
	need := make([]float64, len(shares))
	have, more := 0.0, math.Inf(-1) // the difference of the headers' pressures over that at the first branch, Pa
	for i, k := range f.Order {
		need[i] = f.Kinds[k].Loss(m*shares[i], t, p) - have
		more = max(more, need[i])
		if i < len(s.left) {
			dp, _, _, _ := s.fall(i)
			have -= dp
		}
	}
	for i := range need {
		x := m * shares[i] / s.rho / f.Stub
		need[i] = max(0, (more-need[i])/(s.rho*x*x/2))
	}
	return need
}

// OrificeBore returns the diameter, m, of a sharp-edged hole in a plate across
// a duct of area m2 that loses k times the pressure of the speed in the duct;
// that of the duct itself for none.
func OrificeBore(k, area float64) float64 {
	duct := math.Sqrt(4 * area / math.Pi)
	if k <= 0 {
		return duct
	}
	open, _ := root.Bisect(1e-3, 1, 80, func(open float64) bool { return OrificeLoss(open)/open/open > k })
	return duct * math.Sqrt(open)
}
