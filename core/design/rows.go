package design

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
	"time"
	"unicode"

	"gladember/core/airflow"
	"gladember/core/units"
)

// Rows is how a field that holds a table is written: a line for each row, as
// people write and paste them. A [*Problem] of Read leaves the field's path to its caller.
type Rows struct {
	Read    func(h *Heater, text string, sys units.System) (any, error)
	Write   func(h *Heater, sys units.System) string
	Example string
}

// Fist is what a fist at arm's length hides, degrees. Common practice, no source.
const Fist = 10.0

// Kinds of what stands on the horizon, by what they let through bare and in
// leaf. Common practice, no source; a leafless crown lets through about half of
// the beam.
var obstacleKinds = []struct {
	name        string
	bare, leafy float64
}{{"solid", 0, 0}, {"hill", 0, 0}, {"house", 0, 0}, {"wall", 0, 0}, {"evergreen", 0.1, 0.1}, {"tree", 0.5, 0.15}}

// Kind names what lets that much through; the nearest of the kinds.
func (o Obstacle) Kind() string {
	best, least := "", math.Inf(1)
	for _, k := range obstacleKinds {
		if d := math.Abs(k.bare-o.Bare) + math.Abs(k.leafy-o.Leafy); d < least {
			best, least = k.name, d
		}
	}
	return best
}

var horizonLine = regexp.MustCompile(`^\s*([\d.,]+)\s*°?\s*(?:to|until|-|–|—)\s*([\d.,]+)\s*°?` +
	`\s*[:;]?\s*([^,;]+?)\s*(?:[,;]\s*(\pL+)\s*)?$`)

var rising = regexp.MustCompile(`^(.+?)\s+(?:at|in|away|from)\s+(.+)$`)

// ParseHeight reads how high something stands over the horizon of a glass that
// is above m over the ground: in degrees, in fists at arm's length, or as
// height and distance (`8 m at 30 m`). It returns degrees.
// above is the height of the eye over the ground, m; the answer is in degrees.
func ParseHeight(text string, above float64, sys units.System) (float64, error) {
	t := strings.TrimSpace(text)
	for _, word := range []string{"fists", "fist"} {
		if n, ok := strings.CutSuffix(strings.ToLower(t), word); ok {
			v, err := units.Parse(units.Number, strings.TrimSpace(n), sys)
			return v * Fist, err
		}
	}
	if m := rising.FindStringSubmatch(t); m != nil {
		up, err := units.Parse(units.Distance, m[1], sys)
		if err != nil {
			return 0, err
		}
		away, err := units.Parse(units.Distance, m[2], sys)
		if err != nil {
			return 0, err
		}
		if away <= 0 {
			return 0, fmt.Errorf("%q stands no distance away", t)
		}
		return max(0, math.Atan2(up-above, away)*180/math.Pi), nil
	}
	return units.Parse(units.Angle, t, sys)
}

// lines are those of a text that hold anything, with their numbers.
// Lines are counted from 1, empty ones with them, as an editor counts them.
func lines(text string, each func(n int, line string) error) error {
	for i, l := range strings.Split(strings.ReplaceAll(text, "\r", ""), "\n") {
		if l = strings.TrimSpace(l); strings.Trim(l, " \t,;|") == "" {
			continue
		}
		if err := each(i+1, l); err != nil {
			return err
		}
	}
	return nil
}

// lineProblem is an error that names the line it is about, counted from one.
func lineProblem(n int, line, why, remedy string) *Problem {
	return &Problem{Reason: fmt.Sprintf("line %d, %q: %s", n, line, why), Remedy: remedy}
}

const horizonRemedy = "enter it like 120 to 150: 12, tree; the height also as 1 1/2 fists or 8 m at 30 m; the last word is solid (or " +
	"hill, house, wall), evergreen or tree"

