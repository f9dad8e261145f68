package main

import (
	"fmt"
	"math"

	"github.com/spf13/cobra"

	"gladember/core/buildplan"
	"gladember/core/layout"
	"gladember/core/units"
)

// stepRow is a step as scripts read it.
type stepRow struct {
	ID       string   `json:"id"`
	Title    string   `json:"title"`
	Parts    []string `json:"parts"`
	After    []string `json:"after"`
	Gate     *gateRow `json:"gate"`
	Minutes  num      `json:"minutes"`
	Helpers  int      `json:"helpers"`
	Cure     *num     `json:"cure_h"`
	Weather  string   `json:"weather,omitempty"`
	Tools    []string `json:"tools"`
	Do       []string `json:"do"`
	Cautions []string `json:"cautions"`
}

// gateRow is a gate: what is looked at and what is measured.
type gateRow struct {
	ID       string       `json:"id"`
	Title    string       `json:"title"`
	Looks    []string     `json:"looks"`
	Measures []measureRow `json:"measures"`
	Hides    string       `json:"before,omitempty"`
}

// measureRow is a length to be measured.
type measureRow struct {
	ID     string `json:"id"`
	Label  string `json:"label"`
	Want   num    `json:"want_mm"`
	Within num    `json:"within_mm"`
}

// texts prints sentences; never null.
func texts(ts []units.Text, u units.System) []string {
	out := []string{}
	for _, t := range ts {
		out = append(out, t.In(u))
	}
	return out
}

// some is a list that is never null.
func some(s []string) []string { return append([]string{}, s...) }

// stepRowOf writes a step, with its drying at a temperature, C, and a humidity; null where nothing dries, or where it does not.
func stepRowOf(s *buildplan.Step, temp, humidity float64, u units.System) stepRow {
	x := stepRow{
		ID: s.ID, Title: s.Title, Parts: some(s.Parts), After: some(s.After), Minutes: num(math.Round(s.Minutes)), Helpers: s.Helpers,
		Weather: s.Weather(), Tools: some(s.Tools), Do: texts(s.Do, u), Cautions: texts(s.Cautions, u),
	}
	if s.Cure != nil {
		if _, full := s.Cure.Hours(temp, humidity); !math.IsInf(full, 1) {
			n := num(math.Round(10*full) / 10)
			x.Cure = &n
		}
	}
	if g := s.Gate; g != nil {
		x.Gate = &gateRow{ID: g.ID, Title: g.Title, Looks: texts(g.Looks, u), Measures: []measureRow{}, Hides: g.Hides}
		for _, m := range g.Measures {
			x.Gate.Measures = append(x.Gate.Measures, measureRow{m.ID, m.Label.In(u), hundredths(m.Want), hundredths(m.Within)})
		}
	}
	return x
}

func stepsCommand() *cobra.Command {
	temp, humidity := 20.0, 0.5
	c := &cobra.Command{
		Use:   "steps BOX.json",
		Short: "List the steps of building a box",
		Long: `Reads a box (- is standard input) and prints JSON: steps[{id, title, parts[], after[], gate, minutes, helpers, cure_h,
weather, tools[], do[], cautions[]}]. Parts are the letters of the parts command, each taken by one step; after are the
steps to be done before; gate is null or {id, title, looks[], measures[{id, label, want_mm, within_mm}], before}: what is
looked at and measured before a later step hides it. cure_h is how long what was painted or glued takes to harden in the
shop, null where nothing does, or where it is too cold.`,
		Example: "  gladember example screen-box | gladember steps - {--shop 12|--units in --shop 54}",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			u := systemOf(cmd)
			if err := inRange(cmd, ranged{"shop", temp, -30, 50, units.Temperature, ""}); err != nil {
				return err
			}
			if !(humidity >= 0 && humidity <= 1) {
				return fmt.Errorf("--humidity %g is not possible; enter 0 to 1", humidity)
			}
			h, err := readBox(cmd, args[0])
			if err != nil {
				return err
			}
			l, err := layout.Build(&h)
			if err != nil {
				return err
			}
			steps, err := buildplan.Build(&h, &l)
			if err != nil {
				return err
			}
			out := struct {
				Steps []stepRow `json:"steps"`
			}{[]stepRow{}}
			for i := range steps {
				out.Steps = append(out.Steps, stepRowOf(&steps[i], temp, humidity, u))
			}
			return emit(cmd, out)
		},
	}
	quantityVar(c, &temp, "shop", units.Temperature, temp, "temperature of the workspace")
	c.Flags().Float64Var(&humidity, "humidity", humidity, "relative humidity of the workspace, 0 to 1")
	return c
}
