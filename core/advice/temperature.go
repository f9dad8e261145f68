package advice

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// hottest is the one-sided upper temperature of the layers of a kind.
// It is what a service temperature is compared with: the balance's own
// temperature at the worst noon, plus 1.645 standard uncertainties, so that one
// box in twenty that is judged sound is not.
func hottest(e *assessment, kinds ...collector.LayerKind) float64 {
	t := math.Inf(-1)
	for _, p := range e.Peaks {
		for _, k := range kinds {
			if p.Kind == k {
				t = max(t, p.Upper)
			}
		}
	}
	return t
}

// rounded is how far a service temperature of a label is a rounded figure, K: so near to it one is about at the limit. Common
// practice, no source.
const rounded = 10.0

// heat is how a temperature stands to a limit.
type heat int

const (
	within  heat = iota
	maybe        // the upper end of its range alone passes
	about        // the likely value is so near that the label's rounding decides
	passing      // the likely value passes
)

// against compares a likely temperature and its upper limit with what something withstands, give or take unsure, C.
func against(likely, upper, service, unsure float64) heat {
	switch {
	case likely > service+unsure:
		return passing
	case likely > service-unsure:
		return about
	case upper > service:
		return maybe
	}
	return within
}

// says puts it into a sentence: what gets so hot, and what withstands how much.
func (h heat) says(place string, likely, upper float64, name string, service float64) Text {
	switch h {
	case passing:
		return say("At the worst noon with the fan off %v is likely to reach %v; %v withstands about %v.", word(place),
			q(units.Temperature, likely), word(name), q(units.Temperature, service))
	case about:
		return say("At the worst noon with the fan off %v is likely to reach %v, about the limit of %v: %v, give or take %v.", word(place),
			q(units.Temperature, likely), word(name), q(units.Temperature, service), q(units.Rise, rounded))
	}
	return say("At the worst noon with the fan off %v is likely to reach %v, and at most %v; %v withstands about %v.", word(place),
		q(units.Temperature, likely), q(units.Temperature, upper), word(name), q(units.Temperature, service))
}

// tooHot: a material beyond its service temperature on a windless noon with
// the fan off. It is a danger where the likely temperature passes by more than a label is rounded and the house or the
// heater's main part suffers; where the upper end of its range alone passes, or what suffers is paint, a caution.
// One finding for each material, not for each layer of it. Back and cover are
// replaced by another material of the list; paint by one that bears more; a
// plastic screen by one of metal or glass fiber. Where none bears the heat, a
// vent, a shutter or a cover is looked for (guard.go).
func tooHot(e *assessment) (fs []Finding) {
	// A box with two covers of one material overheats once.
	seen := map[string]bool{}
	for _, p := range e.Peaks {
		h := against(p.Likely, p.Upper, p.Service, rounded)
		if h == within || seen[p.Material] {
			continue
		}
		seen[p.Material] = true
		f := Finding{ID: "too-hot-" + p.Material, Severity: Danger, Topic: Construction,
			Evidence: e.worstNoon().Then(say("The likely temperature is %v, the upper limit of the 95 %% range %v.",
				q(units.Temperature, p.Likely), q(units.Temperature, p.Upper)))}
		will := "will"
		if h != passing {
			f.Severity, will = Warning, "may"
		}
		switch p.Kind {
		// The insulation behind the absorber, at its warm face.
		case collector.BackLayer:
			foam, _ := catalog.FindInsulation(p.Material)
			f.Title = "Insulation " + will + " overheat"
			f.Finding = h.says("the back", p.Likely, p.Upper, foam.Name, foam.Service)
			f.mend(e, design.BoxFoam.Path, catalog.Insulations(), func(id string) (string, float64) {
				x, _ := catalog.FindInsulation(id)
				return x.Name, x.Service
			}, p.Upper)
		// A plastic cover sags and yellows; glass is hardly ever the one that
		// fails.
		case collector.CoverLayer:
			c, _ := catalog.FindCover(p.Material)
			f.Title = "Glazing " + will + " sag"
			f.Finding = h.says("the glazing", p.Likely, p.Upper, c.Name, c.Service)
			f.mend(e, design.CoverMaterial.Path, catalog.Covers(), func(id string) (string, float64) {
				x, _ := catalog.FindCover(id)
				return x.Name, x.Service
			}, p.Upper)
		// What else overheats belongs to the absorber: its paint, or a plastic
		// mesh that melts before the paint on it suffers.
		default:
			path, options, get := design.AbsorberPaint.Path, catalog.Paints(), func(id string) (string, float64) {
				x, _ := catalog.FindPaint(id)
				return x.Name, x.Service
			}
			f.Title = "Absorber paint " + will + " fume"
			name, _ := get(p.Material)
			if m, err := catalog.FindMesh(p.Material); err == nil && m.Service <= p.Service {
				f.Title, name = "Absorber screen "+will+" melt", m.Name
				path, options = design.ScreensMesh.Path, catalog.Meshes()
				get = func(id string) (string, float64) {
					x, _ := catalog.FindMesh(id)
					return x.Name, x.Service
				}
			} else {
				f.Severity = Warning
			}
			f.Finding = h.says("the absorber", p.Likely, p.Upper, name, p.Service)
			f.mend(e, path, options, get, p.Upper)
		}
		f.orGuard(e, len(fs) == 0)
		fs = append(fs, f)
	}
	return fs
}

