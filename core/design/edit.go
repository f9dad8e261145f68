package design

import (
	"errors"
	"fmt"
	"math"
	"reflect"
	"strconv"
	"strings"
	"sync"
	"time"
	"unicode"
	"unicode/utf8"

	"gladember/core/units"
)

// A Problem is one thing wrong with a heater: where, why, and what would be
// right.
type Problem struct {
	Path   string
	Reason string
	Remedy string
}

func (p *Problem) Error() string {
	s := p.Reason + "; " + p.Remedy
	if p.Path != "" {
		s = p.Path + ": " + s
	}
	return s
}

// steps is a path as indices: of struct fields, and of a slice's element as
// its own negative less one.
var steps sync.Map // path -> []int

// stepsOf resolves the JSON names of a path against the document's type; nil
// where there is no such thing.
func stepsOf(path string) []int {
	if v, ok := steps.Load(path); ok {
		return v.([]int)
	}
	var out []int
	t := reflect.TypeFor[Heater]()
	for _, name := range strings.Split(path, ".") {
		if t.Kind() == reflect.Pointer {
			t = t.Elem()
		}
		switch t.Kind() {
		case reflect.Slice:
			i, err := strconv.Atoi(name)
			if err != nil || i < 0 || i > 1000 {
				return nil
			}
			out, t = append(out, -1-i), t.Elem()
			continue
		case reflect.Struct:
		default:
			return nil
		}
		found := false
		for i := range t.NumField() {
			if tag, _, _ := strings.Cut(t.Field(i).Tag.Get("json"), ","); tag == name {
				out, t, found = append(out, i), t.Field(i).Type, true
				break
			}
		}
		if !found {
			return nil
		}
	}
	if FieldAt(path) != nil { // whatever else is asked for is not worth keeping
		steps.Store(path, out)
	}
	return out
}

// locate walks a path. A member of the union that is not there yields an
// invalid value, unless create is set, which makes it.
func locate(h *Heater, path string, create bool) reflect.Value {
	way := stepsOf(path)
	if way == nil {
		return reflect.Value{}
	}
	v := reflect.ValueOf(h).Elem()
	for _, i := range way {
		if v.Kind() == reflect.Pointer {
			if v.IsNil() {
				if !create {
					return reflect.Value{}
				}
				v.Set(reflect.New(v.Type().Elem()))
			}
			v = v.Elem()
		}
		if i >= 0 {
			v = v.Field(i)
			continue
		}
		if -1-i >= v.Len() {
			return reflect.Value{}
		}
		v = v.Index(-1 - i)
	}
	return v
}

// Get returns the value at a field's path: float64, int, string or bool; nil
// where the heater has no such member.
func Get(h *Heater, path string) any {
	v := locate(h, path, false)
	if !v.IsValid() {
		return nil
	}
	switch v.Kind() {
	case reflect.String:
		return v.String()
	case reflect.Int:
		return int(v.Int())
	}
	return v.Interface()
}

// Number returns the value at path as a float64, 0 where it is none.
func Number(h *Heater, path string) float64 {
	switch v := Get(h, path).(type) {
	case float64:
		return v
	case int:
		return float64(v)
	}
	return 0
}

// put sets the value at a path of the document; the kinds are those that [read] returns.
func put(h *Heater, path string, value any) {
	v := locate(h, path, true)
	switch v.Kind() {
	case reflect.String:
		v.SetString(fmt.Sprint(value))
	case reflect.Int:
		switch n := value.(type) {
		case int:
			v.SetInt(int64(n))
		case float64:
			v.SetInt(int64(math.Round(n)))
		}
	case reflect.Float64:
		switch n := value.(type) {
		case int:
			v.SetFloat(float64(n))
		case float64:
			v.SetFloat(n)
		}
	case reflect.Bool:
		b, _ := value.(bool)
		v.SetBool(b)
	case reflect.Slice:
		if x := reflect.ValueOf(value); x.IsValid() && x.Type() == v.Type() {
			v.Set(x)
		}
	}
}

