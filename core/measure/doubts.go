package measure

import (
	"fmt"
	"math"
	"slices"
	"time"
)

// Finding says what is wrong with a log, by what evidence, and what to do.
type Finding struct {
	ID       string
	Title    string
	Text     string
	Evidence string
	Remedy   string
	Doubt    string // the reading to doubt first
}

// doubts runs every test that tells a wrong reading from a warm afternoon.
func doubts(s []Sample, suns []float64, set Setup, r *Report) (fs []Finding) {
	add := func(f *Finding) {
		if f != nil {
			fs = append(fs, *f)
		}
	}
	swapped := swappedProbes(s, suns, r.SunIs)
	add(moreThanSun(set, r))
	add(fahrenheit(s))
	add(swapped)
	for _, c := range []struct {
		name string
		get  func(Sample) float64
	}{{"inlet", func(x Sample) float64 { return x.Inlet }}, {"outlet", func(x Sample) float64 { return x.Outlet }}, {"outdoor", func(x Sample) float64 { return x.Outdoor }}} {
		add(stuck(s, set, c.name, c.get))
		add(offScale(s, c.name, c.get))
	}
	if swapped == nil {
		add(clockOff(s, set))
	}
	if r.Repeated > 0 {
		add(&Finding{ID: "repeated", Title: "Readings given twice", Text: fmt.Sprintf("%d readings carry a time already read; the first of each was kept.", r.Repeated), Doubt: "nothing"})
	}
	return fs
}

func moreThanSun(set Setup, r *Report) *Finding {
	if !r.Refused {
		return nil
	}
	worst := Day{}
	for _, d := range r.Days {
		if d.Impossible && d.Heat > worst.Heat {
			worst = d
		}
	}
	sun, from := worst.Sun, "the sun "+r.SunIs+" brought"
	switch r.SunIs {
	case "measured":
		from = "the sun you measured brought"
	case "":
		sun, from = worst.RunHours*MaxSun*set.Area/1000, fmt.Sprintf("even %d W/m2 all the while would bring", int(MaxSun))
	}
	date := worst.Date
	if t, err := time.Parse(time.DateOnly, date); err == nil {
		date = t.Format("2 January")
	}
	f := &Finding{ID: MoreThanSun, Title: "More heat than the sun gave", Doubt: "flow",
		Text:     fmt.Sprintf("On %s the readings claim %.1f kWh in %.1f h of running; %s %.1f kWh to the glass that day. That cannot be, so the figure is refused.", date, worst.Heat, worst.RunHours, from, sun),
		Evidence: fmt.Sprintf("The flow is taken as %.4f kg/s.", r.Flow)}
	switch r.FlowOrigin {
	case FlowFreeAir:
		f.Remedy = "Doubt the flow first: it is the fan's free-air rating, which no fan reaches in a duct. Use the flow worked out for this system, or measure it with a bag."
	case FlowSpeed:
		f.Remedy = "Doubt the speed first: one jet is not the mean of the duct. Take several points across it."
	default:
		f.Remedy = "Doubt the flow first: if it is a fan's free-air rating, the true flow is far lower. Then look for an outlet probe that stands in the sun or touches metal."
	}
	return f
}

// fahrenheit: room air above 45 C most of the time is F read as C.
func fahrenheit(s []Sample) *Finding {
	warm := 0
	for _, x := range s {
		if x.Inlet > 45 {
			warm++
		}
	}
	if warm*2 < len(s) {
		return nil
	}
	return &Finding{ID: "units-swapped", Title: "Degrees F read as C", Doubt: "units",
		Text:     fmt.Sprintf("The air drawn in is above 45 C in %d of %d readings.", warm, len(s)),
		Evidence: "No room is that warm; the same figures make sense in Fahrenheit.",
		Remedy:   "Set these columns to °F and read the file again."}
}

// swappedProbes: by sun, a box gives warmer air than it takes.
func swappedProbes(s []Sample, suns []float64, sunIs string) *Finding {
	below, above, sum := 0, 0, 0.0
	for i, x := range s {
		if sunIs != "" && suns[i] < 300 {
			continue
		}
		switch d := x.Outlet - x.Inlet; {
		case d < -3:
			below++
			sum -= d
		case d > 3:
			above++
		}
	}
	if below < 20 || below < 4*above {
		return nil
	}
	return &Finding{ID: "swapped", Title: "Inlet and outlet look swapped", Doubt: "probes",
		Text:     fmt.Sprintf("In %d readings the outlet is cooler than the inlet, by %.0f K on average.", below, sum/float64(below)),
		Evidence: "A box in the sun warms the air it draws in.",
		Remedy:   "Swap the two columns, or the two probes."}
}