// costly is the share of the useful heat that a remedy may cost while another costs less. The product's own judgment.
const costly = 0.1

// mend looks for the choice that bears the temperature, brings no new danger or
// fault and warms the room most, by rerun; where a choice calls for changes of
// other parts, such as a sealant that bears a hotter pane, they come with it.
// The options are those of the field, get returns an option's name and service
// temperature in C, and upper is the temperature to bear in C. Where no choice
// does, the remedy is a cover, without a patch.
func (f *Finding) mend(e *assessment, path string, options []catalog.Choice, get func(id string) (string, float64), upper float64) {
	// This is what remains true when no material of the list bears the heat.
	f.Remedy = say("Cover the box when the fan cannot run, and in summer.")
	if !e.looking || !e.open(path) {
		return
	}
	type choice struct {
		design.Change
		name           string
		service, worth float64
	}
	var bearing []choice
	for _, o := range options {
		name, service := get(o.ID)
		if service < upper {
			continue
		}
		c := change(path, o.ID)
		if _, r, err := rerun(e, c); err == nil {
			bearing = append(bearing, choice{c, name, service, worth(&r)})
		}
	}
	// The cheap runs sort the choices; the whole judgment is asked of the best first.
	slices.SortStableFunc(bearing, func(a, b choice) int { return cmp.Compare(b.worth, a.worth) })
	for _, c := range bearing {
		all, others := []design.Change{c.Change}, []Text(nil)
		if e.companion { // of which the parts are changed one by one
			if !e.allows(f.ID, all...) {
				continue
			}
		} else {
			var ok bool
			if all, others, ok = e.completed(f.ID, all...); !ok || !e.mayAll(all) {
				continue
			}
		}
		_, r, err := rerun(e, all...)
		if err != nil {
			continue
		}
		f.Patch = all
		f.Gain, f.HasGain = worth(&r)-worth(&e.Running), true
		f.Remedy = say("Replace it with %v, which withstands %v.", word(c.name), q(units.Temperature, c.service)).Then(others...)
		return
	}
}

