// Package catalog holds the materials, ducts and fans a box is made from, each
// row with its properties, the highest temperature it bears in service, the
// one-sigma uncertainty of its main property, and where the figures come from.
//
// Names are generic. Rows are values: look one up by id, or list a table to
// offer it as a choice.
package catalog

import "fmt"

// Source texts used by more than one row.
const (
	iso10456 = "EN ISO 10456 table 3 (design values, recalled from memory)"
	common   = "common practice, no source"
	db51     = "Duffie & Beckman table 5.1.1 and section 5.2"
)

// Cover is a glazing material.
type Cover struct {
	ID, Name     string
	Index        float64 // refractive, solar mean
	Extinction   float64 // 1/m
	Emittance    float64 // far infrared, both sides
	Transmit     float64 // far infrared, 0..1
	Conductivity float64 // W/mK
	Density      float64 // kg/m3
	Service      float64 // C, continuous
	Thickness    float64 // m, the usual
	Source       string
}

var covers = []Cover{
	{"glass", "window glass", 1.526, 16, 0.88, 0, 1.0, 2500, 150, 0.004, db51 + "; " + iso10456 + "; service: " + common},
	{"low-iron-glass", "low-iron glass", 1.526, 4, 0.88, 0, 1.0, 2500, 150, 0.004, db51 + "; " + iso10456 + "; service: " + common},
	{"polycarbonate", "clear polycarbonate", 1.60, 15, 0.88, 0.02, 0.20, 1200, 115, 0.003, db51 + "; extinction fitted to 86 % through 3 mm; " + iso10456},
	{"acrylic", "clear acrylic", 1.49, 12, 0.88, 0.02, 0.20, 1190, 80, 0.003, db51 + "; extinction fitted to 89 % solar through 3 mm; " + iso10456},
}

// Insulation is a foam or wool board.
type Insulation struct {
	ID, Name     string
	Conductivity float64 // W/mK
	Density      float64 // kg/m3
	Service      float64 // C
	Source       string
}

var insulations = []Insulation{
	{"xps", "extruded polystyrene foam", 0.034, 33, 75, "conductivity EN 13164 class 034; service: " + common},
	{"eps", "expanded polystyrene foam", 0.036, 20, 75, "conductivity EN 13163 class 036; service: " + common},
	{"polyiso", "foil-faced polyiso foam", 0.024, 32, 120, "conductivity EN 13165 class 024; service: " + common},
	{"mineral-wool", "mineral wool board", 0.037, 90, 250, "conductivity EN 13162 class 037; service: " + common},
}

// Sheet is absorber metal.
type Sheet struct {
	ID, Name     string
	Conductivity float64 // W/mK
	Density      float64 // kg/m3
	Service      float64 // C
	Source       string
}

var sheets = []Sheet{
	{"aluminium", "aluminium sheet", 160, 2800, 300, iso10456},
	{"steel", "galvanised steel sheet", 50, 7800, 300, iso10456},
}

// Mesh is a woven screen.
type Mesh struct {
	ID, Name string
	Wire     float64 // diameter, m
	Pitch    float64 // wire to wire, m
	Density  float64 // of the wire, kg/m3
	Service  float64 // C
	Source   string
}

// WireShare is the part of one direction's pitch that the wire covers.
func (m Mesh) WireShare() float64 { return m.Wire / m.Pitch }

// WireArea returns the surface of both sets of wires per m2 of screen.
func (m Mesh) WireArea() float64 { return 2 * 3.141592653589793 * m.Wire / m.Pitch }

var meshes = []Mesh{
	{"aluminium-screen", "black aluminium insect screen", 0.00028, 0.0015, 2700, 200, "18 x 16 mesh: 1.4 x 1.6 mm pitch; " + common},
	{"glassfibre-screen", "black coated glass-fibre insect screen", 0.00028, 0.0015, 1700, 90, "18 x 16 mesh, vinyl coat; " + common},
	{"steel-gauze", "black steel gauze", 0.00040, 0.0016, 7800, 300, "16 mesh; " + common},
}

