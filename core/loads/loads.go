// Package loads estimates what wind and snow do to a box on its fixings, and how many screws
// or bolts hold it, so that a builder sees what is asked of a cleat. It replaces no engineer:
// [Fixing.Engineer] says when one is due.
//
// # Wind
//
// The velocity pressure of a gust is rho v^2 / 2, with 1.25 kg/m3 (EN 1991-1-4, 4.5). It is
// 0.613 v^2 in ASCE 7, equation 26.10-1, at sea level and with all factors 1; the larger is
// taken. The gust is the builder's own or a usual one ([design.Site]); where it blows against
// a height above the ground other than 10 m it grows as the power law of open country with
// exponent 0.11 for gusts, and is not taken below that at 5 m (common practice after ASCE 7
// exposure C, recalled from memory). A flat box close to a wall or a roof is pulled off by up
// to 1.4 times that pressure near edges and corners (EN 1991-1-4 table 7.1, zone A, for
// areas of 1 m2 and more -1.2 to -1.4, recalled from memory); one that stands free takes 1.8
// times it with either sign (table 7.6 to 7.8, canopies and signboards, recalled from
// memory).
//
// # Snow
//
// The load on a slope is the shape coefficient mu1 of EN 1991-1-3 table 5.2 times the load on
// the ground: 0.8 up to 30 degrees, falling straight to 0 at 60. The load on the ground differs from valley to valley and follows
// from no formula: it is the builder's own, from the local code, or is not computed ([Fixing.Ask]).
//
// # Screws
//
// A structural screw or lag bolt in softwood holds against withdrawal per length of thread;
// the value is divided by a factor of safety ([Withdrawal]). Cleats carry the box's weight
// and snow in shear. Both are checked, and the greater number of fixings is told.
package loads

import (
	"math"

	"gladember/core/design"
	"gladember/core/units"
)

// airDensity is that of EN 1991-1-4, 4.5, kg/m3.
const airDensity = 1.25

// Coefficients of net pressure on a box close to a surface and on one that stands free.
const (
	closeTo = 1.4
	free    = 1.8
)

// gustPower is the exponent by which a gust grows with height, refHeight the height that the
// gust is given for, and lowest the least height that is reckoned with, m.
const (
	gustPower = 0.11
	refHeight = 10.0
	lowest    = 5.0
)

// Pressure is the velocity pressure of a gust, m/s, at a height, m; Pa.
func Pressure(gust, height float64) float64 {
	v := gust * math.Pow(max(lowest, height)/refHeight, gustPower)
	return airDensity / 2 * v * v
}

// Shape is mu1 of EN 1991-1-3 table 5.2: the load on a slope of so many degrees over that on
// the ground.
func Shape(tilt float64) float64 { return 0.8 * max(0, min(1, (60-tilt)/30)) }

// Withdrawal and Shear are what one structural screw of 8 mm bears in softwood with 60 mm of
// thread in the stud, N, with a factor of safety of 2.5 on the characteristic value.
// Withdrawal: EN 1995-1-1, 8.7.2, f_ax = 0.52 d^-0.5 l^-0.1 rho^0.8 in N/mm2 with d 8 mm, l 60
// mm and rho 350 kg/m3, times d l. Shear: common practice for such a screw in a 30 mm cleat,
// no source.
var (
	Withdrawal = 0.52 * math.Pow(8, -0.5) * math.Pow(60, -0.1) * math.Pow(350, 0.8) * 8 * 60 / safety
	Shear      = 2000 / safety
)

const safety = 2.5

// Fixing is what holds a box.
type Fixing struct {
	// Wind is the greatest pull of the wind, Snow the load of snow and Weight that of the
	// box, N, on one box.
	Wind, Snow, Weight float64
	// Pull is what draws at the screws, and Push what shears them, N.
	Pull, Push float64
	// Screws is how many structural screws hold both.
	Screws int
	// Engineer says why an engineer is due; empty where none is.
	Engineer []units.Text
	// Ask says what must be asked for before the load of snow can be computed; empty where it is known, or cannot lie.
	Ask units.Text
}

