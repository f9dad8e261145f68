package buildplan

import (
	"math"
	"slices"
	"time"

	"gladember/core/design"
	"gladember/core/solar"
)

// Evening is a time at the bench.
type Evening struct {
	// Begin is when it starts, and Minutes how long it is.
	Begin   time.Time
	Minutes float64
	// Helpers is how many others are there.
	Helpers int
	// Temperature, C, and Humidity, 0 to 1, are those of the shop, in which things dry.
	Temperature, Humidity float64
	// Fair says that it does not rain, Sunny that the sun shines, and Light that there is
	// daylight from its begin to its end.
	Fair, Sunny, Light bool
}

// Sky is the weather that is expected for a day.
type Sky string

// The skies. A day of which nothing is known is hoped to be fair: a plan that expected rain
// on every day would never leave the shop, and one that is wrong is made anew in a second.
const (
	Unknown  Sky = ""
	Rain     Sky = "rain"
	Overcast Sky = "overcast" // dry, without sun
	Sunshine Sky = "sun"
)

// Limits of the sun's height, degrees: twilight in which one still sees a pencil line, and
// a sun that warms a box. Common practice, no source.
const (
	twilight = -3.0
	sunIsUp  = 8.0
)

// Evenings are the times of a bench on so many days from a moment on, in the zone of the
// heater's place. skies is what is expected of each day, by its date as 2006-01-02, and
// without are days that are skipped. One that has ended is left out.
//
// Whether there is daylight and sun follows from the sun at the place: nothing outdoors is
// planned for a dark evening.
func Evenings(h *design.Heater, now time.Time, days int, skies map[string]Sky, without map[string]bool) (out []Evening) {
	b := &h.Workshop.Bench
	site := solar.Site{Latitude: h.Place.Latitude, Longitude: h.Place.Longitude, Elevation: h.Place.Elevation}
	up := func(t time.Time) float64 { return 90 - solar.Position(t, site, 0, 10).Zenith }
	for i := range days {
		day := time.Date(now.Year(), now.Month(), now.Day()+i, 0, 0, 0, 0, now.Location())
		key := day.Format(time.DateOnly)
		from, minutes := b.Hours(day.Weekday())
		begin := day.Add(time.Duration(from * float64(time.Hour)))
		end := begin.Add(time.Duration(minutes * float64(time.Minute)))
		if !b.On(day.Weekday()) || without[key] || end.Before(now) {
			continue
		}
		if begin.Before(now) { // it has begun
			begin, minutes = now, end.Sub(now).Minutes()
		}
		sky := skies[key]
		out = append(out, Evening{Begin: begin, Minutes: minutes, Helpers: b.Helpers, Temperature: b.Temperature, Humidity: b.Humidity,
			Fair: sky != Rain, Light: up(begin) > twilight && up(end) > twilight,
			Sunny: (sky == Sunshine || sky == Unknown) && up(begin.Add(end.Sub(begin)/2)) > sunIsUp})
	}
	return out
}

// Stint is a step, or a part of it, done on one evening.
type Stint struct {
	// Step is its index.
	Step int
	// Begin and End are when; Part says that it goes on another evening.
	Begin, End time.Time
	Part       bool
}

// Schedule is a plan of evenings.
type Schedule struct {
	// Stints are in the order of time.
	Stints []Stint
	// Dry is when each step's product is hard, by the index of the step; zero for a step
	// that is not planned, or that leaves nothing to dry.
	Dry []time.Time
	// Left are the steps that no evening has room for, and Why says for each what it waits
	// for.
	Left []int
	Why  []string
}

// leastStint is the shortest time for which a long step is begun, min. Common practice, no
// source.
const leastStint = 20.0

// Plan lays the steps that are not done into evenings, the earliest first. A step begins when
// all that it waits for is done and dry, with the hands and the weather that it wants; one
// longer than what is left of an evening goes on the next one. What is indoors fills the
// time while something dries or it rains. done are the steps that are done, with when each
// was dry.
func Plan(steps []Step, done map[string]time.Time, evenings []Evening) Schedule {
	slices.SortStableFunc(evenings, func(a, b Evening) int { return a.Begin.Compare(b.Begin) })
	out := Schedule{Dry: make([]time.Time, len(steps))}
	at := map[string]int{}
	left := make([]float64, len(steps)) // min
	ended := make([]bool, len(steps))
	for i, s := range steps {
		at[s.ID], left[i] = i, max(5, s.Minutes)
		if t, ok := done[s.ID]; ok {
			ended[i], out.Dry[i] = true, t
		}
	}
	ready := func(i int, now time.Time) bool {
		for _, id := range steps[i].After {
			j, ok := at[id]
			if ok && (!ended[j] || out.Dry[j].After(now)) {
				return false
			}
		}
		return true
	}
	for _, e := range evenings {
		now, until := e.Begin, e.Begin.Add(time.Duration(e.Minutes*60)*time.Second)
		for {
			next := -1
			for i := range steps {
				if !ended[i] && suits(&steps[i], &e) && ready(i, now) && until.Sub(now).Minutes() >= min(leastStint, left[i]) {
					next = i
					break
				}
			}
			if next < 0 {
				break
			}
			work := min(left[next], until.Sub(now).Minutes())
			end := now.Add(time.Duration(work*60) * time.Second)
			left[next] -= work
			out.Stints = append(out.Stints, Stint{next, now, end, left[next] > 0.5})
			if now = end; left[next] <= 0.5 {
				ended[next] = true
				out.Dry[next] = steps[next].DryAt(end, e.Temperature, e.Humidity)
			}
		}
	}
	for i := range steps {
		if !ended[i] {
			out.Left = append(out.Left, i)
			out.Why = append(out.Why, whyNot(steps, i, evenings, ended, at))
		}
	}
	return out
}

// suits says whether an evening has the hands and the weather that a step wants, and the
// warmth in which its product hardens.
func suits(s *Step, e *Evening) bool {
	if s.Helpers > e.Helpers || s.Sunny && !e.Sunny || (s.Outdoors || s.Dry) && !e.Fair || s.Outdoors && !e.Light {
		return false
	}
	return s.Cure == nil || e.Temperature >= s.Cure.Coldest
}

// DryAt is when what a step leaves is hard that ended at a time, in air of so many C and a
// relative humidity; its end where nothing dries, or where it is too cold to harden at all.
func (s *Step) DryAt(end time.Time, temperature, humidity float64) time.Time {
	if s.Cure == nil {
		return end
	}
	_, full := s.Cure.Hours(temperature, humidity)
	if math.IsInf(full, 1) {
		return end
	}
	return end.Add(time.Duration(full * float64(time.Hour)))
}

// whyNot says what a step that was not planned waits for.
func whyNot(steps []Step, i int, evenings []Evening, ended []bool, at map[string]int) string {
	s := &steps[i]
	for _, id := range s.After {
		if j, ok := at[id]; ok && !ended[j] {
			return steps[j].Title
		}
	}
	helpers, sunny, fair, warm, light := false, false, false, false, false
	for _, e := range evenings {
		helpers, sunny, fair = helpers || e.Helpers >= s.Helpers, sunny || e.Sunny, fair || e.Fair
		light = light || e.Light
		warm = warm || s.Cure == nil || e.Temperature >= s.Cure.Coldest
	}
	switch {
	case !helpers:
		return "a helper"
	case s.Outdoors && !light:
		return "daylight, such as a weekend day"
	case s.Sunny && !sunny:
		return "a sunny day"
	case (s.Outdoors || s.Dry) && !fair:
		return "dry weather"
	case !warm:
		return "a warmer shop"
	}
	return "another evening"
}
