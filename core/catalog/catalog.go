// Package catalog holds the materials, ducts and fans a box is made from, each
// row with its properties, the highest temperature it bears in service, the
// one-sigma uncertainty of its main property, and where the figures come from.
//
// Names are generic. Rows are values: look one up by id, or list a table to
// offer it as a choice.
package catalog

import (
	"fmt"
	"slices"
)

// Source texts used by more than one row.
const (
	iso10456 = "EN ISO 10456 table 3 (design values, recalled from memory)"
	common   = "common practice, no source"
	db51     = "Duffie & Beckman table 5.1.1 and section 5.2"
)

// label is the source of a service temperature that stands on labels or data
// sheets of such things, none of which was at hand: a rounded figure.
func label(says string) string { return "service: " + says + " (recalled from memory)" }

// Service temperatures of several rows.
var (
	glassService         = label("data sheets of soda-lime glass, 110 °C annealed to 220 °C toughened, between them")
	polycarbonateService = label("data sheets of polycarbonate sheet, 115 to 120 °C")
	woolSource           = "conductivity EN 13162 class 037; " + label("binders burn off from 250 °C, the wool stands 600 °C")
	woodService          = label("wood that stays above 100 °C chars in time")
	blackSource          = "Duffie & Beckman table 4.7.1, flat black paint (recalled from memory)"
	foamService          = label("data sheets of polystyrene foam, 74 °C")
	inlineService        = common + "; " + label("labels of inline and duct fans, air of 50 to 60 °C")
	electronicsService   = common + "; " + label("data sheets of 12 V fans, 60 to 70 °C")
)

// Form is how a cover is shaped.
type Form int

// Forms of covers.
const (
	Flat       Form = iota
	TwinWall        // two thin walls with webs between
	Corrugated      // waves
	Film            // too thin to hold infrared back by itself
)

// Cover is a glazing material.
type Cover struct {
	// ID stays the same between versions; Name is generic, as one asks for it.
	ID, Name string
	// Index is the refractive index, solar mean.
	Index float64
	// Extinction is the extinction coefficient, 1/m.
	Extinction float64
	// Emittance is far infrared, both sides, and Transmit the far-infrared
	// transmittance.
	Emittance float64
	Transmit  float64 // far infrared, 0..1
	// Conductivity is in W/mK.
	Conductivity float64
	// Density is in kg/m3.
	Density float64
	// Service is the highest continuous temperature, C.
	Service float64
	// Thickness is the usual one, m.
	Thickness float64
	// Source says where the row's values come from.
	Source string
	// U is the standard uncertainty of the solar transmittance, as a share.
	U    float64
	Form Form
	// Expansion is its linear thermal expansion, 1/K; 0 for a film, which is
	// stretched.
	Expansion float64
	// Wall is the solid in one wall of a twin-wall sheet, m.
	Wall float64
	// Wave is the surface over the plan of a corrugated sheet; zero means 1.
	Wave float64
	// A coating on its rear face: shares of the sun that it passes and throws
	// back, and its far-infrared emittance. Zero CoatPass means none.
	CoatPass, CoatReflect, CoatEmit float64
	// Tags are what the table of clashes knows it by.
	Tags []string
}

// Linear thermal expansion, 1/K. Glass: EN 572-1. Plastics: common practice, no
// source; 2.44 m of polycarbonate grow by 10 mm over 60 K.
const (
	glassExpansion         = 9e-6
	polycarbonateExpansion = 6.8e-5
	acrylicExpansion       = 7e-5
)

