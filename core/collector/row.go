package collector

import (
	"math"
	"slices"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/network"
)

// row is boxes side by side between two headers. Branches of one kind get unlike flows where the headers do not share out evenly;
// the balance takes them in classes, see [classesOf].
type row struct {
	// kinds are those of branches: a box, or several one after the other.
	kinds []*Description
	// counts is how many branches there are of each kind.
	counts []float64
	// area is that of all, m2.
	area     float64
	manifold airflow.Manifold
	// share is each branch's part of the area.
	share []float64
}

// Branch is one way through a row.
type Branch struct {
	// Kind is 0 for the first kind of box.
	Kind int
	// Mass is its flow, kg/s.
	Mass float64
	// Share is its part of the flow over its part of the area: 1 is even.
	Share float64
	// Orifice is the bore of the hole that balances it, m; 0 for none.
	Orifice float64
	// Outlet is in C, between those of the classes of its kind.
	Outlet float64
}

// stubLoss is the loss coefficient of a branch on the speed in its ports: out
// of a header, into the box, out of it and into the other header, and two
// bends; branchRun is the length of both stubs, m. Common practice, no source.
const (
	stubLoss  = 2*lossEntrance + 2*lossExit + 2*lossBendFlex
	branchRun = 0.6
)

// usualFlow is that by which a row's orifices are found, kg/s for a m2; what
// they must lose follows the flow's square as nearly all else does.
const usualFlow = 0.02

// inRow turns a described heater of many boxes into a row of its kinds.
func (d Description) inRow(h *design.Heater) (Description, error) {
	boxes, counts := h.Kinds()
	if h.Array.Join == "groups" {
		boxes[0].Array = design.Array{Boxes: h.Array.Group, Join: "series"}
		counts[0] = h.Branches()
	}
	r := &row{}
	bore := h.Array.Header
	if bore <= 0 { // plenums
		bore = 5
	}
	ports := float64(max(1, h.Air.Ports))
	stub := math.Pi / 4 * h.PortBore() * h.PortBore() * ports
	r.manifold = airflow.Manifold{Duct: airflow.Duct{Diameter: bore, Length: h.Array.Pitch, Roughness: headerRoughness}, Stub: stub,
		OtherSide: h.Array.Return == "far-end"}
	d.Gross, d.Seam = 0, 0
	for k := range boxes {
		b, err := describe(&boxes[k])
		if err != nil {
			return d, err
		}
		n := float64(counts[k])
		r.kinds, r.counts = append(r.kinds, &b), append(r.counts, n)
		r.area += n * b.Aperture()
		d.Gross, d.Seam = d.Gross+n*b.Gross, d.Seam+n*b.Seam
		for range counts[k] {
			r.manifold.Order = append(r.manifold.Order, k)
			r.share = append(r.share, b.Aperture())
		}
	}
	for i := range r.share {
		r.share[i] /= r.area
	}
	first := r.kinds[0]
	d.Width, d.Height, d.Depth, d.EdgeUA, d.BackR = first.Width, first.Height, first.Depth, first.EdgeUA, first.BackR
	d.Series = false
	d.row = r
	d.Passages = r.passages(h)
	return d, nil
}

// headerRoughness is that of sheet duct with its joints, m.
const headerRoughness = 0.15e-3

// passages are those of a row.
func (r *row) passages(h *design.Heater) Passages {
	p := r.kinds[0].Passages
	m := r.manifold
	for _, x := range r.kinds {
		stub := airflow.Duct{Diameter: h.PortBore(), Area: m.Stub, Length: branchRun, Roughness: headerRoughness, Fittings: stubLoss}
		m.Kinds = append(m.Kinds, inTurn(append([]airflow.Element{stub}, x.Passages.Elements...)))
	}
	if h.Array.Balance == "orifices" {
		m.Extra = new(start).in(m).(airflow.Manifold).Balance(usualFlow*r.area, h.Room.Air+15, usualPressure, r.share)
		for i, k := range m.Extra { // holes are drilled to the millimeter
			if k > 0 {
				bore := math.Round(1000*airflow.OrificeBore(k, m.Stub)) / 1000
				open := bore * bore / (4 * m.Stub / math.Pi)
				m.Extra[i] = airflow.OrificeLoss(min(0.999, open)) / open / open
			}
		}
	}
	p.Elements = []airflow.Element{m}
	p.Spread, p.classes, p.shared = nil, 0, 0
	p.Air = func(f Flow) AirNet {
		flows := f.split(m)
		var groups []group
		for k, x := range r.kinds {
			var own []float64
			for i, flow := range flows {
				if m.Order[i] == k {
					own = append(own, flow)
				}
			}
			groups = append(groups, group{kind: k, flows: own, times: float64(len(own)), height: x.Height, air: x.Passages.Air})
		}
		net := classed(f, groups, 0)
		net.Flows = flows
		return net
	}
	return p
}

