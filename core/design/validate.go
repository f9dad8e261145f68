package design

import (
	"fmt"
	"math"
	"reflect"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"gladember/core/units"
)

// A Problem is one thing wrong with a heater: where, why, and what would be
// right.
type Problem struct {
	// Path is the field's, or that of the part where several fields disagree.
	Path string
	// Reason says what is wrong, with the value as it was entered.
	Reason string
	// Remedy says what would be right, and begins with a verb.
	Remedy string
}

// Error is path, reason and remedy in a line, as commands print it.
func (p *Problem) Error() string {
	s := p.Reason + "; " + p.Remedy
	if p.Path != "" {
		s = p.Path + ": " + s
	}
	return s
}

// check holds the rules of one value.
// The value is of the kinds that [read] returns, and h the heater that it is for. Units of the message are those
// of sys. It returns nil for a value that is right by itself.
func (f *Field) check(h *Heater, v any, sys units.System) *Problem {
	fail := func(reason, remedy string) *Problem { return &Problem{f.Path, reason, remedy} }
	if f.Rows != nil { // rows are checked as a whole, by tables and wholes
		if v == nil || reflect.TypeOf(v).Kind() != reflect.Slice {
			return fail("a table is missing", "enter it like "+f.Rows.Example)
		}
		return nil
	}
	switch x := v.(type) {
	case string:
		if f.Text {
			// Texts are names; a longer one is something pasted by mistake.
			if utf8.RuneCountInString(x) > 80 {
				return fail("the text is over 80 letters long", "shorten it")
			}
			if !utf8.ValidString(x) || strings.IndexFunc(x, unicode.IsControl) >= 0 {
				return fail("the text holds unprintable characters", "use plain letters")
			}
			// The zone decides what hour each reading is, so that it must be
			// known.
			if f.Path == PlaceZone.Path {
				if _, err := time.LoadLocation(x); err != nil || x == "" || x == "Local" {
					return fail(fmt.Sprintf("there is no time zone %q", x), "enter one like Europe/Zurich or UTC")
				}
			}
			if f.Path == WorkshopCurrency.Path && (utf8.RuneCountInString(x) > 4 || strings.ContainsAny(x, "0123456789;=\"")) {
				return fail(fmt.Sprintf("%q is no currency", x), "enter a sign or up to four letters, such as € or CHF")
			}
			return nil
		}
		if f.Choices == nil {
			return fail(fmt.Sprintf("%q is text", x), "enter a number")
		}
		var known []string
		for _, c := range f.ListChoices(h) {
			if c.ID == x {
				return nil
			}
			known = append(known, c.ID)
		}
		return fail(fmt.Sprintf("there is no %q", x), "choose one of "+strings.Join(known, ", "))
	case bool:
		if !f.Bool {
			return fail("yes or no is not a value here", "enter a value")
		}
	case int:
		return f.check(h, float64(x), sys)
	case float64:
		if f.Text || f.Bool || f.Choices != nil {
			return fail("a number is not a value here", "choose from the list")
		}
		return f.checkNumber(x, sys)
	default:
		return fail("it is missing", "enter a value")
	}
	return nil
}

// checkNumber holds the rules of a number, with messages in a person's units.
// A rounding of the bounds through the person's units may exceed them by a last
// digit, for which there is a billionth of room.
func (f *Field) checkNumber(x float64, sys units.System) *Problem {
	// Bare numbers have no unit to be printed with.
	show := func(v float64) string {
		if f.Kind == units.Number {
			return units.Plain(v, 6, sys)
		}
		return units.Format(f.Kind, v, sys)
	}
	// Most values are right: the bounds are put in words only where one is not.
	span := func() string {
		text := "enter " + show(f.Min) + " to " + show(f.Max)
		if len(f.Words) == 1 {
			text += ", or " + f.Words[0].Text
		}
		return text
	}
	const eps = 1e-9
	switch {
	case !finite(x):
		return &Problem{f.Path, "it is not a number", span()}
	case f.Whole && x != math.Trunc(x):
		return &Problem{f.Path, show(x) + " is not a whole number", strings.Replace(span(), "enter", "enter a whole number,", 1)}
	case x < f.Min-eps:
		return &Problem{f.Path, show(x) + " is too low", span()}
	case x > f.Max+eps:
		return &Problem{f.Path, show(x) + " is too high", span()}
	}
	return nil
}

