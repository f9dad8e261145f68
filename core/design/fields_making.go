package design

import (
	"gladember/core/units"
)

// What the builder reads and pays in.
var (
	WorkshopLength = choice(inWorkshop, "length", func(w *Workshop) *string { return &w.Length }, Field{
		Label: "Lengths in", Choices: list("auto", "the unit of your country", "mm", "millimeters", "in", "inches"),
		Default: constant("auto"), Since: 11, Help: "What lengths, airflow, power and weight are shown in.",
		Group: OwnControl,
	})
	WorkshopTemperature = choice(inWorkshop, "temperature", func(w *Workshop) *string { return &w.Temperature }, Field{
		Label: "Temperatures in", Choices: list("auto", "the unit of your country", "C", "degrees Celsius", "F", "degrees Fahrenheit"),
		Default: constant("auto"), Since: 11, Help: "What temperatures are shown in.",
		Group: OwnControl,
	})
	WorkshopDecimal = choice(inWorkshop, "decimal", func(w *Workshop) *string { return &w.Decimal }, Field{
		Label: "Decimal mark", Choices: list("auto", "the mark of your country", "point", "point", "comma", "comma"),
		Default: constant("auto"), Since: 11, Help: "What stands before the decimals, as in 12.5 or 12,5.",
		Group: OwnControl,
	})
	WorkshopCurrency = text(inWorkshop, "currency", func(w *Workshop) *string { return &w.Currency }, Field{
		Label: "Currency", Default: constant(""), Since: 11,
		Help:  "A sign or up to four letters, such as € or CHF; without one, that of the country around each heater.",
		Group: OwnControl,
	})
)

// Where and when it is built.
var (
	BenchTemperature = number(inBench, "temperature_c", func(b *Bench) *float64 { return &b.Temperature }, Field{
		Label: "Temperature of the workspace", Kind: units.Temperature, Min: -20, Max: 45, Default: constant(15.0),
		Since: 8,
		Help:  "Paint, glue and sealant dry slower the colder it is, and some not at all.",
		Group: WorkspaceGroup,
	})
	BenchHumidity = number(inBench, "humidity", func(b *Bench) *float64 { return &b.Humidity }, Field{
		Label: "Relative humidity of the workspace", Kind: units.Share, Min: 0.05, Max: 1, Default: constant(0.6), Since: 8,
		Help:  "Paint and glue dry slower in damp air; silicone needs the moisture and dries slower in dry air.",
		Group: WorkspaceGroup,
	})
	BenchDays = choice(inBench, "days", func(b *Bench) *string { return &b.Days }, Field{
		Label: "Evenings", Choices: list("every", "every day", "weekdays", "Monday to Friday", "two",
			"Tuesday and Thursday",
			"two-and-saturday", "Tuesday, Thursday and Saturday", "weekend", "Saturday and Sunday"), Default: constant("two-and-saturday"),
		Since: 8,
		Help:  "The days on which you build.",
		Group: EveningsGroup,
	})
	BenchFrom = number(inBench, "from_h", func(b *Bench) *float64 { return &b.From }, Field{
		Label: "Evenings begin at", Kind: units.Clock, Min: 0, Max: 23.5, Default: constant(19.0), Since: 8,
		Help:  "Such as 19:00 or 7 pm.",
		Group: EveningsGroup,
	})
	BenchMinutes = number(inBench, "minutes", func(b *Bench) *float64 { return &b.Minutes }, Field{
		Label: "Length of an evening, min", Kind: units.Number, Min: 15, Max: 900, Default: constant(120.0), Since: 8,
		Help:  "How long you build on a working day.",
		Group: EveningsGroup,
	})
	BenchWeekendFrom = number(inBench, "weekend_from_h", func(b *Bench) *float64 { return &b.WeekendFrom }, Field{
		Label: "Weekend days begin at", Kind: units.Clock, Min: 0, Max: 23.5, Default: constant(10.0), Since: 9,
		Help:  "What is done outdoors wants daylight.",
		Group: EveningsGroup,
	})
	BenchWeekendMinutes = number(inBench, "weekend_minutes", func(b *Bench) *float64 { return &b.WeekendMinutes }, Field{
		Label: "Length of a weekend day, min", Kind: units.Number, Min: 15, Max: 900,
		Default: constant(240.0), Since: 9, Help: "How long you build on a Saturday or a Sunday.",
		Group: EveningsGroup,
	})
	BenchHelpers = count(inBench, "helpers", func(b *Bench) *int { return &b.Helpers }, Field{
		Label: "Helpers", Kind: units.Number, Min: 0, Max: 10, Default: constant(1), Since: 8,
		Help:  "How many others can come for what takes more than two hands.",
		Group: EveningsGroup,
	})
)