// split shares a flow out between the branches of a manifold, kg/s.
func (f Flow) split(m airflow.Manifold) []float64 {
	flows, _ := f.start.in(m).(airflow.Manifold).Split(f.Mass, f.Mean, f.P, f.Warmth.of, f.Warmth.start)
	return flows
}

// usualPressure is that at which orifices are found, Pa.
const usualPressure = 101325

// mostClasses is how many classes of unlike flows the branches of a kind are balanced in. Eight times as many move the heat by
// less than half a per cent; it is a variable for the test of that.
var mostClasses = 4

// classesOf is in how many classes so many branches are balanced.
func classesOf(branches int) int { return max(1, min(branches, mostClasses)) }

// class is branches of a kind that the balance takes as alike.
type class struct {
	kind int
	// count is how many there are, and mass the flow of each, kg/s.
	count, mass float64
	// parts are those of the net in which they are balanced, and inner the classes of their own tubes.
	parts []int
	inner []class
	// flows are those of its tubes, kg/s.
	flows []float64
}

// group is branches of a kind with unlike flows, of which each is so many times a net of its own.
type group struct {
	kind  int
	flows []float64
	// times is how many nets all branches are together: as many as there are boxes, or one for the tubes of a box.
	times float64
	// height is that of the net, m; 0 for that of the flow it is asked for.
	height float64
	air    func(Flow) AirNet
}

// classed puts the classes of groups of branches side by side. In a group the branches are sorted by their flow and cut into
// classes of as many each, with parts of branches where they do not divide evenly. So many steps are shared by all branches.
func classed(f Flow, groups []group, shared int) AirNet {
	total := 0.0
	for _, g := range groups {
		for _, x := range g.flows {
			total += x
		}
	}
	var nets []AirNet
	var classes []class
	parts := 0
	for _, g := range groups {
		sorted := slices.Sorted(slices.Values(g.flows))
		n := classesOf(len(sorted))
		each := float64(len(sorted)) / float64(n) // branches in a class
		for k := range n {
			mass := 0.0
			for i, x := range sorted {
				in := min(float64(i+1), float64(k+1)*each) - max(float64(i), float64(k)*each)
				mass += max(0, in) * x
			}
			// The net is for as much air as a whole one would have if all its branches were alike. Leaks go with the flow, so
			// that a branch that gets little does not run dry.
			one, whole := f, mass*float64(n)/g.times/total
			one.Mass, one.LeakIn, one.LeakOut = f.Mass*whole, f.LeakIn*whole, f.LeakOut*whole
			one.Warmth = f.Warmth.in(len(classes))
			if g.height > 0 {
				one.Height = g.height
			}
			net := times(g.air(one), g.times/float64(n))
			c := class{kind: g.kind, count: each, mass: mass / each, inner: net.Classes, flows: net.Flows}
			for i := range c.inner {
				for j := range c.inner[i].parts {
					c.inner[i].parts[j] += parts
				}
			}
			for range net.leaves() {
				c.parts = append(c.parts, parts)
				parts++
			}
			nets, classes = append(nets, net), append(classes, c)
		}
	}
	out := beside(nets)
	out.Classes, out.Inner = classes, nets[0].Branched
	for i := range out.Along {
		out.Branched = append(out.Branched, i >= shared)
	}
	return out
}

// inClasses balances the strips or tubes of a box, if it has any, in classes of unlike flows. What passes between strips
// sideways is left out.
func (p Passages) inClasses() Passages {
	if p.Strips == nil {
		return p
	}
	strips, one := p.Strips, p.Air
	p.branches = len(strips(Flow{Mass: 0.01, Mean: 30, P: usualPressure}))
	p.classes = classesOf(p.branches)
	p.Air = func(f Flow) AirNet {
		return classed(f, []group{{flows: strips(f), times: 1, air: one}}, p.shared*f.Segments)
	}
	return p
}

// warmth is what warmth adds in the branches between two headers: of each by its kind and flow, and in a row whose boxes have
// tubes between headers of their own, in these by class of boxes. The zero value says that nothing is known.
type warmth struct {
	of     airflow.Lift
	within []warmth
	// miss is by how much each class was lifted otherwise than was taken, Pa, and share what was taken over of it.
	miss  []float64
	share float64
	// start are the flows of the branches, for a search of the next.
	start []float64
}