// Validate returns what is wrong with a heater, field by field and then as a
// whole; nothing when it can be computed and built. Messages are in metric units.
// A heater without problems is one that every package of the computation
// accepts.
func Validate(h *Heater) []Problem { return validate(h, units.System{}) }

// validate is [Validate] with messages in a person's units.
func validate(h *Heater, sys units.System) (ps []Problem) {
	// Whether other fields apply is asked of the member that the family names.
	if !h.Absorber.complete() {
		return []Problem{{AbsorberFamily.Path, fmt.Sprintf("the values of a %q absorber are missing", h.Absorber.Family),
			"choose the family again, or take the absorber of an example of `gladember example`"}}
	}
	for _, f := range Fields {
		if !f.Applies(h) {
			continue
		}
		v := f.Get(h)
		if p := f.check(h, v, sys); p != nil {
			ps = append(ps, *p)
		}
	}
	if len(ps) > 0 {
		return ps
	}
	bad := func(path, reason, remedy string) { ps = append(ps, Problem{path, reason, remedy}) }
	mm := func(m float64) string { return units.Format(units.Length, m, sys) }
	for path, e := range h.Entries {
		if FieldAt(path) == nil {
			bad("entries."+path, "a heater has no such field", "remove the entry")
		} else if e.Origin != Yours && e.Origin != Measured {
			bad("entries."+path, fmt.Sprintf("origin %q is unknown", e.Origin), "use yours or measured")
		}
	}
	ps = append(ps, wholes(h, sys)...)
	ps = append(ps, tableProblems(h)...)
	if h.ApertureWidth() < 0.1 || h.ApertureHeight() < 0.1 {
		bad(PaneWidth.Path, "frame and insulation would cover nearly all of the glazing",
			"use larger glazing, thinner edge insulation, or less overlap on the frame")
		return ps
	}
	ps = append(ps, rows(h, sys)...)
	if h.Air.BendsIn > float64(h.Air.Bends) {
		bad(AirBendsBefore.Path, fmt.Sprintf("there are only %d bends in all", h.Air.Bends), "enter no more than that, or add bends first")
	}
	if h.Air.GrillesIn > float64(h.Air.Grilles) {
		bad(AirGrillesBefore.Path, fmt.Sprintf("there are only %d grilles in all", h.Air.Grilles),
			"enter no more than that, or add grilles first")
	}
	if most := h.MostVent(); vented(h) && h.Guard.Area > most+1e-9 {
		bad(GuardArea.Path, fmt.Sprintf("vents of %s would be %s high across this box, more than its depth",
			units.Format(units.Opening, h.Guard.Area, sys), mm(h.VentSlot())), "enter at most "+units.Format(units.Opening, most, sys))
	}
	if switchIs("snap", "set-point")(h) && h.Switch.Open >= h.Switch.Close {
		bad(SwitchOpen.Path, "the fan would stop at a higher temperature than it starts",
			"enter a fan-off temperature below the fan-on temperature")
	}
	if side := min(h.ApertureWidth(), h.ApertureHeight()); !h.Indoors() && h.PortBore() > 0.8*side {
		path := AirDiameter.Path
		if h.IsRow() {
			path = ArrayPort.Path
		}
		bad(path, fmt.Sprintf("a port of %s does not fit a box %s across", mm(h.PortBore()), mm(side)), "enter at most "+mm(0.8*side))
	}
	return append(ps, portsOf(h, sys)...)
}

