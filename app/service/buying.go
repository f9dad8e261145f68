package service

import (
	"context"
	"math"
	"slices"

	"gladember/app/store"
	"gladember/core/cost"
	"gladember/core/cutting"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// IsSize says whether a piece was cut to a part's present size.
func IsSize(x *store.CutPiece, p *layout.Part) bool {
	return x.Name == p.ID && math.Abs(x.Length-p.Length) < cutting.SameSize && math.Abs(x.Width-p.Width) < cutting.SameSize
}

// Remaining are the parts with what is cut already taken off.
func Remaining(parts []layout.Part, cut []store.CutPiece) []layout.Part {
	out := slices.Clone(parts)
	for i := range out {
		for k := range cut {
			if IsSize(&cut[k], &out[i]) {
				out[i].Count = max(0, out[i].Count-cut[k].Done)
			}
		}
	}
	return slices.DeleteFunc(out, func(p layout.Part) bool { return p.Count == 0 })
}

// Buying is what must be bought for a heater.
type Buying struct {
	Input cost.Input
	List  cost.List
	// Next is what a second, equal heater takes.
	Next cost.List
}

// Buying lists what must be bought for a heater that is laid out.
func (w *Workshop) Buying(ctx context.Context, st *store.State, e *Heater, u units.System) (*Buying, error) {
	cut, err := w.Store.CutPieces(ctx, st.Heater)
	if err != nil {
		return nil, err
	}
	things, _, err := w.Stock(ctx)
	if err != nil {
		return nil, err
	}
	prices, err := w.Prices(ctx)
	if err != nil {
		return nil, err
	}
	doc := st.Document
	return w.buyings.Get(ctx, KeyOf(&doc, design.Judged|design.Workplace, u.Inches, things, cut, prices), func() (*Buying, error) {
		b := &Buying{Input: Input(&doc, &e.Layout, Remaining(e.Layout.Cut(), cut), u)}
		b.Input.Hand, b.Input.Prices = things, prices
		var err error
		if b.List, err = cost.Build(ctx, b.Input); err != nil {
			return nil, err
		}
		b.Next, err = cost.Next(ctx, b.Input)
		return b, err
	})
}

// Input is what a list is made of, without what is on hand and prices.
func Input(h *design.Heater, l *layout.Layout, parts []layout.Part, u units.System) cost.Input {
	return cost.Input{
		Heater: h, Layout: l, Parts: parts, Shop: cutting.NewShop(&h.Workshop.Cut, u.Inches),
		Saw: cutting.Rules{Kerf: h.Workshop.Cut.Kerf, Trim: h.Workshop.Cut.Trim, Limit: Patience},
	}
}

// Prices are those that the builder entered.
func (w *Workshop) Prices(ctx context.Context) (out []cost.Price, err error) {
	ps, err := w.Store.Prices(ctx)
	if err != nil {
		return nil, err
	}
	for _, p := range ps {
		out = append(out, cost.Price{What: p.What, Pack: p.Pack, Seen: p.Seen})
	}
	return out, nil
}
