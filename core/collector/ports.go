package collector

import (
	"math"

	"gladember/core/airflow"
	"gladember/core/design"
	"gladember/core/heattransfer"
)

// Where inlet and outlet lie changes the way of the air. At opposite corners all
// ways through a slot are equally long, and headers feed their tubes from one end
// and gather at the other. With the outlet straight above the inlet the far side
// has the longer way and gets less air. With both at one end a divider folds the
// way: along one half and back along the other, twice as long and twice as fast.

// fold is how a passage of this box is folded, see passage.
func (k *maker) fold() float64 {
	switch folded, fromTop := k.h.Folded(); {
	case folded && fromTop:
		return -1
	case folded:
		return 1
	}
	return 0
}

// folded is a slot of a depth, m, whose air goes up one half of the box and down
// the other, if the ports of the box ask for it. Heat that crosses the divider is
// left out.
func (k *maker) folded(p passage, depth float64) passage {
	fold := k.fold()
	if fold == 0 {
		return p
	}
	half := k.w / 2
	p.area, p.dh, p.length, p.fold = depth*half, 2*depth*half/(depth+half), 2*k.l, fold
	p.section = heattransfer.Rectangle(half, depth)
	p.fittings += k.turn()
	return p
}

// turn is the loss coefficient of a turn by 180 degrees in this box's plate channel.
func (k *maker) turn() float64 {
	if p := k.h.Absorber.Plate; p != nil && p.Vanes {
		return lossVaned
	}
	return lossTurn
}

// stripsAcross is how many equal strips a slot is cut into to see how the air
// spreads. A finer cut changes the standard deviation by less than a hundredth.
const stripsAcross = 16

// stripped cuts a box w m wide into n equal strips: one makes the ith of them from
// how far it lies from the ports across the box, which are so far from the side, m.
func stripped(w, from float64, n int, one func(i int, across float64) airflow.Element) (out airflow.Parallel) {
	for i := range n {
		out = append(out, one(i, math.Abs((float64(i)+0.5)/float64(n)*w-from)))
	}
	return out
}

// strip makes the strips of a slot, each as long as the way from the inlet across to
// the strip, along it and back.
func (p passage) strip(n int) func(i int, across float64) airflow.Element {
	return func(_ int, across float64) airflow.Element {
		one := p
		one.area, one.length = p.area/float64(n), p.length+2*across
		return one.element()
	}
}

// onOneSide spreads the air by the length of each strip's way from the inlet to the
// outlet straight above it: across to the strip, up, and back. All ways have the same
// loss of pressure.
func (k *maker) onOneSide(out *Passages, one func(i int, across float64) airflow.Element) {
	from := math.Min(design.PortMargin+k.h.PortBore()/2, k.w/2) // of the ports from the side
	strips := stripped(k.w, from, stripsAcross, one)
	out.Elements = []airflow.Element{strips}
	out.Strips = func(m, t, pressure float64) []float64 {
		flows := strips.Split(m, t, pressure)
		for i := range flows {
			flows[i] /= m
		}
		return flows
	}
	out.Evenness = func(m, t, pressure float64) float64 {
		least := math.Inf(1)
		for _, s := range out.Strips(m, t, pressure) {
			least = math.Min(least, s*stripsAcross)
		}
		return least
	}
}

// headed is a passage of parallel tubes between two headers, as the ports lie.
// How unevenly the headers feed the tubes is told by [Result].Evenness and is not
// in the heat.
func (k *maker) headed(layers []Layer, p passage, joins []Join, head *airflow.Header) Passages {
	switch fold := k.fold(); {
	case fold != 0: // half of the tubes up, half down; each half is fed at one end and gathered at the other
		p.area, p.length, p.fittings, p.fold = p.area/2, 2*p.length, 2*p.fittings+lossTurn, fold
		head.Branches /= 2
	case k.h.OneAbove():
		head.OtherSide = false
	}
	out := k.made(layers, [][]passage{{p}}, joins)
	out.Header = head
	return out
}