// bondsTooHot: sealant at the cover, glue and tape at the back.
// The sealant lies at the edge of the glazing and is taken to be as warm as its
// hottest place, which is on the safe side. Adhesive and tape hold the
// insulation and are as warm as its face. Their service temperatures come from
// makers' ranges with an uncertainty of their own, see package catalog.
func bondsTooHot(e *assessment) (fs []Finding) {
	h := &e.Heater
	if h.Indoors() {
		return nil
	}
	back, cover := hottest(e, collector.BackLayer), hottest(e, collector.CoverLayer)
	likely := func(kind collector.LayerKind) float64 {
		t := math.Inf(-1)
		for _, p := range e.Peaks {
			if p.Kind == kind {
				t = max(t, p.Likely)
			}
		}
		return t
	}
	for _, x := range []struct {
		path, what, place string
		id                string
		likely, at        float64
		find              func(string) (catalog.Bond, error)
		list              []catalog.Choice
	}{
		{design.BoxSealant.Path, "sealant", "the pane's bed", h.Box.Sealant, likely(collector.CoverLayer), cover, catalog.FindSealant,
			catalog.Sealants()},
		{design.BoxAdhesive.Path, "adhesive", "the foam", h.Box.Adhesive, likely(collector.BackLayer), back, catalog.FindAdhesive,
			catalog.Adhesives()},
		{design.BoxTape.Path, "tape", "the foam's joints", h.Box.Tape, likely(collector.BackLayer), back, catalog.FindTape,
			catalog.Tapes()},
	} {
		b, err := x.find(x.id)
		// Where the row's own limit is unsure, its lower edge counts for a caution.
		if err != nil || x.at <= b.Service-oneSided*b.U {
			continue
		}
		f := Finding{ID: "too-hot-" + x.what, Severity: Fault, Topic: Construction,
			Title: fmt.Sprintf("The %s will fail from heat", x.what),
			Finding: say("At the worst noon with the fan off it is likely to reach %v at %v; %v withstands about %v.",
				q(units.Temperature, x.likely), word(x.place), word(b.Name), q(units.Temperature, b.Service)),
			Evidence: e.worstNoon()}
		if x.likely <= b.Service+max(rounded, b.U) {
			f.Severity, f.Title = Warning, fmt.Sprintf("The %s may fail from heat", x.what)
			f.Finding = say("At the worst noon with the fan off it is likely to reach %v at %v, and at most %v; %v withstands about %v, "+
				"give or take %v.", q(units.Temperature, x.likely), word(x.place), q(units.Temperature, x.at), word(b.Name),
				q(units.Temperature, b.Service), q(units.Rise, max(rounded, b.U)))
		}
		// The first in the list that bears the heat is also the cheapest: the
		// list is in that order.
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

// hotDuct: the warm duct against the first air after the fan has stood still.
// A duct of plastic bears the air of the running box, but not the first breath
// after a pause, which has stood against the absorber. It is taken as warm as
// the absorber's mean with the fan off at the winter noon, since the fan of a
// summer noon does not run.
func hotDuct(e *assessment) []Finding {
	h := &e.Heater
	d, err := catalog.FindDuct(h.Air.Duct)
	first := e.Still.AbsorberMean // the air that has stood against the absorber
	if err != nil || h.Indoors() || d.Service >= first || len(d.Tags) > 0 {
		return nil // a tagged one is judged by the table of clashes
	}
	severity, title := Fault, "The duct will overheat"
	if against(first, first, d.Service, rounded) != passing {
		severity, title = Warning, "The duct may overheat"
	}
	return []Finding{{ID: "hot-duct", Severity: severity, Topic: Construction, Title: title,
		Finding: say("When the fan starts after a stop, the air is at up to %v; %v withstands %v.", q(units.Temperature, first),
			word(d.Name), q(units.Temperature, d.Service)),
		Evidence: say("This is the mean absorber temperature with the fan off at the clear winter noon."),
		Remedy:   say("Use smooth or ribbed metal duct for the warm side."), Patch: []design.Change{design.Set(design.AirDuct, "smooth")}}}
}

// hotFan: a fan that pulls handles the box's hottest air.
// The same first breath goes through a fan that pulls; one at the inlet only
// ever handles room air.
func hotFan(e *assessment) []Finding {
	h := &e.Heater
	fan, err := catalog.FindFan(h.Air.FanModel)
	if err != nil || !h.Fanned() || h.Air.FanSide != "outlet" || e.Still.AbsorberMean <= fan.Service {
		return nil
	}
	f := Finding{ID: "hot-fan", Severity: Fault, Topic: Construction, Title: "The fan will overheat",
		Finding: say("At the outlet it draws air of up to %v when it starts; %v withstands %v.",
			q(units.Temperature, e.Still.AbsorberMean), word(fan.Name), q(units.Temperature, fan.Service)),
		Evidence: say("While it runs the air is at %v; after a stop it is as hot as the absorber.", q(units.Temperature, e.Running.Outlet))}
	if against(e.Still.AbsorberMean, e.Still.AbsorberMean, fan.Service, rounded) != passing {
		f.Severity, f.Title = Warning, "The fan may overheat"
	}
	o := option{[]design.Change{change(design.AirFanSide.Path,
		"inlet")}, func(collector.Result) Text { return say("Move the fan to the inlet, so that it pushes.") }}
	if _, r, err := rerun(e, o.changes...); err == nil {
		return f.with(e, o, r)
	}
	return []Finding{f}
}

// leastGap is how near to the glass a hot part may lie, m. Common practice, no
// source.
const leastGap = 0.020

// touchesGlass: an absorber so near the glazing rubs on it or heats it through,
// and leaves no room for the air.
// Sheets bow when they warm up: a sheet of 1 m that is 60 K warmer than its frame
// grows by 1.4 mm and bows out by more than ten times as much if it is held at
// its ends.
func touchesGlass(e *assessment) []Finding {
	h := e.Heater
	if h.Box.Gap >= leastGap || h.Indoors() {
		return nil
	}
	c := design.Set(design.BoxGap, 0.030)
	f := Finding{ID: "near-glass", Severity: Fault, Topic: Construction, Title: "The absorber is too close to the glazing",
		Finding: say("The absorber is %v from the glazing at its nearest point.", q(units.Length, h.Box.Gap)),
		Evidence: say("It may bow or sag when it is hot, and glass touched by a part at %v can crack.",
			q(units.Temperature, e.Still.AbsorberMax)),
		Remedy: say("Leave %v between absorber and glazing.", q(units.Length, 0.030)), Patch: []design.Change{c}}
	if _, r, err := rerun(e, c); err == nil {
		f.Gain, f.HasGain = worth(&r)-worth(&e.Running), true
	}
	return []Finding{f}
}
