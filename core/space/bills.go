package space

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"gladember/core/catalog"
	"gladember/core/design"
)

// DegreeDays sums how far hourly temperatures, C, lie below a base, K days.
func DegreeDays(hours []float64, base float64) (sum float64) {
	for _, t := range hours {
		sum += max(0, base-t) / 24
	}
	return sum
}

// Billed is the loss that fuel bills tell, by their slope over degree-days.
type Billed struct {
	// Loss is in W/K, and U its standard uncertainty.
	Loss float64
	U    float64 // standard uncertainty of it
	// Base is the outdoor temperature below which heating begins, C.
	Base float64
	// Other is the fuel of a month that does not follow the cold, such as for
	// cooking and hot water, in units.
	Other float64
	// Fit is the coefficient of determination, R2.
	Fit float64
}

// The heater's efficiency is known to a tenth, one sigma; below so few bills
// nothing is said. Common practice, no source.
const (
	efficiencyU = 0.10
	fewest      = 5
)

// Of a bill that is only known as that of a usual month of the year: heating begins below usualBase, and other uses take usualOther of
// it. Common practice, no source: 65 F is the base of published degree-days.
const (
	usualBase  = 18.3 // C
	usualOther = 0.15
	usualU     = 0.25
)

// usualMonth is the loss that so many units in a usual month of the year tell; nothing where no month is cold.
func usualMonth(each float64, fuel catalog.Fuel, months [12][]float64) Billed {
	cold := 0.0
	for _, m := range months {
		cold += DegreeDays(m, usualBase)
	}
	b := Billed{Base: usualBase, Other: usualOther * each}
	if cold > 0 {
		b.Loss = 12 * each * (1 - usualOther) * fuel.Heat * fuel.Efficiency * 1000 / 24 / cold
	}
	b.U = b.Loss * math.Hypot(usualU, efficiencyU)
	return b
}

// FromBills reads the loss out of a heater's monthly bills and the hourly
// temperatures of twelve months, January first.
func FromBills(h *design.Heater, months [12][]float64) (Billed, error) {
	fuel, err := h.Fuel()
	if err != nil || fuel.ID == "none" {
		return Billed{}, fmt.Errorf("%s: bills say nothing without what they were for; choose the fuel", design.RoomHeater.Path)
	}
	bills := slices.Clone(h.Room.Bills)
	for i, b := range bills {
		if b.Cost > 0 {
			if h.Money.FuelPrice <= 0 {
				return Billed{}, fmt.Errorf("%s: what was paid says nothing without the price of the fuel; enter it", design.RoomBills.Path)
			}
			bills[i].Units = b.Cost / h.Money.FuelPrice
		}
		if b.Month == 0 {
			return usualMonth(bills[i].Units, fuel, months), nil
		}
	}
	if len(bills) < fewest {
		return Billed{}, fmt.Errorf("%s: %d months are too few to separate heating from other uses; enter %d or more, some of them warm",
			design.RoomBills.Path, len(bills), fewest)
	}
	best, least := Billed{}, math.Inf(1)
	for base := 8.0; base <= 21; base += 0.25 {
		var x, y []float64
		for _, b := range bills {
			x = append(x, DegreeDays(months[b.Month-1], base))
			y = append(y, b.Units)
		}
		if stat.StdDev(x, nil) < 1 {
			continue
		}
		other, slope := stat.LinearRegression(x, y, nil, false)
		if other < 0 {
			other = 0
			_, slope = stat.LinearRegression(x, y, nil, true)
		}
		sse := 0.0
		for i := range x {
			sse += (y[i] - other - slope*x[i]) * (y[i] - other - slope*x[i])
		}
		if sse >= least || slope <= 0 {
			continue
		}
		least = sse
		n := float64(len(x))
		k := fuel.Heat * fuel.Efficiency * 1000 / 24 // W/K for a unit a degree-day
		spread := math.Sqrt(sse/(n-2)) / (stat.StdDev(x, nil) * math.Sqrt(n-1))
		best = Billed{Loss: slope * k, Base: base, Other: other, Fit: 1 - sse/(stat.Variance(y, nil)*(n-1)),
			U: k * math.Hypot(spread, efficiencyU*slope)}
	}
	if math.IsInf(least, 1) {
		return Billed{}, fmt.Errorf("%s: they do not rise with the cold; look at months and units again", design.RoomBills.Path)
	}
	return best, nil
}
