package measure

import (
	"time"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/solar"
)

// Window is a time in which a test can be made.
type Window struct{ From, To time.Time }

// Shares and heights by which an hour suits a test. The product's own judgment.
//
// A test in the sun wants it square on the glass: an hour earlier or later the pane reflects
// more, and a degree of the bearing matters.
const (
	nearBest  = 0.80  // of the day's best clear-sky sun
	leastSun  = 350.0 // W/m2
	darkBelow = -4.0  // degrees of the sun's height
)

// Windows are the next times within so many days that suit a test, by the sun over this
// heater's own horizon; for one that can be made at any time there are none. In the dark is
// from after one sunset until before the next sunrise.
func Windows(h *design.Heater, when Moment, from time.Time, days int) (out []Window) {
	if when == AnyTime {
		return nil
	}
	const step = 15 * time.Minute
	site := collector.Site(h)
	p := Placement{Site: site, Tilt: h.Place.Tilt, Facing: h.Place.Bearing, Around: collector.Surroundings(h)}
	zone := orUTC(site.Zone)
	from = from.In(zone).Truncate(step)
	fits := func(at time.Time, best float64) bool {
		if when == InDark {
			return 90-solar.Position(at, site, 0, 10).Zenith < darkBelow
		}
		sun := p.Clear(at)
		return sun >= leastSun && sun >= nearBest*best
	}
	for day := range days {
		begin := time.Date(from.Year(), from.Month(), from.Day()+day, 0, 0, 0, 0, zone)
		end := time.Date(from.Year(), from.Month(), from.Day()+day+1, 0, 0, 0, 0, zone)
		best := 0.0
		if when == InSun {
			for at := begin; at.Before(end); at = at.Add(step) {
				best = max(best, p.Clear(at))
			}
		}
		for at := begin; at.Before(end); at = at.Add(step) {
			if at.Before(from) || !fits(at, best) {
				continue
			}
			if n := len(out); n > 0 && out[n-1].To.Equal(at) {
				out[n-1].To = at.Add(step)
			} else {
				out = append(out, Window{at, at.Add(step)})
			}
		}
	}
	return out
}
