package design

import "time"

// Workshop is what a builder has, whatever is built: units, money, a saw, the sizes that are sold, a place and evenings to work.
type Workshop struct {
	// Length is mm or in, Temperature C or F, and Decimal point or comma; auto for what is usual where the builder is.
	Length      string `json:"length"`
	Temperature string `json:"temperature"`
	Decimal     string `json:"decimal"`
	// Currency is the sign of money; empty for that of the country around each heater.
	Currency string `json:"currency"`
	// Cut says what the saw takes and what sizes are sold.
	Cut Cut `json:"cut"`
	// Bench is where and when things are built.
	Bench Bench `json:"bench"`
}

// Cut is what parts are cut with and from.
type Cut struct {
	// Kerf is what each cut of the saw takes, and Trim what is cut off the edges of
	// what is bought, m.
	Kerf float64 `json:"kerf_m"`
	Trim float64 `json:"trim_m"`
	// Sold are the sizes that are sold; none stands for those usual in the builder's
	// units.
	Sold []SoldSize `json:"sold,omitempty"`
}

// SoldSize is a length of board, or a sheet, that is sold.
type SoldSize struct {
	// Length and Width are in m; a board has no width.
	Length float64 `json:"length_m"`
	Width  float64 `json:"width_m,omitempty"`
	// Price is in the document's currency; 0 where it is not known.
	Price float64 `json:"price,omitempty"`
}

// Bench is where things are glued and dry, and the time that there is for it.
type Bench struct {
	// Temperature is in C, and Humidity is relative, 0 to 1.
	Temperature float64 `json:"temperature_c"`
	Humidity    float64 `json:"humidity"`
	// Days are the days of the week on which something is done, see [Bench.On]; From is the
	// clock hour at which it begins and Minutes how long it is.
	Days    string  `json:"days"`
	From    float64 `json:"from_h"`
	Minutes float64 `json:"minutes"`
	// WeekendFrom and WeekendMinutes are the same for a Saturday or a Sunday, when there is
	// daylight for what is done outdoors.
	WeekendFrom    float64 `json:"weekend_from_h"`
	WeekendMinutes float64 `json:"weekend_minutes"`
	// Helpers is how many others are there.
	Helpers int `json:"helpers"`
}

// Hours are the clock hour at which a day's work begins and how long it is, min.
func (s *Bench) Hours(d time.Weekday) (from, minutes float64) {
	if d == time.Saturday || d == time.Sunday {
		return s.WeekendFrom, s.WeekendMinutes
	}
	return s.From, s.Minutes
}

// On says whether something is done on a day of the week.
func (s *Bench) On(d time.Weekday) bool {
	weekend := d == time.Saturday || d == time.Sunday
	switch s.Days {
	case "weekdays":
		return !weekend
	case "weekend":
		return weekend
	case "two":
		return d == time.Tuesday || d == time.Thursday
	case "two-and-saturday":
		return d == time.Tuesday || d == time.Thursday || d == time.Saturday
	}
	return true
}
