package design

import (
	"errors"
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"

	"gladember/core/units"
)

// Change is one decision. Typed is read in the person's units; where Value is
// given it is taken instead (SI), and Typed is what to show for it.
type Change struct {
	// Path is a field's, see [Fields].
	Path string
	// Typed is what was written, in the person's units; it is kept to be shown
	// again.
	Typed string
	// Value, where it is given, is taken in place of Typed, in SI.
	Value any
	// Origin is empty for Yours; Ours gives the field back to us.
	Origin Origin
	// U is the standard uncertainty of a measured value, see [Entry].
	U float64
}

// Apply returns the heater with changes made, defaults followed up and the
// whole validated. On an error the heater is returned as it was.
// The error is a [*Problem], or a units.Error for a text that is no quantity. A
// half-typed one is told apart by its Half. Changes are made in their order,
// each with its defaults followed up, so that a later one may belong to a part
// that an earlier one brought.
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
		// Giving a value back removes its entry; the default then takes its
		// place.
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
		// The value by itself first, so that the message names the field that
		// was typed.
		if p := f.check(&n, v, sys); p != nil {
			return h, p
		}
		origin := c.Origin
		if origin == "" {
			origin = Yours
		}
		f.value.set(&n, v)
		n.Entries[c.Path] = Entry{Typed: strings.TrimSpace(c.Typed), Origin: origin, U: c.U}
		n.follow(f)
		Refresh(&n)
	}
	// Then the whole: values that are right by themselves may not fit together.
	if ps := validate(&n, sys); len(ps) > 0 {
		return h, &ps[0]
	}
	return n, nil
}

// follow gives back to us what the choice of a whole thing carries with it: the figures of the fan that was there before say nothing
// of the new one.
func (h *Heater) follow(f *Field) {
	switch f {
	case AirBends.Field: // what lies before the box cannot be more than there are
		if h.Air.BendsIn > float64(h.Air.Bends) {
			h.release(AirBendsBefore)
		}
	case AirGrilles.Field:
		if h.Air.GrillesIn > float64(h.Air.Grilles) {
			h.release(AirGrillesBefore)
		}
	case AbsorberFamily.Field: // another airway, of a depth of its own
		for i := range h.Array.Others {
			h.Array.Others[i].Depth = 0
		}
	case RoomHeater.Field: // another fuel is sold by another unit and at another price
		h.release(RoomFuelUnit, MoneyFuelPrice)
	case AirFan.Field: // the strength was that of the other one
		h.release(AirFanFreeAir, AirFanShutOff, AirFanPower, AirFanRadial, AirFanTable, AirFanStrength)
		h.Air.FanTable = nil
	}
}

// read turns what was typed for a field into its value, SI. Errors are
// [Problem]s, whose remedy is in the person's units.
// Booleans take yes and no, choices their id, counts whole numbers, and
// everything else what units.Parse takes: "58 1/4", "110F", "50 cfm".
func read(h *Heater, f *Field, typed string, sys units.System) (any, error) {
	t := strings.TrimSpace(typed)
	switch {
	case f.Rows != nil:
		if len(t) > 20000 {
			return nil, &Problem{f.Path, "the table is over 20,000 letters long", "paste only its rows"}
		}
		rows, err := f.Rows.Read(h, t, sys)
		if p, ok := err.(*Problem); ok {
			p.Path = f.Path
		}
		return rows, err
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
	worded, ok, half := f.meant(t)
	switch {
	case ok:
		return worded, nil
	case half:
		return nil, &units.Error{Typed: t, Kind: f.Kind, Half: true}
	}
	parse := func() (float64, error) { return units.Parse(f.Kind, t, sys) }
	if f.Money {
		parse = func() (float64, error) { return units.ParseMoney(t, sys) }
	}
	v, err := parse()
	if err != nil {
		var ue *units.Error
		if errors.As(err, &ue) && !ue.Half && f.Whole {
			return nil, &Problem{f.Path, fmt.Sprintf("%q is not a whole number", t), "enter one like 2"}
		}
		return nil, err
	}
	return v, nil
}

// Refresh derives every value of ours again from what it follows from, and
// keeps only the union member that the family names.
// It runs through the fields once, in their order, so that each default sees
// the values that it follows from. Calling it again changes nothing, which a
// test asks of random heaters.
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
		if !f.Stays && !h.Given(f) && f.Default != nil {
			f.value.set(h, f.Default(h))
		}
	}
	// Only now is the family certain, and with it which member stays.
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

// keep drops the members that the family does not name.
// They are made again by [Refresh] when the family is chosen again; what the
// builder entered for them is kept by undo, not by the document.
func keep(h *Heater) {
	for _, m := range members {
		if !m.has(h.Absorber.Family) {
			m.drop(&h.Absorber)
		}
	}
}

// complete says whether each member is there that the family names; of a family that is not known it cannot be said.
func (a *Absorber) complete() bool {
	for _, m := range members {
		if m.has(a.Family) && !m.held(a) {
			return false
		}
	}
	return true
}

// New returns a heater in which every value is ours.
// It is the heater that a new workshop begins with, and what tests start from.
func New() Heater {
	var h Heater
	Refresh(&h)
	return h
}

// SplitPane takes a pane's size apart: "28 x 64 in" into "28 in" and "64 in". A
// unit behind the height holds for a width without one. Height is empty where
// nothing is typed behind the x yet; ok is false where there is no size.
// Times signs, stars and the word by count as an x.
func SplitPane(typed string) (width, height string, ok bool) {
	norm := strings.NewReplacer("×", "x", "X", "x", "*", "x", " by ", " x ").Replace(typed)
	width, height, ok = strings.Cut(norm, "x")
	if !ok || strings.Contains(height, "x") {
		return "", "", false
	}
	width, height = strings.TrimSpace(width), strings.TrimSpace(height)
	// The width has no unit of its own: it takes the height's.
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
// Lengths are returned in m. A pane whose second length is not typed yet gives
// a units.Error that is Half, for a page to wait for the rest.
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
