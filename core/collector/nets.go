package collector

import (
	"slices"

	"gladember/core/network"
)

// leaves are the parts of a net; a net without any is its own.
func (n *AirNet) leaves() []AirNet {
	if n.Parts != nil {
		return n.Parts
	}
	return []AirNet{{Airs: n.Airs}}
}

// size is how many segments a net has.
func (n *AirNet) size() (size int) {
	for _, p := range n.leaves() {
		size += len(p.Airs[0].Feeds)
	}
	return size
}

// shifted counts the segments of feeds from another first one.
func shifted(fs []network.Feed, by int) (out []network.Feed) {
	for _, f := range fs {
		f.At += by
		out = append(out, f)
	}
	return out
}

// fed takes from an outlet what feeds take at the inlet; the outlet's segments are counted from the feeds' own first one.
func fed(fs, outlet []network.Feed) (out []network.Feed) {
	total := 0.0
	for _, o := range outlet {
		total += o.Mass
	}
	for _, f := range fs {
		if f.From != network.FromInlet {
			out = append(out, f)
			continue
		}
		for _, o := range outlet {
			out = append(out, network.Feed{From: o.From, At: o.At, Mass: f.Mass * o.Mass / total})
		}
	}
	return out
}

// times multiplies every stream of a net: the streams of one box become those of so many, and temperatures stay.
func times(n AirNet, by float64) AirNet {
	scale := func(fs []network.Feed) {
		for i := range fs {
			fs[i].Mass *= by
		}
	}
	for _, p := range n.leaves() {
		for _, a := range p.Airs {
			for _, fs := range a.Feeds {
				scale(fs)
			}
		}
	}
	scale(n.Outlet)
	scale(n.LeakOut)
	for i, fs := range n.Along {
		scale(fs)
		n.Bore[i] *= by
	}
	return n
}

// beside puts nets side by side: what they take in and give is mixed, step by step.
func beside(nets []AirNet) (out AirNet) {
	first := 0
	for k := range nets {
		n := &nets[k]
		out.Parts = append(out.Parts, n.leaves()...)
		out.Outlet, out.LeakOut = append(out.Outlet, shifted(n.Outlet, first)...), append(out.LeakOut, shifted(n.LeakOut, first)...)
		for i, fs := range n.Along {
			if i == len(out.Along) {
				out.Along, out.Bore, out.Climb = append(out.Along, nil), append(out.Bore, 0), append(out.Climb, n.Climb[i])
			}
			out.Along[i], out.Bore[i] = append(out.Along[i], shifted(fs, first)...), out.Bore[i]+n.Bore[i]
		}
		first += n.size()
	}
	return out
}

// follow lets each net take the outlet of the one before it.
func follow(nets []AirNet) (out AirNet) {
	first := 0
	for k := range nets {
		n, before := &nets[k], out.Outlet
		at := first
		for _, p := range n.leaves() {
			if k > 0 {
				for a := range p.Airs {
					for i, fs := range p.Airs[a].Feeds {
						p.Airs[a].Feeds[i] = fed(fs, shifted(before, -at))
					}
				}
			}
			out.Parts = append(out.Parts, p)
			at += len(p.Airs[0].Feeds)
		}
		move := func(fs []network.Feed) []network.Feed {
			if k == 0 {
				return fs
			}
			return fed(shifted(fs, first), before)
		}
		for _, fs := range n.Along {
			out.Along = append(out.Along, move(fs))
		}
		out.Climb, out.Bore = append(out.Climb, n.Climb...), append(out.Bore, n.Bore...)
		out.Branched, out.Inner = append(out.Branched, n.Branched...), append(out.Inner, n.Inner...)
		out.LeakOut = append(out.LeakOut, move(n.LeakOut)...)
		out.Outlet, out.Flows = move(n.Outlet), n.Flows
		for i, c := range n.Classes { // the same class of each box: its lift is that of all its parts in the mean
			if k == 0 {
				out.Classes = append(out.Classes, c)
				continue
			}
			for _, p := range c.parts {
				out.Classes[i].parts = append(slices.Clip(out.Classes[i].parts), len(out.Parts)-len(n.leaves())+p)
			}
		}
		first = at
	}
	return out
}

