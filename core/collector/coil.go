package collector

import (
	"math"

	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/design"
)

func init() {
	makers[design.RibbedCoil] = (*maker).coil
}

// coil is a ribbed hose that goes to and fro across the box over a dark back;
// its runs share the air by so many ways.
func (k *maker) coil() (Passages, error) {
	a := k.h.Absorber.Coil
	metal, err := catalog.FindSheet("aluminium")
	if err != nil {
		return Passages{}, err
	}
	const foil = 0.0001 // wall of ribbed duct, m: common practice, no source
	layers, joins, walls, dh, area := k.tubes(tubes{name: "coil", wide: a.Bore, deep: a.Bore, round: true, count: float64(a.Runs),
		metal: metal, wall: foil, inside: metal.Emittance})
	for i := range walls { // slack leaves more foil in the ribs
		walls[i].surface /= a.Stretch
	}
	runs := float64(a.Runs) / float64(a.Ways)
	p := passage{name: "in the coil", dh: dh, depth: dh, area: area * float64(a.Ways), length: k.l * runs, rough: a.Rib,
		fittings: lossInto + lossRibbed*(runs-1), walls: walls, fluctuate: sigmaRibs}
	out := k.made(layers, [][]passage{{p}}, joins)
	if rest := a.Runs % a.Ways; rest > 0 { // some coils are a run longer than others
		long, short := p, p
		long.area, short.area = area, area
		long.length, short.length = k.l*math.Ceil(runs), k.l*math.Floor(runs)
		long.fittings, short.fittings = lossInto+lossRibbed*(math.Ceil(runs)-1), lossInto+lossRibbed*max(0, math.Floor(runs)-1)
		ways := airflow.Parallel{long.element(), short.element()}
		out.Evenness = func(f Flow) float64 {
			// The two kinds at one pressure, by the mean of a pair.
			s := ways.Split(2*f.Mass/float64(a.Ways), f.Mean, f.P)
			mean := (float64(rest)*s[0] + float64(a.Ways-rest)*s[1]) / float64(a.Ways)
			return s[0] / mean
		}
	}
	return out, nil
}
