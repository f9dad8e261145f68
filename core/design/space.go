package design

// RoomKind is the sort of space a heater warms.
type RoomKind string

// The kinds of space.
const (
	LivingRoom RoomKind = "room"
	Shop       RoomKind = "shop"
	Greenhouse RoomKind = "greenhouse"
	Porch      RoomKind = "porch"
)

// Room is the space the air comes from and goes back to, told by plain
// questions. Loss, where it is known, stands in for what the questions give.
type Room struct {
	// Kind decides the questions and our answers to them.
	Kind RoomKind `json:"kind"`
	// Floor is the area, m2, and Height the height to the ceiling, m.
	Floor  float64 `json:"floor_m2"`
	Height float64 `json:"height_m"`
	// Outside is how many of its walls are outdoors, 0 to 4.
	Outside int `json:"outside_walls"`
	// Insulation is none, little, usual or good, see [Room.Wool].
	Insulation string `json:"insulation"`
	// Above is heated, attic or roof, and Below is heated, ground, cellar or
	// open.
	Above string `json:"above"`
	Below string `json:"below"` // heated, ground, cellar or open
	// Window is the area of all glass, m2; for a greenhouse that of its skin.
	Window float64 `json:"window_m2"`
	// Glazing names the kind of glass of the windows.
	Glazing string `json:"glazing"`
	// Sunny is the part of the windows that the noon sun reaches, m2.
	Sunny float64 `json:"sunny_window_m2"`
	// Flued says that a stove, boiler or water heater with a flue takes its air from the
	// room.
	Flued bool `json:"flued"`
	// Leakage is how much outdoor air leaks in: tight, usual, leaky or open.
	Leakage string `json:"leakage"`
	// Mass is light, medium or heavy: how much heat walls and furniture store.
	Mass string `json:"mass"`
	// Gains is the heat of people, lamps and machines, W.
	Gains float64 `json:"gains_w"`
	// Loss is the heat loss where it is known, W/K; 0 means by the questions.
	Loss float64 `json:"loss_w_k"`
	// Wanted is the temperature in the hours of use, C, and Setback that
	// outside them.
	Wanted  float64 `json:"wanted_c"`
	Setback float64 `json:"setback_c"`
	// From and To are the hours of use, clock hours.
	From float64 `json:"from_h"`
	To   float64 `json:"to_h"`
	// Vent is the temperature above which a window is opened, C.
	Vent float64 `json:"vent_c"`
	// Heater is a fuel of the catalog: what heats the space now.
	Heater string `json:"heater"`
	// FuelUnit is what that fuel is sold by, see [catalog.Fuel].
	FuelUnit string `json:"fuel_unit"`
	// Bills are months' fuel, from which the loss is fitted.
	Bills []Bill `json:"bills,omitempty"`
	// Air is the temperature of what the box draws in on the noon it is judged
	// by, C.
	Air float64 `json:"air_c"`
	// Humidity is the relative humidity of the room air, 0 to 1.
	Humidity float64 `json:"humidity"`
	// Useful is the outlet temperature from which an hour counts as useful, C.
	Useful float64 `json:"useful_c"`
}

// Wool is the thickness of mineral wool in the walls that the answer to the
// question for insulation stands for, m. Common practice, no source.
func (r *Room) Wool() float64 {
	return map[string]float64{"little": 0.040, "usual": 0.090, "good": 0.200}[r.Insulation]
}

// Bill is the fuel a month took, in the fuel's own unit.
type Bill struct {
	// Month is 1 to 12, or 0 for a usual month of the year.
	Month int `json:"month"`
	// Units is in the unit that the fuel is sold by, see [Room.FuelUnit].
	Units float64 `json:"units,omitempty"`
	// Cost is what was paid instead, in the money of the document.
	Cost float64 `json:"cost,omitempty"`
}

// Second is a space that warm air is moved on to, as from a basement to the
// house above.
type Second struct {
	// Mover is none, stairs, ceiling-fan or blower.
	Mover string `json:"mover"`
	// Floor is the area, m2.
	Floor float64 `json:"floor_m2"`
	// Loss is the heat loss, W/K.
	Loss float64 `json:"loss_w_k"`
	// Wanted is the temperature, C.
	Wanted float64 `json:"wanted_c"`
	// Flow is the air that is moved, m3/s.
	Flow float64 `json:"flow_m3_s"`
	// Power is what the mover takes, W.
	Power float64 `json:"power_w"`
	// Height is that of the stairs' opening, m.
	Height float64 `json:"opening_m"`
}

// Money is what the box costs and what heat costs, in whatever money.
type Money struct {
	// Spent is what was paid for the box; salvage costs nothing.
	Spent float64 `json:"spent"`
	// Resale is what the salvage would have fetched.
	Resale float64 `json:"resale"`
	// FuelPrice is for one unit of the fuel.
	FuelPrice float64 `json:"fuel_price"`
	// Electricity is for one kWh.
	Electricity float64 `json:"electricity"`
	// Interest and FuelRise are shares a year, 0.03 for 3 %.
	Interest float64 `json:"interest"`
	FuelRise float64 `json:"fuel_rise"` // a year
	// Years is how long the box lasts.
	Years float64 `json:"years"`
}