// portsOf checks that ports through a side or an end fit its depth, and that a fold has two equal halves.
func portsOf(h *Heater, sys units.System) (ps []Problem) {
	bad := func(path, reason, remedy string) { ps = append(ps, Problem{path, reason, remedy}) }
	mm := func(m float64) string { return units.Format(units.Length, m, sys) }
	if h.Indoors() {
		return nil
	}
	if face := h.Air.PortFace; h.Absorber.Own == nil && face != "back" {
		least := math.Inf(1)
		for _, inlet := range []bool{true, false} {
			from, to := h.PortSpace(inlet)
			least = min(least, to-from-2*sideWeb)
		}
		switch {
		case h.PortBore() > least+1e-9:
			deep := mm(max(0, least+2*sideWeb))
			bad(AirPortFace.Path, fmt.Sprintf("a port of %s does not fit a space %s deep", mm(h.PortBore()), deep),
				"use the back, a narrower duct or several, or a deeper air path")
		case face == "side" && h.Air.Ports > 1:
			bad(AirPortFace.Path, "a side has room for one port only", "use the bottom and top, or one port")
		case face == "end" && vented(h):
			bad(AirPortFace.Path, "the vents take up the bottom and the top", "use the back or the sides, or another overheating guard")
		}
	}
	if folded, _ := h.Folded(); !folded {
		return ps
	}
	count := 2
	if r := h.record(); r.tubes != nil {
		count, _ = r.tubes(&h.Absorber)
	}
	switch {
	case count%2 != 0:
		bad(AirPortPlaces.Path, fmt.Sprintf("%d columns do not make two equal halves", count), "use an even number, or put the ports apart")
	case screens(h) && h.Absorber.Screens.Baffle > 0 && h.Absorber.Screens.Baffle < 1:
		bad(AirPortPlaces.Path, "a half-way baffle and a fold do not go together", "leave the baffle out, or put the ports apart")
	case !fanned(h):
		bad(AirPortPlaces.Path, "air that takes two halves in turn does not move by warmth alone", "use a fan, or put the ports apart")
	}
	return ps
}

// rows checks what a row of boxes says together.
// Series, groups and boxes that differ are checked; boxes that differ must each
// be a heater that could be built alone.
func rows(h *Heater, sys units.System) (ps []Problem) {
	bad := func(path, reason, remedy string) { ps = append(ps, Problem{path, reason, remedy}) }
	mm := func(m float64) string { return units.Format(units.Length, m, sys) }
	a := h.Array
	if manyBoxes(h) && a.Join == "series" && a.Boxes > 6 {
		bad(ArrayBoxes.Path, fmt.Sprintf("with %d boxes in series the last ones give next to nothing", a.Boxes),
			"use at most 6 in series, or groups in parallel")
	}
	if !inRow(h) {
		return ps
	}
	if a.Join == "groups" && a.Boxes%max(1, a.Group) != 0 {
		bad(ArrayGroup.Path, fmt.Sprintf("%d boxes do not make groups of %d", a.Boxes, a.Group),
			fmt.Sprintf("use %d or %d boxes, or another group", a.Boxes/a.Group*a.Group, (a.Boxes/a.Group+1)*a.Group))
	}
	if len(a.Others) == 0 {
		return ps
	}
	if a.Join == "groups" || len(a.Others) > MostOthers {
		bad(ArrayOthers.Path, "groups need equal boxes, and a row can have few kinds",
			fmt.Sprintf("connect boxes that differ in parallel, at most %d kinds of them", MostOthers))
		return ps
	}
	// How many of the boxes differ.
	n := 0
	for i, o := range a.Others {
		at := rowPath(ArrayOthers, i)
		switch {
		case o.Count < 1:
			bad(at, "the number of boxes is missing", "enter 1 or more")
		case !(o.Width >= 0.15 && o.Width <= 3 && o.Height >= 0.15 && o.Height <= 4):
			bad(at, "that is not a glazing size for a box", "enter "+mm(0.15)+" x "+mm(0.15)+" to "+mm(3)+" x "+mm(4))
		case !(o.Depth == 0 || o.Depth >= 0.005 && o.Depth <= 0.15):
			bad(at, "that is not a depth of an air channel", "enter "+mm(0.005)+" to "+mm(0.15)+", or leave it out")
		}
		n += o.Count
	}
	if n >= a.Boxes {
		bad(ArrayOthers.Path, fmt.Sprintf("%d boxes differ of %d in all",
			n, a.Boxes), "leave at least one box of the first kind, which the drawing shows")
	}
	if len(ps) > 0 {
		return ps
	}
	// The other boxes in full, each as a heater of its own.
	kinds, _ := h.Kinds()
	for i := range kinds[1:] {
		if p := validate(&kinds[i+1], sys); len(p) > 0 {
			bad(rowPath(ArrayOthers, i), "such a box cannot be made: "+p[0].Reason, p[0].Remedy)
		}
	}
	return ps
}