// Refresh derives every value of ours again from what it follows from, and
// keeps only the union member that the family names.
func Refresh(h *Heater) {
	h.Schema = Schema
	if h.Entries == nil {
		h.Entries = map[string]Entry{}
	}
	for _, f := range Fields {
		if !f.Applies(h) {
			delete(h.Entries, f.Path)
			f.clear(h)
			continue
		}
		if strings.HasPrefix(f.Path, "absorber.own.passages.") {
			continue // a passage has no value of ours to go back to
		}
		if _, theirs := h.Entries[f.Path]; !theirs && f.Default != nil {
			put(h, f.Path, f.Default(h))
		}
	}
	keep(h)
	if own(h) && h.Absorber.Own != nil && len(h.Absorber.Own.Passages) == 0 {
		h.Absorber.Own.Passages = []Passage{{Where: "behind", Way: "down", Depth: 0.02, Swept: 1},
			{Where: "front", Way: "up", Depth: 0.03, Swept: 1.15}}
	}
	if !twoCovers(h) {
		h.Cover.Between = 0
	}
	if h.Log.FlowIs != ByMeasure {
		h.Log.Flow = 0
	}
}

// clear empties a field that means nothing for the heater, so that no part of
// the program meets a value that nobody checked.
func (f *Field) clear(h *Heater) {
	v := locate(h, f.Path, false)
	switch {
	case !v.IsValid():
	case f.Choices != nil && f.Default != nil: // a name that is known
		put(h, f.Path, f.Default(h))
	default:
		v.SetZero()
	}
}

// keep drops the union members that the family does not name.
func keep(h *Heater) {
	a := &h.Absorber
	if !screens(h) {
		a.Screens = nil
	}
	if !plates(h) {
		a.Plate = nil
	}
	if !cans(h) {
		a.Cans = nil
	}
	if !pipes(h) {
		a.Pipes = nil
	}
	if !coil(h) {
		a.Coil = nil
	}
	if !panel(h) {
		a.Panel = nil
	}
	if !own(h) {
		a.Own = nil
	}
}

// New returns a heater in which every value is ours.
func New() Heater {
	var h Heater
	Refresh(&h)
	return h
}

// Change is one decision. Typed is read in the person's units; where Value is
// given it is taken instead (SI), and Typed is what to show for it.
type Change struct {
	Path   string
	Typed  string
	Value  any
	Origin Origin // empty means Yours; Ours gives the field back to us
}

// Apply returns the heater with changes made, defaults followed up and the
// whole validated. On an error the heater is returned as it was.
func Apply(h Heater, sys units.System, changes ...Change) (Heater, error) {
	n := h.Clone()
	for _, c := range changes {
		f := FieldAt(c.Path)
		if f == nil {
			return h, &Problem{c.Path, "a heater has no such field", "use one that `gladember example` shows"}
		}
		if !f.Applies(&n) {
			return h, &Problem{c.Path, "this heater has no such part", "choose the way it is made first"}
		}
		if c.Origin == Ours {
			if f.Default == nil { // we have no value for it: it is not known
				f.clear(&n)
			}
			delete(n.Entries, c.Path)
			Refresh(&n)
			continue
		}
		v := c.Value
		if v == nil {
			var err error
			if v, err = read(&n, f, c.Typed, sys); err != nil {
				return h, err
			}
		}
		if p := f.check(v, sys); p != nil {
			return h, p
		}
		origin := c.Origin
		if origin == "" {
			origin = Yours
		}
		put(&n, c.Path, v)
		n.Entries[c.Path] = Entry{Typed: strings.TrimSpace(c.Typed), Origin: origin}
		if c.Path == "air.bends" || c.Path == "air.grilles" { // what lies before the box cannot be more than there are
			for before, all := range map[string]float64{"air.bends_before": float64(n.Air.Bends),
				"air.grilles_before": float64(n.Air.Grilles)} {
				if _, theirs := n.Entries[before]; theirs && Number(&n, before) > all {
					delete(n.Entries, before)
				}
			}
		}
		if c.Path == "absorber.family" || c.Path == "cover.layers" || c.Path == "air.fan" {
			n = follow(n, c.Path)
		}
		Refresh(&n)
	}
	if ps := validate(&n, sys); len(ps) > 0 {
		return h, &ps[0]
	}
	return n, nil
}