var covers = []Cover{
	{ID: "glass", Name: "window glass", Expansion: glassExpansion, Index: 1.526, Extinction: 16, Emittance: 0.88, Conductivity: 1.0,
		Density: 2500, Service: 150,
		Thickness: 0.004, U: 0.02, Source: db51 + "; " + iso10456 + "; " + glassService},
	{ID: "low-iron-glass", Name: "low-iron glass", Expansion: glassExpansion, Index: 1.526, Extinction: 4, Emittance: 0.88,
		Conductivity: 1.0, Density: 2500,
		Service: 150, Thickness: 0.004, U: 0.01, Source: db51 + "; " + iso10456 + "; " + glassService},
	{ID: "tinted-glass", Name: "tinted glass", Expansion: glassExpansion, Index: 1.526, Extinction: 130, Emittance: 0.88,
		Conductivity: 1.0, Density: 2500,
		Service: 150, Thickness: 0.004, U: 0.08, Source: "extinction fitted to 55 % through 4 mm body tint; " + glassService},
	{ID: "low-e-glass", Name: "low-e coated glass", Expansion: glassExpansion, Index: 1.526, Extinction: 16, Emittance: 0.88,
		Conductivity: 1.0, Density: 2500,
		Service: 150, Thickness: 0.004, U: 0.06,
		Source:   "coating passes 74 %, throws back 14 %, emits 0.15: hard low-e coat, " + common + "; " + glassService,
		CoatPass: 0.74, CoatReflect: 0.14, CoatEmit: 0.15},
	{ID: "solar-control-glass", Name: "solar-control glass", Expansion: glassExpansion, Index: 1.526, Extinction: 16,
		Emittance: 0.88, Conductivity: 1.0,
		Density: 2500, Service: 150, Thickness: 0.004, U: 0.10,
		Source:   "coating passes 42 %, throws back 30 %, emits 0.10: " + common + "; " + glassService,
		CoatPass: 0.42, CoatReflect: 0.30, CoatEmit: 0.10},
	{ID: "polycarbonate", Name: "clear polycarbonate", Expansion: polycarbonateExpansion, Index: 1.60, Extinction: 15,
		Emittance: 0.88, Transmit: 0.02, Conductivity: 0.20,
		Density: 1200, Service: 115, Thickness: 0.003, U: 0.02,
		Source: db51 + "; extinction fitted to 86 % through 3 mm; " + iso10456 + "; " + polycarbonateService,
		Tags:   []string{"polycarbonate"}},
	{ID: "twin-wall", Name: "clear polycarbonate twin-wall", Expansion: polycarbonateExpansion, Index: 1.60, Extinction: 15,
		Emittance: 0.88, Transmit: 0.05,
		Conductivity: 0.20, Density: 1200, Service: 115,
		Thickness: 0.010, U: 0.03, Source: "two walls of 0.5 mm with webs; properties as clear polycarbonate; " + polycarbonateService,
		Form: TwinWall,
		Wall: 0.0005, Tags: []string{"polycarbonate"}},
	{ID: "corrugated-polycarbonate", Name: "corrugated polycarbonate", Expansion: polycarbonateExpansion, Index: 1.60,
		Extinction: 15, Emittance: 0.88, Transmit: 0.04,
		Conductivity: 0.20, Density: 1200, Service: 115,
		Thickness: 0.0008, U: 0.03, Source: "wave 76 by 18 mm: surface 1.12 of the plan; " + polycarbonateService, Form: Corrugated,
		Wave: 1.12,
		Tags: []string{"polycarbonate"}},
	{ID: "acrylic", Name: "clear acrylic", Expansion: acrylicExpansion, Index: 1.49, Extinction: 12, Emittance: 0.88,
		Transmit: 0.02, Conductivity: 0.20,
		Density: 1190, Service: 80, Thickness: 0.003, U: 0.02, Source: db51 + "; extinction fitted to 89 % solar through 3 mm; " +
			iso10456 + "; " + label("data sheets of cast acrylic, 80 °C"), Tags: []string{"acrylic"}},
	{ID: "shrink-film", Name: "heat-shrink window film", Index: 1.64, Extinction: 205, Emittance: 0.75, Transmit: 0.18,
		Conductivity: 0.20, Density: 1390, Service: 70, Thickness: 0.00002, U: 0.03, Source: "polyester: " + db51 +
			"; infrared: D&B table 6.8-like values, recalled from memory; " +
			label("polyester softens from 70 to 80 °C"), Form: Film},
	{ID: "clear-vinyl", Name: "heavy clear vinyl", Index: 1.54, Extinction: 140, Emittance: 0.85, Transmit: 0.10, Conductivity: 0.17,
		Density: 1300, Service: 60, Thickness: 0.0005, U: 0.05,
		Source: common + "; " + label("data sheets of flexible vinyl, 60 °C"), Form: Film},
	{ID: "greenhouse-film", Name: "greenhouse polyethylene film", Index: 1.50, Extinction: 165, Emittance: 0.30, Transmit: 0.65,
		Conductivity: 0.35, Density: 920, Service: 60, Thickness: 0.00015, U: 0.04,
		Source: db51 + "; infrared: " + common + "; " + label("data sheets of low-density polyethylene, 60 to 80 °C"), Form: Film},
}

