package service

import (
	"context"

	"gladember/core/cost"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/units"
)

// Outlay is what a heater costs, in the money of the workshop: one figure, wherever costs, payback or savings are told.
type Outlay struct {
	Sum float64
	// Own says that the builder entered it.
	Own bool
	// Priced is what all that must be bought comes to at the prices that are known, and Unpriced how many things have none.
	Priced   float64
	Unpriced int
}

// Outlay is what a builder entered as spent. Else it is what must be bought at known prices for a heater of which nothing is cut yet, and,
// while some have none, at least what a box of its size usually costs.
func (w *Workshop) Outlay(ctx context.Context, h *design.Heater, e *Heater, u units.System) (Outlay, error) {
	if own := h.Given(design.MoneySpent); own {
		return Outlay{Sum: h.Money.Spent, Own: true}, nil
	}
	things, _, err := w.Stock(ctx)
	if err != nil {
		return Outlay{}, err
	}
	prices, err := w.Prices(ctx)
	if err != nil {
		return Outlay{}, err
	}
	return w.outlays.Get(ctx, KeyOf(h, design.Judged|design.Workplace, u.Inches, things, prices), func() (Outlay, error) {
		doc := *h
		in := Input(&doc, &e.Layout, e.Layout.Cut(), u)
		in.Hand, in.Prices = things, prices
		list, err := cost.Build(ctx, in)
		if err != nil {
			return Outlay{}, err
		}
		o := Outlay{Sum: list.Total, Priced: list.Total, Unpriced: list.Unpriced}
		if o.Unpriced > 0 {
			o.Sum = max(o.Sum, h.Money.Spent)
		}
		return o, nil
	})
}

// Worth is what a year is worth for a heater that costs so much.
func (y *Year) Worth(o Outlay) (season.Money, error) {
	h := y.costing(o)
	return season.Worth(&h, y.Result)
}

// costing is the year's heater with what it costs.
func (y *Year) costing(o Outlay) design.Heater {
	h := y.heater
	h.Money.Spent = o.Sum
	return h
}
