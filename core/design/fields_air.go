package design

import (
	"math"

	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/units"
)

// The way of the air.
var (
	AirDrive = choice(inAir, "drive", func(a *Air) *string { return &a.Drive }, Field{
		Label: "Air moved by", Choices: list("fan", "fan", "panel", "fan on its own solar panel", "natural",
			"natural draft"), Since: 2, Help: "Warm air rises by itself; a fan moves far more.",
		Default: func(h *Heater) any {
			if r := h.Absorber.Family.Record(); r != nil && r.Natural {
				return "natural"
			}
			return "fan"
		},
		Group: FanGroup,
	})
	AirSource = choice(inAir, "source", func(a *Air) *string { return &a.Source }, Field{
		Label: "Air drawn from", Choices: list("room", "room", "outdoors", "outdoors"), Default: constant("room"),
		When: boxed, Since: 2, Help: "Room air is reheated; outdoor air also ventilates the room.",
		Group: AirPathGroup,
	})
	AirVent = choice(inAir, "vent", func(a *Air) *string { return &a.Vent }, Field{
		Label: "Position of the outdoor vent", Choices: list("sheltered", "sheltered", "windward", "facing the wind",
			"leeward", "on the lee side"), When: and(boxed, func(h *Heater) bool { return h.Air.Source == "outdoors" }),
		Default: constant("sheltered"), Since: 2, Help: "Wind pushes air into a vent that faces it and draws it out of one on the lee " +
			"side.",
		Group: AirPathGroup,
	})
	AirRoute = choice(inAir, "route", func(a *Air) *string { return &a.Route }, Field{
		Label: "Connection to the room", Choices: list("wall", "holes through the wall", "window", "window insert",
			"stand", "ducts from a stand", "furnace", "furnace plenum"), Default: constant("wall"), When: boxed, Since: 2,
		Help:  "A window insert needs no hole in the wall; a furnace plenum needs a licensed trade.",
		Group: AirPathGroup,
	})
	AirDuct = choice(inAir, "duct", func(a *Air) *string { return &a.Duct }, Field{
		Label: "Duct", Choices: catalog.Ducts, When: boxed, Default: constant("flexible"),
		Help:  "Ribs and slack increase the pressure drop.",
		Group: AirPathGroup,
	})
	AirStretch = number(inAir, "stretch", func(a *Air) *float64 { return &a.Stretch }, Field{
		Label: "Duct stretch", Kind: units.Share, Min: 0.5, Max: 1, Default: constant(0.95),
		When: and(boxed, func(h *Heater) bool { d, _ := catalog.FindDuct(h.Air.Duct); return d.Flexible }), Since: 2,
		Help:  "Share of its full length. A slack flexible duct can have several times the pressure drop.",
		Group: AirPathGroup,
	})
	AirDiameter = number(inAir, "diameter_m", func(a *Air) *float64 { return &a.Diameter }, Field{
		Label: "Duct diameter", Kind: units.Bore, When: boxed, Min: 0.05, Max: 0.6,
		Default: func(h *Heater) any { return boreFor(h.Glass()) }, Help: "Inside diameter of the ducts and, of a single box, its ports.",
		Group: AirPathGroup,
	})
)

