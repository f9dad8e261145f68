package main

import (
	"bytes"
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"gladember/app/formats"
	"gladember/core/measure"
	"gladember/core/solar"
	"gladember/core/units"
)

func logCommand() *cobra.Command {
	var flow, area, lat, lon, elevation, tilt, azimuth, useful float64
	var zone, flowIs string
	var fahrenheit bool
	var order func(*formats.Table)
	c := &cobra.Command{
		Use:   "log FILE.csv",
		Short: "Judge a logger's CSV: heat, its uncertainty, what to check",
		Long: `Reads a CSV with a time, inlet, outlet and, if there, outdoor, sun (on the glass, in {W/m2|the unit of its heading})
and speed column, in any common dialect (- is standard input), and prints JSON: samples, gaps (counts), heat_kwh,
heat_band_kwh (95 %), useful_hours (outlet above --useful-above while air runs), peak_outlet_c, days[], findings[], refused
(true where the heat exceeds what the sun gave: the figure then says what the readings claim, not what the box gave),
gap_list, rejected lines.
With --lat, --lon, --tilt and --azimuth it is judged against the sun of a clear sky. A column headed with F is read in Fahrenheit.`,
		Example: "  gladember log february.csv {--flow 0.03 --area 1.4 --elevation 900|--units in --flow 240 --area 15 --elevation 2950} " +
			"--lat 46.2 --lon 9.1 --zone Europe/Zurich --tilt 65 --azimuth 180",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			given := cmd.Flags().Changed
			if err := inRange(cmd, ranged{"flow", flow, 1e-5, 10, units.MassFlow, ""}, ranged{"area", area, 0.01, 1000, units.Area, ""},
				ranged{"lat", lat, -90, 90, units.Angle, ""}, ranged{"lon", lon, -180, 180, units.Angle, ""},
				ranged{"elevation", elevation, -430, 6000, units.Distance, ""}, ranged{"tilt", tilt, 0, 90, units.Angle, ""},
				ranged{"azimuth", azimuth, -360, 360, units.Angle, ""},
				ranged{"useful-above", useful, -50, 200, units.Temperature, ""}); err != nil {
				return err
			}
			z, err := time.LoadLocation(zone)
			if err != nil || zone == "" || zone == "Local" {
				return fmt.Errorf("--zone %q is not a time zone; enter it like Europe/Zurich or UTC", zone)
			}
			if given("lat") != given("lon") {
				return fmt.Errorf("--lat and --lon go together; give both or neither")
			}
			origin := measure.FlowOrigin(flowIs)
			switch origin {
			case measure.FlowGiven, measure.FlowPredicted, measure.FlowFreeAir:
			default:
				return fmt.Errorf("--flow-is %q is unknown; say given, predicted or free-air", flowIs)
			}
			set := measure.Setup{Flow: flow, FlowOrigin: origin, Area: area, UsefulAbove: useful, Zone: z,
				Pressure: solar.Pressure(elevation)}
			if given("lat") {
				set.Site = &measure.Placement{Site: solar.Site{Latitude: lat, Longitude: lon, Elevation: elevation, Zone: z}, Tilt: tilt,
					Facing: azimuth}
			}
			samples, bad, err := readings(cmd, args[0], z, func(t *formats.Table) {
				order(t)
				for i := range t.Guess.Fahrenheit {
					t.Guess.Fahrenheit[i] = t.Guess.Fahrenheit[i] || fahrenheit
				}
			})
			if err != nil {
				return err
			}
			r, err := measure.Analyze(samples, set)
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			return emit(cmd, judged(&r, bad))
		},
	}
	f := c.Flags()
	quantityVar(c, &flow, "flow", units.MassFlow, 0, "air out of the box while the fan runs")
	f.StringVar(&flowIs, "flow-is", "given", "where the flow comes from: given, predicted or free-air (the fan's label)")
	quantityVar(c, &area, "area", units.Area, 0, "clear opening of the glass")
	f.Float64Var(&lat, "lat", 0, "latitude, degrees, north positive")
	f.Float64Var(&lon, "lon", 0, "longitude, degrees, east positive")
	quantityVar(c, &elevation, "elevation", units.Distance, 0, "height above sea")
	f.StringVar(&zone, "zone", "UTC", "clock of the times without an offset")
	f.Float64Var(&tilt, "tilt", 90, "tilt of the glass, degrees")
	f.Float64Var(&azimuth, "azimuth", 180, "azimuth the glass faces, degrees")
	quantityVar(c, &useful, "useful-above", units.Temperature, 30, "outlet temperature from which an hour counts as useful")
	f.BoolVar(&fahrenheit, "fahrenheit", false, "read all temperatures in Fahrenheit")
	order = dateFlags(c)
	for _, n := range []string{"flow", "area"} {
		_ = c.MarkFlagRequired(n)
	}
	return c
}

