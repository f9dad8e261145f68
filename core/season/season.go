package season

import (
	"errors"
	"math"

	"gladember/core/air"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/space"
)

var errDark = errors.New("the sun hardly reaches this glass in a year; look at place, bearing and what stands before it")

// kWh in joules.
const kWh = 3.6e6

// Month is what a month came to; energies in kWh.
type Month struct {
	// All energies are in kWh. Sun is what falls on the glass.
	Sun float64
	// Need is that of the space without the box, and Left what it still needs
	// with it.
	Need float64
	Left float64 // that it still needs with it
	// Heat is what the box gives the room.
	Heat float64
	// Useful is the part of it that saves a heater's heat, or makes up what is
	// short.
	Useful float64
	// Vented is what is let out of windows because of the box.
	Vented float64
	// Back is what air that falls through the standing box by night takes out
	// of the room.
	Back float64
	// Fan is electricity, the mover's with it.
	Fan float64
	// Run is in hours.
	Run float64
	// Warm is the hours with the outlet over the useful temperature.
	Warm float64
	// OutletMax is the highest outlet temperature, C.
	OutletMax float64
	// Cycles is how often the fan starts.
	Cycles int
	// Comfort is the hours of use at the wanted temperature with the box and no
	// heater.
	Comfort float64
	// Bare is the same without the box, and Use all hours of use.
	Bare float64
	Use  float64 // h of use
	// Outdoors is the mean temperature, C.
	Outdoors float64
	// RoomMax is the highest temperature of the space, C.
	RoomMax float64
	// TooHot is the hours over the limit because of the box.
	TooHot float64
}

// Net is the useful heat less the electricity that moved it, kWh.
// It is what sweeps and searches compare.
func (m *Month) Net() float64 { return m.Useful - m.Fan }

// Result is a year.
type Result struct {
	// Months are January to December.
	Months [12]Month
	// Year holds the sums, and the greatest of what is a greatest.
	Year Month
	// Lit is the hours with the sun up.
	Lit [12]float64
	// Weeks is the useful heat by week, kWh.
	Weeks []float64
	// Stagnation is the absorber's hottest spot with the fan off in the year's
	// hottest quarter of an hour, C.
	Stagnation float64
	// Jet is the usual outlet temperature while the fan runs, C.
	Jet float64
	// AirChange is how long one change of the space's air takes, minutes.
	AirChange float64
	// Source is where the weather comes from.
	Source string
	Space  *space.Space
	// Aperture and Gross are those of all boxes, m2.
	Aperture float64
	Gross    float64
	// blown is the air that was moved, kg.
	blown float64
	// needs are those of the space by week, kWh.
	needs []float64
}

// Fraction is the part of the need that the box met.
// Useful heat over need; 0 where nothing is needed.
func (m *Month) Fraction() float64 {
	if m.Need <= 0 {
		return 0
	}
	return m.Useful / m.Need
}

// BestWeek returns the useful heat of the year's best and, among weeks with any
// need of it, poorest week, kWh.
// Both in kWh of useful heat, among the weeks in which something is needed.
func (r *Result) BestWeek() (best, poor float64) {
	poor = math.Inf(1)
	for i, w := range r.Weeks {
		best = max(best, w)
		if r.needs[i] > 0 {
			poor = min(poor, w)
		}
	}
	if math.IsInf(poor, 1) {
		poor = 0
	}
	return best, poor
}

// Run takes a heater through a year of weather.
// It lays the year out for this one heater; [Laid] shares that among several.
// Only tests reach it, as a reference.
func Run(h *design.Heater, y *climate.Year) (*Result, error) {
	return (&Laid{Year: y}).Run(h)
}

// RunIn is [Run] for a year that is laid out already, at the same place, tilt,
// bearing and surroundings.
// It is what everything else here calls.
// Only tests reach it, as a reference.
func RunIn(h *design.Heater, s *climate.Series) (*Result, error) {
	r, _, err := moved(h, s, collector.Tuning{}, 1, nil)
	return r, err
}

