package main

import (
	"bytes"
	"errors"
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/simulate"
	"gladember/core/solar"
)

func dayCommand() *cobra.Command {
	var date, sky, weatherFile string
	c := &cobra.Command{
		Use:   "day HEATER.json",
		Short: "Simulate a heater through a day, with its thermostat",
		Long: `Reads a heater (- is standard input), runs it from sunrise to sunset by half minutes and prints JSON: date, sky,
samples[{time, sun_w_m2, ambient_c, inlet_c, outlet_c, sensor_c, absorber_c, stages, heat_w, coat_kg_m2}] (one a minute),
cycles (starts of the fan), run_minutes, longest_run_minutes, heat_kwh, fan_kwh, sun_kwh, outlet_min_c, outlet_max_c (while air
moves). The sky is clear, hazy, broken (clouds pass every twelve minutes), coldest (clear, {10 K|18 °F} colder), frosty or snowy (as
cold, with frost or {50 mm|2 in} of new snow on the cover), or that of a weather file's hours (--weather, EPW or TMY3). In another month
than that of the winter noon the outdoor air is as much warmer as the month's mean at the place is.`,
		Example: "  gladember example screen-box | gladember day - --date 2026-02-14 --sky broken",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			h, err := readBox(cmd, args[0])
			if err != nil {
				return err
			}
			s := simulate.Sky(sky)
			if !simulate.Known(s) {
				return fmt.Errorf("no design day is called %q; use clear, hazy, broken, coldest, frosty or snowy", sky)
			}
			var year *climate.Year
			if weatherFile != "" {
				if cmd.Flags().Changed("sky") {
					return errors.New("--weather brings its own sky; leave --sky out")
				}
				if year, err = readWeather(cmd, weatherFile, &h); err != nil {
					return err
				}
				sky = "of the weather file"
			}
			at := collector.WinterNoon(&h)
			if date != "" {
				day, err := time.ParseInLocation("2006-01-02", date, collector.Site(&h).Zone)
				if err != nil {
					return fmt.Errorf("--date %q is not a date; enter it like 2026-02-14", date)
				}
				at = day.Add(12 * time.Hour)
			}
			w := simulate.DesignDay(&h, s)
			if year != nil {
				w = func(t time.Time) collector.Conditions { return year.Conditions(&h, t) }
			}
			d, err := simulate.Run(&h, at, w)
			if err != nil {
				return err
			}
			return emit(cmd, dayOf(&d, at, sky, collector.Site(&h)))
		},
	}
	c.Flags().StringVar(&date, "date", "", "day, like 2026-02-14 (default: the winter noon the heater is judged by)")
	c.Flags().StringVar(&weatherFile, "weather", "",
		"EPW or TMY3 file: the heater is moved to its place and stands in its weather of that date")
	c.Flags().StringVar(&sky, "sky", "clear", "clear, hazy, broken, coldest, frosty or snowy")
	return c
}

// readWeather reads a weather file and moves a heater to its place.
func readWeather(cmd *cobra.Command, name string, h *design.Heater) (*climate.Year, error) {
	b, err := open(cmd, name, climate.MaxFile)
	if err != nil {
		return nil, err
	}
	y, err := climate.Read(bytes.NewReader(b))
	if err != nil {
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	for _, note := range y.Notes { // what was mended
		fmt.Fprintf(cmd.ErrOrStderr(), "%s: %s\n", name, note)
	}
	was := h.Place.Bearing
	if y.Move(h) {
		fmt.Fprintf(cmd.ErrOrStderr(), "%s lies across the equator: the heater was turned from %.0f to %.0f degrees\n", y.Place, was,
			h.Place.Bearing)
	}
	return y, nil
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
	Coat     num    `json:"coat_kg_m2"`
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
	out := dayResult{at.In(site.Zone).Format("2006-01-02"), sky, d.Cycles, num(d.RunMinutes), num(d.Longest), num(d.Heat), num(d.Fan),
		num(d.Sun), num(d.OutletMin), num(d.OutletMax), nil}
	for _, s := range d.Samples {
		out.Samples = append(out.Samples, daySample{s.At.In(site.Zone).Format(time.RFC3339), num(s.Sun), num(s.Ambient), num(s.Inlet),
			num(s.Outlet), num(s.Sensor), num(s.Absorber), s.Stages, num(s.Heat), num(s.Coat)})
	}
	return out
}
