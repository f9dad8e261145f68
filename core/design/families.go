package design

import (
	"slices"

	"gladember/core/catalog"
)

// Family names a way of making the absorber.
type Family string

// The families.
const (
	// ScreenBox: layers of dark mesh that the air crosses.
	ScreenBox Family = "screen-box"
	// CanColumns: drink cans glued in columns between two headers.
	CanColumns Family = "can-columns"
	// Downpipes: rectangular pipes in parallel or in series.
	Downpipes Family = "downpipes"
	// RibbedCoil: flexible ribbed duct folded into the box.
	RibbedCoil Family = "ribbed-coil"
	// BackPassPlate: air behind a dark sheet.
	BackPassPlate Family = "back-pass-plate"
	// FrontPassPlate: air between glass and sheet.
	FrontPassPlate Family = "front-pass-plate"
	// DoublePassPlate: down behind the sheet, up in front of it.
	DoublePassPlate Family = "double-pass-plate"
	// DoublePassTubes: down behind the pipes, up through them.
	DoublePassTubes Family = "double-pass-tubes"
	// WindowPanel: a foil behind a room's own window.
	WindowPanel Family = "window-panel"
	// PassiveBox: a back pass that is made for natural draft.
	PassiveBox Family = "passive-box"
	// OwnAbsorber: the builder's own body, told by its passages.
	OwnAbsorber Family = "own"
)

// Absorber is a tagged union: Family says which of the members holds.
type Absorber struct {
	// Family says which member below holds; the others are nil.
	Family Family `json:"family"`
	// Paint is a coating of the catalog.
	Paint   string   `json:"paint"`
	Screens *Screens `json:"screens,omitempty"`
	Plate   *Plate   `json:"plate,omitempty"`
	Cans    *Cans    `json:"cans,omitempty"`
	Pipes   *Pipes   `json:"pipes,omitempty"`
	Coil    *Coil    `json:"coil,omitempty"`
	Panel   *Panel   `json:"panel,omitempty"`
	Own     *Own     `json:"own,omitempty"`
}

// FamilyRecord is a way of making the absorber, declared once. What it says nothing of is as it is for most: see the methods of [Heater]
// that read it.
type FamilyRecord struct {
	// ID is what documents call it, and Name what a builder does.
	ID   Family
	Name string
	// Metal is the sheet that it is made of, by its ID in the catalog; nil for aluminum.
	Metal func(*Absorber) string
	// Natural says that warmth moves its air unless a fan is chosen.
	Natural bool

	// Example is a heater made so, which `gladember example` prints under the family's ID: its changes to a new one.
	Example []Change

	// member is the struct of the document that it has, and fields are the sections of its fields: those that others follow from, and
	// those that follow from the ports.
	member       member
	fields, late declarer
	// cavity is from the inner cover to the back, m, at the bottom of the box, where a slanted absorber needs the most.
	cavity func(*Heater) float64
	// airway is the member that says how deep the airway is, in which boxes of a row may differ; nil for none.
	airway func(*Heater) *float64
	// arranged says whether inlet and outlet may lie as the builder wants; nil for never.
	arranged func(*Absorber) bool
	// tubes are how many lie side by side, and how wide they are, m; nil for none.
	tubes func(*Absorber) (n int, width float64)
	// headers is how high they are inside, m; nil for none.
	headers func(*Absorber) float64
	// space is the depth into which the port of the inlet or of the outlet opens, m behind the inner cover; nil for all of the cavity.
	space func(h *Heater, inlet bool) (from, to float64)
	// ends says whether the air enters at the bottom and leaves at the top, and whether on one side; nil for opposite corners.
	ends func(*Absorber) (bottomIn, topOut, sameSide bool)
	// sprayed is the area that one coat of paint is sprayed over, m2; nil for the aperture.
	sprayed func(*Heater) float64
	// seams is how much bead seals its tubes, m; nil for none.
	seams func(*Absorber) float64
}

// declarer is a section of fields.
type declarer interface{ declared() []*Field }

// Families are the ways of making the absorber, in the order in which they are offered.
var Families []*FamilyRecord

// members are those that they have.
var members []member

func init() {
	Families = []*FamilyRecord{screenBox, canColumns, downpipes, ribbedCoil, backPassPlate, frontPassPlate, doublePassPlate,
		doublePassTubes, windowPanel, passiveBox, ownAbsorber}
	for _, r := range Families {
		if !slices.ContainsFunc(members, func(m member) bool { return m.at(&probe) == r.member.at(&probe) }) {
			members = append(members, r.member)
		}
	}
	declareFields()
}

// Record is the family's, nil for one that is not known.
func (f Family) Record() *FamilyRecord {
	for _, r := range Families {
		if r.ID == f {
			return r
		}
	}
	return nil
}

// fromTheTop are the ends of air that goes down behind the absorber and up in front of it or through it.
func fromTheTop(*Absorber) (bottomIn, topOut, sameSide bool) { return false, true, false }

// member is the struct of an [Absorber] that some families have.
type member struct {
	held func(*Absorber) bool
	drop func(*Absorber)
	part func(*Absorber) // gives it a copy of its own
	at   func(*Absorber) any
}

func memberAt[T any](at func(*Absorber) **T) member {
	return member{func(a *Absorber) bool { return *at(a) != nil }, func(a *Absorber) { *at(a) = nil }, func(a *Absorber) {
		if p := at(a); *p != nil {
			v := **p
			*p = &v
		}
	}, func(a *Absorber) any { return at(a) }}
}

// has says whether the family is one of those that have the member.
func (m *member) has(f Family) bool {
	r := f.Record()
	return r != nil && r.member.at(&probe) == m.at(&probe)
}

// probe is an absorber by whose addresses members are told apart.
var probe Absorber

func familyChoices() (cs []catalog.Choice) {
	for _, r := range Families {
		cs = append(cs, catalog.Choice{ID: string(r.ID), Name: r.Name})
	}
	return cs
}

// Each declares what each family has of something, which what names, and returns it. A map that lacks a family is found by a test, see
// [Lacking].
func Each[T any](what string, m map[Family]T) map[Family]T {
	byFamily[what] = func(f Family) bool { _, has := m[f]; return has }
	return m
}

// byFamily say whether what is declared by family has one.
var byFamily = map[string]func(Family) bool{}

// Lacking returns the families that each map declared by family lacks, by what it holds.
func Lacking() map[string][]Family {
	out := map[string][]Family{}
	for what, has := range byFamily {
		out[what] = nil
		for _, r := range Families {
			if !has(r.ID) {
				out[what] = append(out[what], r.ID)
			}
		}
	}
	return out
}
