package climate

import (
	"fmt"
	"math"
	"slices"
	"time"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/solar"
)

// Hour is one row of a year.
type Hour struct {
	// Year, Month, Day and Hour are as the file has them; Hour is the one that
	// ends, 1 to 24.
	Year, Month, Day, Hour int
	// Temperature and DewPoint are in C.
	Temperature float64
	DewPoint    float64 // C
	// Humidity is a share.
	Humidity float64
	// Pressure is in Pa.
	Pressure float64
	// Infrared is from the sky on the level, W/m2.
	Infrared float64
	// Global is the sun on the level and Normal that across the beam, W/m2.
	Global, Normal float64
	// Diffuse is on the level, W/m2.
	Diffuse float64
	// WindFrom is in degrees.
	WindFrom float64
	// Wind is at the station, 10 m over the ground, m/s.
	Wind float64
	// Cloud is the share of the sky.
	Cloud float64
	// Snow is its depth, m.
	Snow   float64
	Albedo float64
}

// Year is a file of hourly weather.
type Year struct {
	// Place and Country name the station.
	Place   string
	Country string
	// Source is what the file calls its source.
	Source string
	// Station is its number.
	Station string
	Site    solar.Site
	// Offset is that of standard time from UTC, hours.
	Offset float64
	Hours  []Hour
	// Generated says that the hours were made from a table of months or from
	// facts.
	Generated bool
	// Notes say in sentences what of the file was mended, and how much of it.
	Notes []string
}

// hoursInYear, and with a leap day.
const (
	hoursInYear = 8760
	hoursInLeap = 8784
)

// fromJanuary turns a year that begins in another month so that it begins on 1
// January.
// A file may begin in any month; its hours are put into the order of a year.
func (y *Year) fromJanuary() error {
	for i := range y.Hours {
		if h := &y.Hours[i]; h.Month == 1 && h.Day == 1 && h.Hour == 1 {
			y.Hours = slices.Concat(y.Hours[i:], y.Hours[:i])
			break
		}
	}
	month := 0
	for i := range y.Hours {
		h := &y.Hours[i]
		if i == 0 && h.Month != 1 || h.Month < month || h.Month > month+1 {
			return fmt.Errorf("hour %d is of %d-%02d-%02d and follows one of month %d; a year's months follow each other from any of "+
				"them on", i+1, h.Year, h.Month, h.Day, month)
		}
		month = h.Month
	}
	return nil
}

// check brings a year into its order and says what is wrong with it as a whole.
// It returns what is wrong with the first hour that cannot be.
func (y *Year) check() error {
	if n := len(y.Hours); n != hoursInYear && n != hoursInLeap {
		return fmt.Errorf("the file holds %d hours; a year has %d, or %d with a leap day", n, hoursInYear, hoursInLeap)
	}
	if err := y.fromJanuary(); err != nil {
		return err
	}
	if math.Abs(y.Site.Latitude) > 90 || math.Abs(y.Site.Longitude) > 180 || math.Abs(y.Offset) > 14 || y.Site.Elevation < -500 ||
		y.Site.Elevation > 9000 {
		return fmt.Errorf("the file lies at %v, %v, %v m and UTC%+v; that is nowhere", y.Site.Latitude, y.Site.Longitude,
			y.Site.Elevation, y.Offset)
	}
	for i, h := range y.Hours {
		bad := func(what string, v float64) error {
			return fmt.Errorf("hour %d (%d-%02d-%02d %02d:00) has %s %v; mark what is missing as the format does", i+1, h.Year, h.Month,
				h.Day, h.Hour, what, v)
		}
		for _, x := range []struct {
			what      string
			v, lo, hi float64
		}{{"a temperature of", h.Temperature, -90, 70}, {"a dew point of", h.DewPoint, -90, 70},
			{"a pressure of", h.Pressure, 30000, 120000}, {"a global sun of", h.Global, 0, 2000},
			{"a beam of", h.Normal, 0, 2000}, {"a diffuse sun of", h.Diffuse, 0, 2000}, {"a wind of", h.Wind, 0, 120},
			{"clouds of", h.Cloud, 0, 1}} {
			if !math.IsNaN(x.v) && !(x.v >= x.lo && x.v <= x.hi) {
				return bad(x.what, x.v)
			}
		}
	}
	for _, check := range []func() error{y.inSequence, y.mendTemperature, y.mendInfrared, y.judgeSun} {
		if err := check(); err != nil {
			return err
		}
	}
	return nil
}

// start is when the first hour begins, in a year of one's own choosing.
func (y *Year) start(year int) time.Time {
	return time.Date(year, 1, 1, 0, 0, 0, 0, time.FixedZone("standard", int(y.Offset*3600)))
}

// at returns the hours around an instant, by the day of the year and the hour of
// standard time, and how far the instant lies from the first to the second's
// stamp. Files of 8,760 hours have no 29 February: it takes the 28th's.
// a and b are the hours around it and f the share of the second.
func (y *Year) at(t time.Time) (a, b *Hour, f float64) {
	s := t.In(time.FixedZone("standard", int(y.Offset*3600)))
	day := s.YearDay() - 1
	leap := func(n int) bool { return n%4 == 0 && n%100 != 0 || n%400 == 0 }
	switch has := len(y.Hours) == hoursInLeap; {
	case leap(s.Year()) && !has && day >= 59:
		day-- // the 29th of February and what follows
	case !leap(s.Year()) && has && day >= 59:
		day++
	}
	hours := float64(s.Hour()) + float64(s.Minute())/60 + float64(s.Second())/3600
	// Stamps stand at the ends of hours: the value at 10:30 lies between those
	// of 10 and 11.
	i := int(math.Floor(hours))
	n := len(y.Hours)
	k := ((day*24+i-1)%n + n) % n
	return &y.Hours[k], &y.Hours[(k+1)%n], hours - float64(i)
}