// stop takes the lifts as they are.
func (w *warmth) stop() {
	w.miss = nil
	for i := range w.within {
		w.within[i].stop()
	}
}

// left is the most by which a branch was lifted otherwise than was taken, Pa.
func (w *warmth) left() (most float64) {
	for _, x := range w.miss {
		most = max(most, math.Abs(x))
	}
	for i := range w.within {
		most = max(most, w.within[i].left())
	}
	return most
}

// in is what it is within a class of branches.
func (w *warmth) in(class int) warmth {
	if class < len(w.within) {
		return w.within[class]
	}
	return warmth{}
}

// lifts finds what warmth adds in branches by what it added in each class of a solved net. Of what is new only a share is taken over
// what was known before, so that rounds which swing come to rest: where branches resist little, a little warmth moves much air.
func (d *Description) lifts(net AirNet, st *network.State, c Conditions, known *warmth) (w warmth) {
	if len(net.Classes) == 0 || c.Tilt <= 0 {
		return w
	}
	if l, ok := d.lifting(net, net.Branched, st, c); ok {
		w = l.over(net.Classes, d.branching().branch, known)
	}
	w.start = net.Flows
	if net.Inner == nil {
		return w
	}
	if l, ok := d.lifting(net, net.Inner, st, c); ok {
		for i, x := range net.Classes {
			box := d.branching().inner(x.kind)
			if box == nil {
				return w
			}
			before := known.in(i)
			in := l.over(x.inner, box.branching().branch, &before)
			in.start = x.flows
			w.within = append(w.within, in)
		}
	}
	return w
}

// lifting sums up what warmth adds in each part in some of its steps. It reports false where these go up and down: then it is a
// difference, which says nothing of a branch at rest.
func (d *Description) lifting(net AirNet, in []bool, st *network.State, c Conditions) (l lifting, ok bool) {
	parts, cells := d.parts(), d.cells()
	rho := air.Density(c.Inlet, c.Pressure)
	l = lifting{lift: make([]float64, len(parts)), passes: make([]float64, len(parts)), cp: air.Cp(c.Inlet)}
	steps, up, down := 0.0, false, false
	for i, mix := range net.Along {
		if !in[i] {
			continue
		}
		steps += 1 / float64(d.inSeries())
		up, down = up || net.Climb[i] > 0, down || net.Climb[i] < 0
		for _, f := range mix {
			k := f.At / cells
			rise := parts[k].of.Height * math.Sin(c.Tilt*math.Pi/180)
			l.lift[k] += f.Mass * heattransfer.Gravity * net.Climb[i] * rise * (rho - air.Density(st.Mean[f.At][f.From], c.Pressure))
			l.passes[k] += f.Mass
		}
	}
	for k := range l.lift { // each step of a part carried all of its air
		l.lift[k] *= steps
	}
	return l, !up || !down
}

// lifting is what warmth adds in the parts of a net.
type lifting struct {
	// lift is that of each part times the air that passes it, Pa kg/s, and passes that air, kg/s.
	lift, passes []float64
	// cp is in J/kgK.
	cp float64
}