// dateFlags adds the flags that say how dates are written, and returns what applies them to a table.
func dateFlags(c *cobra.Command) func(*formats.Table) {
	var monthFirst, dayFirst bool
	c.Flags().BoolVar(&monthFirst, "month-first", false, "read 2/3/2026 as 3 February")
	c.Flags().BoolVar(&dayFirst, "day-first", false, "read 2/3/2026 as 2 March")
	c.MarkFlagsMutuallyExclusive("month-first", "day-first")
	return func(t *formats.Table) {
		if monthFirst || dayFirst {
			t.Guess.MonthFirst, t.DateOpen = monthFirst, false
		}
	}
}

// readings reads a logger's file, its columns guessed and then adjusted.
// Dates that can be read both ways are not guessed.
func readings(cmd *cobra.Command, file string, z *time.Location, adjust func(*formats.Table)) (samples []measure.Sample,
	bad []formats.Reject, err error) {
	b, err := open(cmd, file, formats.MaxLog)
	if err != nil {
		return nil, nil, err
	}
	t, err := formats.Open(bytes.NewReader(b))
	if err != nil {
		return nil, nil, fmt.Errorf("%s: %w", file, err)
	}
	defer t.Close()
	adjust(t)
	if t.DateOpen {
		return nil, nil, fmt.Errorf("%s: a date such as %q can be read both ways; say --day-first or --month-first", file,
			t.Rows[0][t.Guess.Index(formats.Time)])
	}
	if samples, bad, err = t.Read(t.Guess, z, units.System{}); err != nil {
		return nil, nil, fmt.Errorf("%s: %w", file, err)
	}
	return samples, bad, nil
}

type loggedDay struct {
	Date       string  `json:"date"`
	Heat       num     `json:"heat_kwh"`
	Band       [2]num  `json:"heat_band_kwh"`
	Sun        num     `json:"sun_kwh"`
	Efficiency num     `json:"efficiency"`
	Useful     num     `json:"useful_hours"`
	Peak       num     `json:"peak_outlet_c"`
	Runs       int     `json:"runs"`
	RunHours   float64 `json:"run_hours"`
	Gaps       int     `json:"gaps"`
	Refused    bool    `json:"refused"`
}

type doubt struct {
	ID       string `json:"id"`
	Title    string `json:"title"`
	Text     string `json:"text"`
	Evidence string `json:"evidence,omitempty"`
	Remedy   string `json:"remedy,omitempty"`
	Doubt    string `json:"doubt"`
}

type rejected struct {
	Line   int    `json:"line"`
	Reason string `json:"reason"`
}

type logged struct {
	Samples   int            `json:"samples"`
	Gaps      int            `json:"gaps"`
	Heat      num            `json:"heat_kwh"`
	Band      [2]num         `json:"heat_band_kwh"`
	Useful    num            `json:"useful_hours"`
	Peak      num            `json:"peak_outlet_c"`
	Refused   bool           `json:"refused"`
	Sun       string         `json:"sun"`
	Interval  float64        `json:"interval_s"`
	Repeated  int            `json:"repeated"`
	Unordered bool           `json:"unordered"`
	Days      []loggedDay    `json:"days"`
	Findings  []doubt        `json:"findings"`
	GapList   [][2]time.Time `json:"gap_list"`
	Rejected  []rejected     `json:"rejected"`
}

// maxRejects bounds the list of unreadable lines that is printed.
const maxRejects = 50

func judged(r *measure.Report, bad []formats.Reject) logged {
	out := logged{Samples: r.Samples, Gaps: len(r.Gaps), Heat: num(r.Heat), Band: pair(r.Band[0], r.Band[1]), Useful: num(r.Useful),
		Peak: num(r.Peak), Refused: r.Refused,
		Sun: r.SunIs, Interval: r.Interval.Seconds(), Repeated: r.Repeated, Unordered: r.Unordered, Days: []loggedDay{},
		Findings: []doubt{}, GapList: [][2]time.Time{}, Rejected: []rejected{}}
	for _, d := range r.Days {
		hours := 0.0
		for _, x := range d.Runs {
			hours += x.To.Sub(x.From).Hours()
		}
		out.Days = append(out.Days, loggedDay{d.Date, num(d.Heat), pair(d.Band[0], d.Band[1]), num(d.Sun), num(d.Efficiency()),
			num(d.Useful), num(d.Peak), len(d.Runs), hours, len(d.Gaps), d.Impossible})
	}
	for _, f := range r.Findings {
		out.Findings = append(out.Findings, doubt{f.ID, f.Title, f.Text, f.Evidence, f.Remedy, f.Doubt})
	}
	for _, g := range r.Gaps {
		out.GapList = append(out.GapList, [2]time.Time{g.From, g.To})
	}
	for i, b := range bad {
		if i < maxRejects {
			out.Rejected = append(out.Rejected, rejected{b.Line, b.Reason})
		}
	}
	return out
}
