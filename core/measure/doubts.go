package measure

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sort"
	"time"

	"gonum.org/v1/gonum/stat"

	"gladember/core/design"
	"gladember/core/units"
)

// Finding says what is wrong with a log, by what evidence, and what to do, in
// the units of [Setup].
type Finding struct {
	// ID names it for programs.
	ID string
	// Title names the problem, Text says what it does to the log, and Evidence
	// what it is read from.
	Title    string
	Text     string
	Evidence string
	// Remedy is an instruction.
	Remedy string
	// Doubt is the reading to doubt first.
	Doubt string
	// From and To are the stretch that it concerns; zero for the whole log.
	From, To time.Time
	// Patch mends it in the heater's document; nil where nothing there does.
	Patch []design.Change
}

// doubts runs every test that tells a wrong reading from a warm afternoon.
// suns are those at each reading, W/m2. What makes the whole log doubtful comes
// first.
func doubts(s []Sample, suns []float64, set Setup, r *Report) (fs []Finding) {
	add := func(f *Finding) {
		if f != nil {
			fs = append(fs, *f)
		}
	}
	swapped := swappedProbes(s, suns, r.SunIs, set)
	add(moreThanSun(set, r))
	add(fahrenheit(s, set.Units))
	for _, c := range []struct {
		name string
		get  func(Sample) float64
	}{{"outdoor", func(x Sample) float64 { return x.Outdoor }}, {"inlet", func(x Sample) float64 { return x.Inlet }}} {
		add(inTheSun(s, suns, r.SunIs, set, c.name, c.get))
	}
	add(swapped)
	for _, c := range []struct {
		name string
		get  func(Sample) float64
	}{{"inlet", func(x Sample) float64 { return x.Inlet }}, {"outlet", func(x Sample) float64 { return x.Outlet }},
		{"outdoor", func(x Sample) float64 { return x.Outdoor }}} {
		add(stuck(s, set, c.name, c.get))
		add(offScale(s, c.name, c.get, set.Units))
	}
	if swapped == nil {
		add(clockOff(s, set))
	}
	if r.Repeated > 0 {
		add(&Finding{ID: "repeated", Title: "Some readings are repeated",
			Text: fmt.Sprintf("%d readings have the time of an earlier one; the first of each is used.", r.Repeated), Doubt: "nothing"})
	}
	return fs
}

// moreThanSun: the readings claim more heat than the sun gave, so that flow,
// area or a thermometer is wrong.
// The remedy follows from how the flow was found: a label, one speed on the
// axis, or something else.
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
	sun, from := worst.Sun, "the sun "+r.SunIs+" gave the glazing"
	switch r.SunIs {
	case "measured":
		from = "the measured sun gave the glazing"
	case "":
		sun, from = worst.RunHours*MaxSun*set.Area/1000, fmt.Sprintf("even %s all the time would give the glazing",
			units.Format(units.Irradiance, MaxSun, set.Units))
	}
	date := worst.Date
	if t, err := time.Parse(time.DateOnly, date); err == nil {
		date = t.Format("2 January")
	}
	day, _ := time.ParseInLocation(time.DateOnly, worst.Date, zoneOf(&set))
	f := &Finding{ID: MoreThanSun, From: day, To: day.AddDate(0, 0, 1).Add(-time.Second),
		Title: "The log shows more heat than the sun gave", Doubt: "flow",
		Text: fmt.Sprintf("On %s the readings show %s in %.1f h of running, but %s only %s that day. This is impossible, so the "+
			"figure is refused.", date, units.Format(units.Energy, worst.Heat, set.Units), worst.RunHours, from,
			units.Format(units.Energy, sun, set.Units)),
		Evidence: fmt.Sprintf("The airflow used is %.4f kg/s.", r.Flow)}
	switch r.FlowOrigin {
	case FlowFreeAir:
		f.Patch = []design.Change{design.Set(design.LogFlowIs, design.WorkedOut)}
		f.Remedy = "Check the airflow first: it is the fan's rated flow, which no fan reaches in a duct. Use the flow predicted for " +
			"this system, or measure it with a bag."
	case FlowSpeed:
		f.Remedy = "Check the air speed first: the middle of a duct is faster than its mean. Measure several points across it."
	default:
		f.Remedy = "Check the airflow first: if it is a fan's rated flow, the true flow is far lower. Then look for an outlet probe in " +
			"the sun or touching metal."
	}
	return f
}

// zoneOf is the clock of a log.
func zoneOf(set *Setup) *time.Location { return orUTC(set.Zone) }

// orUTC is a time zone, that of Greenwich where there is none.
func orUTC(zone *time.Location) *time.Location { return cmp.Or(zone, time.UTC) }