// over is what warmth adds in a branch of some classes, over the mean of all their air. Between classes the share of what a branch
// without flow would be lifted by is taken to go evenly with the logarithm of the flow. That share is of the mean warming of a
// stream past a surface that loses lossOf; nothing where there are no two classes. area is that of a branch of a kind, m2. What is taken
// over follows from how the last two rounds missed (Aitken's relaxation for vectors, Irons & Tuck 1969).
func (l *lifting) over(classes []class, area func(kind int) float64, known *warmth) (w warmth) {
	const (
		lossOf = 6.0 // W/m2K: a usual one, which only shapes what lies between two classes
		least  = 0.05
	)
	if len(classes) < 2 {
		return w
	}
	mean, all := 0.0, 0.0
	of := make([]float64, len(classes))
	for i, x := range classes {
		mass := 0.0
		for _, k := range x.parts {
			of[i], mass = of[i]+l.lift[k], mass+l.passes[k]
		}
		if mass > 0 {
			mean, all = mean+of[i], all+mass
			of[i] /= mass
		}
	}
	if all <= 0 {
		return w
	}
	mean /= all
	w.miss, w.share = make([]float64, len(classes)), 1
	if known.of.Of != nil {
		moved, along := 0.0, 0.0
		for i, x := range classes {
			if x.mass > 0 {
				w.miss[i] = of[i] - mean - known.of.Of(x.kind, x.mass)
			}
			if len(known.miss) == len(w.miss) {
				by := w.miss[i] - known.miss[i]
				moved, along = moved+by*by, along+by*known.miss[i]
			}
		}
		w.share = 1
		if moved > 0 {
			if w.share = -known.share * along / moved; w.share <= 0 {
				w.share = known.share / 2
			}
			w.share = max(least, min(1, w.share))
		}
	}
	kinds := map[int][]lifted{}
	for i, x := range classes {
		if x.mass <= 0 {
			continue
		}
		of[i] -= (1 - w.share) * w.miss[i]
		kinds[x.kind] = append(kinds[x.kind], lifted{math.Log(x.mass), of[i] / warmedBy(x.mass, lossOf*area(x.kind)/l.cp)})
	}
	branches, through := 0.0, 0.0
	for _, x := range classes {
		branches, through = branches+x.count, through+x.count*x.mass
	}
	w.of.At = through / branches
	w.of.Of = func(kind int, m float64) float64 {
		points := kinds[kind]
		if len(points) == 0 {
			return 0
		}
		m = max(m, math.Exp(points[0].flow)/1000)
		return between(points, math.Log(m))*warmedBy(m, lossOf*area(kind)/l.cp) - mean
	}
	return w
}

// lifted is the lift of a class over its share of a branch without flow, Pa, at the logarithm of its flow in kg/s.
type lifted struct{ flow, lift float64 }

// between reads points that rise by their flow; beyond the ends the last one holds, and without any there is nothing.
func between(points []lifted, flow float64) float64 {
	for i := 1; i < len(points); i++ {
		if a, b := points[i-1], points[i]; flow < b.flow {
			if flow <= a.flow || b.flow-a.flow < 1e-6 {
				return a.lift
			}
			return a.lift + (b.lift-a.lift)*(flow-a.flow)/(b.flow-a.flow)
		}
	}
	if len(points) == 0 {
		return 0
	}
	return points[len(points)-1].lift
}

// warmedBy is the mean warming of a stream of m kg/s, over that of air at rest, past a surface whose loss times area over the
// specific heat is a, kg/s: of an exponential that nears its end.
func warmedBy(m, a float64) float64 {
	x := a / m
	if x < 1e-6 {
		return x / 2
	}
	return 1 - (1-math.Exp(-x))/x
}

// cells implements [branching].
func (r *row) cells() int { return r.kinds[0].cells() }

// parts implements [branching]: those of each class of branches of a kind.
func (r *row) parts() (out []part) {
	for k, x := range r.kinds {
		own := x.parts()
		n := classesOf(int(r.counts[k]))
		for range n {
			for _, p := range own {
				out = append(out, part{p.of, p.share * r.counts[k] / float64(n) * x.Aperture() / r.area})
			}
		}
	}
	return out
}

func (r *row) aperture() float64           { return r.area }
func (r *row) first() *Description         { return r.kinds[0] }
func (r *row) branch(kind int) float64     { return r.kinds[kind].Aperture() }
func (r *row) inner(kind int) *Description { return r.kinds[kind] }
func (r *row) sideBySide() float64         { return float64(len(r.manifold.Order)) }
func (r *row) within(w *warmth) warmth     { return w.in(0) }

// lit is the mean of the boxes' by their area.
func (r *row) lit(c Conditions, t Tuning) (absorbed []float64, reflected, edge float64) {
	for k, x := range r.kinds {
		w := r.counts[k] * x.Aperture() / r.area
		a, back, lost := x.lit(c, t)
		if absorbed == nil {
			absorbed = make([]float64, len(a))
		}
		for i := range a {
			absorbed[i] += w * a[i]
		}
		reflected, edge = reflected+w*back, edge+w*lost
	}
	return absorbed, reflected, edge
}