// From these an engineer is due, whatever the sums say. Common practice, no source.
const (
	highUp   = 6.0  // m above the ground
	large    = 4.0  // m2 of box
	stormy   = 55.0 // m/s of gust
	snowy    = 5000 // Pa of snow on the ground
	overRoof = 50.0 // degrees of tilt up to which a box lies on a roof
	manyRows = 2
)

// Estimate is what holds one box of a mass, kg, of a heater.
func Estimate(h *design.Heater, mass float64) (f Fixing) {
	area := h.OuterWidth() * h.OuterHeight()
	cp := closeTo
	if h.Air.Route == "stand" || h.Place.Tilt < 80 && h.Place.Tilt > overRoof {
		cp = free // wind gets behind it
	}
	tilt := h.Place.Tilt * math.Pi / 180
	f.Wind = cp * Pressure(h.Site.Gust, h.Place.Above) * area
	f.Snow = Shape(h.Place.Tilt) * h.Site.Snow * area * math.Cos(tilt)
	f.Weight = 9.81 * mass
	down := f.Weight + f.Snow
	f.Pull = f.Wind - f.Weight*math.Cos(tilt) // snow helps, but need not lie when it blows
	f.Push = down * math.Sin(tilt)
	n := max(0, f.Pull)/Withdrawal + f.Push/Shear
	f.Screws = max(4, int(math.Ceil(n-1e-9)))
	due := func(when bool, format string, values ...units.Value) {
		if when {
			f.Engineer = append(f.Engineer, units.Say(format, values...))
		}
	}
	due(h.Place.Above > highUp, "it hangs %v above the ground", units.Q(units.Distance, h.Place.Above))
	due(area > large, "a box of %v is large", units.Q(units.Area, area))
	due(h.Site.Gust > stormy, "gusts of %v are expected", units.Q(units.Gust, h.Site.Gust))
	due(h.Site.Snow > snowy && Shape(h.Place.Tilt) > 0, "%v of snow is expected on the ground", units.Q(units.Load, h.Site.Snow))
	if h.Site.Snow <= 0 && !h.Snowless() && Shape(h.Place.Tilt) > 0 {
		f.Ask = units.Say("The load of snow is not in these figures. Ask your building department for the ground snow load of your " +
			"town, and enter it.")
		if t, ok := Recalled(h.Place.Latitude, h.Place.Longitude); ok {
			f.Ask = units.Say("The load of snow is not in these figures. Ask your building department for the ground snow load, and "+
				"enter it: for %v it is about %v to %v, recalled from memory.", units.Word(t.Name), units.Q(units.Load, t.Low),
				units.Q(units.Load, t.High))
		}
	}
	due(h.Place.Tilt <= overRoof && h.Air.Route != "stand", "it loads a roof")
	due(h.Array.Boxes > manyRows, "there are several boxes")
	return f
}

// TownSnow is a ground snow load of a town as codes give it, Pa, recalled from memory.
type TownSnow struct {
	Name                string
	Latitude, Longitude float64
	Low, High           float64
}

// psf is a pound on a square foot, Pa.
const psf = units.PascalPSF

// recalled are towns whose ground snow load is known, from memory: ASCE 7 and local codes, to be confirmed by the building
// department.
var recalled = []TownSnow{
	{"Denver", 39.74, -104.99, 25 * psf, 35 * psf}, {"Santa Fe", 35.69, -105.94, 40 * psf, 50 * psf},
	{"Buffalo", 42.89, -78.88, 40 * psf, 50 * psf}, {"Minneapolis", 44.98, -93.27, 45 * psf, 50 * psf},
}

// nearby is how far from a town its snow load is offered, degrees.
const nearby = 0.25

// Recalled is the snow load of a town near a place, in degrees, where one is known.
func Recalled(latitude, longitude float64) (TownSnow, bool) {
	for _, t := range recalled {
		if math.Hypot(t.Latitude-latitude, (t.Longitude-longitude)*math.Cos(latitude*math.Pi/180)) < nearby {
			return t, true
		}
	}
	return TownSnow{}, false
}