// The headers of a row of boxes.
var (
	ArrayHeader = number(inHeaders, "header_m", func(a *Array) *float64 { return &a.Header }, Field{
		Label: "Header diameter", Kind: units.Bore, Min: 0, Max: 0.8, When: inRow, Since: 5,
		Help: "Of the duct that distributes the air to the boxes, and of the one that collects it. 0 stands for plenums so wide " +
			"that every box gets its share.",
		Default: func(h *Heater) any { return h.Air.Diameter },
		Group:   RowGroup,
	})
	ArrayPitch = number(inHeaders, "pitch_m", func(a *Array) *float64 { return &a.Pitch }, Field{
		Label: "Header length from box to box", Kind: units.Distance, Min: 0.1, Max: 20, When: inRow, Since: 5,
		Help:    "Length of a header from one branch to the next.",
		Default: func(h *Heater) any { return math.Round(20*(h.OuterWidth()+0.05)) / 20 },
		Group:   RowGroup,
	})
	ArrayReturn = choice(inHeaders, "return", func(a *Array) *string { return &a.Return }, Field{
		Label: "Return of the headers", Choices: list("same-end", "direct, at the inlet end", "far-end",
			"reverse, at the far end"), When: inRow, Default: constant("same-end"), Since: 5,
		Help:  "A direct return ends where the air enters; a reverse return ends at the other end.",
		Group: RowGroup,
	})
	ArrayPort = number(inHeaders, "port_m", func(a *Array) *float64 { return &a.Port }, Field{
		Label: "Port diameter of each box", Kind: units.Bore, Min: 0.05, Max: 0.35, When: inRow, Since: 5,
		Help:    "Inside diameter of the ducts from the headers to each box.",
		Default: func(h *Heater) any { return boreFor(h.Aperture()) },
		Group:   RowGroup,
	})
	ArrayBalance = choice(inHeaders, "balance", func(a *Array) *string { return &a.Balance }, Field{
		Label: "Balancing", Choices: list("none", "none", "orifices", "orifices or dampers"), When: inRow,
		Default: constant("none"), Since: 5, Help: "A plate with a hole, or a damper set to the same loss, in each branch that would " +
			"get too much air. The hole sizes are computed.",
		Group: RowGroup,
	})
	ArrayOthers = table(inHeaders, "others", func(a *Array) *[]OtherBox { return &a.Others }, Field{
		Label: "Boxes that differ", Rows: &Rows{readOthers, writeOthers, "1: 600 x 1200 mm, 20 mm"}, When: inRow,
		Since: 5, Help: "For each kind a line: how many, their glazing, and their air channel depth if it differs from the first box. " +
			"They stand at the far end of the row.",
		Group: RowGroup,
	})
)

// Ports, ducts and fittings.
var (
	AirPorts = count(inPorts, "ports", func(a *Air) *int { return &a.Ports }, Field{
		Label: "Ports at each end", Kind: units.Number, Min: 1, Max: 12, Default: constant(1), When: boxed,
		Since: 2, Help: "Equal ports at the inlet, and as many at the outlet.",
		Group: AirPathGroup,
	})
	AirPortFace = choice(inPorts, "port_face", func(a *Air) *string { return &a.PortFace }, Field{
		Label: "Ports go through", Choices: list("back", "the back", "side", "the sides", "end", "bottom and top"),
		When: and(boxed, not(made(OwnAbsorber))), Default: constant("back"), Since: 7,
		Help:  "A port through the back turns the air into the box; one through a side or an end must fit its depth.",
		Group: AirPathGroup,
	})
	AirPortPlaces = choice(inPorts, "port_places", func(a *Air) *string { return &a.PortPlaces }, Field{
		Label: "Arrangement of the ports", Choices: list("opposite", "at opposite corners", "same-side",
			"one above the other", "both-bottom", "both at the bottom, with a fold", "both-top", "both at the top, with a fold"),
		When: arranged, Default: constant("opposite"), Since: 7,
		Help: "One above the other, the air favors the near side; with a fold it takes one half of the box and then the other, twice " +
			"as fast. Cold air stays in a box whose ports are both at the top.",
		Group: AirPathGroup,
	})
	AirRiser = number(inPorts, "riser_m", func(a *Air) *float64 { return &a.Riser }, Field{
		Label: "Rise of the warm duct", Kind: units.Distance, Min: 0, Max: 10, Default: constant(0.0), When: boxed,
		Since: 2, Help: "Height that the warm air rises in duct or chimney above the box.",
		Group: AirPathGroup,
	})
	AirToBox = number(inPorts, "to_box_m", func(a *Air) *float64 { return &a.ToBox }, Field{
		Label: "Duct length to the box", Kind: units.Distance, When: boxed, Min: 0, Max: 30, Default: sold(30, 0.8),
		Help:  "From the room to the inlet.",
		Group: AirPathGroup,
	})
	AirFromBox = number(inPorts, "from_box_m", func(a *Air) *float64 { return &a.FromBox }, Field{
		Label: "Duct length from the box", Kind: units.Distance, When: boxed, Min: 0, Max: 30,
		Default: sold(30, 0.8), Help: "From the outlet to the room.",
		Group: AirPathGroup,
	})
	AirBends = count(inPorts, "bends", func(a *Air) *int { return &a.Bends }, Field{
		Label: "Bends", Kind: units.Number, When: boxed, Min: 0, Max: 20, Default: constant(2),
		Help:  "Right-angle bends in both ducts together.",
		Group: AirPathGroup,
	})
	AirGrilles = count(inPorts, "grilles", func(a *Air) *int { return &a.Grilles }, Field{
		Label: "Grilles", Kind: units.Number, Min: 0, Max: 4, Default: constant(1), When: boxed, Since: 2,
		Help:  "Grilles in both ducts together.",
		Group: AirPathGroup,
	})
	AirBendsBefore = number(inPorts, "bends_before", func(a *Air) *float64 { return &a.BendsIn }, Field{
		Label: "Bends before the box", Kind: units.Number, Min: 0, Max: 20, When: bent, Since: 3,
		Default: func(h *Heater) any { return float64(h.Air.Bends) / 2 }, Help: "How many of the bends are in the duct to the box.",
		Group: AirPathGroup,
	})
	AirGrillesBefore = number(inPorts, "grilles_before", func(a *Air) *float64 { return &a.GrillesIn }, Field{
		Label: "Grilles before the box", Kind: units.Number, Min: 0, Max: 4, When: grilled, Since: 3,
		Default: func(h *Heater) any { return float64(h.Air.Grilles) / 2 }, Help: "How many of the grilles are in the duct to the box.",
		Group: AirPathGroup,
	})
	AirFilter = choice(inPorts, "filter", func(a *Air) *string { return &a.Filter }, Field{
		Label: "Filter", Choices: list("none", "none", "coarse", "coarse", "fine", "fine"), Default: constant("none"),
		When: boxed, Since: 2, Help: "Keeps lint off the absorber and causes a pressure drop.",
		Group: AirPathGroup,
	})
	AirFlap = choice(inPorts, "flap", func(a *Air) *string { return &a.Flap }, Field{
		Label: "Backdraft damper", Choices: list("none", "none", "membrane", "light membrane", "spring", "spring damper",
			"motor", "motor damper"), Default: constant("membrane"),
		When: boxed, Help: "Stops the cold box from drawing warm air out of the room by night.",
		Group: AirPathGroup,
	})
)

