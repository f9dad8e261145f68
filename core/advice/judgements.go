package advice

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"time"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/solar"
	"gladember/core/space"
	"gladember/core/thermostat"
	"gladember/core/units"
)

// change is one field's decision.
func change(path string, v any) design.Change { return design.Change{Path: path, Value: v} }

// An option is a remedy to be tried and how it is said once it has been.
type option struct {
	changes []design.Change
	say     func(r collector.Result) Text
}

// best reruns the options and returns the one that warms the room most, the fan's electricity
// counted off, among those that bring no new danger or fault, and whether it gives at
// least a share more than now.
func best(e *box, least float64, options []option) (option, collector.Result, bool) {
	if !e.looking {
		return option{}, collector.Result{}, false
	}
	now := worth(&e.Running)
	type tried struct {
		option
		r collector.Result
	}
	var better []tried
	for _, x := range options {
		if !e.open(x.changes[0].Path) {
			continue
		}
		_, y, err := rerun(e, x.changes...)
		if err == nil && worth(&y) > now+math.Max(0, least*math.Abs(now)) {
			better = append(better, tried{x, y})
		}
	}
	slices.SortStableFunc(better, func(a, b tried) int { return cmp.Compare(worth(&b.r), worth(&a.r)) })
	for _, x := range better {
		if e.allows("", x.changes...) {
			return x.option, x.r, true
		}
	}
	return option{}, collector.Result{}, false
}

// with puts a tried remedy into a finding.
func (f Finding) with(e *box, o option, r collector.Result) []Finding {
	f.Remedy, f.Patch, f.Gain, f.HasGain = o.say(r), o.changes, worth(&r)-worth(&e.Running), true
	return []Finding{f}
}

// hottest is the one-sided upper temperature of the layers of a kind.
func hottest(e *box, kinds ...collector.LayerKind) float64 {
	t := math.Inf(-1)
	for _, p := range e.Peaks {
		for _, k := range kinds {
			if p.Kind == k {
				t = math.Max(t, p.Upper)
			}
		}
	}
	return t
}

// bondsTooHot: sealant at the cover, glue and tape at the back.
func bondsTooHot(e *box) (fs []Finding) {
	h := &e.Heater
	if h.Indoors() {
		return nil
	}
	back, cover := hottest(e, collector.BackLayer), hottest(e, collector.CoverLayer)
	for _, x := range []struct {
		path, what, place string
		id                string
		at                float64
		find              func(string) (catalog.Bond, error)
		list              []catalog.Choice
	}{
		{"box.sealant", "sealant", "the pane's bed", h.Box.Sealant, cover, catalog.FindSealant, catalog.Sealants()},
		{"box.adhesive", "adhesive", "the foam", h.Box.Adhesive, back, catalog.FindAdhesive, catalog.Adhesives()},
		{"box.tape", "tape", "the foam's joints", h.Box.Tape, back, catalog.FindTape, catalog.Tapes()},
	} {
		b, err := x.find(x.id)
		// Where the row's own limit is unsure, its lower edge counts.
		if err != nil || x.at <= b.Service-oneSided*b.U {
			continue
		}
		f := Finding{ID: "too-hot-" + x.what, Severity: Fault, Topic: Construction, Title: fmt.Sprintf("The %s will fail from heat",
			x.what),
			Finding: say("At the worst noon with the fan off it reaches %v at %v; %v withstands about %v.", q(units.Temperature, x.at),
				word(x.place), word(b.Name), q(units.Temperature, b.Service)),
			Evidence: e.worstNoon()}
		for _, c := range x.list {
			if o, err := x.find(c.ID); err == nil && c.ID != "none" && x.at <= o.Service-oneSided*o.U &&
				len(clashesWith(h, x.path, o.ID)) == 0 {
				f.Remedy, f.Patch = say("Use %v.", word(o.Name)), []design.Change{change(x.path, o.ID)}
				break
			}
		}
		if f.Patch == nil {
			f.Remedy = say("None in the list withstands that: fasten with screws and keep the box covered in summer.")
			f.orGuard(e, false)
		}
		fs = append(fs, f)
	}
	return fs
}

// oneSided is the normal quantile of 95 %.
const oneSided = 1.645

// tagsOf lists what a heater's choices are tagged with, and the circumstances
// each is in.
func tagsOf(h *design.Heater, path string) (tags, around []string) {
	foam, _ := catalog.FindInsulation(h.Box.Foam)
	cover, _ := catalog.FindCover(h.Cover.Material)
	switch path {
	case "absorber.paint":
		p, _ := catalog.FindPaint(h.Absorber.Paint)
		around = append(around, catalog.InAirway)
		if h.Absorber.Family == design.FrontPassPlate || h.Box.Body == "foam" || h.Box.Walls == "black" {
			around = append(around, foam.Tags...) // the foam inside is painted too
		}
		return p.Tags, around
	case "box.sealant":
		b, _ := catalog.FindSealant(h.Box.Sealant)
		around = append(around, catalog.Rain, catalog.Hot)
		return b.Tags, append(around, cover.Tags...)
	case "box.adhesive":
		b, _ := catalog.FindAdhesive(h.Box.Adhesive)
		return b.Tags, append(append(around, catalog.MetalFoam, catalog.Hot), foam.Tags...)
	case "box.tape":
		b, _ := catalog.FindTape(h.Box.Tape)
		return b.Tags, append(around, catalog.Hot)
	case "air.duct":
		d, _ := catalog.FindDuct(h.Air.Duct)
		return d.Tags, append(around, catalog.Hot)
	}
	return nil, nil
}

