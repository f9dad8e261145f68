package main

import (
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"gladember/app/formats"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/measure"
	"gladember/core/units"
)

// fitParameter is a fitted unknown as scripts read it.
type fitParameter struct {
	Name   string `json:"name"`
	Unit   string `json:"unit"`
	Design num    `json:"design"`
	Value  num    `json:"value"`
	Low    num    `json:"low"`
	High   num    `json:"high"`
}

// fitted is what a log says of a box.
type fitted struct {
	Parameters   []fitParameter `json:"parameters"`
	Correlations [][]num        `json:"correlations"`
	RMS          num            `json:"rms_k"`
	Unexplained  num            `json:"unexplained_w"`
	Next         *string        `json:"next_test"`
	Windows      int            `json:"windows"`
	Findings     []doubt        `json:"findings"`
}

func fitCommand() *cobra.Command {
	var zone string
	var order func(*formats.Table)
	c := &cobra.Command{
		Use:   "fit BOX.json LOG.csv",
		Short: "Fit airflow, leaks, bypass and absorbed sun of a box to its log",
		Long: `Fits what is uncertain about a box to the steady running in its log and prints JSON: parameters[{name, unit, design,
value, low, high}] (flow_m3_s and leak_m3_s as room air, bypass, tau_alpha as absorbed sun over computed; 95 % intervals),
correlations[] in the order of the parameters, rms_k and unexplained_w that remain, next_test (the test that would narrow
the intervals most, null for none), windows (stretches of 15 min used) and findings[]. What tests measured before is read
from the box and enters with its uncertainty. Times without an offset are those of the box's own zone, or of --zone.`,
		Example: "  gladember fit box.json february.csv",
		Args:    cobra.ExactArgs(2),
		RunE: func(cmd *cobra.Command, args []string) error {
			h, err := readBox(cmd, args[0])
			if err != nil {
				return err
			}
			z := collector.Site(&h).Zone
			if cmd.Flags().Changed("zone") {
				if z, err = time.LoadLocation(zone); err != nil || zone == "" || zone == "Local" {
					return fmt.Errorf("--zone %q is not a time zone; enter it like Europe/Zurich or UTC", zone)
				}
			}
			samples, _, err := readings(cmd, args[1], z, func(t *formats.Table) {
				var around formats.Context
				if means, ok := climate.MonthMeans(&h); ok {
					around.Mean = func(m time.Month) float64 { return means[m-1] }
				}
				order(t)
				t.Settle(around)
			})
			if err != nil {
				return err
			}
			noon, err := collector.Rate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)))
			if err != nil {
				return err
			}
			set := measure.NewSetup(&h, &noon)
			set.Units = units.System{}
			f, err := measure.Calibrate(cmd.Context(), &h, measure.NewMending(&h).Apply(samples), set, nil)
			if err != nil {
				return fmt.Errorf("%s: %w", args[1], err)
			}
			return emit(cmd, fittedOf(f))
		},
	}
	order = dateFlags(c)
	c.Flags().StringVar(&zone, "zone", "", "clock of the times without an offset, in place of the box's")
	return c
}

// fittedOf writes a fit.
func fittedOf(f *measure.Fit) fitted {
	out := fitted{RMS: num(f.RMS), Unexplained: num(f.Unexplained), Windows: f.Windows, Findings: []doubt{}}
	for _, p := range f.Parameters {
		out.Parameters = append(out.Parameters, fitParameter{p.Name, p.Unit, num(p.Design), num(p.Value), num(p.Low), num(p.High)})
	}
	for _, row := range f.Correlations {
		var r []num
		for _, v := range row {
			r = append(r, num(v))
		}
		out.Correlations = append(out.Correlations, r)
	}
	if f.Next != "" {
		out.Next = &f.Next
	}
	for _, x := range f.Findings {
		out.Findings = append(out.Findings, doubt{x.ID, x.Title, x.Text, x.Evidence, x.Remedy, x.Doubt})
	}
	return out
}
