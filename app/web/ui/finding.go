package ui

import (
	"errors"
	"math"
	"strings"

	"gladember/core/advice"
	"gladember/core/layout"
	"gladember/core/units"
)

// FindingView is a finding in the person's units.
type FindingView struct {
	ID       string
	Severity string
	Title    string
	Text     string
	Evidence string
	Remedy   string
	Gain     string
	CanTry   bool
	Or       []FindingView // other remedies
}

// CautionView is a caution in the person's units.
type CautionView struct{ Part, Text string }

// Finding writes a finding in a person's units.
func Finding(x *advice.Finding, p Page) FindingView {
	u := p.Units
	v := FindingView{
		ID: x.ID, Severity: x.Severity.String(), Title: x.Title, Text: x.Finding.In(u), Evidence: x.Evidence.In(u), Remedy: x.Remedy.In(u),
		CanTry: x.Patch != nil,
	}
	switch {
	case x.HasYear && x.When == "":
		v.Gain = Signed(units.Energy, x.YearGain, u) + " a year"
		if math.Abs(x.YearMoney) >= 1 {
			v.Gain += ", " + p.Sum(x.YearMoney, 0)
			if p.Currency == "" {
				v.Gain += " saved"
			}
		}
	case x.HasGain:
		v.Gain = strings.TrimSpace(Signed(units.Power, x.Gain, u) + " " + x.When)
	}
	for _, a := range x.Or {
		y := advice.Finding{
			ID: a.ID, Remedy: a.Remedy, Patch: a.Patch, Gain: a.Gain, HasGain: true, YearGain: a.YearGain, YearMoney: a.YearMoney,
			HasYear: a.HasYear,
		}
		v.Or = append(v.Or, Finding(&y, p))
	}
	return v
}

// Misfit says in a person's units why parts do not fit together.
func Misfit(err error, u units.System) string {
	var m *layout.Misfit
	if errors.As(err, &m) {
		return m.In(u)
	}
	return err.Error()
}