// readHorizon reads what stands before the sun, one object a line: from and to
// in degrees of azimuth, height in degrees, fists or as height at a distance,
// and its kind.
// A piece that crosses north becomes two.
func readHorizon(h *Heater, text string, sys units.System) (any, error) {
	var out []Obstacle
	err := lines(text, func(n int, l string) error {
		m := horizonLine.FindStringSubmatch(l)
		if m == nil {
			return lineProblem(n, l, "it is not two bearings and a height", horizonRemedy)
		}
		var o Obstacle
		var err error
		for _, x := range []struct {
			to   *float64
			text string
		}{{&o.From, m[1]}, {&o.To, m[2]}} {
			if *x.to, err = units.Parse(units.Angle, x.text, sys); err != nil || !(*x.to >= 0 && *x.to <= 360) {
				return lineProblem(n, l, x.text+" is not a bearing", "enter bearings 0 to 360 from true north, clockwise: 90 is east")
			}
		}
		if o.Elevation, err = ParseHeight(m[3], h.Place.Above, sys); err != nil || !(o.Elevation >= 0 && o.Elevation <= 90) {
			return lineProblem(n, l, fmt.Sprintf("%q is not a height", m[3]), horizonRemedy)
		}
		if m[4] != "" {
			known := false
			for _, k := range obstacleKinds {
				if k.name == strings.ToLower(m[4]) {
					o.Bare, o.Leafy, known = k.bare, k.leafy, true
				}
			}
			if !known {
				return lineProblem(n, l, fmt.Sprintf("%q is not known", m[4]), horizonRemedy)
			}
		}
		if o.From > o.To { // past north
			over := o
			over.From, o.To = 0, 360
			out = append(out, over)
		}
		out = append(out, o)
		return nil
	})
	if len(out) > 60 {
		return nil, &Problem{Reason: fmt.Sprintf("it has %d pieces", len(out)), Remedy: "keep to 60"}
	}
	return out, err
}

// writeHorizon prints the horizon as [readHorizon] takes it.
func writeHorizon(h *Heater, _ units.System) string {
	var b strings.Builder
	for _, o := range h.Shade.Horizon {
		fmt.Fprintf(&b, "%s to %s: %s, %s\n", short(o.From), short(o.To), short(o.Elevation), o.Kind())
	}
	return b.String()
}

// short prints degrees to a tenth, without a zero at the end.
func short(v float64) string { return strconv.FormatFloat(math.Round(v*10)/10, 'f', -1, 64) }

const monthsRemedy = "paste twelve lines, January first, under a line of names out of mean, min, max, sunshine, radiation, wind; or " +
	"only a mean, or min and max, on each line"

// monthColumns are the columns a table of months may have, by the beginnings of
// their names.
var monthColumns = []struct {
	key    string
	starts []string
}{{"mean", []string{"mean", "avg", "average", "temp"}}, {"min", []string{"min", "low"}}, {"max", []string{"max", "high"}},
	{"sunshine", []string{"sun", "hours"}}, {"radiation", []string{"rad", "ghi", "global", "mj", "kwh"}}, {"wind", []string{"wind"}},
	{"", []string{"month"}}}

var cellBreak = regexp.MustCompile(`\t|;|\||\s{2,}`)

// cells splits a pasted line: by tabs, semicolons, bars or wide gaps, else by
// commas where these are not decimal, else by single blanks.
func cells(l string, sys units.System) []string {
	parts := cellBreak.Split(strings.Trim(l, "|"), -1)
	if len(parts) == 1 && !sys.DecimalComma && strings.Contains(l, ",") {
		parts = strings.Split(l, ",")
	}
	if len(parts) == 1 {
		parts = strings.Fields(l)
	}
	var out []string
	for _, p := range parts {
		if p = strings.TrimSpace(p); p != "" {
			out = append(out, p)
		}
	}
	return out
}

// monthOf reads the name or number of a month, 1..12; 0 for anything else.
func monthOf(s string) int {
	s = strings.ToLower(strings.Trim(s, ". :"))
	for m := time.January; m <= time.December; m++ {
		if full := strings.ToLower(m.String()); len(s) >= 3 && strings.HasPrefix(full, s) {
			return int(m)
		}
	}
	return 0
}

// readMonths reads a climate table of twelve lines, January first, under a line
// of column names or without one; no line at all empties it.
// A first line of names says what the columns are.
func readMonths(_ *Heater, text string, sys units.System) (any, error) {
	r := monthReader{sys: sys, kwh: strings.Contains(strings.ToLower(text), "kwh")}
	if err := lines(text, r.line); err != nil {
		return nil, err
	}
	if n := len(r.out); n != 0 && n != 12 {
		return nil, &Problem{Reason: fmt.Sprintf("it has %d months", n), Remedy: monthsRemedy}
	}
	for i := range r.out {
		if r.sums && r.out[i].Sunshine != nil {
			*r.out[i].Sunshine /= float64(daysIn[i])
		}
	}
	return r.out, nil
}