// The fan and what drives it.
var (
	AirFan = choice(inFan, "fan", func(a *Air) *string { return &a.FanModel }, Field{
		Label: "Fan", Choices: catalog.Fans, When: fanned, Help: "A common fan to start from.",
		Default: func(h *Heater) any {
			if onPanel(h) {
				return "computer-120"
			}
			return byAperture("computer-92", 0.4, "computer-120", 0.7, "computer-120-strong", 1.3, "ec-inline-4", 2.0, "ec-inline-5", 2.8,
				"ec-inline-6", 5.0, "ec-inline-8", 8.5, "ec-inline-10", 14.0, "blower")(h)
		},
		Group: FanGroup,
	})
	AirFanFreeAir = number(inFan, "fan_free_air_m3_s", func(a *Air) *float64 { return &a.FanFree }, Field{
		Label: "Rated flow (free air)", Kind: units.Flow, Min: 0.001, Max: 1,
		Default: fanOf(func(f catalog.Fan) any { return f.FreeAir }),
		When:    fanned, Help: "What the fan moves with nothing connected, as on its label. In a duct it moves less.",
		Group: FanGroup,
	})
	AirFanPower = number(inFan, "fan_power_w", func(a *Air) *float64 { return &a.FanPower }, Field{
		Label: "Fan power", Kind: units.Electric, Min: 0, Max: 1000,
		Default: fanOf(func(f catalog.Fan) any { return f.Power }), When: fanned, Help: "Electric power.",
		Group: FanGroup,
	})
	AirFanRadial = yesNo(inFan, "fan_radial", func(a *Air) *bool { return &a.FanRadial }, Field{
		Label: "Radial or inline fan", Default: fanOf(func(f catalog.Fan) any { return f.Radial }),
		When: fanned, Help: "A radial or inline fan keeps its flow against pressure better than a propeller.",
		Group: FanGroup,
	})
	AirFanShutOff = number(inFan, "fan_shut_off_pa", func(a *Air) *float64 { return &a.FanShut }, Field{
		Label: "Shut-off pressure", Kind: units.Pressure, Min: leastShutOff, Max: mostShutOff, Default: shutOff,
		When: fanned, Help: "The fan's pressure with its outlet closed, from its data sheet. Without it, what the rated flow and power " +
			"can make.",
		Group: FanGroup,
	})
	AirFanTable = table(inFan, "fan_table", func(a *Air) *[]airflow.FanPoint { return &a.FanTable }, Field{
		Label: "Fan curve", When: fanned, Since: 2,
		Rows: &Rows{readFanTable, writeFanTable, "{120 m3/h 25 Pa|70 cfm 0.1 in w.g.}"},
		Help: "From its data sheet: on each line a flow and the pressure at that flow. It is used before rated flow and shut-off " +
			"pressure.",
		Group: FanGroup,
	})
	AirFanStrength = number(inFan, "fan_strength", func(a *Air) *float64 { return &a.FanStrength }, Field{
		Label: "Fan strength, measured over rated", Kind: units.Share, Min: 0.1, Max: 2, Default: constant(1.0),
		When: fanned, Since: 9,
		Help: "100 % until the airflow is measured: then the share of its rated curve that the fan reaches in this " +
			"system.",
		Group: MeasuredGroup,
	})
	AirFanSide = choice(inFan, "fan_side", func(a *Air) *string { return &a.FanSide }, Field{
		Label: "Fan position", Choices: list("inlet", "at the inlet, pushing", "outlet", "at the outlet, pulling"),
		Default: constant("inlet"), When: fanned, Help: "A fan that pushes loses warm air through leaks; one that pulls draws cold air " +
			"in, and it runs hot.",
		Group: FanGroup,
	})
	AirFans = count(inFan, "fans", func(a *Air) *int { return &a.Fans }, Field{
		Label: "Number of fans", Kind: units.Number, Min: 1, Max: 4, Default: constant(1), When: fanned,
		Since: 2, Help: "Equal fans together.",
		Group: FanGroup,
	})
	AirFansJoin = choice(inFan, "fans_join", func(a *Air) *string { return &a.FansJoin }, Field{
		Label: "Connection of the fans", Choices: list("beside", "in parallel", "behind", "in series", "staged",
			"second fan joins when hot"), Default: constant("beside"), When: manyFans, Since: 2,
		Help:  "In parallel they move more air; in series they give more pressure.",
		Group: FanGroup,
	})
	AirFanVolts = number(inFan, "fan_volts", func(a *Air) *float64 { return &a.FanVolts }, Field{
		Label: "Fan voltage, V", Kind: units.Number, Min: 5, Max: 48, When: onPanel, Since: 2,
		Default: fanOf(func(f catalog.Fan) any { return max(12, f.Volts) }), Help: "Rated voltage of the direct-current fan.",
		Group: FanPanelGroup,
	})
	AirPanel = number(inFan, "panel_w", func(a *Air) *float64 { return &a.PanelPeak }, Field{
		Label: "Solar panel of the fan", Kind: units.Electric, Min: 1, Max: 400, When: onPanel, Since: 2,
		Default: func(h *Heater) any { return PanelFor(h.Air.FanPower) }, Help: "Peak power of the panel that drives the fan.",
		Group: FanPanelGroup,
	})
	AirBattery = number(inFan, "battery_wh", func(a *Air) *float64 { return &a.Battery }, Field{
		Label: "Battery, Wh", Kind: units.Number, Min: 0, Max: 5000, When: onPanel, Since: 2, Default: constant(0.0),
		Help:  "0 drives the fan straight from the panel.",
		Group: FanPanelGroup,
	})
	AirWire = number(inFan, "wire_m", func(a *Air) *float64 { return &a.Wire }, Field{
		Label: "Wire length, one way", Kind: units.Distance, Min: 0.2, Max: 50, When: onPanel, Since: 2,
		Default: constant(4.0), Help: "From panel to fan.",
		Group: FanPanelGroup,
	})
	AirWireArea = number(inFan, "wire_mm2", func(a *Air) *float64 { return &a.WireArea }, Field{
		Label: "Wire size", Kind: units.Wire, Min: 0.2, Max: 16, When: onPanel, Since: 2,
		Default: wireSold, Help: "Copper cross section of each wire.",
		Group: FanPanelGroup,
	})
)