// Insulation is a foam or wool board.
type Insulation struct {
	ID, Name string
	// Conductivity is in W/mK, Density in kg/m3.
	Conductivity float64
	Density      float64 // kg/m3
	// Service is the highest continuous temperature, C.
	Service float64
	Source  string
	// U is the standard uncertainty of the conductivity, as a share.
	U    float64
	Tags []string
}

var insulations = []Insulation{
	{"xps", "extruded polystyrene foam", 0.034, 33, 75, "conductivity EN 13164 class 034; " + foamService, 0.06,
		[]string{"polystyrene", "foam"}},
	{"eps", "expanded polystyrene foam", 0.036, 20, 75, "conductivity EN 13163 class 036; " + foamService, 0.06,
		[]string{"polystyrene", "foam"}},
	{"polyiso", "foil-faced polyiso foam", 0.024, 32, 120, "conductivity EN 13165 class 024; " +
		label("data sheets of polyiso board, 121 °C"), 0.10,
		[]string{"foam", "foil"}},
	{"mineral-wool", "mineral wool board", 0.037, 90, 250, woolSource, 0.06, []string{"wool"}},
	{"faced-wool", "faced mineral wool board", 0.037, 90, 250, woolSource, 0.06,
		[]string{"wool", "faced"}},
}

// Sheet is absorber metal.
type Sheet struct {
	ID, Name string
	// Conductivity is in W/mK, Density in kg/m3.
	Conductivity float64
	Density      float64 // kg/m3
	// Service is the highest continuous temperature, C.
	Service float64
	Source  string
	// U is the standard uncertainty of the conductivity, as a share.
	U float64
	// Emittance is that of the bare metal.
	Emittance float64
	// Heat is the specific heat, J/kgK (Incropera table A.1, recalled from
	// memory).
	Heat float64
}

var sheets = []Sheet{
	{"aluminium", "aluminum sheet", 160, 2800, 300, iso10456 + "; emittance: Incropera table A.11 (recalled from memory)", 0.10, 0.09, 900},
	{"steel", "galvanized steel sheet", 50, 7800, 300, iso10456 + "; emittance: Incropera table A.11 (recalled from memory)", 0.10, 0.25,
		470},
	{"copper", "copper sheet", 380, 8900, 300, iso10456 + "; emittance: Incropera table A.11 (recalled from memory)", 0.03, 0.05, 385},
}

// Mesh is a woven screen or expanded lath.
type Mesh struct {
	ID, Name string
	// Wire is the diameter, or the width of a strand, m.
	Wire float64
	// Pitch is from wire to wire, m.
	Pitch float64
	// Density is that of the wire, kg/m3.
	Density float64
	// Service is the highest continuous temperature, C.
	Service float64
	Source  string
	// U is the standard uncertainty of the open share, absolute.
	U float64
}

// WireShare is the part of one direction's pitch that the wire covers.
func (m Mesh) WireShare() float64 { return m.Wire / m.Pitch }

// WireArea returns the surface of both sets of wires per m2 of screen.
func (m Mesh) WireArea() float64 { return 2 * 3.141592653589793 * m.Wire / m.Pitch }

var meshes = []Mesh{
	{"aluminium-screen", "black aluminum insect screen", 0.00028, 0.0015, 2700, 200, "18 x 16 mesh: 1.4 x 1.6 mm pitch; " + common +
		"; " + label("its baked enamel, 200 °C"), 0.03},
	{"glassfibre-screen", "black coated glass-fiber insect screen", 0.00028, 0.0015, 1700, 90, "18 x 16 mesh, vinyl coat; " + common +
		"; " + label("its vinyl coat, 80 to 105 °C"), 0.03},
	{"steel-gauze", "black steel gauze", 0.00040, 0.0016, 7800, 300, "16 mesh; " + common, 0.03},
	{"metal-lath", "expanded metal lath", 0.0024, 0.0100, 7800, 300, "plasterer's lath, strands 2.4 mm; " + common, 0.06},
}

