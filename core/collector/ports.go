package collector

import (
	"math"

	"gladember/core/airflow"
	"gladember/core/design"
	"gladember/core/heattransfer"
)

// fold is how a passage of this box is folded, see passage.
//
// Where inlet and outlet lie changes the way of the air. At opposite corners all
// ways through a slot are equally long, and headers feed their tubes from one end
// and gather at the other. With the outlet straight above the inlet the far side
// has the longer way and gets less air. With both at one end a divider folds the
// way: along one half and back along the other, twice as long and twice as fast.
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
	from := min(design.PortMargin+k.h.PortBore()/2, k.w/2) // of the ports from the side
	strips := stripped(k.w, from, stripsAcross, one)
	out.Elements = []airflow.Element{strips}
	out.Strips = func(f Flow) []float64 { return f.start.in(strips).(airflow.Parallel).Split(f.Mass, f.Mean, f.P) }
	out.Evenness = func(f Flow) float64 { return airflow.Evenness(out.Strips(f)) }
}

// headed is a passage of n parallel tubes between two headers of a height and a depth, m, as the ports lie: how unevenly the headers feed
// the tubes is in the heat, and what the air loses in them in the pressure. The air enters the first header from a space at rest,
// so that its speed there is to be won. What the air passes before, if anything, is as wide as the box and feeds all tubes alike.
func (k *maker) headed(layers []Layer, before [][]passage, p passage, joins []Join, n int, height, depth float64) Passages {
	if fold := k.fold(); fold != 0 { // half of the tubes up, half down; each half is fed at one end and gathered at the other
		p.area, p.length, p.fittings, p.fold = p.area/2, 2*p.length, 2*p.fittings+lossTurn, fold
		n /= 2
	}
	out := k.made(layers, append(before, []passage{p}), joins)
	tube := p
	tube.area /= float64(n)
	m := airflow.Manifold{Kinds: []airflow.Element{tube.element()}, Order: make([]int, n), OtherSide: !k.h.OneAbove(), Wide: before != nil,
		Entry: 1,
		Duct: airflow.Duct{Diameter: 2 * height * depth / (height + depth), Area: height * depth, Length: k.w / float64(n),
			Roughness: headerRoughness, Section: heattransfer.Rectangle(height, depth)}}
	out.Elements, out.shared = append(out.Elements[:len(before)], m), len(before)
	if n < 2 {
		return out
	}
	out.tubes = true
	out.Strips = func(f Flow) []float64 { return f.split(m) }
	out.Evenness = func(f Flow) float64 { return airflow.Evenness(out.Strips(f)) }
	return out
}