// monthReader reads a table of months line by line.
type monthReader struct {
	sys     units.System
	kwh     bool // radiation is in kWh
	sums    bool // hours of sunshine are those of the month, not of its days
	columns []string
	out     []ClimateMonth
}

// line reads a line of names or a month.
func (r *monthReader) line(n int, l string) error {
	cs := cells(l, r.sys)
	if len(r.out) == 0 && r.columns == nil && monthOf(cs[0]) == 0 {
		if _, err := units.Parse(units.Temperature, cs[0], r.sys); err != nil {
			return r.names(n, l, cs)
		}
	}
	if len(cs) > 1 && monthOf(cs[0]) > 0 {
		if monthOf(cs[0]) != len(r.out)+1 {
			return lineProblem(n, l, cs[0]+" is out of its order", "begin with January")
		}
		cs = cs[1:]
	}
	names := r.columns
	if names == nil {
		names = map[int][]string{1: {"mean"}, 2: {"min", "max"}}[len(cs)]
	}
	if len(names) != len(cs) {
		return lineProblem(n, l, fmt.Sprintf("it has %d numbers", len(cs)), monthsRemedy)
	}
	var m ClimateMonth
	for i, c := range cs {
		if !r.value(&m, names[i], c) {
			return lineProblem(n, l, fmt.Sprintf("%q is not a number", c), monthsRemedy)
		}
	}
	r.out = append(r.out, m)
	return nil
}

// names reads the names of the columns.
func (r *monthReader) names(n int, l string, cs []string) error {
	for _, c := range cs {
		key, found := columnOf(c)
		if !found {
			return lineProblem(n, l, fmt.Sprintf("%q is not a known column", c), monthsRemedy)
		}
		if key != "" {
			r.columns = append(r.columns, key)
		}
	}
	return nil
}

// columnOf is what a column of a name holds; empty for one that is known and
// not used.
func columnOf(name string) (key string, found bool) {
	for _, k := range monthColumns {
		for _, s := range k.starts {
			if strings.HasPrefix(strings.ToLower(name), s) {
				return k.key, true
			}
		}
	}
	return "", false
}

// value reads a cell into a month; false where it is not a number.
// It reports false for a cell that the column cannot hold.
func (r *monthReader) value(m *ClimateMonth, name, cell string) bool {
	kind := units.Temperature
	switch name {
	case "sunshine", "radiation":
		kind = units.Number
	case "wind":
		kind = units.Speed
	}
	v, err := units.Parse(kind, cell, r.sys)
	if err != nil {
		return false
	}
	const longestDay = 24.0 // h
	switch name {
	case "mean":
		m.Mean = &v
	case "min":
		m.Min = &v
	case "max":
		m.Max = &v
	case "sunshine":
		r.sums = r.sums || v > longestDay
		m.Sunshine = &v
	case "radiation":
		if r.kwh {
			v *= 3.6 // MJ/kWh
		}
		m.Radiation = &v
	case "wind":
		m.Wind = &v
	}
	return true
}

var daysIn = [12]int{31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31}

// writeMonths prints the climate table as [readMonths] takes it, only with the
// columns that are known.
func writeMonths(h *Heater, sys units.System) string {
	if len(h.Climate.Months) == 0 {
		return ""
	}
	columns := []struct {
		name string
		get  func(m *ClimateMonth) *float64
		kind units.Kind
	}{{"mean", func(m *ClimateMonth) *float64 { return m.Mean }, units.Temperature}, {"min",
		func(m *ClimateMonth) *float64 { return m.Min }, units.Temperature}, {"max", func(m *ClimateMonth) *float64 { return m.Max },
		units.Temperature},
		{"sunshine", func(m *ClimateMonth) *float64 { return m.Sunshine }, units.Number},
		{"radiation", func(m *ClimateMonth) *float64 { return m.Radiation }, units.Number},
		{"wind", func(m *ClimateMonth) *float64 { return m.Wind }, units.Speed}}
	rows := make([][]string, 13)
	for _, c := range columns {
		has := true
		for i := range h.Climate.Months {
			has = has && c.get(&h.Climate.Months[i]) != nil
		}
		if !has {
			continue
		}
		rows[0] = append(rows[0], c.name)
		for i := range h.Climate.Months {
			v := sys.In(c.kind, *c.get(&h.Climate.Months[i]))
			rows[i+1] = append(rows[i+1], units.Decimals(math.Round(v*100)/100, -1, sys))
		}
	}
	var b strings.Builder
	for _, r := range rows {
		b.WriteString(strings.Join(r, "\t") + "\n")
	}
	return b.String()
}