// What turns the fan on and off.
var (
	SwitchKind = choice(inSwitch, "kind", func(s *Switch) *string { return &s.Kind }, Field{
		Label: "Thermostat or switch", Choices: list("snap", "snap disc", "set-point", "set-point controller",
			"differential", "differential controller", "direct", "none: driven by the panel", "timer", "timer", "plug", "none: always on"),
		When: fanned, Since: 2, Help: "What turns the fan on and off.",
		Default: func(h *Heater) any {
			if onPanel(h) && h.Air.Battery == 0 {
				return "direct"
			}
			return "differential"
		},
		Group: SwitchGroup, Affects: Control | Physics,
	})
	SwitchClose = number(inSwitch, "close_c", func(s *Switch) *float64 { return &s.Close }, Field{
		Label: "Fan on at", Kind: units.Temperature, Min: 5, Max: 90, When: switchIs("snap", "set-point"),
		Default: constant(35.0), Help: "Air temperature at the top of the box at which the fan starts.",
		Group: SwitchGroup,
	})
	SwitchOpen = number(inSwitch, "open_c", func(s *Switch) *float64 { return &s.Open }, Field{
		Label: "Fan off at", Kind: units.Temperature, Min: 0, Max: 85, When: switchIs("snap", "set-point"),
		Help:    "Air temperature at the top of the box at which the fan stops.",
		Default: func(h *Heater) any { return max(0, h.Switch.Close-10) },
		Group:   SwitchGroup,
	})
	SwitchTolerance = number(inSwitch, "tolerance_k", func(s *Switch) *float64 { return &s.Tolerance }, Field{
		Label: "Thermostat tolerance", Kind: units.Rise, Min: 0, Max: 10, When: switchIs("snap", "set-point"),
		Since: 2, Help: "The set points of a snap disc scatter by about 3 K.",
		Default: func(h *Heater) any {
			if h.Switch.Kind == "snap" {
				return 3.0
			}
			return 1.0
		},
		Group: SwitchGroup,
	})
	SwitchOnAbove = number(inSwitch, "on_above_k", func(s *Switch) *float64 { return &s.OnAbove }, Field{
		Label: "Fan on, above the room by", Kind: units.Rise, Min: 1, Max: 40, When: switchIs("differential"),
		Since: 2, Default: constant(8.0), Help: "Temperature difference between box and room at which the fan starts.",
		Group: SwitchGroup,
	})
	SwitchOffAbove = number(inSwitch, "off_above_k", func(s *Switch) *float64 { return &s.OffAbove }, Field{
		Label: "Fan off, above the room by", Kind: units.Rise, Min: 0, Max: 30, When: switchIs("differential"),
		Since: 2, Default: func(h *Heater) any { return 0.375 * h.Switch.OnAbove },
		Help:  "Temperature difference between box and room at which the fan stops.",
		Group: SwitchGroup,
	})
	SwitchFrom = number(inSwitch, "from_h", func(s *Switch) *float64 { return &s.From }, Field{
		Label: "Timer on at", Kind: units.Clock, Min: 0, Max: 24, When: switchIs("timer"), Since: 2,
		Default: constant(10.0), Help: "Such as 10:00.",
		Group: SwitchGroup,
	})
	SwitchTo = number(inSwitch, "to_h", func(s *Switch) *float64 { return &s.To }, Field{
		Label: "Timer off at", Kind: units.Clock, Min: 0, Max: 24, When: switchIs("timer"), Since: 2,
		Default: constant(15.0), Help: "Such as 10:00.",
		Group: SwitchGroup,
	})
	SwitchRoomLimit = number(inSwitch, "room_limit_c", func(s *Switch) *float64 { return &s.RoomLimit }, Field{
		Label: "Room temperature limit", Kind: units.Temperature, Min: 10, Max: 45, When: fanned, Since: 2,
		Help:    "A second thermostat in the room stops the fan here, before somebody opens a window.",
		Default: func(h *Heater) any { return max(h.Room.Wanted+1.5, h.Room.Vent-1) },
		Group:   SwitchGroup,
	})
	SwitchSecondFan = number(inSwitch, "second_c", func(s *Switch) *float64 { return &s.Second }, Field{
		Label: "Second fan on at", Kind: units.Temperature, Min: 10, Max: 95,
		When: func(h *Heater) bool { return manyFans(h) && h.Air.FansJoin == "staged" }, Since: 2,
		Default: func(h *Heater) any { return h.Switch.Close + 10 },
		Help:    "Air temperature at the top of the box at which the second fan starts.",
		Group:   SwitchGroup, Affects: Control | Physics,
	})
	SwitchRunOn = number(inSwitch, "run_on_min", func(s *Switch) *float64 { return &s.RunOn }, Field{
		Label: "Run-on time, minutes", Kind: units.Number, Min: 0, Max: 60,
		When: switchIs("snap", "set-point", "differential"), Default: constant(0.0), Since: 3,
		Help:  "Minutes that the fan continues after its thermostat has switched off, to empty the box of heat.",
		Group: SwitchGroup,
	})
)