// tableProblems checks the rows that the document holds beside its fields.
// These are the almanac's months and the fuel bills; the horizon and the fan
// curve are checked with the whole.
func tableProblems(h *Heater) (ps []Problem) {
	bad := func(path, reason, remedy string) { ps = append(ps, Problem{path, reason, remedy}) }
	if n := len(h.Climate.Months); n != 0 && n != 12 {
		bad(ClimateMonths.Path, fmt.Sprintf("it has %d rows", n), "enter twelve, January first, or none")
	}
	for i, m := range h.Climate.Months {
		for _, x := range []struct {
			key    string
			v      *float64
			lo, hi float64
		}{{"mean_c", m.Mean, -60, 50}, {"min_c", m.Min, -70, 50}, {"max_c", m.Max, -60, 60}, {"sunshine_h_day", m.Sunshine, 0, 24},
			{"radiation_mj_m2_day", m.Radiation, 0, 45}, {"wind_m_s", m.Wind, 0, 40}} {
			if x.v != nil && !(*x.v >= x.lo && *x.v <= x.hi) {
				bad(rowPath(ClimateMonths, i)+"."+x.key, fmt.Sprintf("%v is not possible", *x.v),
					fmt.Sprintf("enter %v to %v", x.lo, x.hi))
			}
		}
		if m.Mean == nil && (m.Min == nil || m.Max == nil) {
			bad(rowPath(ClimateMonths, i), "it has no temperature", "enter mean_c, or min_c and max_c")
		} else if m.Min != nil && m.Max != nil && *m.Min > *m.Max {
			bad(rowPath(ClimateMonths, i)+".min_c", "the minimum is above the maximum", "swap the two")
		}
	}
	// Each month once at most.
	seen := map[int]bool{}
	for i, b := range h.Room.Bills {
		if b.Month < 0 || b.Month > 12 || b.Month == 0 && len(h.Room.Bills) > 1 || seen[b.Month] || !(b.Units >= 0 && b.Units < 1e6) ||
			!(b.Cost >= 0 && b.Cost < 1e6) {
			bad(rowPath(RoomBills, i), "it is not a month with its fuel",
				"enter each month 1 to 12 once, with the fuel used or what it cost, or 0 for a usual month alone")
		}
		seen[b.Month] = true
	}
	if h.Climate.Warmest != 0 && h.Climate.Warmest < h.Climate.Coldest {
		bad(ClimateWarmest.Path, "the warmest month would be colder than the coldest", "swap the two")
	}
	return ps
}

// wholes checks what several fields say together.
// Sizes that do not fit in each other, unions with two members, curves that are
// none, and pairs of set points in the wrong order.
func wholes(h *Heater, sys units.System) (ps []Problem) {
	bad := func(path, reason, remedy string) { ps = append(ps, Problem{path, reason, remedy}) }
	mm := func(m float64) string { return units.Format(units.Length, m, sys) }
	// A union with two members would leave it open which one was meant.
	for _, m := range members {
		if m.held(&h.Absorber) && !m.has(h.Absorber.Family) {
			bad("absorber", "it describes two kinds of absorber", "keep the one that family names")
			break
		}
	}
	// Tubes must fit beside each other,
	if pitch, width := h.Pitch(); pitch > 0 && width > pitch+1e-6 {
		bad("absorber", fmt.Sprintf("each tube is %s wide, but the box has only %s for each", mm(width), mm(pitch)),
			"use fewer or narrower tubes, or wider glazing")
	}
	// and columns between their headers.
	if c := h.Absorber.Cans; c != nil {
		// Beads may still be pressed thin; advice says so.
		if tall := c.Column() - float64(c.Rows+1)*c.Joint + 2*c.Header; tall > h.ApertureHeight()+1e-6 {
			bad(CansRows.Path, fmt.Sprintf("%d cans and two headers are %s tall, but the box has only %s", c.Rows, mm(tall),
				mm(h.ApertureHeight())), "use fewer cans in a column, or lower headers")
		}
	}
	if c := h.Absorber.Cans; c != nil && c.Overlap > c.Height/3 {
		bad(CansOverlap.Path, fmt.Sprintf("an overlap of %s is too much for a can %s tall", mm(c.Overlap), mm(c.Height)),
			"enter at most a third of the can's height")
	}
	if p := h.Absorber.Pipes; p != nil && p.Join != "series" && 2*p.Header > 0.6*h.ApertureHeight() {
		bad(PipesHeader.Path, "the headers would take most of the box", "use lower headers or taller glazing")
	}
	if o := h.Absorber.Own; o != nil && (len(o.Passages) == 0 || len(o.Passages) > MostPassages) {
		bad("absorber.own.passages", fmt.Sprintf("it has %d passages",
			len(o.Passages)), fmt.Sprintf("describe one to %d, in the order the air takes them", MostPassages))
	} else if o != nil {
		seen := map[string]bool{}
		for i, x := range o.Passages {
			if seen[x.Where] {
				bad(OwnPassages[i].Where.Path, "two passages have the same position",
					"use in front, inside and behind once each")
			}
			seen[x.Where] = true
			if i > 0 && x.Way == o.Passages[i-1].Way {
				bad(OwnPassages[i].Way.Path, "the air would have to jump back to the other end",
					"let the passages go up and down in turn")
			}
		}
	}
	if c := h.Absorber.Coil; c != nil && c.Ways > c.Runs {
		bad(CoilWays.Path, fmt.Sprintf("%d coils do not share %d runs", c.Ways, c.Runs), "use no more coils than runs")
	}
	ps = append(ps, curves(h)...)
	if switchIs("differential")(h) && h.Switch.OffAbove >= h.Switch.OnAbove {
		bad(SwitchOffAbove.Path, "the fan would stop at a higher difference than it starts",
			"enter a fan-off difference below the fan-on difference")
	}
	if switchIs("timer")(h) && h.Switch.To <= h.Switch.From {
		bad(SwitchTo.Path, "the timer stops before it starts", "set the later hour last")
	}
	return ps
}