// Wood is frame and board stock.
type Wood struct {
	ID, Name     string
	Conductivity float64 // W/mK
	Density      float64 // kg/m3
	Service      float64 // C, long stays char slowly above it
	Source       string
	U            float64 // one sigma of the conductivity, as a share
}

var woods = []Wood{
	{"softwood", "planed softwood", 0.13, 500, 100, iso10456 + "; " + woodService, 0.10},
	{"plywood", "exterior plywood", 0.13, 500, 100, iso10456 + "; " + woodService, 0.10},
	{"osb", "oriented strand board", 0.13, 650, 100, iso10456 + "; " + woodService, 0.10},
}

// Paint is what makes a surface dark.
type Paint struct {
	ID, Name string
	// Absorptance is for the sun, and Emittance for far infrared.
	Absorptance float64
	Emittance   float64
	// Service is the highest continuous temperature, C.
	Service float64
	Source  string
	// U is the standard uncertainty of the absorptance, absolute.
	U    float64
	Tags []string
}

var paints = []Paint{
	{"flat-black", "flat black enamel", 0.95, 0.90,
		120, blackSource + "; " + label("labels of general spray enamels, 93 to 150 °C"), 0.02, []string{"solvent"}},
	{"high-heat-black", "high-heat flat black", 0.95,
		0.90, 315, blackSource + "; " + label("labels of high-heat paints, 315 to 650 °C"), 0.02, []string{"solvent"}},
	{"engine-enamel", "fast-drying engine enamel, flat black", 0.94, 0.90, 260,
		common + "; " + label("labels of engine enamels, 260 °C"), 0.02, []string{"solvent"}},
	{"grill-paint", "grill paint, flat black", 0.95, 0.90, 315, common + "; " + label("labels of grill paints, 315 to 650 °C"), 0.02,
		[]string{"solvent", "fumes"}},
	{"water-black", "flat black water-based paint", 0.94, 0.92, 90, common + "; " + label("acrylic binders soften from 80 to 100 °C"),
		0.02, nil},
	{"gloss-black", "glossy black", 0.90, 0.90, 120, common + "; " + label("labels of general spray enamels, 93 to 150 °C"), 0.03,
		[]string{"solvent"}},
}

// DuctKind is a sort of round duct.
type DuctKind struct {
	ID, Name string
	// Roughness is in m.
	Roughness float64
	Source    string
	// U is the standard uncertainty of the friction, as a share.
	U float64
	// Flexible ducts cost more the less they are stretched.
	Flexible bool
	// Service is the highest continuous temperature, C.
	Service float64
	Tags    []string
}

var ducts = []DuctKind{
	{"smooth", "smooth sheet-metal duct", 0.09e-3, "ASHRAE Fundamentals, duct design: galvanized, 0.09 mm; " +
		label("zinc in continuous service, 200 °C"), 0.10, false, 200, nil},
	{"flexible", "flexible aluminum duct", 0.9e-3, "ASHRAE Fundamentals, duct design: flexible, fully stretched, 0.9 mm; " +
		label("labels of flexible aluminum duct, 120 to 200 °C"), 0.25, true, 150,
		nil},
	{"ribbed", "ribbed aluminum duct", 3.0e-3, "ASHRAE Fundamentals, duct design: rough class, 3 mm; " +
		label("semi-rigid aluminum, 200 °C"), 0.25, false, 200, nil},
	{"insulated", "insulated flexible duct", 0.9e-3, "ASHRAE Fundamentals, duct design: flexible, fully stretched, 0.9 mm; " +
		label("labels of insulated flexible duct, 71 to 121 °C"), 0.25, true, 90, nil},
	{"plastic-lined", "plastic-lined flexible duct", 0.9e-3, "as flexible duct; " + label("labels of plastic duct, 60 to 80 °C"), 0.25,
		true, 60,
		[]string{"plastic-duct"}},
}

// Glass says that a cover is glass, which can break and cut: plastics and films are less than half as dense.
func (c Cover) Glass() bool { return c.Density > 2000 }