// clashesWith returns the materials that would not go together if one choice were made, by its field path.
func clashesWith(h *design.Heater, path, id string) []catalog.Clash {
	n := h.Clone()
	switch path {
	case "absorber.paint":
		n.Absorber.Paint = id
	case "box.sealant":
		n.Box.Sealant = id
	case "box.adhesive":
		n.Box.Adhesive = id
	case "box.tape":
		n.Box.Tape = id
	case "air.duct":
		n.Air.Duct = id
	}
	return catalog.ClashesOf(tagsOf(&n, path))
}

// clash: two things that do not go with each other, from the catalog's table.
func clash(e *box) (fs []Finding) {
	h := &e.Heater
	if h.Indoors() {
		return nil
	}
	for _, x := range []struct {
		path, name, id string
		list           []catalog.Choice
	}{
		{"absorber.paint", "paint", h.Absorber.Paint, catalog.Paints()}, {"box.sealant", "sealant", h.Box.Sealant, catalog.Sealants()},
		{"box.adhesive", "adhesive", h.Box.Adhesive, catalog.Adhesives()}, {"box.tape", "tape", h.Box.Tape, catalog.Tapes()},
		{"air.duct", "duct", h.Air.Duct, catalog.Ducts()},
	} {
		cs := clashesWith(h, x.path, x.id)
		if len(cs) == 0 {
			continue
		}
		c := cs[0]
		name := x.id
		for _, o := range x.list {
			if o.ID == x.id {
				name = o.Name
			}
		}
		f := Finding{ID: "clash-" + x.name, Severity: Fault,
			Topic: Construction, Title: fmt.Sprintf("The %s does not suit the other materials", x.name),
			Finding: say("%v", word(c.Why)), Evidence: say("You chose %v; common practice, no source.", word(name)),
			Remedy: say("%v", word(c.Remedy))}
		for _, o := range x.list {
			if len(clashesWith(h, x.path, o.ID)) == 0 && bears(e, x.path, o.ID) {
				f.Patch = []design.Change{change(x.path, o.ID)}
				f.Remedy = say("%v Here: %v.", word(c.Remedy), word(o.Name))
				if _, r, err := rerun(e, f.Patch...); err == nil && math.Abs(worth(&r)-worth(&e.Running)) > 1e-6 {
					f.Gain, f.HasGain = worth(&r)-worth(&e.Running), true
				}
				break
			}
		}
		fs = append(fs, f)
	}
	return fs
}

// bears says whether a choice stands the box's heat.
func bears(e *box, path, id string) bool {
	switch path {
	case "absorber.paint":
		p, err := catalog.FindPaint(id)
		return err == nil && p.Service >= hottest(e, collector.AbsorberLayer)
	case "box.sealant":
		b, err := catalog.FindSealant(id)
		return err == nil && b.Service-oneSided*b.U >= hottest(e, collector.CoverLayer)
	case "box.adhesive":
		b, err := catalog.FindAdhesive(id)
		return err == nil && b.Service-oneSided*b.U >= hottest(e, collector.BackLayer)
	case "box.tape":
		b, err := catalog.FindTape(id)
		return err == nil && b.Service-oneSided*b.U >= hottest(e, collector.BackLayer)
	case "air.duct":
		d, err := catalog.FindDuct(id)
		return err == nil && d.Service >= e.Running.Outlet
	}
	return true
}

// hotDuct: the warm duct against the first air after the fan has stood still.
func hotDuct(e *box) []Finding {
	h := &e.Heater
	d, err := catalog.FindDuct(h.Air.Duct)
	first := e.Still.AbsorberMean // the air that has stood against the absorber
	if err != nil || h.Indoors() || d.Service >= first || len(d.Tags) > 0 {
		return nil // a tagged one is judged by the table of clashes
	}
	return []Finding{{ID: "hot-duct", Severity: Fault, Topic: Construction, Title: "The duct will overheat",
		Finding: say("When the fan starts after a stop, the air is at up to %v; %v withstands %v.", q(units.Temperature, first),
			word(d.Name), q(units.Temperature, d.Service)),
		Evidence: say("This is the mean absorber temperature with the fan off at the clear winter noon."),
		Remedy:   say("Use smooth or ribbed metal duct for the warm side."), Patch: []design.Change{change("air.duct", "smooth")}}}
}

// hotFan: a fan that pulls handles the box's hottest air.
func hotFan(e *box) []Finding {
	h := &e.Heater
	fan, err := catalog.FindFan(h.Air.FanModel)
	if err != nil || !h.Fanned() || h.Air.FanSide != "outlet" || e.Still.AbsorberMean <= fan.Service {
		return nil
	}
	f := Finding{ID: "hot-fan", Severity: Fault, Topic: Construction, Title: "The fan will overheat",
		Finding: say("At the outlet it draws air of up to %v when it starts; %v withstands %v.",
			q(units.Temperature, e.Still.AbsorberMean), word(fan.Name), q(units.Temperature, fan.Service)),
		Evidence: say("While it runs the air is at %v; after a stop it is as hot as the absorber.", q(units.Temperature, e.Running.Outlet))}
	o := option{[]design.Change{change("air.fan_side",
		"inlet")}, func(collector.Result) Text { return say("Move the fan to the inlet, so that it pushes.") }}
	if _, r, err := rerun(e, o.changes...); err == nil {
		return f.with(e, o, r)
	}
	return []Finding{f}
}

