package catalog

// Fuel is what a space is heated with now.
type Fuel struct {
	ID, Name string
	// Unit is what it is bought by.
	Unit string
	// Heat is in kWh a unit, gross.
	Heat float64
	// Efficiency is that of a usual heater; over 1 for a heat pump.
	Efficiency float64
	// Carbon is kg of CO2 for a kWh of Heat.
	Carbon float64
	// Price is a usual one for a unit, in whatever money; an estimate.
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

var fuels = []Fuel{
	{"none", "nothing", "kWh", 1, 1, 0, 0, common},
	{"electric", "electric heater", "kWh", 1, 1, 0.35, 0.20, "grid carbon and price: " + common},
	{"heat-pump", "heat pump", "kWh", 1, 3, 0.35, 0.20, "grid carbon, yearly performance and price: " + common},
	{"gas", "natural gas", "m3", 1036 / cubicFoot / btu, 0.85, 52.91 * btu / 1e6, 0.9, eia + common},
	{"propane", "propane", "liter", 91452 / gallon / btu, 0.85, 62.88 * btu / 1e6, 0.9, eia + common},
	{"oil", "heating oil", "liter", 138500 / gallon / btu, 0.82, 74.14 * btu / 1e6, 1.1, eia + common},
	{"wood", "air-dry firewood", "kg", 4.0, 0.65, 0, 0.25, common},
	{"pellets", "wood pellets", "kg", 4.8, 0.80, 0, 0.40, common},
}

func (r Fuel) choice() Choice { return Choice{r.ID, r.Name} }

// FindFuel returns a fuel's row.
func FindFuel(id string) (Fuel, error) { return find("fuel", fuels, id) }

// Fuels lists the fuels.
func Fuels() []Choice { return choices(fuels) }
