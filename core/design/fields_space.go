package design

import (
	"math"

	"gladember/core/catalog"
	"gladember/core/units"
)

// The space that is warmed.
var (
	SpaceKind = choice(inRoom, "kind", func(r *Room) *RoomKind { return &r.Kind }, Field{
		Label: "Space to heat", Choices: list(string(LivingRoom), "room", string(Shop), "shop", string(Greenhouse),
			"greenhouse", string(Porch), "porch"), Default: constant(string(LivingRoom)), Help: "What the warm air goes into.",
		Group: SpaceGroup,
	})
	RoomFloor = number(inRoom, "floor_m2", func(r *Room) *float64 { return &r.Floor }, Field{
		Label: "Floor area", Kind: units.Area, Min: 1, Max: 500, Default: roomSold,
		Help:  "Floor area that the warm air reaches.",
		Group: SpaceGroup,
	})
	RoomHeight = number(inRoom, "height_m", func(r *Room) *float64 { return &r.Height }, Field{
		Label: "Ceiling height", Kind: units.Distance, Min: 1.5, Max: 12, Default: sold(96, 2.4), Since: 3,
		Help:  "Height of the room inside.",
		Group: SpaceGroup,
	})
	RoomOutsideWalls = count(inRoom, "outside_walls", func(r *Room) *int { return &r.Outside }, Field{
		Label: "Outside walls", Kind: units.Number, Min: 0, Max: 4, Default: byKind(2, 4, 4, 3),
		Since: 3, Help: "How many of its walls are outside walls.",
		Group: SpaceGroup,
	})
	RoomAbove = choice(inRoom, "above", func(r *Room) *string { return &r.Above }, Field{
		Label: "Above the ceiling", Choices: list("heated", "heated room", "attic", "attic", "roof", "roof"),
		When: not(greenhouse), Default: byKind("attic", "roof", "roof", "roof"), Since: 3, Help: "What is above the ceiling.",
		Group: SpaceGroup,
	})
	RoomBelow = choice(inRoom, "below", func(r *Room) *string { return &r.Below }, Field{
		Label: "Below the floor", Choices: list("heated", "heated room", "ground", "ground", "cellar", "cold basement",
			"open", "open air"), Default: byKind("heated", "ground", "ground", "open"), Since: 3, Help: "What is below the floor.",
		Group: SpaceGroup,
	})
	RoomInsulation = choice(inRoom, "insulation", func(r *Room) *string { return &r.Insulation }, Field{
		Label: "Insulation of walls and roof", Choices: list("none", "none", "little", "little", "usual", "usual",
			"good", "good"), When: not(greenhouse), Default: byKind("usual", "little", "none", "none"), Since: 3,
		Help: "None is a single skin of board or brick; usual is about {90 mm of wool|3 1/2 in of wool, R-13}; good is " +
			"{200 mm|8 in, R-30,} or more.",
		Group: SpaceGroup,
	})
	RoomLeakage = choice(inRoom, "leakage", func(r *Room) *string { return &r.Leakage }, Field{
		Label: "Air leakage", Choices: list("tight", "tight", "usual", "usual", "leaky", "drafty", "open",
			"open to the wind"), Default: byKind("usual", "leaky", "leaky", "leaky"), Since: 3,
		Help:  "Tight 0.3, usual 0.6, drafty 1.2, open 2.5 air changes an hour.",
		Group: SpaceGroup,
	})
	RoomMass = choice(inRoom, "mass", func(r *Room) *string { return &r.Mass }, Field{
		Label: "Thermal mass", Choices: list("light", "light: wood and board", "medium", "medium: some brick or plaster",
			"heavy", "heavy: masonry or water"), Default: byKind("medium", "light", "light", "light"), Since: 3,
		Help:  "How much heat walls and furniture store.",
		Group: SpaceGroup,
	})
	RoomLoss = number(inRoom, "loss_w_k", func(r *Room) *float64 { return &r.Loss }, Field{
		Label: "Heat loss coefficient",
		Words: called(0, "not known"), Kind: units.Loss, Min: 0, Max: 5000, Default: constant(0.0), Since: 3,
		Help:  "Watts per kelvin of temperature difference, if measured or computed. Not known: it follows from your answers above.",
		Group: SpaceGroup,
	})
	RoomFlued = yesNo(inRoom, "flued", func(r *Room) *bool { return &r.Flued }, Field{
		Label: "Flued burner in the room", Default: constant(false), Since: 8,
		Help: "A stove, boiler or water heater that burns fuel with air from this room. A fan that draws from the room can pull its " +
			"fumes in.",
		Group: SpaceGroup,
	})
	RoomWindow = number(inRoom, "window_m2", func(r *Room) *float64 { return &r.Window }, Field{
		Label: "Window area", Kind: units.Area, Min: 0, Max: 500, Since: 3,
		Help: "Area of all windows and glass doors; of a greenhouse, all of its clear skin.",
		Default: func(h *Heater) any {
			share := map[RoomKind]float64{LivingRoom: 0.15, Shop: 0.08, Greenhouse: 2.2, Porch: 0.8}[h.Room.Kind]
			return math.Round(10*share*h.Room.Floor) / 10
		},
		Group: WindowsGroup,
	})
	RoomGlazing = choice(inRoom, "glazing", func(r *Room) *string { return &r.Glazing }, Field{
		Label: "Window glazing", Choices: list("film", "single film", "single", "single glass", "double",
			"double glass", "low-e", "double low-e glass", "twin-wall", "twin-wall sheet"), Default: byKind("double", "single", "twin-wall",
			"single"), Since: 3, Help: "What most of the windows are made of.",
		Group: WindowsGroup,
	})
	RoomSunnyWindow = number(inRoom, "sunny_window_m2", func(r *Room) *float64 { return &r.Sunny }, Field{
		Label: "Sun-facing windows", Kind: units.Area, Min: 0, Max: 500, When: not(greenhouse), Since: 3,
		Help:    "Sun through these windows warms the room without the box.",
		Default: func(h *Heater) any { return math.Round(10*h.Room.Window*0.4) / 10 },
		Group:   WindowsGroup,
	})
	RoomWanted = number(inRoom, "wanted_c", func(r *Room) *float64 { return &r.Wanted }, Field{
		Label: "Room temperature", Kind: units.Temperature, Min: 0, Max: 30, Default: byKind(20.0, 14.0, 8.0, 16.0),
		Since: 3, Help: "Wanted temperature in the hours of use.",
		Group: HeatingGroup,
	})
	RoomFrom = number(inRoom, "from_h", func(r *Room) *float64 { return &r.From }, Field{
		Label: "Hours of use from", Kind: units.Clock, Min: 0, Max: 24, Default: byKind(7.0, 8.0, 0.0, 10.0), Since: 3,
		Help:  "Such as 7:30 or 7:30 pm.",
		Group: HeatingGroup,
	})
	RoomTo = number(inRoom, "to_h", func(r *Room) *float64 { return &r.To }, Field{
		Label: "Hours of use to", Kind: units.Clock, Min: 0, Max: 24, Default: byKind(22.0, 18.0, 24.0, 18.0), Since: 3,
		Help:  "From 0:00 to 24:00 is always.",
		Group: HeatingGroup,
	})
	RoomSetback = number(inRoom, "setback_c", func(r *Room) *float64 { return &r.Setback }, Field{
		Label: "Setback temperature", Words: called(-40, "off"), Kind: units.Temperature, Min: -40, Max: 30,
		Default: byKind(16.0, -40.0, 4.0, -40.0), Since: 3,
		Help:  "Lowest temperature outside the hours of use; off where nothing heats then.",
		Group: HeatingGroup,
	})
	RoomVent = number(inRoom, "vent_c", func(r *Room) *float64 { return &r.Vent }, Field{
		Label: "Windows open above", Kind: units.Temperature, Min: 10, Max: 45, Default: byKind(25.0, 24.0, 27.0, 27.0),
		Since: 3, Help: "Above this temperature heat is let out and is not useful.",
		Group: HeatingGroup,
	})
	RoomGains = number(inRoom, "gains_w", func(r *Room) *float64 { return &r.Gains }, Field{
		Label: "Heat from people and appliances", Kind: units.Power, Min: 0, Max: 5000, Since: 3,
		Help: "Mean through the day.",
		Default: func(h *Heater) any {
			if h.Room.Kind == LivingRoom {
				return math.Round(4 * h.Room.Floor) // ISO 13790 table G.8, homes
			}
			return 0.0
		},
		Group: HeatingGroup,
	})
	RoomHeater = choice(inRoom, "heater", func(r *Room) *string { return &r.Heater }, Field{
		Label: "Present heating", Choices: catalog.Fuels, Default: byKind("electric", "none", "none", "none"), Since: 3,
		Help:  "What heats the space without the box.",
		Group: HeatingGroup,
	})
	RoomFuelUnit = choice(inRoom, "fuel_unit", func(r *Room) *string { return &r.FuelUnit }, Field{
		Label: "Fuel sold by the", Choices: catalog.FuelUnits, Among: soldBy, Since: 10,
		When: func(h *Heater) bool { return len(soldBy(h)) > 1 }, Default: usualUnit,
		Help:  "The unit in which you buy it; its price and bills are in it.",
		Group: HeatingGroup,
	})
	RoomBills = table(inRoom, "bills", func(r *Room) *[]Bill { return &r.Bills }, Field{
		Label: "Fuel bills", Rows: &Rows{readBills, writeBills, "January 142"},
		When:  func(h *Heater) bool { return h.Room.Heater != "none" },
		Since: 3,
		Help: "On each line a month and the fuel used or what it cost, like \"January 142\" or \"January $235\"; five months or more " +
			"show what the space loses. One line like \"$235 a month\" gives it roughly.",
		Group: HeatingGroup,
	})
	RoomAir = number(inRoom, "air_c", func(r *Room) *float64 { return &r.Air }, Field{
		Label: "Inlet air temperature at noon", Kind: units.Temperature, Min: -20, Max: 40,
		Help: "Temperature of the air that the box draws in at the clear winter noon.",
		Default: func(h *Heater) any {
			return map[RoomKind]any{LivingRoom: 18.0, Shop: 10.0, Greenhouse: 12.0, Porch: 12.0}[h.Room.Kind]
		},
		Group: RoomNoonGroup,
	})
	RoomHumidity = number(inRoom, "humidity", func(r *Room) *float64 { return &r.Humidity }, Field{
		Label: "Room humidity", Kind: units.Share, Min: 0.05, Max: 1, Default: constant(0.45), Since: 2,
		Help:  "Damp room air can condense on the cold glazing.",
		Group: RoomNoonGroup,
	})
	RoomUseful = number(inRoom, "useful_c", func(r *Room) *float64 { return &r.Useful }, Field{
		Label: "Useful above", Kind: units.Temperature, Min: 0, Max: 80, Default: constant(30.0),
		Help:  "An hour counts as useful when the outlet air is warmer than this.",
		Group: LogGroup, Affects: Reading | Space,
	})
)