// Fan is a fan as its label tells it.
type Fan struct {
	ID, Name string
	// FreeAir is in m3/s at 1.2 kg/m3, and ShutOff in Pa.
	FreeAir float64
	ShutOff float64 // Pa
	// Power is in W.
	Power float64
	// Radial says whether it is a blower or an inline fan.
	Radial bool
	// Service is the highest temperature of the air that it handles, C.
	Service float64
	Source  string
	// U is the standard uncertainty of the curve, as a share.
	U float64
	// Volts is that of its direct current; zero is mains.
	Volts float64
}

var fans = []Fan{
	{"computer-120", "120 mm computer fan", 0.040, 30, 3, false, 70, electronicsService, 0.10, 12},
	{"computer-120-strong", "120 mm high-pressure computer fan", 0.050, 70, 6, false, 70, electronicsService, 0.10, 12},
	{"computer-92", "92 mm computer fan", 0.024, 25, 2, false, 70, electronicsService, 0.10, 12},
	{"server-120", "120 mm server fan", 0.120, 320, 30, false, 60, electronicsService, 0.10, 12},
	{"bilge-4", "4 in bilge blower", 0.066, 120, 30, true, 60, electronicsService, 0.15, 12},
	{"booster-4", "4 in duct booster", 0.045, 45, 18, false, 60, inlineService, 0.15, 0},
	{"booster-6", "6 in duct booster", 0.095, 55, 15, false, 60, inlineService, 0.15, 0},
	{"bath-4", "small bath fan", 0.026, 60, 15, true, 50, inlineService, 0.10, 0},
	{"inline-4", "4 in inline duct fan", 0.055, 180, 25, true, 60, inlineService, 0.10, 0},
	{"inline-5", "5 in inline duct fan", 0.075, 200, 30, true, 60, inlineService, 0.10, 0},
	{"inline-6", "6 in inline duct fan", 0.120, 260, 50, true, 60, inlineService, 0.10, 0},
	{"ec-inline-4", "4 in inline duct fan, electronic motor", 0.055, 180, 9, true, 60, inlineService, 0.10, 0},
	{"ec-inline-5", "5 in inline duct fan, electronic motor", 0.075, 200, 12, true, 60, inlineService, 0.10, 0},
	{"ec-inline-6", "6 in inline duct fan, electronic motor", 0.120, 260, 22, true, 60, inlineService, 0.10, 0},
	{"ec-inline-8", "8 in inline duct fan, electronic motor", 0.220, 320, 75, true, 60, inlineService, 0.10, 0},
	{"ec-inline-10", "10 in inline duct fan, electronic motor", 0.330, 380, 125, true, 60, inlineService, 0.10, 0},
	{"blower", "furnace blower", 0.600, 250, 350, true, 60, inlineService, 0.15, 0},
}

// Bond is a sealant, an adhesive or a tape.
type Bond struct {
	ID, Name string
	// Service is the highest continuous temperature, C.
	Service float64
	Source  string
	// U is the standard uncertainty of the service temperature, K.
	U    float64
	Tags []string
}

var sealants = []Bond{
	{"silicone", "ordinary silicone", 200, label("labels, 177 to 204 °C"), 20, []string{"acid"}},
	{"neutral-silicone", "neutral-cure silicone", 150, label("labels, 149 to 177 °C"), 10, nil},
	{"heat-silicone", "high-temperature silicone", 260, label("labels, 260 to 343 °C"), 15, []string{"acid"}},
	{"heat-neutral-silicone", "neutral-cure high-temperature silicone", 230, label("labels, 200 to 260 °C"), 20, nil},
	{"fire-caulk", "fire-stop acrylic caulk", 120, label("dry acrylic softens from 80 to 120 °C"), 15, []string{"not-rain"}},
	{"acrylic-caulk", "painter's acrylic caulk", 80, label("labels, 71 to 82 °C"), 10, []string{"not-rain"}},
	{"putty", "linseed glazing putty", 60, label("linseed putty hardens and cracks from 60 °C"), 10, []string{"cracks"}},
	{"butyl", "butyl glazing tape", 80, label("data sheets, 80 to 93 °C"), 10, nil},
}