// follow gives back to us what a choice of a whole thing carries with it: the
// figures of the fan that was there before say nothing of the new one.
func follow(h Heater, path string) Heater {
	if path == "absorber.family" { // another airway, of a depth of its own
		for i := range h.Array.Others {
			h.Array.Others[i].Depth = 0
		}
	}
	if path == "air.fan" {
		for _, p := range []string{"air.fan_free_air_m3_s", "air.fan_shut_off_pa", "air.fan_power_w", "air.fan_radial"} {
			delete(h.Entries, p)
		}
		delete(h.Entries, "air.fan_table")
		h.Air.FanTable = nil
	}
	return h
}

// read turns what was typed for a field into its value, SI. Errors are [Problem]s, whose remedy is in the person's
// units.
func read(h *Heater, f *Field, typed string, sys units.System) (any, error) {
	t := strings.TrimSpace(typed)
	switch {
	case f.Rows != nil:
		if len(t) > 20000 {
			return nil, &Problem{f.Path, "the table is over 20,000 letters long", "paste only its rows"}
		}
		return f.Rows.Read(h, t, sys)
	case f.Text:
		return t, nil
	case f.Bool:
		switch strings.ToLower(t) {
		case "yes", "true", "on", "1":
			return true, nil
		case "no", "false", "off", "0", "":
			return false, nil
		}
		return nil, &Problem{f.Path, fmt.Sprintf("%q is neither yes nor no", t), "enter yes or no"}
	case f.Choices != nil:
		return t, nil
	}
	v, err := units.Parse(f.Kind, t, sys)
	if err != nil {
		var ue *units.Error
		if errors.As(err, &ue) && !ue.Half && f.Whole {
			return nil, &Problem{f.Path, fmt.Sprintf("%q is not a whole number", t), "enter one like 2"}
		}
		return nil, err
	}
	return v, nil
}

