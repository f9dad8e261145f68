package ui

import (
	"gladember/app/service"
	"gladember/core/design"
	"gladember/core/units"
)

// Outlay is what the heater costs, wherever its page tells it; where it cannot be laid out, what is entered or estimated by its size.
func (v *Visit) Outlay() (service.Outlay, error) { return v.OutlayOf(v.Doc(), v.Heater) }

// OutlayOf is what one of its versions costs.
func (v *Visit) OutlayOf(h *design.Heater, e *service.Heater) (service.Outlay, error) {
	if e == nil { // a part of a page knows the document alone
		var err error
		if e, err = v.Evaluate(v.Ctx(), h); v.Ctx().Err() != nil {
			return service.Outlay{}, err
		}
	}
	if own := h.Given(design.MoneySpent); own || e == nil || e.Misfit != nil {
		return service.Outlay{Sum: h.Money.Spent, Own: own}, nil
	}
	return v.Workshop.Outlay(v.Ctx(), h, e, v.F.Units)
}

// ShowOutlay puts what the heater costs into its field, where the builder entered nothing.
func (v *Visit) ShowOutlay() error {
	o, err := v.Outlay()
	if err != nil || o.Own {
		return err
	}
	for i := range v.F.Panels {
		for j := range v.F.Panels[i].Fields {
			if x := &v.F.Panels[i].Fields[j]; x.Path == design.MoneySpent.Path {
				x.Value = units.Decimals(o.Sum, 2, v.F.Units)
				x.Help = v.F.OutlaySays(o)
			}
		}
	}
	return nil
}

// OutlaySays tells where an outlay comes from.
func (f *Frame) OutlaySays(o service.Outlay) string {
	if !o.Own && o.Unpriced == 0 && o.Priced == 0 {
		return "Usual for a box of its size."
	}
	none := Count(o.Unpriced, "thing has no price yet", "things have no price yet", f.Units)
	switch {
	case o.Own:
		return "As you entered it."
	case o.Unpriced == 0:
		return "What the list to buy comes to."
	case o.Sum > o.Priced:
		return "Usual for a box of its size: on the list to buy " + none + "."
	}
	return "What the list to buy comes to so far: " + none + "."
}
