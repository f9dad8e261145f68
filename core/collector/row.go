package collector

import (
	"math"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/design"
	"gladember/core/network"
)

// row is boxes side by side between two headers. Branches of one kind get
// unlike flows where the headers do not share out evenly; the balance takes two
// of each kind, at the mean flow less and more one standard deviation, each for
// half of them: heat is a smooth function of the flow, so that these two give
// its mean to the third order (exactly for two branches).
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
	// strips, if not nil, says that this is no row but one box, whose air does not
	// spread evenly over its width; see [Passages].
	strips func(m, t, p float64) []float64
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
	// Outlet is in C, on the straight line between the two branches of its kind
	// that are balanced.
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
// Each kind is balanced as two classes of branches, with as much more and less
// air than the mean as the standard deviation of their flows; the others lie on
// a line between.
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
	d.Passages = r.passages(h, r.kinds)
	d.anew = nil
	if first.anew != nil {
		d.anew = func(t Tuning) (Passages, error) {
			fresh := make([]*Description, len(r.kinds))
			for k, x := range r.kinds {
				var err error
				if fresh[k], err = x.renewed(t); err != nil {
					return Passages{}, err
				}
			}
			return r.passages(h, fresh), nil
		}
	}
	return d, nil
}

// headerRoughness is that of sheet duct with its joints, m.
const headerRoughness = 0.15e-3

// passages are those of a row whose kinds have the descriptions given.
func (r *row) passages(h *design.Heater, kinds []*Description) Passages {
	p := kinds[0].Passages
	m := r.manifold
	m.Kinds = nil
	for _, x := range kinds {
		stub := airflow.Duct{Diameter: h.PortBore(), Area: m.Stub, Length: branchRun, Roughness: headerRoughness, Fittings: stubLoss}
		m.Kinds = append(m.Kinds, inTurn(append([]airflow.Element{stub}, x.Passages.Elements...)))
	}
	if h.Array.Balance == "orifices" && r.manifold.Extra == nil {
		m.Extra = m.Balance(usualFlow*r.area, h.Room.Air+15, usualPressure, r.share)
		for i, k := range m.Extra { // holes are drilled to the millimeter
			if k > 0 {
				bore := math.Round(1000*airflow.OrificeBore(k, m.Stub)) / 1000
				open := bore * bore / (4 * m.Stub / math.Pi)
				m.Extra[i] = airflow.OrificeLoss(math.Min(0.999, open)) / open / open
			}
		}
		r.manifold.Extra = m.Extra
	}
	p.Elements = []airflow.Element{m}
	r.shareOut(&p, kinds, func(f Flow) []float64 {
		flows, _ := m.Split(f.Mass, f.Mean, f.P)
		return flows
	})
	return p
}

// inStrips turns a box whose air does not spread evenly over its width into two
// parts of it, as the branches of a row are taken: one with more air than the
// mean and one with less, by the standard deviation of the strips' flows. What
// passes between strips sideways is left out.
func (d Description) inStrips() Description {
	even := d
	r := &row{kinds: []*Description{&even}, counts: []float64{1}, area: d.Aperture(), strips: d.Passages.Strips}
	d.row = r
	made := func(of *Description) Passages {
		p := of.Passages
		strips := p.Strips
		r.shareOut(&p, []*Description{of}, func(f Flow) []float64 {
			flows := strips(f.Mass, f.Mean, f.P)
			for i := range flows {
				flows[i] *= f.Mass
			}
			return flows
		})
		return p
	}
	d.Passages = made(&even)
	if d.anew = nil; even.anew != nil {
		d.anew = func(t Tuning) (Passages, error) {
			fresh, err := even.renewed(t)
			if err != nil {
				return Passages{}, err
			}
			return made(fresh), nil
		}
	}
	return d
}

// shareOut makes the passages of kinds into those of the row, by what flow each
// branch gets.
func (r *row) shareOut(p *Passages, kinds []*Description, split func(Flow) []float64) {
	p.Spread = nil
	p.Air = func(f Flow) AirNet {
		flows := split(f)
		total := 0.0
		for _, x := range flows {
			total += x
		}
		var nets []AirNet
		for k, c := range r.classes(flows) {
			x := kinds[k/2]
			one, share := f, c.mass/total/c.count
			// Leaks go with the flow, so that a branch that gets little does
			// not run dry.
			one.Mass, one.LeakIn, one.LeakOut = f.Mass*share, f.LeakIn*share, f.LeakOut*share
			one.Segments, one.Height = f.Segments/(2*len(kinds)), x.Height
			nets = append(nets, times(x.Passages.Air(one), c.count))
		}
		return beside(nets)
	}
}

// usualPressure is that at which orifices are found, Pa.
const usualPressure = 101325

// class is branches of a kind that the balance takes as alike: how many they
// are, and the flow of all of them, kg/s.
type class struct{ count, mass float64 }