// fahrenheit: room air above 45 C most of the time is F read as C.
func fahrenheit(s []Sample, u units.System) *Finding {
	const room = 45.0 // C
	warm := 0
	for _, x := range s {
		if x.Inlet > room {
			warm++
		}
	}
	if warm*2 < len(s) {
		return nil
	}
	return &Finding{ID: "units-swapped", Title: "The temperatures are in °F, but read as °C", Doubt: "units",
		Text:     fmt.Sprintf("The inlet air is above %s in %d of %d readings.", units.Format(units.Temperature, room, u), warm, len(s)),
		Evidence: "No room is that warm; in degrees Fahrenheit the same numbers make sense.",
		Remedy:   "Set these columns to °F and import the file again."}
}

// swappedProbes: by sun, a box gives warmer air than it takes.
func swappedProbes(s []Sample, suns []float64, sunIs string, set Setup) *Finding {
	u := set.Units
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
	return &Finding{ID: "swapped", Title: "Inlet and outlet seem to be swapped", Doubt: "probes",
		Text: fmt.Sprintf("In %d readings the outlet is cooler than the inlet, by %s on average.", below,
			units.Format(units.Rise, sum/float64(below), u)),
		Evidence: "A box in the sun warms the air it draws in.",
		Remedy:   "Swap the two columns, or the two probes.", Patch: []design.Change{design.Set(design.LogSwapped, !set.Swapped)}}
}

// inTheSun: a probe that follows the sun from minute to minute. Of readings ten minutes apart
// the change of the probe is put on the change of the measured sun; 3 K for each 1,000 W/m2
// that explain a third of its changes are more than air does.
func inTheSun(s []Sample, suns []float64, sunIs string, set Setup, name string, get func(Sample) float64) *Finding {
	const (
		apart, longest = 10 * time.Minute, 13 * time.Minute
		step           = 2 * time.Minute
		bright         = 60.0 // W/m2 of change: less says nothing
		perKilowatt    = 3.0  // K
		explained      = 0.33
		fewest         = 40 // windows that overlap
	)
	if sunIs != "measured" {
		return nil
	}
	var xx, xy, yy float64
	n, k := 0, 0
	for i := range s {
		for k < i && s[i].At.Sub(s[k].At) > longest {
			k++
		}
		// Windows overlap, so that each cloud is met at its beginning and in its middle.
		for k < i && s[i].At.Sub(s[k].At) >= apart {
			dx, dy := suns[i]-suns[k], get(s[i])-get(s[k])
			from := s[k].At
			for k < i && s[k].At.Sub(from) < step {
				k++
			}
			if math.Abs(dx) < bright || math.IsNaN(dy) {
				continue
			}
			n, xx, xy, yy = n+1, xx+dx*dx, xy+dx*dy, yy+dy*dy
		}
	}
	if n < fewest || yy == 0 {
		return nil
	}
	slope := 1000 * xy / xx
	if slope < perKilowatt || xy*xy/(xx*yy) < explained {
		return nil
	}
	return &Finding{ID: "in-the-sun-" + name, Title: "The sun shines on the " + name + " probe", Doubt: name,
		Text: fmt.Sprintf("It warms by %s for each 1,000 W/m² of sun, within minutes, in %d changes of the sun.",
			units.Format(units.Rise, slope, set.Units), n),
		Evidence: "Air does not follow each cloud; a thermometer in the sun does.",
		Remedy:   "Hang it in the shade and off the wall, and log again."}
}

// stuck: a probe that gives the same figure for two hours in which its
// neighbors move.
// A channel that shows one value for two hours while others move.
func stuck(s []Sample, set Setup, name string, get func(Sample) float64) *Finding {
	const long = 2 * time.Hour
	start := 0
	var from, to time.Time
	top := math.Inf(-1) // where a dial ends, which is another finding
	for _, x := range s {
		if v := get(x); v > top {
			top = v
		}
	}
	usual := s[len(s)-1].At.Sub(s[0].At) / time.Duration(1+changes(s, get))
	for i := 1; i <= len(s); i++ {
		if i < len(s) && get(s[i]) == get(s[start]) && s[i].At.Sub(s[i-1].At) < time.Hour {
			continue
		}
		last := s[i-1].At
		if d := last.Sub(s[start].At); d >= long && d > to.Sub(from) && i-start >= 12 &&
			(moved(s[start:i], name) || d > 20*usual && get(s[start]) < top && livelier(s[start:i], name)) {
			from, to = s[start].At, last
		}
		start = i
	}
	if from.IsZero() {
		return nil
	}
	z := set.Zone
	return &Finding{ID: "stuck-" + name, Title: "The " + name + " probe does not change", Doubt: name,
		Text: fmt.Sprintf("From %s to %s on %s it shows the same value.", from.In(z).Format("15:04"), to.In(z).Format("15:04"),
			from.In(z).Format("2 January")),
		Evidence: "The other probes moved by several degrees meanwhile.",
		Remedy:   "Look for a loose plug, and exclude that time.", From: from, To: to}
}