// moved is [RunIn] with the box's uncertain inputs moved, and the space's loss
// times a factor. It takes the surfaces of the same box, if there are any, and
// returns those that it used.
// t moves the box, loss is a factor on the loss of the space, and same takes
// over the surfaces of a box that is equal.
func moved(h *design.Heater, s *climate.Series, t collector.Tuning, loss float64, same *fitted) (*Result, *fitted, error) {
	sp, err := space.New(h)
	if err != nil {
		return nil, nil, err
	}
	sp.Scale(loss)
	lo, hi := inlets(h, s)
	f, err := newFast(h, s, lo, hi, t, same)
	if err != nil {
		return nil, nil, err
	}
	r, err := through(h, s, sp, f, 0, len(s.Quarters))
	if err != nil {
		return nil, nil, err
	}
	r.Source = s.Source
	if r.Stagnation, err = f.hottest(s); err != nil {
		return nil, nil, err
	}
	r.Aperture, r.Gross = f.d.Aperture(), f.d.Gross
	if r.Year.Run > 0 {
		r.AirChange = sp.AirChange(r.blown / (r.Year.Run * 3600) / air.Density(20, s.Pressure))
	}
	return r, f.fitted, nil
}

// inlets are the coldest and warmest air a space may hand to its box, C.
// From the setback temperature, or in a space that is not heated from the
// coldest outdoor air, to 2 K over where a window is opened.
func inlets(h *design.Heater, s *climate.Series) (lo, hi float64) {
	lo, hi = h.Room.Setback, h.Room.Vent+2
	if h.Room.Heater == "none" {
		lo = math.Inf(1)
		for i := range s.Quarters {
			lo = min(lo, s.Quarters[i].Ambient)
		}
		lo += 2
	}
	return max(lo, -30), hi
}

// monthEnds are the days of a common year at which months end.
func monthOf(day, year int) int {
	leap := 0
	if year > 365 {
		leap = 1
	}
	ends := [12]int{31, 59 + leap, 90 + leap, 120 + leap, 151 + leap, 181 + leap, 212 + leap, 243 + leap, 273 + leap, 304 + leap,
		334 + leap, 365 + leap}
	for m, e := range ends {
		if day < e {
			return m
		}
	}
	return 11
}

// through runs a box and its space over some quarters.
// from and to are quarters of the series. The two spaces begin at what is
// wanted.
func through(h *design.Heater, s *climate.Series, sp *space.Space, b model, from, to int) (*Result, error) {
	r := &Result{Space: sp}
	start := max(h.Room.Setback, s.Quarters[from].Ambient)
	twins := twins{sp: sp, heated: h.Room.Heater != "none", with: space.Settle(start, start), without: space.Settle(start, start)}
	twins.spared, twins.burned = twins.with, twins.without
	days := len(s.Quarters) / climate.QuartersInDay
	jet, blown := 0.0, 0.0 // kg C, kg
	for i := from; i < to; i++ {
		q := &s.Quarters[i]
		day := i / climate.QuartersInDay
		month := monthOf(day, days)
		hour := float64(i%climate.QuartersInDay) / 4
		g := quarterSum{outletMax: math.Inf(-1)}
		if err := b.through(q, twins.with.Air, hour, &g); err != nil {
			return nil, err
		}
		wanted := sp.Wanted(hour)
		got := twins.step(q, wanted, &g)
		if q.Level > 0 {
			r.Lit[month] += 0.25
		}
		m := &r.Months[month]
		m.add(&g, &got)
		m.Outdoors += q.Ambient / climate.QuartersInDay
		m.RoomMax = max(m.RoomMax, twins.with.Air)
		if wanted >= h.Room.Wanted {
			m.Use += 0.25
			if twins.with.Air >= wanted-comfortable {
				m.Comfort += 0.25
			}
			if twins.without.Air >= wanted-comfortable {
				m.Bare += 0.25
			}
		}
		if w := day / 7; w < 52 {
			for len(r.Weeks) <= w {
				r.Weeks, r.needs = append(r.Weeks, 0), append(r.needs, 0)
			}
			r.Weeks[w] += got.useful()
			r.needs[w] += got.need * quarter / kWh
		}
		jet += g.jet
		blown += g.blown
	}
	r.sum(s, days)
	if blown > 0 {
		r.Jet, r.blown = jet/blown, blown
	}
	return r, nil
}