// The saw, and what is sold.
var (
	CutKerf = number(inCut, "kerf_m", func(c *Cut) *float64 { return &c.Kerf }, Field{
		Label: "Kerf of the saw", Kind: units.Length, Min: 0, Max: 0.010, Default: sold(0.125, 0.003), Since: 7,
		Help:  "What each cut turns into sawdust. Insulation is cut with a knife, which takes nothing.",
		Group: SawGroup,
	})
	CutTrim = number(inCut, "trim_m", func(c *Cut) *float64 { return &c.Trim }, Field{
		Label: "Trim of new edges", Kind: units.Length, Min: 0, Max: 0.050, Default: constant(0.0), Since: 7,
		Help:  "Cut off the edges of what is bought before anything is cut from it.",
		Group: SawGroup,
	})
	CutSold = table(inCut, "sold", func(c *Cut) *[]SoldSize { return &c.Sold }, Field{
		Label: "Sizes sold near you", Rows: &Rows{readSold, writeSold, "{2.4 m|8 ft}, 6.50"}, Since: 7,
		Help: "A line for each: the length of a board, or a sheet like {1220 x 2440 mm|4 x 8 ft}, and its price if you know it. Without " +
			"lines the usual sizes are taken.",
		Group: SawGroup,
	})
)

// How a log is turned into heat.
var (
	LogFlowIs = choice(inLog, "flow_is", func(l *Log) *FlowIs { return &l.FlowIs }, Field{
		Label: "Airflow used", Choices: list(string(WorkedOut), "predicted", string(ByMeasure), "measured",
			string(OnLabel), "rated flow of the fan"),
		Default: constant(string(WorkedOut)), Help: "Heat is airflow times temperature rise, so the airflow decides how certain the " +
			"heat is.",
		Group: LogGroup,
	})
	LogFlow = number(inLog, "flow_m3_s", func(l *Log) *float64 { return &l.Flow }, Field{
		Label: "Measured airflow", Kind: units.Flow, Min: 0.0005, Max: 1,
		When:    func(h *Heater) bool { return h.Log.FlowIs == ByMeasure },
		Default: func(h *Heater) any { return max(0.0005, 0.5*h.Air.FanFree) },
		Help:    "What leaves the box while the fan runs, as room air: by bag test, or by a traverse of the duct.",
		Group:   LogGroup,
	})
	LogInletOff = number(inLog, "inlet_off_k", func(l *Log) *float64 { return &l.InletOff }, Field{
		Label: "Inlet probe reads too high by", Kind: units.Rise, Min: -10, Max: 10, Default: constant(0.0), Since: 9,
		Help:  "Found with all probes together in the dark; taken off each reading.",
		Group: LoggerGroup,
	})
	LogOutletOff = number(inLog, "outlet_off_k", func(l *Log) *float64 { return &l.OutletOff }, Field{
		Label: "Outlet probe reads too high by", Kind: units.Rise, Min: -10, Max: 10, Default: constant(0.0),
		Since: 9, Help: "Found with all probes together in the dark; taken off each reading.",
		Group: LoggerGroup,
	})
	LogClockOff = number(inLog, "clock_off_min", func(l *Log) *float64 { return &l.ClockOff }, Field{
		Label: "Logger's clock is ahead by, min", Kind: units.Number, Min: -1500, Max: 1500, Default: constant(0.0),
		Since: 9, Help: "Taken off the time of each reading; below zero for a clock that is behind.",
		Group: LoggerGroup,
	})
	LogSwapped = yesNo(inLog, "swapped", func(l *Log) *bool { return &l.Swapped }, Field{
		Label: "Inlet and outlet are swapped", Default: constant(false), Since: 9,
		Help:  "The probe that the logger calls inlet hangs in the outlet.",
		Group: LoggerGroup,
	})
	LogOutdoorOff = number(inLog, "outdoor_off_k", func(l *Log) *float64 { return &l.OutdoorOff }, Field{
		Label: "Outdoor probe reads too high by", Kind: units.Rise, Min: -10, Max: 10, Default: constant(0.0),
		Since: 9, Help: "Found with all probes together in the dark; taken off each reading.",
		Group: LoggerGroup,
	})
)