// The heater as a whole.
var (
	HeaterName = text(inHeater, "name", func(h *Heater) *string { return &h.Name }, Field{
		Label: "Name", Help: "The name of this heater.",
		Default: func(h *Heater) any {
			return map[RoomKind]any{LivingRoom: "Room heater", Shop: "Shop heater", Greenhouse: "Greenhouse heater",
				Porch: "Porch heater"}[h.Room.Kind]
		},
		Group: NameGroup,
	})
)

// The space that warm air is moved on to.
var (
	SecondMover = choice(inSecond, "mover", func(s *Second) *string { return &s.Mover }, Field{
		Label: "Air to a second space", Choices: list("none", "none", "stairs", "open stairs", "ceiling-fan",
			"fan in the ceiling", "blower", "furnace blower"), Default: constant("none"), Since: 3,
		Help:  "How warm air gets from this room to the rest of the house.",
		Group: SecondSpaceGroup,
	})
	SecondFloor = number(inSecond, "floor_m2", func(s *Second) *float64 { return &s.Floor }, Field{
		Label: "Floor area of the second space", Kind: units.Area, Min: 1, Max: 1000, When: goesOn,
		Default: func(h *Heater) any { return 3 * h.Room.Floor }, Since: 3, Help: "Floor area of the rooms that the air goes on to.",
		Group: SecondSpaceGroup,
	})
	SecondLoss = number(inSecond, "loss_w_k", func(s *Second) *float64 { return &s.Loss }, Field{
		Label: "Heat loss of the second space", Kind: units.Loss, Min: 1, Max: 5000, When: goesOn,
		Default: func(h *Heater) any { return math.Round(2 * h.Second.Floor) }, Since: 3,
		Help:  "Watts per kelvin; about 2 for each square meter of floor in an ordinary older house.",
		Group: SecondSpaceGroup,
	})
	SecondWanted = number(inSecond, "wanted_c", func(s *Second) *float64 { return &s.Wanted }, Field{
		Label: "Temperature of the second space", Kind: units.Temperature, Min: 0, Max: 30, When: goesOn,
		Default: constant(20.0), Since: 3, Help: "Wanted temperature in those rooms.",
		Group: SecondSpaceGroup,
	})
	SecondFlow = number(inSecond, "flow_m3_s", func(s *Second) *float64 { return &s.Flow }, Field{
		Label: "Airflow to the second space", Kind: units.Flow, Min: 0.005, Max: 2,
		When: and(goesOn, not(byStairs)), Since: 3, Help: "What the fan or blower moves between the two.",
		Default: func(h *Heater) any {
			if h.Second.Mover == "blower" {
				return 0.4
			}
			return 0.08
		},
		Group: SecondSpaceGroup,
	})
	SecondPower = number(inSecond, "power_w", func(s *Second) *float64 { return &s.Power }, Field{
		Label: "Power of that fan or blower", Kind: units.Power, Min: 0, Max: 2000, When: and(goesOn, not(byStairs)),
		Since: 3, Help: "Electric power while it runs.",
		Default: func(h *Heater) any {
			if h.Second.Mover == "blower" {
				return 350.0
			}
			return 25.0
		},
		Group: SecondSpaceGroup,
	})
	SecondOpening = number(inSecond, "opening_m", func(s *Second) *float64 { return &s.Height }, Field{
		Label: "Height of the opening", Kind: units.Distance, Min: 0.5, Max: 4, When: byStairs,
		Default: constant(2.0), Since: 3, Help: "Height of the open doorway or stairwell, 0.8 m wide.",
		Group: SecondSpaceGroup,
	})
)