// check holds the rules of one value.
func (f *Field) check(v any, sys units.System) *Problem {
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
			if utf8.RuneCountInString(x) > 80 {
				return fail("the text is over 80 letters long", "shorten it")
			}
			if !utf8.ValidString(x) || strings.IndexFunc(x, unicode.IsControl) >= 0 {
				return fail("the text holds unprintable characters", "use plain letters")
			}
			if f.Path == "place.zone" {
				if _, err := time.LoadLocation(x); err != nil || x == "" || x == "Local" {
					return fail(fmt.Sprintf("there is no time zone %q", x), "enter one like Europe/Zurich or UTC")
				}
			}
			return nil
		}
		if f.Choices == nil {
			return fail(fmt.Sprintf("%q is text", x), "enter a number")
		}
		var known []string
		for _, c := range f.Choices() {
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
		return f.check(float64(x), sys)
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
func (f *Field) checkNumber(x float64, sys units.System) *Problem {
	show := func(v float64) string {
		if f.Kind == units.Number {
			return units.Plain(v, 6, sys)
		}
		return units.Format(f.Kind, v, sys)
	}
	span := "enter " + show(f.Min) + " to " + show(f.Max)
	const eps = 1e-9
	switch {
	case !finite(x):
		return &Problem{f.Path, "it is not a number", span}
	case f.Whole && x != math.Trunc(x):
		return &Problem{f.Path, show(x) + " is not a whole number", strings.Replace(span, "enter", "enter a whole number,", 1)}
	case x < f.Min-eps:
		return &Problem{f.Path, show(x) + " is too low", span}
	case x > f.Max+eps:
		return &Problem{f.Path, show(x) + " is too high", span}
	}
	return nil
}

// Validate returns what is wrong with a heater, field by field and then as a
// whole; nothing when it can be computed and built. Messages are in metric units.
func Validate(h *Heater) []Problem { return validate(h, units.System{}) }

// validate is [Validate] with messages in a person's units.
func validate(h *Heater, sys units.System) (ps []Problem) {
	for _, f := range Fields {
		if !f.Applies(h) {
			continue
		}
		v := Get(h, f.Path)
		if p := f.check(v, sys); p != nil {
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
	ps = append(ps, tables(h)...)
	if h.ApertureWidth() < 0.1 || h.ApertureHeight() < 0.1 {
		bad("pane.width_m", "frame and insulation would cover nearly all of the glazing",
			"use larger glazing, thinner edge insulation, or less overlap on the frame")
		return ps
	}
	ps = append(ps, rows(h, sys)...)
	if h.Air.BendsIn > float64(h.Air.Bends) {
		bad("air.bends_before", fmt.Sprintf("there are only %d bends in all", h.Air.Bends), "enter no more than that, or add bends first")
	}
	if h.Air.GrillesIn > float64(h.Air.Grilles) {
		bad("air.grilles_before", fmt.Sprintf("there are only %d grilles in all", h.Air.Grilles),
			"enter no more than that, or add grilles first")
	}
	if most := h.MostVent(); vented(h) && h.Guard.Area > most+1e-9 {
		bad("guard.area_m2", fmt.Sprintf("vents of %s would be %s high across this box, more than its depth",
			units.Format(units.Opening, h.Guard.Area, sys), mm(h.VentSlot())), "enter at most "+units.Format(units.Opening, most, sys))
	}
	if switchIs("snap", "set-point")(h) && h.Switch.Open >= h.Switch.Close {
		bad("switch.open_c", "the fan would stop at a higher temperature than it starts",
			"enter a fan-off temperature below the fan-on temperature")
	}
	if side := math.Min(h.ApertureWidth(), h.ApertureHeight()); !h.Indoors() && h.PortBore() > 0.8*side {
		path := "air.diameter_m"
		if h.IsRow() {
			path = "array.port_m"
		}
		bad(path, fmt.Sprintf("a port of %s does not fit a box %s across", mm(h.PortBore()), mm(side)), "enter at most "+mm(0.8*side))
	}
	return ps
}

// rows checks what a row of boxes says together.
func rows(h *Heater, sys units.System) (ps []Problem) {
	bad := func(path, reason, remedy string) { ps = append(ps, Problem{path, reason, remedy}) }
	mm := func(m float64) string { return units.Format(units.Length, m, sys) }
	a := h.Array
	if manyBoxes(h) && a.Join == "series" && a.Boxes > 6 {
		bad("array.boxes", fmt.Sprintf("with %d boxes in series the last ones give next to nothing", a.Boxes),
			"use at most 6 in series, or groups in parallel")
	}
	if !inRow(h) {
		return ps
	}
	if a.Join == "groups" && a.Boxes%max(1, a.Group) != 0 {
		bad("array.group", fmt.Sprintf("%d boxes do not make groups of %d", a.Boxes, a.Group),
			fmt.Sprintf("use %d or %d boxes, or another group", a.Boxes/a.Group*a.Group, (a.Boxes/a.Group+1)*a.Group))
	}
	if len(a.Others) == 0 {
		return ps
	}
	if a.Join == "groups" || len(a.Others) > MostOthers {
		bad("array.others", "groups need equal boxes, and a row can have few kinds",
			fmt.Sprintf("connect boxes that differ in parallel, at most %d kinds of them", MostOthers))
		return ps
	}
	n := 0
	for i, o := range a.Others {
		at := fmt.Sprintf("array.others.%d", i)
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
		bad("array.others", fmt.Sprintf("%d boxes differ of %d in all",
			n, a.Boxes), "leave at least one box of the first kind, which the drawing shows")
	}
	if len(ps) > 0 {
		return ps
	}
	kinds, _ := h.Kinds()
	for i := range kinds[1:] {
		if p := validate(&kinds[i+1], sys); len(p) > 0 {
			bad(fmt.Sprintf("array.others.%d", i), "such a box cannot be made: "+p[0].Reason, p[0].Remedy)
		}
	}
	return ps
}

// tables checks the rows that the document holds beside its fields.
func tables(h *Heater) (ps []Problem) {
	bad := func(path, reason, remedy string) { ps = append(ps, Problem{path, reason, remedy}) }
	if n := len(h.Climate.Months); n != 0 && n != 12 {
		bad("climate.months", fmt.Sprintf("it has %d rows", n), "enter twelve, January first, or none")
	}
	for i, m := range h.Climate.Months {
		for _, x := range []struct {
			key    string
			v      *float64
			lo, hi float64
		}{{"mean_c", m.Mean, -60, 50}, {"min_c", m.Min, -70, 50}, {"max_c", m.Max, -60, 60}, {"sunshine_h_day", m.Sunshine, 0, 24},
			{"radiation_mj_m2_day", m.Radiation, 0, 45}, {"wind_m_s", m.Wind, 0, 40}} {
			if x.v != nil && !(*x.v >= x.lo && *x.v <= x.hi) {
				bad(fmt.Sprintf("climate.months.%d.%s", i, x.key), fmt.Sprintf("%v is not possible", *x.v),
					fmt.Sprintf("enter %v to %v", x.lo, x.hi))
			}
		}
		if m.Mean == nil && (m.Min == nil || m.Max == nil) {
			bad(fmt.Sprintf("climate.months.%d", i), "it has no temperature", "enter mean_c, or min_c and max_c")
		} else if m.Min != nil && m.Max != nil && *m.Min > *m.Max {
			bad(fmt.Sprintf("climate.months.%d.min_c", i), "the minimum is above the maximum", "swap the two")
		}
	}
	seen := map[int]bool{}
	for i, b := range h.Room.Bills {
		if b.Month < 1 || b.Month > 12 || seen[b.Month] || !(b.Units >= 0 && b.Units < 1e6) {
			bad(fmt.Sprintf("room.bills.%d", i), "it is not a month with its units of fuel",
				"enter each month 1 to 12 once, with the units of fuel used")
		}
		seen[b.Month] = true
	}
	if h.Climate.Warmest != 0 && h.Climate.Warmest < h.Climate.Coldest {
		bad("climate.warmest_c", "the warmest month would be colder than the coldest", "swap the two")
	}
	return ps
}

// wholes checks what several fields say together.
func wholes(h *Heater, sys units.System) (ps []Problem) {
	bad := func(path, reason, remedy string) { ps = append(ps, Problem{path, reason, remedy}) }
	mm := func(m float64) string { return units.Format(units.Length, m, sys) }
	one := h.Clone()
	keep(&one)
	if !reflect.DeepEqual(one.Absorber, *absorberOf(h)) {
		bad("absorber", "it describes two kinds of absorber", "keep the one that family names")
	}
	if pitch, width := h.Pitch(); pitch > 0 && width > pitch+1e-6 {
		bad("absorber", fmt.Sprintf("each tube is %s wide, but the box has only %s for each", mm(width), mm(pitch)),
			"use fewer or narrower tubes, or wider glazing")
	}
	if c := h.Absorber.Cans; c != nil {
		if tall := float64(c.Rows)*c.Height + 2*c.Header; tall > h.ApertureHeight()+1e-6 {
			bad("absorber.cans.rows", fmt.Sprintf("%d cans and two headers are %s tall, but the box has only %s", c.Rows, mm(tall),
				mm(h.ApertureHeight())), "use fewer cans in a column, or lower headers")
		}
	}
	if p := h.Absorber.Pipes; p != nil && p.Join != "series" && 2*p.Header > 0.6*h.ApertureHeight() {
		bad("absorber.pipes.header_m", "the headers would take most of the box", "use lower headers or taller glazing")
	}
	if o := h.Absorber.Own; o != nil && (len(o.Passages) == 0 || len(o.Passages) > MostPassages) {
		bad("absorber.own.passages", fmt.Sprintf("it has %d passages",
			len(o.Passages)), fmt.Sprintf("describe one to %d, in the order the air takes them", MostPassages))
	} else if o != nil {
		seen := map[string]bool{}
		for i, x := range o.Passages {
			if seen[x.Where] {
				bad(fmt.Sprintf("absorber.own.passages.%d.where", i), "two passages have the same position",
					"use in front, inside and behind once each")
			}
			seen[x.Where] = true
			if i > 0 && x.Way == o.Passages[i-1].Way {
				bad(fmt.Sprintf("absorber.own.passages.%d.way", i), "the air would have to jump back to the other end",
					"let the passages go up and down in turn")
			}
		}
	}
	if c := h.Absorber.Coil; c != nil && c.Ways > c.Runs {
		bad("absorber.coil.ways", fmt.Sprintf("%d coils do not share %d runs", c.Ways, c.Runs), "use no more coils than runs")
	}
	for i, o := range h.Shade.Horizon {
		at := fmt.Sprintf("shade.horizon.%d", i)
		switch {
		case len(h.Shade.Horizon) > 720:
			bad("shade.horizon", "it has over 720 pieces", "use wider pieces")
			return ps
		case !finite(o.From) || !finite(o.To) || o.From < 0 || o.To > 360 || o.To <= o.From:
			bad(at, "it runs between no two azimuths", "give from_deg below to_deg, 0 to 360; split one that crosses north")
		case !(o.Elevation >= 0 && o.Elevation <= 90):
			bad(at+".elevation_deg", "that is no height above the horizon", "give 0 to 90 degrees")
		case !(o.Bare >= 0 && o.Bare <= 1 && o.Leafy >= 0 && o.Leafy <= 1):
			bad(at, "it lets through no share of the sun", "give through_bare and through_leafy between 0 and 1")
		}
	}
	for i, f := range h.Air.FanTable {
		at := fmt.Sprintf("air.fan_table.%d", i)
		switch {
		case len(h.Air.FanTable) > 60:
			bad("air.fan_table", "it has over 60 rows", "keep a dozen")
			return ps
		case !(f.Flow >= 0 && f.Flow <= 5 && f.Pressure >= 0 && f.Pressure <= 5000):
			bad(at, "that is no point of a small fan", "give flow_m3_s 0 to 5 and pressure_pa 0 to 5000")
		case i > 0 && (f.Flow <= h.Air.FanTable[i-1].Flow || f.Pressure >= h.Air.FanTable[i-1].Pressure):
			bad(at, "flow must rise and pressure fall from row to row", "sort the rows by flow and leave out the hump")
		}
	}
	if n := len(h.Air.FanTable); n == 1 {
		bad("air.fan_table", "one point is no curve", "give two or more")
	}
	if switchIs("differential")(h) && h.Switch.OffAbove >= h.Switch.OnAbove {
		bad("switch.off_above_k", "the fan would stop at a higher difference than it starts",
			"enter a fan-off difference below the fan-on difference")
	}
	if switchIs("timer")(h) && h.Switch.To <= h.Switch.From {
		bad("switch.to_h", "the timer stops before it starts", "set the later hour last")
	}
	return ps
}

// absorberOf is the absorber as a copy of the document holds it.
func absorberOf(h *Heater) *Absorber { c := h.Clone(); return &c.Absorber }

// SplitPane takes a pane's size apart: "28 x 64 in" into "28 in" and "64 in". A unit behind the height holds for a width
// without one. Height is empty where nothing is typed behind the x yet; ok is false where there is no size.
func SplitPane(typed string) (width, height string, ok bool) {
	norm := strings.NewReplacer("×", "x", "X", "x", "*", "x", " by ", " x ").Replace(typed)
	width, height, ok = strings.Cut(norm, "x")
	if !ok || strings.Contains(height, "x") {
		return "", "", false
	}
	width, height = strings.TrimSpace(width), strings.TrimSpace(height)
	if last, _ := utf8.DecodeLastRuneInString(width); unicode.IsDigit(last) || strings.ContainsRune("½¼¾⅛⅜⅝⅞", last) {
		unit := strings.TrimLeft(height, "0123456789.,/ -½¼¾⅛⅜⅝⅞")
		if !strings.ContainsAny(unit, "0123456789") {
			width = strings.TrimSpace(width + " " + unit)
		}
	}
	return width, height, true
}

// ParsePane reads two lengths as people write a pane: "34 x 58", "860 × 1480
// mm", "34 1/4 by 58 in". A unit after the last holds for both.
func ParsePane(typed string, sys units.System) (width, height float64, err error) {
	a, b, ok := SplitPane(typed)
	if !ok {
		return 0, 0, &Problem{"pane", fmt.Sprintf("%q is not a pane size", typed), "enter width x height, like 34 x 58 in or 860 x 1480 mm"}
	}
	fail := &units.Error{Typed: typed, Kind: units.Length, Half: b == ""}
	if height, err = units.Parse(units.Length, b, sys); err != nil {
		return 0, 0, fail
	}
	if width, err = units.Parse(units.Length, a, sys); err != nil {
		return 0, 0, fail
	}
	return width, height, nil
}