// Sky is the beam and diffuse light of an instant, W/m2: the hour's means drawn
// to the instant by the sun's own height in it, so that the hour's sum is kept.
// The hour's sun is drawn to the instant by the sun's height.
func (y *Year) sky(t time.Time, site solar.Site) solar.Irradiance {
	_, h, _ := y.at(t)
	p := solar.Position(t, site, 0, 0)
	// The mean of the sun's height over the hour, by its twelve five minutes.
	begin := t.Truncate(time.Hour)
	mean := 0.0
	for k := range 12 {
		q := solar.Position(begin.Add(time.Duration(k)*5*time.Minute+150*time.Second), site, 0, 0)
		mean += max(0, math.Cos(q.TrueZenith*math.Pi/180)) / 12
	}
	return h.split(p, mean)
}

func zero(v float64) float64 {
	if math.IsNaN(v) {
		return 0
	}
	return v
}

// halfZones are zones of standard time between whole hours that keep it all
// year, by their minutes from UTC.
var halfZones = map[int]string{-570: "Pacific/Marquesas", 210: "Asia/Tehran", 270: "Asia/Kabul", 330: "Asia/Kolkata",
	345: "Asia/Kathmandu", 390: "Asia/Yangon", 525: "Australia/Eucla", 570: "Australia/Darwin"}

// Move takes a heater to the file's place and clock, and turns its glass to the
// noon sun if the file lies on the other side of the equator. It reports
// whether it did.
// turned says that the glass was turned by half, across the equator.
func (y *Year) Move(h *design.Heater) (turned bool) {
	turned = (h.Place.Latitude < 0) != (y.Site.Latitude < 0)
	h.Place.Town, h.Place.Latitude, h.Place.Longitude, h.Place.Elevation = y.Place, y.Site.Latitude, y.Site.Longitude, y.Site.Elevation
	// The name's sign is turned round: Etc/GMT-1 is an hour east. Between whole
	// hours it is the nearest one where no zone is known.
	h.Place.Zone = fmt.Sprintf("Etc/GMT%+d", -int(math.Round(y.Offset)))
	if z := halfZones[int(math.Round(60*y.Offset))]; z != "" {
		h.Place.Zone = z
	}
	if turned {
		h.Place.Bearing = math.Mod(h.Place.Bearing+180, 360)
	}
	return turned
}

// Conditions returns what a heater stands in at an instant of the year, among
// its own surroundings, with the station's wind brought to the box and the sky's
// radiant temperature from the file's infrared, else from dew point and cloud.
// Those of a rating at an instant, with the heater's own surroundings.
func (y *Year) Conditions(h *design.Heater, t time.Time) collector.Conditions {
	a, b, f := y.at(t)
	var q Quarter
	y.air(h, a, b, f, solar.WindAt(1, h.Place.Terrain, h.Place.Above), &q)
	p := a.Pressure + (b.Pressure-a.Pressure)*f
	if math.IsNaN(p) {
		p = solar.Pressure(y.Site.Elevation)
	}
	c := collector.Conditions{Tilt: h.Place.Tilt, Ambient: q.Ambient, Inlet: h.Room.Air, Room: h.Room.Air, Pressure: p, Sky: q.Sky,
		Wind: q.Wind, Vapor: q.Vapor, Snow: y.fell(t)}
	if h.Air.Source == "outdoors" {
		c.Inlet = c.Ambient
	}
	albedo := h.Place.Albedo(int(t.In(y.start(2025).Location()).Month()))
	if zero(b.Snow) > 0.02 {
		albedo = max(albedo, snowy)
	}
	c.Sun = collector.Surroundings(h).Under(y.sky(t, y.Site), t, y.Site, h.Place.Tilt, h.Place.Bearing, albedo)
	return c
}

// newSnow is the density of new snow, kg/m3. Common practice, no source.
const newSnow = 100.0

// fell is the snow that came to lie in the day before an instant, kg/m2, by the
// depth on the ground; nothing where the file does not say.
// In kg/m2, by the growth of the snow's depth since the day before.
func (y *Year) fell(t time.Time) float64 {
	_, now, _ := y.at(t)
	_, before, _ := y.at(t.Add(-24 * time.Hour))
	return max(0, zero(now.Snow)-zero(before.Snow)) * newSnow
}

// ByMonth returns the year's temperatures hour by hour in twelve months,
// January first, C; hours that the file does not know are left out.
// Temperatures of the hours, C.
func (y *Year) ByMonth() (out [12][]float64) {
	for i := range y.Hours {
		if h := &y.Hours[i]; h.Month >= 1 && h.Month <= 12 && !math.IsNaN(h.Temperature) {
			out[h.Month-1] = append(out[h.Month-1], h.Temperature)
		}
	}
	return out
}