// classes are two of each kind, see [row].
func (r *row) classes(flows []float64) (out []class) {
	if r.strips != nil { // two halves of one box
		total, square, n := 0.0, 0.0, float64(len(flows))
		for _, x := range flows {
			total, square = total+x, square+x*x
		}
		off := math.Min(0.98*total/n, math.Sqrt(math.Max(0, square/n-total*total/n/n)))
		return []class{{0.5, (total + off*n) / 2}, {0.5, (total - off*n) / 2}}
	}
	for k, n := range r.counts {
		mean, square := 0.0, 0.0
		for i, x := range flows {
			if r.manifold.Order[i] == k {
				mean, square = mean+x/n, square+x*x/n
			}
		}
		off := math.Min(0.98*mean, math.Sqrt(math.Max(0, square-mean*mean)))
		out = append(out, class{n / 2, (mean + off) * n / 2}, class{n / 2, (mean - off) * n / 2})
	}
	return out
}

// spread is each segment's share of the area, with so many in a branch.
func (r *row) spread(each int) (shares []float64) {
	for k, x := range r.kinds {
		cut := *x
		cut.Cells = each / x.inSeries()
		own := cut.spread()
		for range 2 {
			for i := range each {
				s := 1 / float64(each)
				if own != nil {
					s = own[i]
				}
				shares = append(shares, s*r.counts[k]/2*x.Aperture()/r.area)
			}
		}
	}
	return shares
}

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

// branches tells the ways of a solved row apart.
func (r *row) branches(d *Description, of *Result, n *network.Network, st *network.State, net AirNet) (out []Branch) {
	m := d.Passages.Elements[0].(airflow.Manifold)
	c := of.Conditions
	p := c.Pressure
	if p <= 0 {
		p = usualPressure
	}
	flows, _ := m.Split(of.Mass, (c.Inlet+of.Outlet)/2, p)
	classes := r.classes(flows)
	outlet := func(class int) float64 {
		mass, heat := 0.0, 0.0
		for _, f := range net.Beside[class].Outlet {
			mass, heat = mass+f.Mass, heat+f.Mass*n.Source(st, f, class*d.boxSegments())
		}
		return heat / mass
	}
	for i, x := range flows {
		k := m.Order[i]
		b := Branch{Kind: k, Mass: x, Share: x / of.Mass / r.share[i]}
		if m.Extra != nil && m.Extra[i] > 0 {
			b.Orifice = math.Round(1000*airflow.OrificeBore(m.Extra[i], m.Stub)) / 1000
		}
		hi, lo := classes[2*k], classes[2*k+1]
		a, z := outlet(2*k), outlet(2*k+1)
		b.Outlet = (a + z) / 2
		if over := (hi.mass - lo.mass) / hi.count; over > 1e-9*x {
			b.Outlet = z + (a-z)*(x-lo.mass/lo.count)/over
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
		least = math.Min(least, b.Share)
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

// beside puts the nets of boxes side by side, each in segments of its own.
func beside(nets []AirNet) AirNet {
	out := AirNet{Beside: nets, Along: nets[0].Along, Climb: nets[0].Climb, Bore: nets[0].Bore}
	first := 0
	for _, n := range nets {
		out.Outlet, out.LeakOut = append(out.Outlet, shifted(n.Outlet, first)...), append(out.LeakOut, shifted(n.LeakOut, first)...)
		first += len(n.Airs[0].Feeds)
	}
	return out
}

// shifted counts the segments of feeds from another first one.
func shifted(fs []network.Feed, first int) (out []network.Feed) {
	for _, f := range fs {
		f.At += first
		out = append(out, f)
	}
	return out
}

// lay puts the air and the links of a box, or of each box of a row, into a
// network.
func (d *Description) lay(n *network.Network, c Conditions, t Tuning, net AirNet) {
	n.Links, n.Parts = nil, nil
	if d.row == nil {
		n.Links = d.links(c, t, sweptBy(net.Airs, len(d.Sheets)))
	} else {
		each := d.boxSegments()
		for i := range 2 * len(d.row.kinds) {
			var airs []network.Air
			if i < len(net.Beside) {
				airs = net.Beside[i].Airs
			}
			n.Parts = append(n.Parts, network.Part{First: i * each, Segments: each, Links: d.row.kinds[i/2].links(c, t,
				sweptBy(airs, len(d.Sheets)))})
		}
	}
	move(n, net)
}

// move gives a network another flow of air.
func move(n *network.Network, net AirNet) {
	n.Airs, n.Outlet, n.LeakOut = net.Airs, net.Outlet, net.LeakOut
	for i := range n.Parts {
		n.Parts[i].Airs = nil
		if i < len(net.Beside) {
			n.Parts[i].Airs = net.Beside[i].Airs
		}
	}
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
		n.m, n.t, n.p, n.loss = m, t, p, n.of.Loss(m, t, p)
		n.power = math.Log(n.of.Loss(m*(1+nearFlow), t, p)/n.loss) / math.Log(1+nearFlow)
	}
	return n.loss * math.Pow(m/n.m, n.power) * (t + air.Kelvin) / (n.t + air.Kelvin) // thinner air, the same mass
}
