package design

import (
	"slices"
	"strings"
)

// The sections of the document. One part of it may be several: a default finds what it follows from in the sections before its own.
var (
	inPlace    = in("place.", func(h *Heater) *Place { return &h.Place }, Sun|Weather|Physics)
	inClimate  = in("climate.", func(h *Heater) *Climate { return &h.Climate }, Weather)
	inNoon     = in("place.", func(h *Heater) *Place { return &h.Place }, Sun|Weather|Physics)
	inShade    = in("shade.", func(h *Heater) *Shade { return &h.Shade }, Sun)
	inMirror   = in("mirror.", func(h *Heater) *Mirror { return &h.Mirror }, Sun|Making)
	inRoom     = in("room.", func(h *Heater) *Room { return &h.Room }, Space)
	inHeater   = in("", func(h *Heater) *Heater { return h }, Naming)
	inSecond   = in("second.", func(h *Heater) *Second { return &h.Second }, Space)
	inMoney    = in("money.", func(h *Heater) *Money { return &h.Money }, Costs)
	inPane     = in("pane.", func(h *Heater) *Pane { return &h.Pane }, Physics|Sun|Making)
	inCover    = in("cover.", func(h *Heater) *Cover { return &h.Cover }, Physics|Making)
	inAbsorber = in("absorber.", func(h *Heater) *Absorber { return &h.Absorber }, Physics|Sun|Making)
	inFinish   = in("absorber.", func(h *Heater) *Absorber { return &h.Absorber }, Physics|Making)
	inBox      = in("box.", func(h *Heater) *Box { return &h.Box }, Physics|Making)
	inGuard    = in("guard.", func(h *Heater) *Guard { return &h.Guard }, Physics|Making)
	inArray    = in("array.", func(h *Heater) *Array { return &h.Array }, Physics|Making)
	inAir      = in("air.", func(h *Heater) *Air { return &h.Air }, Physics|Making)
	inHeaders  = in("array.", func(h *Heater) *Array { return &h.Array }, Physics|Making)
	inPorts    = in("air.", func(h *Heater) *Air { return &h.Air }, Physics|Making)
	inFan      = in("air.", func(h *Heater) *Air { return &h.Air }, Physics|Making)
	inWall     = in("wall.", func(h *Heater) *Wall { return &h.Wall }, Making)
	inSite     = in("site.", func(h *Heater) *Site { return &h.Site }, Making)
	inSwitch   = in("switch.", func(h *Heater) *Switch { return &h.Switch }, Control)
	inSpent    = in("money.", func(h *Heater) *Money { return &h.Money }, Costs)

	inWorkshop = in("workshop.", func(h *Heater) *Workshop { return &h.Workshop }, Naming).of(WorkshopDocument)
	inBench    = in("workshop.bench.", func(h *Heater) *Bench { return &h.Workshop.Bench }, Workplace).of(WorkshopDocument)
	inCut      = in("workshop.cut.", func(h *Heater) *Cut { return &h.Workshop.Cut }, Workplace).of(WorkshopDocument)
	inLog      = in("log.", func(h *Heater) *Log { return &h.Log }, Reading).of(LogDocument)
)

// Parts of the heater's document: what the paths of their fields begin with.
const (
	ClimatePart  = "climate"
	PanePart     = "pane"
	CoverPart    = "cover"
	AbsorberPart = "absorber"
	BoxPart      = "box"
	GuardPart    = "guard"
	AirPart      = "air"
	SwitchPart   = "switch"
)

// Part is the part of the document that holds the field.
func (f *Field) Part() string {
	part, _, _ := strings.Cut(f.Path, ".")
	return part
}

// Fields lists every field in the order in which defaults follow from each other.
var Fields []*Field

// tables are those of them that hold rows.
var tables []*Field

var byPath = map[string]*Field{}

// sections are several, one after the other.
type sections []declarer

func (ss sections) declared() (fs []*Field) {
	for _, s := range ss {
		fs = append(fs, s.declared()...)
	}
	return fs
}

// declareFields lists the fields, once the families are known.
func declareFields() {
	of := func(section func(*FamilyRecord) declarer) (all sections) {
		for _, r := range Families {
			if s := section(r); s != nil && !slices.Contains(all, s) {
				all = append(all, s)
			}
		}
		return all
	}
	Fields = slices.Concat(
		sections{inPlace, inClimate, inNoon, inShade, inMirror, inRoom, inHeater, inSecond, inMoney, inPane, inCover,
			inAbsorber}.declared(),
		of(func(r *FamilyRecord) declarer { return r.fields }).declared(),
		sections{inFinish, inBox, inGuard, inArray, inAir, inHeaders, inPorts, inFan, inWall, inSite, inSwitch}.declared(),
		of(func(r *FamilyRecord) declarer { return r.late }).declared(),
		sections{inSpent, inWorkshop, inBench, inCut, inLog}.declared())
	for _, f := range Fields {
		byPath[f.Path] = f
		if f.Group != nil {
			f.Group.fields = append(f.Group.fields, f)
		}
		if f.Rows != nil {
			tables = append(tables, f)
		}
	}
}

// FieldAt returns the field at a path, or nil.
func FieldAt(path string) *Field { return byPath[path] }
