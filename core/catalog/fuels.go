package catalog

import (
	"fmt"
	"slices"
	"strings"
)

// Fuel is what a space is heated with now.
type Fuel struct {
	ID, Name string
	// Unit is what it is bought by, first as most countries and then as the United States buy it, then by other units.
	Units []FuelUnit
	// Heat is in kWh a unit of the first, gross.
	Heat float64
	// Efficiency is that of a usual heater; over 1 for a heat pump.
	Efficiency float64
	// Carbon is kg of CO2 for a kWh of Heat.
	Carbon float64
	// Price is a usual one for a unit of the first, in whatever money; an estimate.
	Price  float64
	Source string
}

// btu is British thermal units a kWh, gallon liters, cubicFoot cubic meters.
// Source: US EIA for the first (recalled from memory), exact for the others.
const (
	btu       = 3412.0
	gallon    = 3.785411784
	cubicFoot = 0.028316846592
)

const eia = "US EIA heat contents and carbon factors (recalled from memory); efficiency and price: "

// FuelUnit is what a fuel is sold by.
type FuelUnit struct {
	// ID is that of the document, Name in the plural as it stands behind a figure.
	ID, Name string
	// Of is how many units of the first it holds.
	Of float64
}

// One is its name in the singular.
func (u FuelUnit) One() string {
	if u.ID == "kWh" || u.ID == "kg" || u.ID == "m3" {
		return u.Name
	}
	return strings.TrimSuffix(u.Name, "s")
}

// In kWh of gas, and in kg of wood: what stacked wood weighs and the density of liquid propane are common practice, no source.
const (
	gasHeat   = 1036 / cubicFoot / btu // kWh/m3
	therm     = 1e5 / btu              // kWh
	cord      = 1450.0                 // kg, of 128 cu ft stacked
	stere     = 400.0                  // kg, of 1 m3 stacked
	shortTon  = 907.18474              // kg
	pound     = 0.45359237             // kg
	propaneKg = 1 / 0.51               // L
)

var (
	kWh   = []FuelUnit{{"kWh", "kWh", 1}}
	fuels = []Fuel{
		{"none", "nothing", kWh, 1, 1, 0, 0, common},
		{"electric", "electric heater", kWh, 1, 1, 0.35, 0.20, "grid carbon and price: " + common},
		{"heat-pump", "heat pump", kWh, 1, 3, 0.35, 0.20, "grid carbon, yearly performance and price: " + common},
		{"gas", "natural gas", []FuelUnit{{"m3", "m³", 1}, {"therm", "therms", therm / gasHeat}, {"kWh", "kWh", 1 / gasHeat},
			{"ccf", "hundred cubic feet", 100 * cubicFoot}}, gasHeat, 0.85, 52.91 * btu / 1e6, 0.9, eia + common},
		{"propane", "propane", []FuelUnit{{"liter", "liters", 1}, {"gallon", "gallons", gallon}, {"kg", "kg", propaneKg}},
			91452 / gallon / btu, 0.85, 62.88 * btu / 1e6, 0.9, eia + common},
		{"oil", "heating oil", []FuelUnit{{"liter", "liters", 1}, {"gallon", "gallons", gallon}}, 138500 / gallon / btu, 0.82,
			74.14 * btu / 1e6, 1.1, eia + common},
		{"wood", "air-dry firewood", []FuelUnit{{"kg", "kg", 1}, {"cord", "cords", cord}, {"stere", "stacked cubic meters", stere}},
			4.0, 0.65, 0, 0.25, common},
		{"pellets", "wood pellets", []FuelUnit{{"kg", "kg", 1}, {"ton", "tons", shortTon}, {"bag", "40 lb bags", 40 * pound},
			{"tonne", "tonnes", 1000}}, 4.8, 0.80, 0, 0.40, common},
	}
)

// Sold returns a unit in which a fuel is sold. The error names one in which it is not.
func (r Fuel) Sold(unit string) (FuelUnit, error) {
	var known []string
	for _, u := range r.Units {
		if u.ID == unit {
			return u, nil
		}
		known = append(known, u.ID)
	}
	return FuelUnit{}, fmt.Errorf("%s is not sold by the %s; choose one of %s", r.Name, unit, strings.Join(known, ", "))
}

// FuelUnits lists all units, each once.
func FuelUnits() (cs []Choice) {
	for _, f := range fuels {
		for _, c := range f.SoldBy() {
			if !slices.Contains(cs, c) {
				cs = append(cs, c)
			}
		}
	}
	return cs
}

// SoldBy lists the units of a fuel.
func (r Fuel) SoldBy() (cs []Choice) {
	for _, u := range r.Units {
		cs = append(cs, Choice{u.ID, u.One()})
	}
	return cs
}

func (r Fuel) choice() Choice { return Choice{r.ID, r.Name} }

// FindFuel returns a fuel's row.
func FindFuel(id string) (Fuel, error) { return find("fuel", fuels, id) }

// Fuels lists the fuels.
func Fuels() []Choice { return choices(fuels) }