const billsRemedy = "enter a month and the fuel used or what it cost on each line, like January 142 or January $235, or one line like " +
	"$235 a month"

// eachMonth is what stands behind the bill of a usual month.
var eachMonth = regexp.MustCompile(`(?i)\s*(?:(?:a|per|each|every)\s+month|/\s*(?:month|mo)|monthly)\.?\s*$`)

// billLine is a month, if there is one, and an amount behind it.
var billLine = regexp.MustCompile(`^\s*(?:(\pL{3,}|\d{1,2})[.:,;]?[\s:]+)?(.*\d.*)$`)

// readBills reads fuel burned by month, one a line, in the units that the fuel
// is sold in or by what it cost.
func readBills(_ *Heater, text string, sys units.System) (any, error) {
	var out []Bill
	err := lines(text, func(n int, l string) error {
		bad := lineProblem(n, l, "it is not a month and a number", billsRemedy)
		cells := billLine.FindStringSubmatch(eachMonth.ReplaceAllString(l, ""))
		if cells == nil {
			return bad
		}
		b := Bill{Month: len(out) + 1}
		if month := cells[1]; eachMonth.MatchString(l) {
			if b.Month = 0; month != "" {
				return bad
			}
		} else if month != "" {
			if b.Month = monthOf(month); b.Month == 0 {
				b.Month, _ = strconv.Atoi(month)
			}
			if b.Month < 1 || b.Month > 12 {
				return bad
			}
		}
		var err error
		if strings.ContainsFunc(cells[2], func(r rune) bool { return unicode.Is(unicode.Sc, r) }) {
			b.Cost, err = units.ParseMoney(cells[2], sys)
		} else {
			b.Units, err = units.Parse(units.Number, cells[2], sys)
		}
		if err != nil {
			return bad
		}
		out = append(out, b)
		return nil
	})
	return out, err
}

// writeBills prints the bills as [readBills] takes them.
func writeBills(h *Heater, _ units.System) string {
	var b strings.Builder
	for _, x := range h.Room.Bills {
		amount := strconv.FormatFloat(x.Units, 'f', -1, 64)
		if x.Cost > 0 {
			amount = "$" + strconv.FormatFloat(x.Cost, 'f', -1, 64)
		}
		if x.Month == 0 {
			fmt.Fprintf(&b, "%s a month\n", amount)
			continue
		}
		fmt.Fprintf(&b, "%s %s\n", time.Month(x.Month), amount)
	}
	return b.String()
}

const tableRemedy = "enter a flow and the pressure at that flow on each line, like {120 m3/h 25 Pa|70 cfm 0.1 in w.g.}, in order of " +
	"the flow"

// readFanTable reads a fan's curve, one flow and one pressure a line; whether
// they fall as a curve does is for validation.
func readFanTable(_ *Heater, text string, sys units.System) (any, error) {
	var out []airflow.FanPoint
	err := lines(text, func(n int, l string) error {
		cs := cells(l, sys)
		if len(cs) == 4 { // figures and units, blank between
			cs = []string{cs[0] + " " + cs[1], cs[2] + " " + cs[3]}
		}
		if len(cs) != 2 {
			return lineProblem(n, l, "it is not a flow and a pressure", units.Localize(tableRemedy, sys))
		}
		q, err := units.Parse(units.Flow, cs[0], sys)
		if err != nil {
			return lineProblem(n, l, fmt.Sprintf("%q is not a flow", cs[0]), units.Localize(tableRemedy, sys))
		}
		p, err := units.Parse(units.Pressure, cs[1], sys)
		if err != nil {
			return lineProblem(n, l, fmt.Sprintf("%q is not a pressure", cs[1]), units.Localize(tableRemedy, sys))
		}
		out = append(out, airflow.FanPoint{Flow: q, Pressure: p})
		return nil
	})
	return out, err
}

// writeFanTable prints the fan's curve in a person's units.
func writeFanTable(h *Heater, sys units.System) string {
	var b strings.Builder
	for _, p := range h.Air.FanTable {
		fmt.Fprintf(&b, "%s  %s\n", units.Format(units.Flow, p.Flow, sys), units.Format(units.Pressure, p.Pressure, sys))
	}
	return b.String()
}