// rowPath is the path of a row of a table.
func rowPath(r Ref, i int) string { return fmt.Sprintf("%s.%d", r.Declaration().Path, i) }

// curves checks the horizon's pieces and the fan's points.
func curves(h *Heater) (ps []Problem) {
	bad := func(path, reason, remedy string) { ps = append(ps, Problem{path, reason, remedy}) }
	for i, o := range h.Shade.Horizon {
		at := rowPath(ShadeHorizon, i)
		switch {
		case len(h.Shade.Horizon) > 720:
			bad(ShadeHorizon.Path, "it has over 720 pieces", "use wider pieces")
			return ps
		case !finite(o.From) || !finite(o.To) || o.From < 0 || o.To > 360 || o.To <= o.From:
			bad(at, "its two azimuths are not in order", "enter from_deg below to_deg, 0 to 360; split one that crosses north")
		case !(o.Elevation >= 0 && o.Elevation <= 90):
			bad(at+".elevation_deg", "the height above the horizon is not possible", "enter 0 to 90 degrees")
		case !(o.Bare >= 0 && o.Bare <= 1 && o.Leafy >= 0 && o.Leafy <= 1):
			bad(at, "a share of the sun that it lets through is not possible",
				"enter through_bare and through_leafy between 0 and 1")
		}
	}
	if len(h.Workshop.Cut.Sold) > MostSold {
		bad(CutSold.Path, fmt.Sprintf("it has over %d sizes", MostSold), "enter those that you can get")
	}
	for i, s := range h.Workshop.Cut.Sold {
		at := rowPath(CutSold, i)
		switch {
		case !(s.Length >= 0.1 && s.Length <= 20 && s.Width >= 0 && s.Width <= s.Length):
			bad(at, "that is not a size that is sold", "enter a length of 0.1 to 20 m, of a sheet both sides")
		case !(s.Price >= 0 && s.Price <= 1e6):
			bad(at, "the price is not possible", "enter 0 to 1,000,000")
		}
	}
	for i, f := range h.Air.FanTable {
		at := rowPath(AirFanTable, i)
		switch {
		case len(h.Air.FanTable) > 60:
			bad(AirFanTable.Path, "it has over 60 rows", "enter about a dozen")
			return ps
		case !(f.Flow >= 0 && f.Flow <= 5 && f.Pressure >= 0 && f.Pressure <= 5000):
			bad(at, "a small fan has no such point", "enter flow_m3_s 0 to 5 and pressure_pa 0 to 5000")
		case i > 0 && (f.Flow <= h.Air.FanTable[i-1].Flow || f.Pressure >= h.Air.FanTable[i-1].Pressure):
			bad(at, "flow must rise and pressure fall from row to row", "sort the rows by flow and leave out the hump")
		}
	}
	if len(h.Air.FanTable) == 1 {
		bad(AirFanTable.Path, "a single point does not make a curve", "enter two points or more")
	}
	return ps
}