// told implements [branching].
func (r *row) told(p *pass, of *Result, st *network.State, net AirNet) (out []Branch) {
	d, n, c := p.d, p.n, of.Conditions
	m := d.Passages.Elements[0].(airflow.Manifold)
	flows := Flow{Mass: of.Mass, Mean: (c.Inlet + of.Outlet) / 2, P: c.pressure(), Warmth: p.warmth, start: p.start}.split(m)
	// The outlet of each class by its flow.
	kinds := map[int][]lifted{}
	for _, x := range net.Classes {
		mass, heat := 0.0, 0.0
		for _, f := range n.Outlet {
			if slices.Contains(x.parts, f.At/d.cells()) {
				mass, heat = mass+f.Mass, heat+f.Mass*n.Source(st, f, 0)
			}
		}
		if mass > 0 {
			kinds[x.kind] = append(kinds[x.kind], lifted{math.Log(x.mass), heat / mass})
		}
	}
	for i, x := range flows {
		k := m.Order[i]
		if len(kinds[k]) == 0 { // no air passes any of its kind
			kinds[k] = []lifted{{0, c.Inlet}}
		}
		b := Branch{Kind: k, Mass: x, Share: x / of.Mass / r.share[i], Outlet: between(kinds[k], math.Log(max(x, 1e-12)))}
		if m.Extra != nil && m.Extra[i] > 0 {
			b.Orifice = math.Round(1000*airflow.OrificeBore(m.Extra[i], m.Stub)) / 1000
		}
		out = append(out, b)
	}
	return out
}

// Evenness of a row is the least of its branches' shares; 1 for one box.
// It is never above 1, and 1 without branches.
func Evenness(bs []Branch) float64 {
	least := 1.0
	for _, b := range bs {
		least = min(least, b.Share)
	}
	return least
}

// inTurn is elements that the same air passes one after the other.
type inTurn []airflow.Element

// Loss implements [airflow.Element].
func (es inTurn) Loss(m, t, p float64) (dp float64) {
	for _, e := range es {
		dp += e.Loss(m, t, p)
	}
	return dp
}

// lay puts the air and the links of a box, or of each part of it, into a
// network.
func (d *Description) lay(n *network.Network, c Conditions, t Tuning, net AirNet) {
	n.Links, n.Parts = nil, nil
	parts := d.parts()
	leaves := net.leaves()
	if len(parts) == 1 {
		n.Links = d.links(c, t, sweptBy(leaves[0].Airs, len(d.Sheets)))
	} else {
		each := d.cells()
		known := map[*Description][]network.Link{}
		for i, p := range parts {
			if known[p.of] == nil {
				var airs []network.Air
				if i < len(leaves) {
					airs = leaves[i].Airs
				}
				known[p.of] = p.of.links(c, t, sweptBy(airs, len(d.Sheets)))
			}
			n.Parts = append(n.Parts, network.Part{First: i * each, Segments: each, Links: known[p.of]})
		}
	}
	move(n, net)
}

// move gives a network another flow of air.
func move(n *network.Network, net AirNet) {
	n.Airs, n.Outlet, n.LeakOut = net.Airs, net.Outlet, net.LeakOut
	for i := range n.Parts {
		n.Parts[i].Airs = nil
		if i < len(net.Parts) {
			n.Parts[i].Airs = net.Parts[i].Airs
		}
	}
}

// manifolded is a manifold in a rating, with the lifts of its branches as the last balance has them.
type manifolded struct {
	airflow.Manifold
	warmth *warmth
}

// Loss implements [airflow.Element].
func (m manifolded) Loss(mass, t, p float64) float64 {
	_, dp := m.Split(mass, t, p, m.warmth.of, m.warmth.start)
	return dp
}

// nearby is an element whose loss takes long to find, for a search of one flow:
// by the power of the flow between two flows near the last one asked for, right
// to a hundredth of a per cent.
type nearby struct {
	of airflow.Element
	// m, t and p are the flow, temperature and pressure that it was found at.
	m, t, p float64
	// loss is in Pa there; power is the exponent by which it moves with the
	// flow.
	loss, power float64
}

// Around its flow and temperature a power law holds.
const (
	nearFlow = 0.10
	nearTemp = 1.0 // K
)

// Loss implements [airflow.Element].
func (n *nearby) Loss(m, t, p float64) float64 {
	if m <= 0 {
		return n.of.Loss(m, t, p)
	}
	if n.loss <= 0 || math.Abs(m-n.m) > nearFlow*n.m || math.Abs(t-n.t) > nearTemp || p != n.p {
		far := math.Abs(m-n.m) > nearFlow*n.m
		n.m, n.t, n.p, n.loss = m, t, p, n.of.Loss(m, t, p)
		if far || !(n.power > 0) { // a little warmth moves the loss and hardly how it grows
			n.power = math.Log(n.of.Loss(m*(1+nearFlow), t, p)/n.loss) / math.Log(1+nearFlow)
		}
	}
	return n.loss * math.Pow(m/n.m, n.power) * (t + air.Kelvin) / (n.t + air.Kelvin) // thinner air, the same mass
}
