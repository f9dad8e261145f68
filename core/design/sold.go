package design

import (
	"strings"

	"gladember/core/units"
)

// inchZones are the time zones of the United States and Canada, where boards, sheets and panes are sold by the inch: of America, these
// cities; of the Pacific, Honolulu. Source: IANA time zone database, zone.tab (recalled from memory).
var inchZones = func() map[string]bool {
	m := map[string]bool{"Pacific/Honolulu": true}
	for name := range strings.FieldsSeq(`New_York Detroit Kentucky/Louisville Kentucky/Monticello Indiana/Indianapolis Indiana/Vincennes
		Indiana/Winamac Indiana/Marengo Indiana/Petersburg Indiana/Vevay Indiana/Tell_City Indiana/Knox Chicago Menominee
		North_Dakota/Center North_Dakota/New_Salem North_Dakota/Beulah Denver Boise Phoenix Los_Angeles Anchorage Juneau Sitka Metlakatla
		Yakutat Nome Adak St_Johns Halifax Glace_Bay Moncton Goose_Bay Toronto Iqaluit Winnipeg Resolute Rankin_Inlet Regina
		Swift_Current Edmonton Cambridge_Bay Inuvik Yellowknife Creston Dawson_Creek Fort_Nelson Whitehorse Dawson Vancouver Thunder_Bay
		Nipigon Rainy_River Pangnirtung Montreal`) {
		m["America/"+name] = true
	}
	return m
}()

// SoldInInches says whether boards, sheets and panes are sold by the inch where the heater stands. It follows from the place, not from
// the units in which somebody looks at it, so that the heater stays the same.
func (h *Heater) SoldInInches() bool { return inchZones[h.Place.Zone] }

// sold is a default as the stores around the heater sell it: in inches, or in m.
func sold(inches, m float64) func(*Heater) any {
	return func(h *Heater) any {
		if h.SoldInInches() {
			return inches * units.MeterPerInch
		}
		return m
	}
}