// unevenScreens: where the air crosses decides what the screens give.
func unevenScreens(e *box) []Finding {
	a := e.Heater.Absorber.Screens
	if a == nil || e.Running.Evenness >= 0.3 || e.Running.Mass <= 0 {
		return nil
	}
	f := Finding{ID: "uneven-crossing", Severity: Loss, Topic: Construction, Title: "Air crosses the screens unevenly",
		Finding: say("The part of the screens with the least air gets %v of an even share.", q(units.Share, e.Running.Evenness)),
		Evidence: say("The pressure changes more along the box than across the screens, which reach %v where little air crosses.",
			q(units.Temperature, e.Running.AbsorberMax))}
	var options []option
	for _, rear := range []float64{0.015, 0.03, 0.05, 0.08} {
		for _, lift := range []float64{0, a.Lift} {
			if rear <= a.Rear && lift == a.Lift {
				continue
			}
			options = append(options, option{[]design.Change{change("absorber.screens.rear_m", rear),
				change("absorber.screens.lift_m", lift)}, func(r collector.Result) Text {
				return say("Leave %v behind the screens at the bottom and slant them by %v: the part with the least air then gets %v.",
					q(units.Length, rear), q(units.Length, lift), q(units.Share, r.Evenness))
			}})
		}
	}
	if !a.Deflector {
		options = append(options, option{[]design.Change{change("absorber.screens.deflector", true)}, func(r collector.Result) Text {
			return say("Fix a deflector in front of the inlet, so that the air spreads over the width: the part with the least air "+
				"then gets %v.", q(units.Share, r.Evenness))
		}})
	}
	for _, open := range []float64{0.5, 0.3, 0.2} {
		if open < a.Baffle {
			options = append(options, option{[]design.Change{change("absorber.screens.baffle_open", open)}, func(r collector.Result) Text {
				return say("Fix a bar across the space in front of the screens at mid-height that leaves %v of it open: the part with "+
					"the least air then gets %v.", q(units.Share, open), q(units.Share, r.Evenness))
			}})
		}
	}
	if a.Layers < 3 {
		options = append(options, option{[]design.Change{change("absorber.screens.layers", 3)}, func(r collector.Result) Text {
			return say("Use three screen layers, which resist the air more: the part with the least air then gets %v.",
				q(units.Share, r.Evenness))
		}})
	}
	if o, r, ok := best(e, 0.02, options); ok {
		return f.with(e, o, r)
	}
	f.Severity = Note
	f.Remedy = say("Leave it: no change we computed gives 2 %% more heat. What an air jet loses at the glazing is not computed.")
	return []Finding{f}
}

// unevenTubes: headers too narrow for the air they share out.
func unevenTubes(e *box) []Finding {
	h := &e.Heater
	if h.Absorber.Screens != nil || e.Running.Evenness <= 0 || e.Running.Evenness >= 0.8 && h.Absorber.Coil == nil ||
		e.Running.Evenness >= 0.97 {
		return nil
	}
	if c := h.Absorber.Coil; c != nil {
		f := Finding{ID: "uneven-coils", Severity: Loss, Topic: Construction, Title: "The coils differ in length",
			Finding: say("%v runs cannot be divided evenly among %v coils: the longest coil gets %v of the mean airflow.",
				word(fmt.Sprint(c.Runs)), word(fmt.Sprint(c.Ways)), q(units.Share, e.Running.Evenness)),
			Evidence: say("Air takes the shorter coil; the longer one runs hot."),
			Remedy:   say("Use a number of runs that divides evenly, or put a damper into the short coils.")}
		if runs := c.Runs - c.Runs%c.Ways; runs > 0 {
			o := option{[]design.Change{change("absorber.coil.runs", runs)}, func(collector.Result) Text {
				return say("Fold %v runs, so that each coil has %v.", word(fmt.Sprint(runs)), word(fmt.Sprint(runs/c.Ways)))
			}}
			if _, r, err := rerun(e, o.changes...); err == nil {
				return f.with(e, o, r)
			}
		}
		return []Finding{f}
	}
	path, now := "absorber.cans.header_m", 0.0
	if h.Absorber.Cans != nil {
		now = h.Absorber.Cans.Header
	} else if h.Absorber.Pipes != nil {
		path, now = "absorber.pipes.header_m", h.Absorber.Pipes.Header
	}
	f := Finding{ID: "uneven-tubes", Severity: Loss, Topic: Construction, Title: "Airflow is uneven between the tubes",
		Finding:  say("The tube with the least air gets %v of the mean.", q(units.Share, e.Running.Evenness)),
		Evidence: say("Headers %v high change the air speed so much from tube to tube that it prefers one side.", q(units.Length, now)),
		Remedy:   say("Make the headers as high as the box allows.")}
	for _, k := range []float64{1.25, 1.5, 2} {
		c := []design.Change{change(path, math.Min(0.4, now*k))}
		if h.Absorber.Cans != nil {
			rows := int((h.ApertureHeight() - 2*math.Min(0.4, now*k)) / h.Absorber.Cans.Height)
			c = append([]design.Change{change("absorber.cans.rows", max(1, rows))}, c...)
		}
		if _, r, err := rerun(e, c...); err == nil && r.Evenness >= 0.8 {
			o := option{c, func(r collector.Result) Text {
				return say("Make the headers %v high: the tube with the least air then gets %v.", q(units.Length, math.Min(0.4, now*k)),
					q(units.Share, r.Evenness))
			}}
			return f.with(e, o, r)
		}
	}
	return []Finding{f}
}

// growth is what each glued joint adds to a column, m: a bead of silicone.
// Common practice, no source.
const growth = 0.001

// tightColumns: glued joints make columns longer than the headers expect.
func tightColumns(e *box) []Finding {
	h := &e.Heater
	c := h.Absorber.Cans
	if c == nil {
		return nil
	}
	room := h.ApertureHeight() - 2*c.Header - float64(c.Rows)*c.Height
	need := growth * float64(c.Rows+1)
	if room >= need {
		return nil
	}
	f := Finding{ID: "tight-columns", Severity: Fault, Topic: Construction, Title: "The can columns will not fit",
		Finding: say("%v cans leave %v between the headers; their glued joints need %v.", word(fmt.Sprint(c.Rows)),
			q(units.Length, math.Max(0, room)), q(units.Length, need)),
		Evidence: say("Each bead of silicone adds about %v, which shows only when the second header is fixed.", q(units.Length, growth)),
		Remedy:   say("Leave the upper header loose until the last column is in place.")}
	if c.Rows > 1 {
		o := option{[]design.Change{change("absorber.cans.rows", c.Rows-1)}, func(collector.Result) Text {
			return say("Use %v cans in a column, and fix the upper header last.", word(fmt.Sprint(c.Rows-1)))
		}}
		if _, r, err := rerun(e, o.changes...); err == nil {
			return f.with(e, o, r)
		}
	}
	return []Finding{f}
}