// changes is how often a channel shows another value than the reading before.
func changes(s []Sample, get func(Sample) float64) (n int) {
	for i := 1; i < len(s); i++ {
		if a, b := get(s[i-1]), get(s[i]); a != b && !math.IsNaN(a+b) {
			n++
		}
	}
	return n
}

// livelier says whether another temperature than the one that is doubted changes often.
func livelier(s []Sample, but string) bool {
	const often = 24
	return but != "outlet" && changes(s, func(x Sample) float64 { return x.Outlet }) >= often ||
		but != "inlet" && changes(s, func(x Sample) float64 { return x.Inlet }) >= often
}

// moved says whether the temperatures, but for one that is doubted, ran through
// more than noise over these samples.
func moved(s []Sample, but string) bool {
	span := func(get func(Sample) float64) float64 {
		lo, hi := math.Inf(1), math.Inf(-1)
		for _, x := range s {
			if v := get(x); !math.IsNaN(v) {
				lo, hi = min(lo, v), max(hi, v)
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
// A channel that stands at its own highest value for 15 readings or more, and
// for a quarter of its warm ones, as a dial does at its end.
func offScale(s []Sample, name string, get func(Sample) float64, u units.System) *Finding {
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
	return &Finding{ID: "off-scale-" + name, Title: "The " + name + " probe reaches the end of its scale", Doubt: name,
		Text:     fmt.Sprintf("%d of its %d warmest readings are exactly %s.", at, warm, units.Format(units.Temperature, top, u)),
		Evidence: "Real air temperatures vary.",
		Remedy:   "Use a probe with a wider range; the true heat is higher than this log shows."}
}

// clockOff compares the middle of the warming with the middle of the sun on
// the glass, day by day.
// The middle of the warming of each day is compared with the middle of the sun
// on the glass; 40 minutes apart in the median is doubted.
func clockOff(s []Sample, set Setup) *Finding {
	if set.Site == nil {
		return nil
	}
	// The median of some sixty days, spread over the log, is as sure as that of all of them.
	const enough = 60
	var shifts []float64
	days := byDay(s, set.Zone)
	for i := 0; i < len(days); i += 1 + len(days)/enough {
		if shift, ok := dayShift(days[i], set); ok {
			shifts = append(shifts, shift)
		}
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
	return &Finding{ID: "clock-off", Title: "The logger's clock is wrong", Doubt: "clock",
		Text: fmt.Sprintf("The box warms about %d minutes %s of the sun, so the clock is %s or set to daylight saving time.",
			int(math.Abs(m)+0.5), map[bool]string{true: "behind", false: "ahead"}[m > 0], dir),
		Evidence: fmt.Sprintf("This compares the middle of the warming with the middle of the sun on the glazing, over %d days.",
			len(shifts)),
		Remedy: "Check the bearing and the clock. The heat is not affected, but the comparison with the sun is.",
		Patch:  []design.Change{design.Set(design.LogClockOff, set.Ahead.Minutes()+math.Round(m/5)*5)}}
}

// byDay parts readings by local days.
func byDay(s []Sample, zone *time.Location) (days [][]Sample) {
	for len(s) > 0 {
		local := s[0].At.In(zone)
		midnight := time.Date(local.Year(), local.Month(), local.Day()+1, 0, 0, 0, 0, zone)
		n := sort.Search(len(s), func(i int) bool { return !s[i].At.Before(midnight) })
		days = append(days, s[:n])
		s = s[n:]
	}
	return days
}

// dayShift returns, in minutes, how much later the middle of the warming is
// than the middle of the sun; only for days logged from morning to evening.
func dayShift(s []Sample, set Setup) (float64, bool) {
	var wr, tr, ws, ts float64
	t0, clearSky := s[0].At, set.Site.clearly()
	peak := 0.0
	for _, x := range s {
		peak = max(peak, x.Outlet-x.Inlet)
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
		g := clearSky(s[i].At)
		ws += g * dt.Minutes()
		ts += g * dt.Minutes() * x
	}
	if wr == 0 || ws == 0 {
		return 0, false
	}
	return tr/wr - ts/ws, true
}

// median is the middle one, the lower of the two where there is an even number.
func median(v []float64) float64 {
	return stat.Quantile(0.5, stat.Empirical, slices.Sorted(slices.Values(v)), nil)
}

// MoreThanSun is the ID of the finding that a log claims more heat than the sun
// gave.
const MoreThanSun = "more-than-sun"
