package stock

import (
	"context"
	"fmt"
	"html/template"
	"math"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/web/ui"
	"gladember/core/design"
	"gladember/core/sizing"
	"gladember/core/units"
)

// sized is a search's answer.
type sized struct{ *sizing.Answer }

// SizedView is a proposal in the person's units.
type SizedView struct {
	Front                    template.HTML
	Name                     string
	Useful, Share, Cost, Fan string
	Area, Rule               string
	Years                    string
	Steps                    []StepRow
	RunnerUp                 string
	TakeURL, AllVals         string
}

// StepRow is a choice with its reason.
type StepRow struct{ Step, Chosen, Why, Vals string }

// size starts the search over the stock, in this heater's place and space.
func (sv station) size(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	v := sv.Begin(c, st, "stock")
	budget := 0.0
	if s := strings.TrimSpace(c.FormValue("budget")); s != "" {
		if budget, err = units.ParseMoney(s, v.F.Units); err != nil || budget < 0 {
			return ui.JobRefused(c, fmt.Sprintf("%q is not a sum of money: enter one like 120, or leave the budget empty.", s))
		}
	}
	things, _, err := sv.Stock(v.Ctx())
	if err != nil {
		return err
	}
	s := sizing.CollectStock(things, budget)
	if len(s.Panes) == 0 {
		s.Panes = sizing.DefaultStock(v.Doc()).Panes // the pane of this heater stands for the stock
	}
	y, err := sv.Weather(v.Ctx(), v.Doc())
	if err != nil {
		return ui.JobRefused(c, ui.Capital(err.Error())+".")
	}
	work := func(ctx context.Context, progress func(done, of int)) (any, error) {
		a, err := sizing.Best(ctx, st.Document, y, s, progress)
		if err != nil {
			return nil, err
		}
		return sized{a}, nil
	}
	return v.ShowJob(sv.Jobs.Start(st.Heater, "stock", "sized", service.KeyOf(v.Doc(), design.Judged, s), work))
}

// planWidth is the width of the drawing beside the proposal, pixels.
const planWidth = 240

// wholly is the key of all of a proposal.
const wholly = "all"

// Take is a choice of the proposal, or all of it in the order in which a builder meets them.
func (s sized) Take(key string) (string, []design.Change, bool) {
	if key == wholly {
		var all []design.Change
		for _, x := range s.Proposal.Choices {
			all = append(all, x.Changes...)
		}
		return "The proposed design", all, true
	}
	for _, x := range s.Proposal.Choices {
		if x.Step == key {
			return "The proposed " + key, x.Changes, true
		}
	}
	return "", nil, false
}

// Show writes the proposal.
func (s sized) Show(v *ui.Visit, takeURL string) (any, error) {
	a, f := s.Answer, v.F
	p, u := a.Proposal, f.Units
	view := SizedView{
		Name: p.Heater.MadeAs(), Useful: units.Format(units.Energy, p.Year.Year.Useful, u),
		Share: units.Format(units.Share, p.Year.Year.Fraction(), u),
		Cost:  f.Sum(p.Cost, 0), Fan: units.Format(units.Metered, p.Year.Year.Fan, u), Area: units.Format(units.Area, p.Year.Aperture, u),
		Rule: units.Format(units.Area, a.Rule, u), Years: ui.Whole(float64(a.Years), u), TakeURL: takeURL,
		AllVals: f.VarVals("key", wholly),
	}
	e, err := v.Evaluate(v.Ctx(), &p.Heater)
	if v.Ctx().Err() != nil {
		return nil, err
	}
	if err == nil && e.Misfit == nil {
		sc := drawing.Scene{Heater: &p.Heater, Layout: &e.Layout, Eval: &e.Eval, Units: u}
		view.Front = sc.Front(planWidth)
	}
	for i := range p.Choices {
		view.Steps = append(view.Steps, step(f, a, &p.Choices[i]))
	}
	if r := a.RunnerUp; r != nil {
		view.RunnerUp = fmt.Sprintf("%s: %s a year for %s", r.Heater.MadeAs(), units.Format(units.Energy, r.Year.Year.Useful, u),
			f.Sum(r.Cost, 0))
	}
	return view, nil
}

// step writes a choice with its reason.
func step(f *ui.Frame, a *sizing.Answer, x *sizing.Choice) StepRow {
	u := f.Units
	row := StepRow{Step: x.Step, Chosen: choiceWords(x, u), Vals: f.VarVals("key", x.Step)}
	for _, r := range a.Reasons {
		if r.Step != x.Step {
			continue
		}
		other := choiceWords(&r.Other, u)
		row.Why = ui.Signed(units.Energy, r.Gain, u) + " a year compared with " + other
		if strings.HasPrefix(row.Why, ui.NoChange) {
			row.Why = "as much heat as " + other
		}
		const worthSaying = 0.5 // of the currency
		switch {
		case r.Saves >= worthSaying:
			row.Why += ", costs " + f.Sum(r.Saves, 0) + " more"
		case r.Saves <= -worthSaying:
			row.Why += ", costs " + f.Sum(-r.Saves, 0) + " less"
		}
	}
	return row
}

// changed is what a choice sets a field to; nil if it leaves it.
func changed(c *sizing.Choice, path string) any {
	for _, ch := range c.Changes {
		if ch.Path == path {
			return ch.Value
		}
	}
	return nil
}

// choiceWords names a choice in the person's units.
func choiceWords(c *sizing.Choice, u units.System) string {
	quantity := func(k units.Kind, path string) string {
		v, ok := changed(c, path).(float64)
		if !ok {
			v = math.NaN()
		}
		return units.Format(k, v, u)
	}
	name := func(path string) string {
		v := changed(c, path)
		for _, x := range design.FieldAt(path).Choices() {
			if x.ID == fmt.Sprint(v) {
				return x.Name
			}
		}
		return c.Name
	}
	switch c.Step {
	case sizing.PaneStep:
		width, _ := changed(c, design.PaneWidth.Path).(float64)
		return units.Figure(units.Length, width, u) + " × " + quantity(units.Length,
			design.PaneHeight.Path) + ", " + name(design.CoverMaterial.Path)
	case sizing.AbsorberStep:
		return name(design.AbsorberFamily.Path)
	case sizing.TiltStep:
		return quantity(units.Angle, design.PlaceTilt.Path)
	case sizing.GapStep:
		return quantity(units.Length, design.BoxGap.Path)
	case sizing.BackStep:
		return quantity(units.Length, design.BoxBackFoam.Path) + " of " + name(design.BoxFoam.Path)
	case sizing.DuctStep:
		return quantity(units.Bore, design.AirDiameter.Path)
	case sizing.FanStep:
		return name(design.AirFan.Path)
	case sizing.SwitchStep:
		if changed(c, design.SwitchKind.Path) == "differential" {
			return fmt.Sprintf("on %s above the room, off %s above it", quantity(units.Rise, design.SwitchOnAbove.Path),
				quantity(units.Rise, design.SwitchOffAbove.Path))
		}
		return "on at " + quantity(units.Temperature, design.SwitchClose.Path) + ", off at " + quantity(units.Temperature,
			design.SwitchOpen.Path)
	case sizing.SmallParts:
		var all []string
		for _, x := range c.Changes {
			switch f := design.FieldAt(x.Path); {
			case x.Path == design.GuardArea.Path:
				all = append(all, quantity(f.Kind, x.Path)+" open at each end")
			case f.Choices == nil: // its points go with what it is
			default:
				all = append(all, name(x.Path))
			}
		}
		return strings.Join(all, ", ")
	}
	return c.Name
}