var adhesives = []Bond{
	{"screws", "screws only", 300, common, 10, nil},
	{"wood-glue", "waterproof wood glue", 90, label("softens from 66 to 100 °C"), 15, []string{"wood-only"}},
	{"construction", "solvent construction adhesive", 75, label("labels, 60 to 82 °C"), 10, []string{"glue-solvent"}},
	{"foam-glue", "foam-safe adhesive", 70, label("labels, 60 to 82 °C"), 10, nil},
	{"epoxy", "two-part epoxy", 80, label("labels, 65 to 120 °C"), 15, nil},
	{"silicone-glue", "silicone as glue", 200, label("labels, 177 to 204 °C"), 20, []string{"acid"}},
	{"hot-glue", "hot-melt glue", 60, label("softens from 60 to 80 °C"), 8, []string{"melts"}},
}

var tapes = []Bond{
	{"none", "no tape", 300, common, 1, nil},
	{"foil", "aluminum foil tape", 120, label("labels, 107 to 150 °C"), 15, nil},
	{"cloth", "cloth duct tape", 60, label("labels, 60 to 93 °C"), 10, []string{"melts"}},
	{"polyimide", "polyimide tape", 260, label("labels, 260 °C"), 15, nil},
	{"polythene", "polyethylene sheathing tape", 80, label("labels, 80 °C"), 10, nil},
}

// Clash is two things that do not go with each other: A and B are tags, or
// circumstances a design can be in (see [Hot] and the rest).
type Clash struct {
	// A and B are tags of the two that do not go together.
	A, B string
	// Why says what happens, and Remedy what would do instead.
	Why    string
	Remedy string
	Source string
	// Taste says that builders disagree: what the table warns of often does not
	// happen, and nobody and no main part suffers where it does.
	Taste bool
}

// Circumstances that a design puts its materials in.
const (
	Hot       = "hot"        // next to the absorber
	Rain      = "rain"       // outside seams
	InAirway  = "in-airway"  // room air passes over it
	MetalFoam = "metal-foam" // joins foam to metal
)

// clashes is what goes wrong together, by tags. Common practice, no source.
var clashes = []Clash{
	{A: "solvent", B: "polystyrene", Why: "The solvent in this paint dissolves polystyrene.",
		Remedy: "Use a water-based paint on it, or a foam with foil facing.", Source: common},
	{A: "glue-solvent", B: "polystyrene", Why: "The solvent in this adhesive eats polystyrene.",
		Remedy: "Use a foam-safe adhesive.", Source: common},
	{A: "not-rain", B: Rain, Why: "This caulk stands fire, or paint, but not rain: it washes out.",
		Remedy: "Use neutral-cure silicone outside.", Source: common},
	{A: "cracks", B: Hot, Why: "Putty dries and cracks with the heat of a collector.",
		Remedy: "Bed the pane in silicone or butyl tape.", Source: common},
	{A: "melts", B: Hot, Why: "It lets go when the box gets hot.",
		Remedy: "Use foil tape, silicone or screws near the absorber.", Source: common},
	{A: "wood-only", B: MetalFoam, Why: "Wood glue holds neither foam nor metal.",
		Remedy: "Use silicone or a foam-safe adhesive.", Source: common},
	{A: "plastic-duct", B: Hot, Why: "The lining softens in the air this box makes with its fan off.",
		Remedy: "Use aluminum duct on the hot side.", Source: common},
	{A: "fumes", B: InAirway, Why: "Grill paint is blamed for fumes that come back for weeks.",
		Remedy: "Bake it outdoors for several sunny days first, or use engine enamel.", Source: common},
	{A: "acid", B: "foil", Why: "Ordinary silicone gives off acetic acid as it cures; it corrodes bare foil and zinc.",
		Remedy: "Use neutral-cure silicone on foil and galvanized metal.", Source: common},
	{A: "glue-solvent", B: "polycarbonate", Why: "Solvent adhesive crazes polycarbonate.",
		Remedy: "Use neutral-cure silicone against the cover.", Source: common},
	{A: "acid", B: "polycarbonate", Why: "Ordinary silicone can craze polycarbonate under strain.",
		Remedy: "Use neutral-cure silicone against the cover.", Source: common, Taste: true},
}