// What heat and money cost.
var (
	MoneyResale = number(inMoney, "resale", func(m *Money) *float64 { return &m.Resale }, Field{
		Label: "Resale value of salvaged parts", Kind: units.Number, Money: true, Min: 0, Max: 100000,
		Default: constant(0.0),
		Since:   3, Help: "What the salvaged parts could have been sold for.",
		Group: MoneyGroup,
	})
	MoneyFuelPrice = number(inMoney, "fuel_price", func(m *Money) *float64 { return &m.FuelPrice }, Field{
		Label: "Fuel price", Kind: units.Number, Money: true, Min: 0, Max: 10000, Since: 3,
		Help: "Price of the fuel of the present heating.",
		Per:  func(h *Heater) string { f, _ := h.Fuel(); return f.Units[0].One() },
		Default: func(h *Heater) any {
			f, _ := h.Fuel()
			return math.Round(100*f.Price) / 100
		},
		Group: HeatingGroup,
	})
	MoneyElectricity = number(inMoney, "electricity", func(m *Money) *float64 { return &m.Electricity }, Field{
		Label: "Electricity price per kWh", Kind: units.Number, Money: true, Min: 0, Max: 10,
		Default: constant(0.20),
		Since:   3, Help: "For the fan, and for comparison with solar electric panels.",
		Group: HeatingGroup,
	})
	MoneyInterest = number(inMoney, "interest", func(m *Money) *float64 { return &m.Interest }, Field{
		Label: "Interest rate", Kind: units.Share, Min: 0, Max: 0.3, Default: constant(0.03), Since: 3,
		Help:  "What the money would earn elsewhere, a year.",
		Group: MoneyGroup,
	})
	MoneyFuelRise = number(inMoney, "fuel_rise", func(m *Money) *float64 { return &m.FuelRise }, Field{
		Label: "Fuel price increase", Kind: units.Share, Min: -0.1, Max: 0.3, Default: constant(0.02), Since: 3,
		Help:  "A year.",
		Group: MoneyGroup,
	})
	MoneyYears = number(inMoney, "years", func(m *Money) *float64 { return &m.Years }, Field{
		Label: "Service life, years", Kind: units.Number, Min: 1, Max: 50, Default: constant(10.0), Since: 3,
		Help:  "Painted wood ten to fifteen years, film one to three.",
		Group: MoneyGroup,
	})
)

// What the box cost.
var (
	MoneySpent = number(inSpent, "spent", func(m *Money) *float64 { return &m.Spent }, Field{
		Label: "Cost of the box", Kind: units.Number, Money: true, Min: 0, Max: 100000, Since: 3,
		Help: "What was bought for it; materials on hand cost nothing. Until you enter it, what the list to buy comes to.",
		// About 40 a square meter and a fan. Common practice, no source.
		Default: func(h *Heater) any {
			area := 0.0
			boxes, counts := h.Kinds()
			for i, b := range boxes {
				area += b.Pane.Width * b.Pane.Height * float64(counts[i])
			}
			return math.Round(40*area) + 30
		},
		Group: MoneyGroup,
	})
)
