package season

import (
	"math"

	"gladember/core/design"
)

// Money is what a year is worth, in whatever money the document counts.
type Money struct {
	// Saved is a year's fuel not burned less the fan's electricity, in money.
	Saved float64
	// Units is the fuel not burned, in its own unit, which Unit names.
	Units float64
	Unit  string
	// FanCost is the fan's electricity of a year, in money.
	FanCost float64
	// Carbon is the CO2 that is not emitted, kg a year, with the fan's taken
	// off.
	Carbon float64
	// Simple is the payback in years: until Saved has paid what was spent; +Inf
	// for never.
	Simple float64
	// Discounted is the payback with interest and dearer fuel, within the box's
	// life; +Inf for never.
	Discounted float64
	// WithResale is the simple payback if the salvage had been sold instead.
	WithResale float64
	// PerKWh is the cost of a useful kWh over the box's life; +Inf without any.
	PerKWh float64
	// PV is what a PV panel of the box's gross area would give, kWh a year, and
	// PVSaved what that is worth.
	PV      float64
	PVSaved float64 // what those are worth
}

// A PV panel beside the box: its efficiency and the part of its rated yield that
// a roof really gives; carbon of the grid, kg a kWh. Common practice, no source.
const (
	pvEfficiency = 0.20
	pvRatio      = 0.80
	gridCarbon   = 0.35
)

// Worth is what a year's result is worth for a heater.
// Fuel by what the space's heater would have burned for the useful heat, at its
// efficiency. The error names a fuel that the catalog does not know.
func Worth(h *design.Heater, r *Result) (Money, error) {
	fuel, err := h.Fuel()
	if err != nil {
		return Money{}, err
	}
	m := Money{Unit: fuel.Units[0].Name, FanCost: r.Year.Fan * h.Money.Electricity}
	if fuel.ID != "none" {
		m.Units = r.Year.Useful / (fuel.Heat * fuel.Efficiency)
		m.Carbon = m.Units * fuel.Heat * fuel.Carbon
	}
	m.Saved = m.Units*h.Money.FuelPrice - m.FanCost
	m.Carbon -= r.Year.Fan * gridCarbon
	m.Simple, m.WithResale = payback(h.Money.Spent, m.Saved), payback(h.Money.Spent+h.Money.Resale, m.Saved)
	m.Discounted = discounted(h, m.Units*h.Money.FuelPrice, m.FanCost)
	m.PerKWh = math.Inf(1)
	if r.Year.Useful > 0 {
		m.PerKWh = (h.Money.Spent*annuity(h.Money.Interest, h.Money.Years) + m.FanCost) / r.Year.Useful
	}
	if r.Aperture > 0 {
		m.PV = r.Year.Sun / r.Aperture * r.Gross * pvEfficiency * pvRatio
		m.PVSaved = m.PV * h.Money.Electricity
	}
	return m, nil
}

// payback is the years until what is saved a year equals what was spent;
// infinite where nothing is saved.
// Years; +Inf where nothing is saved, 0 where nothing was spent.
func payback(spent, saved float64) float64 {
	switch {
	case spent <= 0:
		return 0
	case saved <= 0:
		return math.Inf(1)
	}
	return spent / saved
}

// discounted is the year in which savings, worth less the later they come, have
// paid the box; fuel gets dearer, electricity with it.
// Savings grow with the fuel's price and shrink with interest; year by year
// until what was spent is paid, or the life of the box is over.
func discounted(h *design.Heater, fuel, fan float64) float64 {
	left := h.Money.Spent
	if left <= 0 {
		return 0
	}
	worth := 1.0
	for year := 1.0; year <= h.Money.Years; year++ {
		worth *= (1 + h.Money.FuelRise) / (1 + h.Money.Interest)
		if gain := (fuel - fan) * worth; gain >= left && gain > 0 {
			return year - 1 + left/gain
		} else {
			left -= gain
		}
	}
	return math.Inf(1)
}

// annuity is the yearly share that pays a sum back over years at an interest.
// It is the share of a sum to pay each year, interest / (1 - (1 +
// interest)^-years).
func annuity(interest, years float64) float64 {
	if interest <= 0 {
		return 1 / years
	}
	return interest / (1 - math.Pow(1+interest, -years))
}