// Wood is frame and board stock.
type Wood struct {
	ID, Name     string
	Conductivity float64 // W/mK
	Density      float64 // kg/m3
	Service      float64 // C, long stays char slowly above it
	Source       string
}

var woods = []Wood{
	{"softwood", "planed softwood", 0.13, 500, 100, iso10456 + "; service: " + common},
	{"plywood", "exterior plywood", 0.13, 500, 100, iso10456 + "; service: " + common},
}

// Paint is what makes a surface dark.
type Paint struct {
	ID, Name    string
	Absorptance float64
	Emittance   float64
	Service     float64 // C
	Source      string
}

var paints = []Paint{
	{"flat-black", "flat black enamel", 0.95, 0.90, 120, "Duffie & Beckman table 4.7.1, flat black paint (recalled from memory); service: " + common},
	{"high-heat-black", "high-heat flat black", 0.95, 0.90, 250, "Duffie & Beckman table 4.7.1, flat black paint (recalled from memory); service: " + common},
	{"gloss-black", "glossy black", 0.90, 0.90, 120, common},
}

// DuctKind is a sort of round duct.
type DuctKind struct {
	ID, Name  string
	Roughness float64 // m
	Source    string
}

var ducts = []DuctKind{
	{"smooth", "smooth sheet-metal duct", 0.09e-3, "ASHRAE Fundamentals, duct design: galvanised, 0.09 mm"},
	{"flexible", "flexible duct, pulled taut", 0.9e-3, "ASHRAE Fundamentals, duct design: flexible, fully stretched, 0.9 mm"},
	{"ribbed", "ribbed aluminium duct", 3.0e-3, "ASHRAE Fundamentals, duct design: rough class, 3 mm"},
}

// Fan is a fan as its label tells it.
type Fan struct {
	ID, Name string
	FreeAir  float64 // m3/s at 1.2 kg/m3
	ShutOff  float64 // Pa
	Power    float64 // W
	Radial   bool
	Service  float64 // C of the air it handles
	Source   string
}

var fans = []Fan{
	{"computer-120", "120 mm computer fan", 0.040, 30, 3, false, 70, common},
	{"booster-4", "4 in duct booster", 0.045, 45, 18, false, 60, common},
	{"bath-4", "small bath fan", 0.026, 60, 15, true, 50, common},
	{"inline-4", "4 in inline duct fan", 0.055, 180, 25, true, 60, common},
	{"inline-5", "5 in inline duct fan", 0.075, 200, 30, true, 60, common},
	{"inline-6", "6 in inline duct fan", 0.120, 260, 50, true, 60, common},
}

// NotFound says which id was asked for and which exist.
type NotFound struct {
	What, ID string
	Known    []string
}

func (e *NotFound) Error() string {
	return fmt.Sprintf("no %s called %q; choose one of %v", e.What, e.ID, e.Known)
}

// row is what every table's rows share.
type row interface {
	Cover | Insulation | Sheet | Mesh | Wood | Paint | DuctKind | Fan
}

func id[T row](r T) (key, name string) {
	switch v := any(r).(type) {
	case Cover:
		return v.ID, v.Name
	case Insulation:
		return v.ID, v.Name
	case Sheet:
		return v.ID, v.Name
	case Mesh:
		return v.ID, v.Name
	case Wood:
		return v.ID, v.Name
	case Paint:
		return v.ID, v.Name
	case DuctKind:
		return v.ID, v.Name
	}
	f := any(r).(Fan)
	return f.ID, f.Name
}

func find[T row](what string, table []T, want string) (T, error) {
	var known []string
	for _, r := range table {
		k, _ := id(r)
		if k == want {
			return r, nil
		}
		known = append(known, k)
	}
	var zero T
	return zero, &NotFound{what, want, known}
}

// The lookups return the row or a [*NotFound].

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

// Choice is a row as a person picks it.
type Choice struct{ ID, Name string }

func choices[T row](table []T) (cs []Choice) {
	for _, r := range table {
		k, n := id(r)
		cs = append(cs, Choice{k, n})
	}
	return cs
}

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
