package main

import (
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"gladember/core/solar"
	"gladember/core/units"
)

func sunCommand() *cobra.Command {
	var lat, lon, elevation, pressure, temperature, tilt, azimuth float64
	var at string
	c := &cobra.Command{
		Use:   "sun",
		Short: "Position of the sun at a place and time",
		Long: `Prints JSON: zenith_deg (refracted), azimuth_deg (from north, clockwise), incidence_deg (on the plane
of --tilt and --azimuth; without them, a plane lying flat), declination_deg, equation_of_time_min (sundial less
clock), solar_time (HH:MM:SS), sunrise and sunset of that local day in the offset of --time (null in polar day
or night, which "polar" names).`,
		Example: "  gladember sun --lat 39.742476 --lon -105.1786 --time 2003-10-17T12:30:30-07:00 --pressure 820 " +
			"{--elevation 1830.14 --temperature 11|--units in --elevation 6004 --temperature 52}",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if err := inRange(cmd, ranged{"lat", lat, -90, 90, 0, "degrees, north positive"}, ranged{"lon", lon, -180, 180,
				0, "degrees, east positive"}, ranged{"elevation", elevation, -500, 9000, units.Distance, ""},
				ranged{"temperature", temperature, -90, 60, units.Temperature, ""}, ranged{"tilt", tilt, 0, 180, units.Angle, ""},
				ranged{"azimuth", azimuth, -360, 360, units.Angle, ""}); err != nil {
				return err
			}
			t, err := time.Parse(time.RFC3339, at)
			if err != nil {
				return fmt.Errorf("--time %q is not a time with an offset; enter it like 2003-10-17T12:30:30-07:00", at)
			}
			if y := t.Year(); y < 1950 || y > 2050 {
				return fmt.Errorf("--time is in %d; the sun is computed for 1950 to 2050", y)
			}
			if !cmd.Flags().Changed("pressure") {
				pressure = solar.Pressure(elevation) / 100
			}
			if err := inRange(cmd, ranged{"pressure", pressure, 0, 1100, 0, "hPa"}); err != nil {
				return err
			}
			s := solar.Site{Latitude: lat, Longitude: lon, Elevation: elevation, Zone: t.Location()}
			p := solar.Position(t, s, pressure, temperature)
			day, err := solar.NewDay(t, s)
			if err != nil {
				return err
			}
			clock := func(x time.Time) any {
				if x.IsZero() {
					return nil
				}
				return x.Format(time.RFC3339)
			}
			hours := solar.SolarTime(t, s)
			st := time.Duration(hours * float64(time.Hour)).Round(time.Second)
			return emit(cmd, struct {
				Zenith      num     `json:"zenith_deg"`
				Azimuth     num     `json:"azimuth_deg"`
				Incidence   num     `json:"incidence_deg"`
				Declination num     `json:"declination_deg"`
				Equation    num     `json:"equation_of_time_min"`
				SolarTime   string  `json:"solar_time"`
				Sunrise     any     `json:"sunrise"`
				Sunset      any     `json:"sunset"`
				Noon        any     `json:"solar_noon"`
				DayHours    float64 `json:"day_hours"`
				Polar       string  `json:"polar,omitempty"`
			}{num(p.Zenith), num(p.Azimuth), num(solar.Incidence(p.Zenith, p.Azimuth, tilt, azimuth)), num(p.Declination),
				num(p.EquationOfTime),
				fmt.Sprintf("%02d:%02d:%02d", int(st.Hours())%24, int(st.Minutes())%60, int(st.Seconds())%60), clock(day.Rise),
				clock(day.Set), clock(day.Noon), day.Length.Hours(), day.Polar})
		},
	}
	f := c.Flags()
	f.Float64Var(&lat, "lat", 0, "latitude, degrees, north positive")
	f.Float64Var(&lon, "lon", 0, "longitude, degrees, east positive")
	quantityVar(c, &elevation, "elevation", units.Distance, 0, "height above sea")
	f.StringVar(&at, "time", "", "instant with its offset, RFC 3339")
	f.Float64Var(&pressure, "pressure", 0, "air pressure for refraction, {hPa|mbar} (default: of the elevation; 0 leaves refraction out)")
	quantityVar(c, &temperature, "temperature", units.Temperature, 10, "air temperature for refraction")
	f.Float64Var(&tilt, "tilt", 0, "tilt of a plane, degrees")
	f.Float64Var(&azimuth, "azimuth", 180, "azimuth the plane faces, degrees")
	for _, n := range []string{"lat", "lon", "time"} {
		_ = c.MarkFlagRequired(n)
	}
	return c
}
