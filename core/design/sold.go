package design

import (
	"strings"

	"gladember/core/catalog"
	"gladember/core/units"
)

// Time zones of the United States and of Canada, where boards, sheets and panes are sold by the inch. Source: IANA time zone database,
// zone.tab (recalled from memory).
var (
	unitedStates = zones(`America/New_York America/Detroit America/Kentucky/Louisville America/Kentucky/Monticello
		America/Indiana/Indianapolis America/Indiana/Vincennes America/Indiana/Winamac America/Indiana/Marengo America/Indiana/Petersburg
		America/Indiana/Vevay America/Indiana/Tell_City America/Indiana/Knox America/Chicago America/Menominee America/North_Dakota/Center
		America/North_Dakota/New_Salem America/North_Dakota/Beulah America/Denver America/Boise America/Phoenix America/Los_Angeles
		America/Anchorage America/Juneau America/Sitka America/Metlakatla America/Yakutat America/Nome America/Adak Pacific/Honolulu`)
	canada = zones(`America/St_Johns America/Halifax America/Glace_Bay America/Moncton America/Goose_Bay America/Toronto America/Iqaluit
		America/Winnipeg America/Resolute America/Rankin_Inlet America/Regina America/Swift_Current America/Edmonton America/Cambridge_Bay
		America/Inuvik America/Yellowknife America/Creston America/Dawson_Creek America/Fort_Nelson America/Whitehorse America/Dawson
		America/Vancouver America/Thunder_Bay America/Nipigon America/Rainy_River America/Pangnirtung America/Montreal`)
)

// zones is a set of names.
func zones(names string) map[string]bool {
	m := map[string]bool{}
	for name := range strings.FieldsSeq(names) {
		m[name] = true
	}
	return m
}

// Customary says whether the heater stands where fuel is sold by the gallon and the therm.
func (h *Heater) Customary() bool { return unitedStates[h.Place.Zone] }

// SoldInInches says whether boards, sheets and panes are sold by the inch where the heater stands. It follows from the place, not from
// the units in which somebody looks at it, so that the heater stays the same.
func (h *Heater) SoldInInches() bool { return unitedStates[h.Place.Zone] || canada[h.Place.Zone] }

// Sold is a length as stores around the heater sell it, m: in inches, or in m.
func (h *Heater) Sold(inches, m float64) float64 {
	if h.SoldInInches() {
		return inches * units.MeterPerInch
	}
	return m
}

// sold is a default as the stores around the heater sell it: in inches, or in m.
func sold(inches, m float64) func(*Heater) any {
	return func(h *Heater) any { return h.Sold(inches, m) }
}

// Fuel is what heats the space now, with heat and price of the unit that it is sold by, which is its first.
// The error is that of a fuel the catalog does not know.
func (h *Heater) Fuel() (catalog.Fuel, error) {
	f, err := catalog.FindFuel(h.Room.Heater)
	if err != nil {
		f, _ = catalog.FindFuel("none")
		return f, err
	}
	u, wrong := f.Sold(h.Room.FuelUnit)
	if wrong != nil {
		u = f.Units[0]
	}
	f.Units, f.Heat, f.Price = []catalog.FuelUnit{u}, f.Heat*u.Of, f.Price*u.Of
	return f, nil
}