// seriesPipes: passes one after the other cost the fan more than they heat.
func seriesPipes(e *box) []Finding {
	p := e.Heater.Absorber.Pipes
	if p == nil || p.Join != "series" || e.Heater.Absorber.Family != design.Downpipes {
		return nil
	}
	f := Finding{ID: "series-pipes", Severity: Loss, Topic: Construction, Title: "Pipes in series restrict the airflow",
		Finding: say("All the air passes all %v pipes in turn, which leaves %v of %v.", word(fmt.Sprint(p.Count)),
			q(units.Flow, e.Running.Volume), q(units.Flow, e.Heater.Air.FanFree)),
		Evidence: say("The pressure drop is %v.", q(units.Pressure, e.Running.PressureDrop))}
	o, r, ok := best(e, 0.03, []option{{[]design.Change{change("absorber.pipes.join", "parallel")}, func(r collector.Result) Text {
		return say("Connect the pipes in parallel between two headers: %v at %v.", q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
	}}})
	if !ok {
		return nil
	}
	return f.with(e, o, r)
}

// smallHoles: a box without a fan breathes through its holes.
func smallHoles(e *box) []Finding {
	h := &e.Heater
	if h.Fanned() || h.Indoors() {
		return nil
	}
	f := Finding{ID: "small-holes", Severity: Loss, Topic: Construction, Title: "The ports restrict the airflow",
		Finding: say("The natural draft is %v, and the ports let %v through.", q(units.Pressure, e.Running.Lift),
			q(units.Flow, e.Running.Volume)),
		Evidence: say("The outlet air is at %v, and %v of the sun is lost through the glazing.", q(units.Temperature, e.Running.Outlet),
			q(units.Share, e.Running.Energy.Front/e.Running.Energy.Sun))}
	var options []option
	for _, k := range []float64{1.25, 1.5} {
		d := h.Air.Diameter * k
		options = append(options, option{[]design.Change{change("air.diameter_m", d)}, func(r collector.Result) Text {
			return say("Make the ports %v wide: %v at %v.", q(units.Bore, d), q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
		}})
	}
	options = append(options, option{[]design.Change{change("air.ports", min(12, h.Air.Ports+1))}, func(r collector.Result) Text {
		return say("Drill %v ports at each end: %v at %v.", word(fmt.Sprint(min(12, h.Air.Ports+1))), q(units.Flow, r.Volume),
			q(units.Temperature, r.Outlet))
	}})
	if o, r, ok := best(e, 0.08, options); ok {
		return f.with(e, o, r)
	}
	return nil
}

// tightPorts: a wide port that opens into a shallow space breathes only through
// its rim times that depth.
func tightPorts(e *box) []Finding {
	h := &e.Heater
	d, err := collector.Describe(h)
	if err != nil || h.Indoors() {
		return nil
	}
	depth := math.Inf(1)
	for _, x := range d.Passages.Ports {
		if x > 0 {
			depth = math.Min(depth, x)
		}
	}
	if depth >= h.Air.Diameter/4 { // the curtain is as wide as the port
		return nil
	}
	f := Finding{ID: "tight-ports", Severity: Loss, Topic: Construction, Title: "Ports are too restricted",
		Finding: say("A port of %v opens into a space %v deep, so the air turns through only %v of the port's area.",
			q(units.Bore, h.Air.Diameter), q(units.Length, depth), q(units.Share, 4*depth/h.Air.Diameter)),
		Evidence: say("The airflow is %v at a pressure drop of %v.", q(units.Flow, e.Running.Volume),
			q(units.Pressure, e.Running.PressureDrop))}
	var options []option
	deeper := h.Air.Diameter / 4
	for _, path := range []string{"absorber.plate.channel_m", "absorber.pipes.behind_m", "box.gap_m"} {
		x := design.FieldAt(path)
		if !x.Applies(h) || design.Number(h, path) > depth+1e-6 || deeper > x.Max {
			continue
		}
		options = append(options, option{[]design.Change{change(path, deeper)}, func(r collector.Result) Text {
			return say("Make the space %v deep: %v at %v. It is enough to deepen it at the ports.", q(units.Length, deeper),
				q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
		}})
	}
	if o, r, ok := best(e, 0.01, options); ok {
		return f.with(e, o, r)
	}
	if e.Running.PressureDrop <= 0 {
		return nil
	}
	f.Severity = Note
	f.Remedy = say("Widen the space at the ports, or use a narrower duct. A deeper channel all along gains next to nothing here.")
	return []Finding{f}
}

// weakPanel: the panel cannot turn its fan, or hardly.
func weakPanel(e *box) []Finding {
	h := &e.Heater
	if h.Air.Drive != "panel" || h.Air.Battery > 0 || e.Running.Conditions.Flow > 0 || e.Running.FanSpeed >= 0.75 && e.Running.Mass > 0 {
		return nil
	}
	f := Finding{ID: "weak-panel", Severity: Loss, Topic: Construction, Title: "The solar panel is too small for the fan",
		Finding:  say("At the clear winter noon the fan runs at %v of its speed.", q(units.Share, e.Running.FanSpeed)),
		Evidence: say("A panel of %v drives a fan of %v.", q(units.Electric, h.Air.PanelPeak), q(units.Electric, h.Air.FanPower))}
	if e.Running.Mass <= 0 {
		f.Severity, f.Finding = Fault, say("At the clear winter noon the panel cannot start the fan.")
	}
	var options []option
	for _, w := range []float64{5, 10, 20, 30, 50, 100, 200} {
		if w > h.Air.PanelPeak && len(options) < 3 {
			options = append(options, option{[]design.Change{change("air.panel_w", w)}, func(r collector.Result) Text {
				return say("Use a panel of %v: the fan then runs at %v of its speed.", q(units.Electric, w), q(units.Share, r.FanSpeed))
			}})
		}
	}
	if o, r, ok := best(e, 0.01, options); ok {
		return f.with(e, o, r)
	}
	f.Remedy = say("Use a fan with less power.")
	return []Finding{f}
}

// usableBattery is the share of a battery that may be taken, and RunHours what
// a heater runs on a clear winter day. Common practice, no source.
const (
	usableBattery = 0.5
	RunHours      = 5.0
)

// Battery is a battery that drives a fan off its own panel.
type Battery struct {
	Watts float64 // that all fans take
	Lost  float64 // share of it that the wires lose
	Days  float64 // of [RunHours] without sun
}

// BatteryOf returns how a heater's battery lasts, and whether it has one.
func BatteryOf(h *design.Heater) (b Battery, has bool) {
	a := &h.Air
	if a.Drive != "panel" || a.Battery <= 0 {
		return b, false
	}
	b.Watts = a.FanPower * math.Max(1, float64(a.Fans))
	b.Lost = b.Watts / a.FanVolts * 2 * a.Wire * collector.Copper / a.WireArea / a.FanVolts
	b.Days = airflow.Autonomy(a.Battery, usableBattery, RunHours, b.Watts, b.Lost)
	return b, true
}

// battery: how long it lasts without sun.
func battery(e *box) []Finding {
	a := &e.Heater.Air
	b, has := BatteryOf(&e.Heater)
	if !has || b.Days >= 1 && b.Lost < 0.05 {
		return nil
	}
	f := Finding{ID: "small-battery", Severity: Note, Topic: Construction, Title: "The battery is small",
		Finding: say("It runs the fan for %v days of %v hours without sun.", q(units.Number, math.Round(10*b.Days)/10),
			q(units.Number, RunHours)),
		Evidence: say("The fan takes %v, of which the wires lose %v; only half of the battery should be used.",
			q(units.Electric, b.Watts), q(units.Share, b.Lost)),
		Remedy: say("Use a larger battery, or drive the fan straight from the panel: without sun the fan is not needed.")}
	if need := math.Ceil(RunHours*b.Watts/usableBattery/(1-b.Lost)/10) * 10; need <= 5000 && b.Days < 1 {
		f.Patch = []design.Change{change("air.battery_wh", need)}
	}
	if b.Lost >= 0.05 {
		f.ID, f.Title = "thin-wire", "The wire is too thin"
		f.Remedy = say("Use thicker or shorter wire.")
		if area := a.WireArea * b.Lost / 0.03; area <= 16 {
			f.Patch = []design.Change{change("air.wire_mm2", math.Ceil(area*4)/4)}
		}
	}
	return []Finding{f}
}

// Night is the winter night that back-flow is judged by: as cold as 8 K under
// the noon, no wind to speak of. Common practice, no source.
func Night(e *collector.Evaluation) collector.Conditions {
	c := e.Running.Conditions
	c.Sun, c.Ambient, c.Wind, c.Flow = solar.OnPlane{}, c.Ambient-8, 1, 0
	c.Sky = solar.Swinbank(c.Ambient)
	c.Inlet = e.Heater.Room.Air
	return c
}

// nightLoss is what falls through a box by night, W, with its flap as a heater
// has it.
func nightLoss(h *design.Heater, c collector.Conditions) (float64, collector.Result, error) {
	d, err := collector.Describe(h)
	if err != nil {
		return 0, collector.Result{}, err
	}
	r, err := d.BackFlow(c, h.Air.Flap != "none")
	return math.Max(0, -r.Heat), r, err
}

// backFlow: without a flap the cold box draws the room's warmth by night.
func backFlow(e *box) []Finding {
	h := &e.Heater
	if h.Indoors() || h.Air.Flap != "none" {
		return nil
	}
	c := Night(e.Evaluation)
	open, r, err := nightLoss(h, c)
	if err != nil || open < 3 {
		return nil
	}
	flap := change("air.flap", "membrane")
	shut, err := design.Apply(*h, units.System{}, flap)
	if err != nil {
		return nil
	}
	left, _, err := nightLoss(&shut, c)
	if err != nil {
		return nil
	}
	title := "It cools the room by night"
	evidence := say("At %v outdoors, %v of room air sinks through the box and comes back at %v.", q(units.Temperature, c.Ambient),
		q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
	if h.Fanned() {
		evidence = say("At %v outdoors with the fan off, %v of room air sinks through fan and box and comes back at %v.",
			q(units.Temperature, c.Ambient), q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
	}
	return []Finding{{ID: "back-flow", Severity: Loss, Topic: Construction, Title: title,
		Finding:  say("Without a backdraft damper the box takes %v out of the room on a clear winter night.", q(units.Power, open)),
		Evidence: evidence, Remedy: say("Fit a light backdraft damper: the loss is then %v.", q(units.Power, left)),
		Patch: []design.Change{flap}, Gain: open - left, HasGain: true, When: "by night"}}
}

// bareDuct: ducts that cross the open lose what the box gained.
func bareDuct(e *box) []Finding {
	h := &e.Heater
	if e.Running.DuctLoss < 0.04*e.Running.Heat || e.Running.Heat <= 0 || h.Air.Duct == "insulated" {
		return nil
	}
	f := Finding{ID: "bare-duct", Severity: Loss, Topic: Construction, Title: "Ducts lose heat outdoors",
		Finding: say("Bare ducts from the stand lose %v of the %v that the box gives.", q(units.Power, e.Running.DuctLoss),
			q(units.Power, e.Running.Heat)),
		Evidence: say("There are %v of duct at %v outdoors.", q(units.Distance, h.Air.ToBox+h.Air.FromBox),
			q(units.Temperature, e.Running.Conditions.Ambient))}
	if e.Running.DuctLoss > 0.5*e.Running.Heat {
		f.Severity, f.Title = Fault, "Ducts outdoors lose most of the heat"
	}
	c := []design.Change{change("air.duct", "insulated")}
	_, r, err := rerun(e, c...)
	if err != nil {
		return nil
	}
	f.Remedy, f.Patch = say("Insulate the ducts: the loss is then %v.", q(units.Power, r.DuctLoss)), c
	f.Gain, f.HasGain = worth(&r)-worth(&e.Running), true
	return []Finding{f}
}

// leaky: what the seams lose or let in.
func leaky(e *box) []Finding {
	h := &e.Heater
	leak := func(r *collector.Result) float64 { return r.Energy.Leak + r.MakeUp }
	if leak(&e.Running) < 0.04*e.Running.Energy.Sun {
		return nil
	}
	f := Finding{ID: "leaky", Severity: Loss, Topic: Construction, Title: "The box leaks air",
		Finding: say("Leaks at the seams cost %v, %v of the sun.", q(units.Power, leak(&e.Running)),
			q(units.Share, leak(&e.Running)/e.Running.Energy.Sun)),
		Evidence: say("The box is at %v relative to outdoors, and outdoor air replaces what leaks.",
			q(units.Pressure, e.Running.BoxPressure))}
	o, r, ok := best(e, 0.01, []option{{[]design.Change{change("box.seam_m3_s_m", h.Box.Seam/3)}, func(r collector.Result) Text {
		return say("Caulk the seams once more: a third of the leakage costs only %v.", q(units.Power, leak(&r)))
	}}})
	if !ok {
		return nil
	}
	return f.with(e, o, r)
}

// dewOnCover: the room's damp on the cold cover.
func dewOnCover(e *box) []Finding {
	h := &e.Heater
	if h.Air.Source == "outdoors" || e.Running.Mass <= 0 {
		return nil
	}
	m, err := air.NewMoist(h.Room.Air, h.Room.Humidity, e.Running.Conditions.Pressure)
	if err != nil {
		return nil
	}
	dew := m.DewPoint()
	cold := e.Running.CoverInner
	swept := h.Absorber.Family == design.FrontPassPlate || h.Absorber.Family == design.DoublePassPlate ||
		h.Absorber.Family == design.PassiveBox || h.Absorber.Screens != nil || h.Indoors()
	if cold >= dew || !swept {
		return nil
	}
	what := "Water"
	if cold < 0 {
		what = "Frost"
	}
	return []Finding{{ID: "dew", Severity: Note, Topic: Construction, Title: what + " on the cover",
		Finding: say("The room air condenses below %v; the inside of the glazing is at %v where it is coldest.",
			q(units.Temperature, dew), q(units.Temperature, cold)),
		Evidence: say("Room air of %v at %v humidity touches it.", q(units.Temperature, h.Room.Air), q(units.Share, h.Room.Humidity)),
		Remedy:   say("Leave drain holes along the bottom, and dry the room. A second glazing keeps the inner one warmer.")}}
}

// coolJet: much warm air is more heat, and a draft.
func coolJet(e *box) []Finding {
	h := &e.Heater
	if e.Running.Outlet >= space.Drafty || h.Room.Kind == design.Greenhouse || !h.Fanned() || e.Running.Heat <= 0 {
		return nil
	}
	return []Finding{{ID: "cool-jet", Severity: Note, Topic: Construction, Title: "The outlet air will feel like a draft",
		Finding: say("Air of %v carries the most heat, but feels cool on the skin.", q(units.Temperature, e.Running.Outlet)),
		Evidence: say("The airflow is %v; below about %v moving air feels like a draft.", q(units.Flow, e.Running.Volume),
			q(units.Temperature, space.Drafty)),
		Remedy: say("Point the outlet at a wall or the ceiling, not at a chair.")}}
}

// duller: a paint that shines throws sun away.
func duller(e *box) []Finding {
	p, err := catalog.FindPaint(e.Heater.Absorber.Paint)
	if err != nil || p.Absorptance >= 0.93 {
		return nil
	}
	f := Finding{ID: "shiny-paint", Severity: Loss, Topic: Construction, Title: "The paint reflects too much sun",
		Finding:  say("%v absorbs %v of the sun.", word(p.Name), q(units.Share, p.Absorptance)),
		Evidence: say("%v are reflected.", q(units.Power, e.Running.Energy.Reflected))}
	var options []option
	for _, c := range catalog.Paints() {
		if o, err := catalog.FindPaint(c.ID); err == nil && o.Absorptance > p.Absorptance && bears(e, "absorber.paint", c.ID) &&
			len(clashesWith(&e.Heater, "absorber.paint", c.ID)) == 0 {
			options = append(options, option{[]design.Change{change("absorber.paint", c.ID)},
				func(collector.Result) Text { return say("Use %v, in two thin coats.", word(o.Name)) }})
		}
	}
	if o, r, ok := best(e, 0.005, options); ok {
		return f.with(e, o, r)
	}
	return nil
}

// doubtfulPane: a coated or tinted pane keeps the sun out.
func doubtfulPane(e *box) []Finding {
	h := &e.Heater
	c, err := catalog.FindCover(h.Cover.Material)
	if err != nil || h.Indoors() || c.CoatPass == 0 && c.Extinction*c.Thickness < 0.3 {
		return nil
	}
	f := Finding{ID: "doubtful-pane", Severity: Loss, Topic: Construction, Title: "The glazing blocks the sun",
		Finding: say("%v is made for that: of %v on it, %v are reflected or stay in it.", word(c.Name),
			q(units.Power, e.Running.Energy.Sun), q(units.Power, e.Running.Energy.Reflected)),
		Evidence: say("Lay it in the sun and feel the ground under it. If the ground is not warmer there, do not use this glazing.")}
	o, r, ok := best(e, 0.02, []option{{[]design.Change{change("cover.material", "glass")}, func(r collector.Result) Text {
		return say("Use plain glass: the heat to the room is then %v.", q(units.Power, r.Warms()))
	}}})
	if !ok {
		return nil
	}
	return f.with(e, o, r)
}

// shaded: what eave, walls and horizon take at the noon judged by.
func shaded(e *box) []Finding {
	h := &e.Heater
	s := h.Shade
	if s.EaveDepth == 0 && s.FinLeft == 0 && s.FinRight == 0 && len(s.Horizon) == 0 {
		return nil
	}
	at := collector.WinterNoon(h, 2026)
	with := collector.ConditionsAt(h, at)
	open := h.Clone()
	open.Shade = design.Shade{}
	without := collector.ConditionsAt(&open, at)
	lost := without.Sun.Total() - with.Sun.Total()
	if lost < 0.03*without.Sun.Total() {
		return nil
	}
	f := Finding{ID: "shaded", Severity: Loss, Topic: Siting, Title: "The box is shaded at noon",
		Finding: say("At the clear winter noon %v of the sun never reaches the glazing.", q(units.Share, lost/without.Sun.Total())),
		Evidence: say("The glazing gets %v instead of %v without shade.", q(units.Irradiance, with.Sun.Total()),
			q(units.Irradiance, without.Sun.Total())),
		Remedy: say("Move the box out of the shade of the heating months. Shade in summer is welcome.")}
	months, name := []time.Month{11, 12, 1, 2, 3}, "from November to March"
	if h.Place.Latitude < 0 {
		months, name = []time.Month{5, 6, 7, 8, 9}, "from May to September"
	}
	if strip := collector.Surroundings(h).NeverLit(collector.Site(h), h.Place.Tilt, h.Place.Bearing, months...); strip > 0.01 {
		f.Remedy = say("Mount the box lower, or leave out the absorber in its top %v, which the sun under the eave never reaches %v.",
			q(units.Length, strip), word(name))
	}
	return []Finding{f}
}

// coldBridge: foam that stops inside the frame.
func coldBridge(e *box) []Finding {
	h := &e.Heater
	if h.Indoors() || e.Running.Energy.Back+e.Running.Energy.Edge < 0.12*e.Running.Energy.Sun {
		return nil
	}
	f := Finding{ID: "thin-insulation", Severity: Loss, Topic: Construction, Title: "Back and sides lose heat",
		Finding: say("The back loses %v and the sides %v, together %v of the sun.", q(units.Power, e.Running.Energy.Back),
			q(units.Power, e.Running.Energy.Edge), q(units.Share, (e.Running.Energy.Back+e.Running.Energy.Edge)/e.Running.Energy.Sun)),
		Evidence: say("There are %v of insulation on the back and %v at the sides.", q(units.Length, h.Box.BackFoam),
			q(units.Length, h.Box.EdgeFoam))}
	var options []option
	for _, x := range []float64{0.025, 0.05} {
		if x > h.Box.BackFoam {
			options = append(options, option{[]design.Change{change("box.back_foam_m", x)}, func(r collector.Result) Text {
				return say("Use %v of insulation on the back: it then loses %v.", q(units.Length, x), q(units.Power, r.Energy.Back))
			}})
		}
		if x > h.Box.EdgeFoam && x < 0.04 {
			options = append(options, option{[]design.Change{change("box.edge_foam_m", x)}, func(r collector.Result) Text {
				return say("Line the frame with %v of insulation: the sides then lose %v.", q(units.Length, x),
					q(units.Power, r.Energy.Edge))
			}})
		}
	}
	if o, r, ok := best(e, 0.02, options); ok {
		return f.with(e, o, r)
	}
	return nil
}

// betterBare: a panel behind a window that lets in more by itself.
func betterBare(e *box) []Finding {
	if !e.Heater.Indoors() || e.Running.Heat > 0.02*e.Running.Energy.Sun {
		return nil
	}
	return []Finding{{ID: "bare-window", Severity: Fault, Topic: Construction, Title: "The bare window gives more heat",
		Finding: say("The window alone would give %v; with the panel it gives %v.", q(units.Power, e.Running.Bare),
			q(units.Power, e.Running.Bare+e.Running.Heat)),
		Evidence: say("Sun through the window warms the room anyway. The panel only turns it into warm air sooner, and it warms the pane."),
		Remedy:   say("Use the panel only for shade and quick warmth, or where the sun would not fall into the room.")}}
}

// otherSide: pushing or pulling, as the leaks and the air's density say.
func otherSide(e *box) []Finding {
	h := &e.Heater
	if !h.Fanned() || e.Running.Conditions.Flow > 0 {
		return nil
	}
	other, words := "outlet", "Put the fan at the outlet, pulling"
	if h.Air.FanSide == "outlet" {
		other, words = "inlet", "Put the fan at the inlet, pushing"
	}
	f := Finding{ID: "other-side", Severity: Loss, Topic: Construction, Title: "The fan works better at the other end",
		Finding: say("Here the box is at %v relative to outdoors, and its seams cost %v.", q(units.Pressure, e.Running.BoxPressure),
			q(units.Power, e.Running.Energy.Leak)),
		Evidence: say("The heat to the room is %v with the fan at this end.", q(units.Power, e.Running.Warms()))}
	o, r, ok := best(e, 0.03, []option{{[]design.Change{change("air.fan_side", other)}, func(r collector.Result) Text {
		return say("%v: %v.", word(words), q(units.Power, r.Warms()))
	}}})
	if !ok {
		return nil
	}
	if fan, err := catalog.FindFan(h.Air.FanModel); err == nil && other == "outlet" && e.Still.AbsorberMean > fan.Service {
		return nil // it would not bear the heat there
	}
	return f.with(e, o, r)
}

// plugged: nothing stops a plain plug when the sun goes.
func plugged(e *box) []Finding {
	h := &e.Heater
	sw := thermostat.Of(h)
	if sw.Kind != thermostat.Plug {
		return nil
	}
	d, err := collector.Describe(h)
	if err != nil {
		return nil
	}
	c := Night(e.Evaluation)
	r, err := d.Rate(c, collector.Tuning{}, nil)
	if err != nil {
		return nil
	}
	return []Finding{{ID: "plugged", Severity: Fault, Topic: Control, Title: "The fan cools the room after sunset",
		Finding: say("A fan that is always on blows the room's heat out through the box at night: %v.",
			q(units.Power, math.Max(0, -r.Warms()))),
		Evidence: say("At %v outdoors, air enters the box at %v and comes back at %v.", q(units.Temperature, c.Ambient),
			q(units.Temperature, c.Inlet), q(units.Temperature, r.Outlet)),
		Remedy: say("Fit a snap disc at the top of the box."), Patch: []design.Change{change("switch.kind", "snap")},
		Gain: math.Max(0, -r.Warms()), HasGain: true, When: "by night"}}
}

// outdoorIntake: air drawn in from outdoors has to be warmed to the room's temperature before
// it warms anything.
func outdoorIntake(e *box) []Finding {
	h := &e.Heater
	r := &e.Running
	if h.Air.Source != "outdoors" || r.Mass <= 0 || r.Airing <= 0 {
		return nil
	}
	f := Finding{ID: "outdoor-intake", Severity: Loss, Topic: Airflow, Title: "Outdoor intake costs heat",
		Finding: say("Heating outdoor air from %v to the room's %v takes %v of the %v that the box gives.",
			q(units.Temperature, r.Conditions.Inlet), q(units.Temperature, r.Conditions.Room), q(units.Power, r.Airing),
			q(units.Power, r.Heat)),
		Evidence: say("The heat to the room at the clear winter noon is %v.", q(units.Power, r.Warms())),
		Remedy:   say("Draw the air from the room, and ventilate the room separately for as long as it needs.")}
	if r.Warms() < 0 {
		f.Severity, f.Title = Fault, "The box cools the room"
	}
	o := option{[]design.Change{change("air.source", "room")}, func(r collector.Result) Text {
		return say("Draw the air from the room: the heat to the room is then %v. Ventilate separately for as long as the room needs.",
			q(units.Power, r.Warms()))
	}}
	if _, x, err := rerun(e, o.changes...); err == nil && e.looking {
		return f.with(e, o, x)
	}
	return []Finding{f}
}

// belowRoom: a switch that opens below the room's own temperature runs its fan by night.
func belowRoom(e *box) []Finding {
	h := &e.Heater
	k := thermostat.Of(h).Kind
	warm := math.Max(h.Room.Wanted, h.Room.Air)
	if k != thermostat.SnapDisc && k != thermostat.SetPoint || h.Switch.Open > warm {
		return nil
	}
	open := math.Ceil(warm + 2)
	closes := math.Max(h.Switch.Close, open+5)
	return []Finding{{ID: "switch-below-room", Severity: Fault, Topic: Control, Title: "The fan will not stop at night",
		Finding: say("The fan stops at %v, but the room is kept at %v, so the fan runs on at night and cools the room.",
			q(units.Temperature, h.Switch.Open), q(units.Temperature, warm)),
		Evidence: say("Room air through the box keeps its thermostat near room temperature."),
		Remedy:   say("Set the fan off at %v and on at %v.", q(units.Temperature, open), q(units.Temperature, closes)),
		Patch:    []design.Change{change("switch.close_c", closes), change("switch.open_c", open)}}}
}

// turned is how far from the noon sun a box may face before it is said, degrees, and least
// what that must cost of the noon's sun. Common practice, no source.
const (
	turned     = 20.0
	turnedCost = 0.10
)

// turnedAway: what the bearing and tilt cost at the noon.
func turnedAway(e *box) []Finding {
	h := &e.Heater
	noon := 180.0
	if h.Place.Latitude < 0 {
		noon = 0
	}
	off := math.Abs(math.Mod(h.Place.Bearing-noon+540, 360) - 180)
	if off < turned || h.Indoors() || !e.looking {
		return nil
	}
	at := collector.WinterNoon(h, 2026)
	here := collector.ConditionsAt(h, at).Sun.Total()
	facing := h.Clone()
	facing.Place.Bearing = noon
	c := collector.ConditionsAt(&facing, at)
	if c.Sun.Total() <= 0 || here > (1-turnedCost)*c.Sun.Total() {
		return nil
	}
	c.Inlet, c.Room, c.Ambient, c.Sky = e.Running.Conditions.Inlet, e.Running.Conditions.Room, e.Running.Conditions.Ambient,
		e.Running.Conditions.Sky
	r, err := collector.Rate(&facing, c)
	if err != nil {
		return nil
	}
	return []Finding{{ID: "turned-away", Severity: Loss, Topic: Siting, Title: "The box faces away from the noon sun",
		Finding: say("It faces %v and gets %v at noon; facing the noon sun it would get %v.", q(units.Angle, h.Place.Bearing),
			q(units.Irradiance, here), q(units.Irradiance, c.Sun.Total())),
		Evidence: say("Facing the noon sun it would give %v instead of %v.", q(units.Power, r.Warms()), q(units.Power, e.Running.Warms())),
		Remedy:   say("Face the box to %v if the place allows. On a wall that faces elsewhere, use a larger box.", q(units.Angle, noon)),
		Patch:    []design.Change{change("place.bearing_deg", noon)}, Gain: worth(&r) - worth(&e.Running), HasGain: true}}
}