// stuck: a probe that gives the same figure for two hours in which its
// neighbours move.
func stuck(s []Sample, set Setup, name string, get func(Sample) float64) *Finding {
	const long = 2 * time.Hour
	start := 0
	var from, to time.Time
	for i := 1; i <= len(s); i++ {
		if i < len(s) && get(s[i]) == get(s[start]) && s[i].At.Sub(s[i-1].At) < time.Hour {
			continue
		}
		last := s[i-1].At
		if d := last.Sub(s[start].At); d >= long && d > to.Sub(from) && i-start >= 12 && moved(s[start:i], name) {
			from, to = s[start].At, last
		}
		start = i
	}
	if from.IsZero() {
		return nil
	}
	z := set.Zone
	return &Finding{ID: "stuck-" + name, Title: "The " + name + " probe stands still", Doubt: name,
		Text:     fmt.Sprintf("From %s to %s on %s it gives one and the same figure.", from.In(z).Format("15:04"), to.In(z).Format("15:04"), from.In(z).Format("2 January")),
		Evidence: "The other probes moved by several degrees meanwhile.",
		Remedy:   "Look for a loose plug; leave that stretch out of your sums."}
}

func moved(s []Sample, but string) bool {
	span := func(get func(Sample) float64) float64 {
		lo, hi := math.Inf(1), math.Inf(-1)
		for _, x := range s {
			if v := get(x); !math.IsNaN(v) {
				lo, hi = math.Min(lo, v), math.Max(hi, v)
			}
		}
		return hi - lo
	}
	in, out := span(func(x Sample) float64 { return x.Inlet }), span(func(x Sample) float64 { return x.Outlet })
	switch but {
	case "inlet":
		return out > 5
	case "outlet":
		return in > 2
	}
	return out > 5 || in > 2
}

// offScale: a ceiling that the figure touches again and again.
func offScale(s []Sample, name string, get func(Sample) float64) *Finding {
	top, at, warm := math.Inf(-1), 0, 0
	for _, x := range s {
		v := get(x)
		switch {
		case v > top:
			top, at = v, 1
		case v == top:
			at++
		}
	}
	for _, x := range s {
		if get(x) > top-10 {
			warm++
		}
	}
	if at < 15 || at*4 < warm {
		return nil
	}
	return &Finding{ID: "off-scale-" + name, Title: "The " + name + " probe ends at a ceiling", Doubt: name,
		Text:     fmt.Sprintf("%d of its %d warmest readings are exactly %.1f C.", at, warm, top),
		Evidence: "Real air wanders; a scale that ends does not.",
		Remedy:   "Use a probe with a longer scale; heat is higher than this log shows."}
}

// clockOff compares the middle of the warming with the middle of the sun on
// the glass, day by day.
func clockOff(s []Sample, set Setup) *Finding {
	if set.Site == nil {
		return nil
	}
	var shifts []float64
	for i := 0; i < len(s); {
		j := i
		date := s[i].At.In(set.Zone).Format("2006-01-02")
		for j < len(s) && s[j].At.In(set.Zone).Format("2006-01-02") == date {
			j++
		}
		if shift, ok := dayShift(s[i:j], set); ok {
			shifts = append(shifts, shift)
		}
		i = j
	}
	if len(shifts) == 0 {
		return nil
	}
	m := median(shifts)
	if math.Abs(m) < 40 {
		return nil
	}
	dir := "fast"
	if m < 0 {
		dir = "slow"
	}
	return &Finding{ID: "clock-off", Title: "The logger's clock is off", Doubt: "clock",
		Text:     fmt.Sprintf("The box warms about %d minutes %s of the sun: the clock runs %s, or it kept summer time.", int(math.Abs(m)+0.5), map[bool]string{true: "behind", false: "ahead"}[m > 0], dir),
		Evidence: fmt.Sprintf("Middle of the warming against middle of the sun on the glass, over %d days.", len(shifts)),
		Remedy:   "Check bearing and clock; heat is not touched by it, the comparison with the sun is."}
}

// dayShift returns, in minutes, how much later the middle of the warming is
// than the middle of the sun; only for days logged from morning to evening.
func dayShift(s []Sample, set Setup) (float64, bool) {
	var wr, tr, ws, ts float64
	t0 := s[0].At
	peak := 0.0
	for _, x := range s {
		peak = math.Max(peak, x.Outlet-x.Inlet)
	}
	if peak < 10 || s[len(s)-1].At.Sub(t0) < 7*time.Hour {
		return 0, false
	}
	for i := 1; i < len(s); i++ {
		dt := s[i].At.Sub(s[i-1].At)
		if dt > 30*time.Minute {
			return 0, false
		}
		x := s[i].At.Sub(t0).Minutes()
		if rise := s[i].Outlet - s[i].Inlet; rise > 0 {
			wr += rise * dt.Minutes()
			tr += rise * dt.Minutes() * x
		}
		g := set.Site.Clear(s[i].At)
		ws += g * dt.Minutes()
		ts += g * dt.Minutes() * x
	}
	if wr == 0 || ws == 0 {
		return 0, false
	}
	return tr/wr - ts/ws, true
}

func median(v []float64) float64 {
	s := slices.Sorted(slices.Values(v))
	return s[len(s)/2]
}

// MoreThanSun is the ID of the finding that a log claims more heat than the sun gave.
const MoreThanSun = "more-than-sun"