// joined lets two nets with the same air nodes follow each other within a part: the ways of a fold, of which the first ends
// beside the segment where the second begins.
func joined(a, b AirNet) AirNet {
	n := a.size()
	out := AirNet{Climb: slices.Concat(a.Climb, b.Climb), Bore: slices.Concat(a.Bore, b.Bore)}
	move := func(fs []network.Feed) []network.Feed { return fed(shifted(fs, n), a.Outlet) }
	for ai, x := range a.Airs {
		y := b.Airs[ai]
		j := network.Air{Name: x.Name, Touches: x.Touches, Feeds: slices.Clone(x.Feeds), Scale: slices.Concat(x.Scale, y.Scale)}
		for _, fs := range y.Feeds {
			j.Feeds = append(j.Feeds, move(fs))
		}
		for pi, p := range x.Pairs {
			j.Pairs = append(j.Pairs, network.Pair{A: p.A, B: p.B, G: func(i int, ta, tb float64) float64 {
				if i < n {
					return p.G(i, ta, tb)
				}
				return y.Pairs[pi].G(i-n, ta, tb)
			}})
		}
		out.Airs = append(out.Airs, j)
	}
	out.Along = slices.Clone(a.Along)
	for _, fs := range b.Along {
		out.Along = append(out.Along, move(fs))
	}
	out.LeakOut, out.Outlet = append(a.LeakOut, move(b.LeakOut)...), move(b.Outlet)
	return out
}

// reversed runs a net backwards: what was the outlet takes air in. Leaks are left out.
// It is what the air does in a box that cools by night: down where it went up.
func reversed(n AirNet) AirNet {
	leaves := n.leaves()
	parts := make([]AirNet, len(leaves))
	type place struct{ part, at int }
	var places []place // by segment over all parts
	firsts := make([]int, len(leaves))
	for k, p := range leaves {
		firsts[k] = len(places)
		for _, a := range p.Airs {
			parts[k].Airs = append(parts[k].Airs, network.Air{Name: a.Name, Touches: a.Touches, Pairs: a.Pairs, Scale: a.Scale,
				Feeds: make([][]network.Feed, len(a.Feeds))})
		}
		for i := range p.Airs[0].Feeds {
			places = append(places, place{k, i})
		}
	}
	r := AirNet{Classes: n.Classes, Flows: n.Flows, Branched: slices.Clone(n.Branched), Inner: slices.Clone(n.Inner)}
	slices.Reverse(r.Branched)
	slices.Reverse(r.Inner)
	for k, p := range leaves {
		for a := range p.Airs {
			for i, fs := range p.Airs[a].Feeds {
				for _, f := range fs {
					switch {
					case f.From == network.FromInlet:
						r.Outlet = append(r.Outlet, network.Feed{From: a, At: firsts[k] + i, Mass: f.Mass})
					case f.From >= 0:
						to := places[firsts[k]+f.At]
						feeds := parts[to.part].Airs[f.From].Feeds
						feeds[to.at] = append(feeds[to.at], network.Feed{From: a, At: firsts[k] + i - firsts[to.part], Mass: f.Mass})
					}
				}
			}
		}
	}
	for _, f := range n.Outlet {
		to := places[f.At]
		feeds := parts[to.part].Airs[f.From].Feeds
		feeds[to.at] = append(feeds[to.at], network.Feed{From: network.FromInlet, Mass: f.Mass})
	}
	for i := len(n.Along) - 1; i >= 0; i-- {
		r.Along, r.Climb, r.Bore = append(r.Along, n.Along[i]), append(r.Climb, -n.Climb[i]), append(r.Bore, n.Bore[i])
	}
	if n.Parts == nil {
		r.Airs = parts[0].Airs
		return r
	}
	r.Parts = parts
	return r
}

// AirNet is the air side of a box for one flow.
type AirNet struct {
	// Airs are the nodes; the feeds of each say where its air comes from.
	Airs []network.Air
	// Outlet is what leaves for the room.
	Outlet []network.Feed
	// LeakOut is what leaves through the seams.
	LeakOut []network.Feed
	// Along is the air on its way from inlet to outlet, by mass: one mix for
	// each step.
	Along [][]network.Feed
	// Climb is how far each step of Along climbs, as a share of the box's
	// height.
	Climb []float64
	// Bore is the cross section of each step, m2; zero where its speeding up is
	// not counted.
	Bore []float64
	// Parts are the nets of tubes, strips and boxes, side by side or one after the other, each in segments of its own; then Airs
	// is empty, and Along, Outlet and LeakOut count segments over all of them, as do the feeds of a part from its first on.
	Parts []AirNet
	// Classes are the branches between two headers that are taken as alike. Branched says which steps of Along are in them, and
	// Inner which are in the tubes between headers of their own.
	Classes         []class
	Branched, Inner []bool
	// Flows are those of the branches, kg/s.
	Flows []float64
}

// still says whether no air moves.
func (n *AirNet) still() bool { return len(n.Airs) == 0 && len(n.Parts) == 0 }
