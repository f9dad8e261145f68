package main

import (
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"gladember/core/collector"
	"gladember/core/simulate"
	"gladember/core/solar"
)

func dayCommand() *cobra.Command {
	var date, sky string
	c := &cobra.Command{
		Use:   "day HEATER.json",
		Short: "Run a heater through a day, switch and all",
		Long: `Reads a heater (- is standard input), runs it from sunrise to sunset by half minutes and prints JSON: date, sky, samples[{time,
sun_w_m2, ambient_c, inlet_c, outlet_c, sensor_c, absorber_c, stages, heat_w}] (one a minute), cycles (starts of the fan),
run_minutes, longest_run_minutes, heat_kwh, fan_kwh, sun_kwh, outlet_min_c, outlet_max_c (while air moves). The sky is clear, hazy,
broken (clouds pass every twelve minutes) or coldest (clear, 10 K colder).`,
		Example: "  gladember example screen-box | gladember day - --date 2026-02-14 --sky broken",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			h, err := readBox(cmd, args[0])
			if err != nil {
				return err
			}
			s := simulate.Sky(sky)
			if !simulate.Known(s) {
				return fmt.Errorf("no design day is called %q; use clear, hazy, broken or coldest", sky)
			}
			at := collector.WinterNoon(&h, time.Now().Year())
			if date != "" {
				day, err := time.ParseInLocation("2006-01-02", date, collector.Site(&h).Zone)
				if err != nil {
					return fmt.Errorf("--date %q is no date; write it like 2026-02-14", date)
				}
				at = day.Add(12 * time.Hour)
			}
			d, err := simulate.Run(&h, at, simulate.DesignDay(&h, s))
			if err != nil {
				return err
			}
			return emit(cmd, dayOf(&d, at, sky, collector.Site(&h)))
		},
	}
	c.Flags().StringVar(&date, "date", "", "day, like 2026-02-14 (default: the winter noon the heater is judged by)")
	c.Flags().StringVar(&sky, "sky", "clear", "clear, hazy, broken or coldest")
	return c
}

type daySample struct {
	Time     string `json:"time"`
	Sun      num    `json:"sun_w_m2"`
	Ambient  num    `json:"ambient_c"`
	Inlet    num    `json:"inlet_c"`
	Outlet   num    `json:"outlet_c"`
	Sensor   num    `json:"sensor_c"`
	Absorber num    `json:"absorber_c"`
	Stages   int    `json:"stages"`
	Heat     num    `json:"heat_w"`
}

type dayResult struct {
	Date      string      `json:"date"`
	Sky       string      `json:"sky"`
	Cycles    int         `json:"cycles"`
	Run       num         `json:"run_minutes"`
	Longest   num         `json:"longest_run_minutes"`
	Heat      num         `json:"heat_kwh"`
	Fan       num         `json:"fan_kwh"`
	Sun       num         `json:"sun_kwh"`
	OutletMin num         `json:"outlet_min_c"`
	OutletMax num         `json:"outlet_max_c"`
	Samples   []daySample `json:"samples"`
}

func dayOf(d *simulate.Day, at time.Time, sky string, site solar.Site) dayResult {
	out := dayResult{at.In(site.Zone).Format("2006-01-02"), sky, d.Cycles, num(d.RunMinutes), num(d.Longest), num(d.Heat), num(d.Fan), num(d.Sun), num(d.OutletMin), num(d.OutletMax), nil}
	for _, s := range d.Samples {
		out.Samples = append(out.Samples, daySample{s.At.In(site.Zone).Format(time.RFC3339), num(s.Sun), num(s.Ambient), num(s.Inlet), num(s.Outlet), num(s.Sensor), num(s.Absorber), s.Stages, num(s.Heat)})
	}
	return out
}