const soldRemedy = "enter a length like {2.4 m|8 ft}, or a sheet like {1220 x 2440 mm|4 x 8 ft}, and its price after a comma"

// MostSold is how many sizes may be listed as sold.
const MostSold = 24

// readSold reads the sizes that are sold, one a line, each with or without its
// price.
func readSold(_ *Heater, text string, sys units.System) (any, error) {
	var out []SoldSize
	err := lines(text, func(n int, l string) error {
		size, price, priced := l, "", false
		if a, b, ok := strings.Cut(l, ";"); ok {
			size, price, priced = strings.TrimSpace(a), strings.TrimSpace(b), true
		} else if a, b, ok := strings.Cut(l, ", "); ok { // a comma by itself may be a decimal one
			size, price, priced = strings.TrimSpace(a), strings.TrimSpace(b), true
		}
		var s SoldSize
		var err error
		if _, _, isSheet := SplitPane(size); isSheet {
			s.Width, s.Length, err = ParsePane(size, sys)
		} else {
			s.Length, err = units.Parse(units.Length, size, sys)
		}
		if err != nil {
			return lineProblem(n, l, fmt.Sprintf("%q is not a size", size), units.Localize(soldRemedy, sys))
		}
		if s.Width > s.Length {
			s.Width, s.Length = s.Length, s.Width
		}
		if priced {
			if s.Price, err = units.Parse(units.Number, price, sys); err != nil || s.Price < 0 {
				return lineProblem(n, l, fmt.Sprintf("%q is not a price", price), units.Localize(soldRemedy, sys))
			}
		}
		out = append(out, s)
		return nil
	})
	return out, err
}

// writeSold prints the sizes as [readSold] takes them.
func writeSold(h *Heater, sys units.System) string {
	var b strings.Builder
	for _, s := range h.Workshop.Cut.Sold {
		if s.Width > 0 {
			b.WriteString(units.Figure(units.Length, s.Width, sys) + " x ")
		}
		b.WriteString(units.Format(units.Length, s.Length, sys))
		if s.Price > 0 {
			b.WriteString("; " + units.Decimals(s.Price, 2, sys))
		}
		b.WriteString("\n")
	}
	return strings.TrimSuffix(b.String(), "\n")
}

var otherLine = regexp.MustCompile(`^\s*(?:(\d+)\s*:\s*)?(.+?)\s*(?:[,;]\s+(.+?)\s*)?$`)

const othersRemedy = "enter it like 1: 600 x 1200 mm, 20 mm: how many, the glazing, the depth of the air channel"

// MostOthers is how many sorts of boxes a row may hold beside the first.
const MostOthers = 4

// readOthers reads the boxes of a row that differ from the first, one kind a
// line.
func readOthers(h *Heater, text string, sys units.System) (any, error) {
	var out []OtherBox
	err := lines(text, func(n int, l string) error {
		m := otherLine.FindStringSubmatch(l)
		if m == nil {
			return lineProblem(n, l, "it is not a box", othersRemedy)
		}
		o := OtherBox{Count: 1}
		var err error
		if m[1] != "" {
			if o.Count, err = strconv.Atoi(m[1]); err != nil {
				return lineProblem(n, l, m[1]+" is not a whole number", othersRemedy)
			}
		}
		if o.Width, o.Height, err = ParsePane(m[2], sys); err != nil {
			return lineProblem(n, l, fmt.Sprintf("%q is not a glazing size", m[2]), othersRemedy)
		}
		if m[3] != "" {
			if o.Depth, err = units.Parse(units.Length, m[3], sys); err != nil {
				return lineProblem(n, l, fmt.Sprintf("%q is not a depth", m[3]), othersRemedy)
			}
		}
		out = append(out, o)
		return nil
	})
	return out, err
}

// writeOthers prints the other boxes as [readOthers] takes them.
func writeOthers(h *Heater, sys units.System) string {
	var b strings.Builder
	for _, o := range h.Array.Others {
		fmt.Fprintf(&b, "%d: %s x %s", o.Count, units.Figure(units.Length, o.Width, sys), units.Format(units.Length, o.Height, sys))
		if o.Depth > 0 {
			fmt.Fprintf(&b, ", %s", units.Format(units.Length, o.Depth, sys))
		}
		b.WriteString("\n")
	}
	return strings.TrimSuffix(b.String(), "\n")
}