// twins are a space with the box and the same without it. A space without a
// heater floats; what it needs is what one would have to give, so its shadow is
// held at what is wanted, with the box (spared) and without (burned).
type twins struct {
	// sp is the space, of which one has the box and one has not.
	sp *space.Space
	// heated says that a heater holds what is wanted; else both are left to
	// themselves.
	heated         bool
	with, without  space.State
	spared, burned space.State
}

// quarterOf is what a quarter of an hour did to the twins, W.
type quarterOf struct {
	// need is without the box and left with it, W; here and bare say where the
	// heat went.
	need, left float64
	here, bare space.Went
}

// useful is the need that the box took away, kWh.
// In kWh, of one quarter.
func (q *quarterOf) useful() float64 { return (q.need - q.left) * quarter / kWh }

// step takes the twins through a quarter of an hour with what the box gave.
// wanted is in C. The twin without the box is told nothing of it.
func (t *twins) step(q *climate.Quarter, wanted float64, g *quarterSum) (out quarterOf) {
	a := space.Around{Outdoors: q.Ambient, Upright: q.Upright, Level: q.Level, Wanted: wanted, Heated: t.heated}
	out.bare = t.sp.Step(&t.without, a, quarter)
	a.Box, a.Draws = (g.heat-g.back)/quarter, g.draws/quarter
	out.here = t.sp.Step(&t.with, a, quarter)
	out.need, out.left = out.bare.Need, out.here.Need
	if !t.heated {
		a.Heated = true
		out.left = t.sp.Step(&t.spared, a, quarter).Need
		a.Box, a.Draws = 0, 0
		out.need = t.sp.Step(&t.burned, a, quarter).Need
	}
	return out
}

// add adds a quarter of an hour to the month.
// J and s become kWh and h.
func (m *Month) add(g *quarterSum, got *quarterOf) {
	m.Sun += g.sun / kWh
	m.Heat += g.heat / kWh
	m.Back += g.back / kWh
	m.Need += got.need * quarter / kWh
	m.Left += got.left * quarter / kWh
	m.Useful += got.useful()
	m.Vented += (got.here.Vented - got.bare.Vented) * quarter / kWh
	m.Fan += (g.fan + (got.here.Mover-got.bare.Mover)*quarter) / kWh
	m.Run += g.run / 3600
	m.Warm += g.warm / 3600
	m.Cycles += g.starts
	m.OutletMax = max(m.OutletMax, g.outletMax)
	if got.here.Vented > got.bare.Vented+1 {
		m.TooHot += 0.25
	}
}

// comfortable is how far below the wanted temperature a space still counts as
// warm, K. Common practice, no source.
const comfortable = 1.0

// sum adds the months up.
// days are those of the series.
func (r *Result) sum(s *climate.Series, days int) {
	y := &r.Year
	y.OutletMax, y.RoomMax = math.Inf(-1), math.Inf(-1)
	n := make([]float64, 12)
	for d := range days {
		n[monthOf(d, days)]++
	}
	for i := range r.Months {
		m := &r.Months[i]
		m.Outdoors /= n[i]
		if math.IsInf(m.OutletMax, -1) || m.Run == 0 {
			m.OutletMax = 0
		}
		y.Sun, y.Need, y.Left, y.Heat, y.Useful, y.Vented, y.Fan = y.Sun+m.Sun, y.Need+m.Need, y.Left+m.Left, y.Heat+m.Heat,
			y.Useful+m.Useful, y.Vented+m.Vented, y.Fan+m.Fan
		y.Back += m.Back
		y.Run, y.Warm, y.Cycles, y.Comfort, y.Bare, y.Use, y.TooHot = y.Run+m.Run, y.Warm+m.Warm, y.Cycles+m.Cycles, y.Comfort+m.Comfort,
			y.Bare+m.Bare, y.Use+m.Use, y.TooHot+m.TooHot
		y.OutletMax, y.RoomMax = max(y.OutletMax, m.OutletMax), max(y.RoomMax, m.RoomMax)
		y.Outdoors += m.Outdoors * n[i] / float64(days)
	}
}