// FindClashes returns every clash of two members of the sets a and b of tags and
// circumstances.
func FindClashes(a, b []string) (out []Clash) {
	has := func(set []string, x string) bool { return slices.Contains(set, x) }
	for _, c := range clashes {
		if has(a, c.A) && has(b, c.B) || has(a, c.B) && has(b, c.A) {
			out = append(out, c)
		}
	}
	return out
}

// NotFound says which id was asked for and which exist.
type NotFound struct {
	What, ID string
	Known    []string
}

func (e *NotFound) Error() string {
	return fmt.Sprintf("no %s called %q; choose one of %v", e.What, e.ID, e.Known)
}

// Choice is a row as a person picks it.
type Choice struct{ ID, Name string }

// row is what every table's rows share.
type row interface{ choice() Choice }

func (r Cover) choice() Choice      { return Choice{r.ID, r.Name} }
func (r Insulation) choice() Choice { return Choice{r.ID, r.Name} }
func (r Sheet) choice() Choice      { return Choice{r.ID, r.Name} }
func (r Mesh) choice() Choice       { return Choice{r.ID, r.Name} }
func (r Wood) choice() Choice       { return Choice{r.ID, r.Name} }
func (r Paint) choice() Choice      { return Choice{r.ID, r.Name} }
func (r DuctKind) choice() Choice   { return Choice{r.ID, r.Name} }
func (r Fan) choice() Choice        { return Choice{r.ID, r.Name} }
func (r Bond) choice() Choice       { return Choice{r.ID, r.Name} }

// find returns the row with an ID, or a [NotFound] that lists those there are.
func find[T row](what string, table []T, want string) (T, error) {
	var known []string
	for _, r := range table {
		if r.choice().ID == want {
			return r, nil
		}
		known = append(known, r.choice().ID)
	}
	var zero T
	return zero, &NotFound{what, want, known}
}

// FindCover looks up a cover.
func FindCover(id string) (Cover, error) { return find("cover", covers, id) }

// FindInsulation looks up a foam or wool.
func FindInsulation(id string) (Insulation, error) { return find("insulation", insulations, id) }

// FindSheet looks up an absorber metal.
func FindSheet(id string) (Sheet, error) { return find("sheet", sheets, id) }

// FindMesh looks up a screen.
func FindMesh(id string) (Mesh, error) { return find("screen", meshes, id) }

// FindWood looks up a frame or board material.
func FindWood(id string) (Wood, error) { return find("wood", woods, id) }

// FindPaint looks up a paint.
func FindPaint(id string) (Paint, error) { return find("paint", paints, id) }

// FindDuct looks up a sort of duct.
func FindDuct(id string) (DuctKind, error) { return find("duct", ducts, id) }

// FindFan looks up a fan.
func FindFan(id string) (Fan, error) { return find("fan", fans, id) }

// choices are the rows of a table as a person picks them.
func choices[T row](table []T) (cs []Choice) {
	for _, r := range table {
		cs = append(cs, r.choice())
	}
	return cs
}

// FindSealant looks up a sealant.
func FindSealant(id string) (Bond, error) { return find("sealant", sealants, id) }

// FindAdhesive looks up an adhesive.
func FindAdhesive(id string) (Bond, error) { return find("adhesive", adhesives, id) }

// FindTape looks up a tape.
func FindTape(id string) (Bond, error) { return find("tape", tapes, id) }

// Covers, Insulations and the rest list the tables as choices.
func Covers() []Choice { return choices(covers) }

// Insulations lists foams and wools.
func Insulations() []Choice { return choices(insulations) }

// Sheets lists absorber metals.
func Sheets() []Choice { return choices(sheets) }

// Meshes lists screens.
func Meshes() []Choice { return choices(meshes) }

// Woods lists frame and board materials.
func Woods() []Choice { return choices(woods) }

// Paints lists paints.
func Paints() []Choice { return choices(paints) }

// Ducts lists sorts of duct.
func Ducts() []Choice { return choices(ducts) }

// Fans lists fans.
func Fans() []Choice { return choices(fans) }

// Sealants lists sealants.
func Sealants() []Choice { return choices(sealants) }

// Adhesives lists adhesives.
func Adhesives() []Choice { return choices(adhesives) }

// Tapes lists tapes.
func Tapes() []Choice { return choices(tapes) }
