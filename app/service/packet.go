package service

import (
	"context"
	"errors"

	"gladember/app/drawing"
	"gladember/core/advice"
	"gladember/core/buildplan"
	"gladember/core/collector"
	"gladember/core/cost"
	"gladember/core/cutting"
	"gladember/core/layout"
	"gladember/core/wiring"
)

// Packet gathers what a builder carries into the shop: of a heater that is laid out and evaluated, with what must be bought.
func Packet(ctx context.Context, e *collector.Evaluation, l *layout.Layout, list *cost.List, in *cost.Input) (*drawing.Packet, error) {
	h := &e.Heater
	steps, err := buildplan.Build(h, l)
	if err != nil {
		return nil, err
	}
	plans, err := cutting.Parts(ctx, l.Cut(), cost.Priced(in.Shop, in.Prices), cost.OnHand(in.Hand), in.Saw, nil)
	if err != nil {
		return nil, err
	}
	p := &drawing.Packet{
		Name: h.Name, Layout: l, Plans: plans, List: list, Steps: steps, Safety: advice.Safety(e),
		Temperature: h.Workshop.Bench.Temperature, Humidity: h.Workshop.Bench.Humidity,
	}
	if p.Name == "" {
		p.Name = "Solar air heater"
	}
	if c, ok := wiring.Build(h); ok {
		p.Circuit = &c
	}
	if side, ok := layout.NewSide(h, l); ok {
		p.Side = &side
	}
	if len(steps) == 0 {
		return nil, errors.New("this heater has no steps")
	}
	return p, nil
}
