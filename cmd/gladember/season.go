package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/simulate"
	"gladember/core/sizing"
	"gladember/core/space"
)

// yearFor is the weather a heater is run through: that of a file, to whose place
// it is moved, else what its own document tells.
func yearFor(cmd *cobra.Command, file string, h *design.Heater) (*climate.Year, error) {
	if file != "" {
		return readWeather(cmd, file, h)
	}
	return climate.Build(h)
}

// telling prints how far long work is, on standard error.
func telling(cmd *cobra.Command, what string) func(done, of int) {
	last := -1
	return func(done, of int) {
		if p := 10 * done / max(1, of); p != last {
			last = p
			fmt.Fprintf(cmd.ErrOrStderr(), "%s: %d of %d\n", what, done, of)
		}
	}
}

type seasonMonth struct {
	Month     int `json:"month"`
	Sun       num `json:"sun_kwh"`
	Need      num `json:"need_kwh"`
	Heat      num `json:"heat_kwh"`
	Useful    num `json:"useful_kwh"`
	Vented    num `json:"vented_kwh"`
	Fan       num `json:"fan_kwh"`
	Run       num `json:"run_h"`
	Warm      num `json:"useful_outlet_h"`
	OutletMax num `json:"outlet_max_c"`
	Cycles    int `json:"cycles"`
	Comfort   num `json:"comfort_h"`
	Bare      num `json:"comfort_without_h"`
	Use       num `json:"use_h"`
	TooHot    num `json:"too_hot_h"`
	Outdoors  num `json:"outdoor_mean_c"`
}

func monthOf(i int, m *season.Month) seasonMonth {
	return seasonMonth{i, num(m.Sun), num(m.Need), num(m.Heat), num(m.Useful), num(m.Vented), num(m.Fan), num(m.Run), num(m.Warm),
		num(m.OutletMax), m.Cycles, num(m.Comfort), num(m.Bare), num(m.Use), num(m.TooHot), num(m.Outdoors)}
}

type seasonBand struct {
	Low    num      `json:"low"`
	High   num      `json:"high"`
	Causes []string `json:"largest"`
}

func bandOf(b collector.Band) seasonBand {
	out := seasonBand{Low: num(b.Low), High: num(b.High), Causes: []string{}}
	for _, c := range b.Largest(3) {
		out.Causes = append(out.Causes, c.Name)
	}
	return out
}

type seasonResult struct {
	Weather    string                `json:"weather"`
	Months     []seasonMonth         `json:"months"`
	Sun        num                   `json:"sun_kwh"`
	Need       num                   `json:"need_kwh"`
	Heat       num                   `json:"heat_kwh"`
	Useful     num                   `json:"useful_kwh"`
	Fraction   num                   `json:"fraction"`
	Fan        num                   `json:"fan_kwh"`
	Run        num                   `json:"run_h"`
	Cycles     int                   `json:"cycles"`
	Stagnation num                   `json:"stagnation_max_c"`
	Jet        num                   `json:"usual_outlet_c"`
	AirChange  num                   `json:"minutes_per_air_change"`
	Loss       num                   `json:"space_loss_w_k"`
	BestWeek   num                   `json:"best_week_kwh"`
	PoorWeek   num                   `json:"poorest_week_kwh"`
	Saved      num                   `json:"saved_money"`
	Units      num                   `json:"fuel_saved"`
	Unit       string                `json:"fuel_unit"`
	Carbon     num                   `json:"carbon_saved_kg"`
	Payback    num                   `json:"payback_years"`
	Discounted num                   `json:"discounted_payback_years"`
	Resale     num                   `json:"payback_with_resale_years"`
	PerKWh     num                   `json:"cost_per_useful_kwh"`
	PV         num                   `json:"pv_same_area_kwh"`
	PVSaved    num                   `json:"pv_same_area_money"`
	Rule       num                   `json:"rule_of_thumb_m2"`
	Outage     seasonOutage          `json:"outage"`
	SetPoints  []seasonPoint         `json:"set_points,omitempty"`
	Bands      map[string]seasonBand `json:"bands"`
}

// seasonOutage is the coldest clear day with the mains gone.
type seasonOutage struct {
	Dusk    num `json:"dusk_c"`
	Without num `json:"dusk_without_c"`
	Battery num `json:"battery_kwh"`
}

type seasonPoint struct {
	Month  int `json:"month"`
	Close  num `json:"close_c"`
	Useful num `json:"useful_kwh"`
	Now    num `json:"as_set_kwh"`
}

func seasonOf(h *design.Heater, r *season.Result) (seasonResult, error) {
	m, err := season.Worth(h, r)
	if err != nil {
		return seasonResult{}, err
	}
	best, poor := r.BestWeek()
	out := seasonResult{Weather: r.Source, Sun: num(r.Year.Sun), Need: num(r.Year.Need), Heat: num(r.Year.Heat),
		Useful: num(r.Year.Useful), Fraction: num(r.Year.Fraction()), Fan: num(r.Year.Fan), Run: num(r.Year.Run), Cycles: r.Year.Cycles,
		Stagnation: num(r.Stagnation), Jet: num(r.Jet), AirChange: num(r.AirChange), Loss: num(r.Space.Loss), BestWeek: num(best),
		PoorWeek: num(poor), Saved: num(m.Saved), Units: num(m.Units), Unit: m.Unit, Carbon: num(m.Carbon),
		Payback: num(m.Simple), Discounted: num(m.Discounted), Resale: num(m.WithResale), PerKWh: num(m.PerKWh), PV: num(m.PV),
		PVSaved: num(m.PVSaved), Rule: num(space.RuleOfThumb(h.Room.Floor)), Bands: map[string]seasonBand{}}
	o, err := season.SimulateOutage(h)
	if err != nil && !errors.Is(err, simulate.ErrSun) {
		return out, err
	}
	out.Outage = seasonOutage{num(o.Dusk), num(o.Without), num(o.Fan)}
	for i := range r.Months {
		out.Months = append(out.Months, monthOf(i+1, &r.Months[i]))
	}
	return out, nil
}

func seasonCommand() *cobra.Command {
	var weather string
	var quick, points bool
	c := &cobra.Command{
		Use:   "season HEATER.json",
		Short: "Compute a heater through a year in the space it heats",
		Long: `Reads a heater (- is standard input), runs it by quarters of an hour through the year that its climate tells (a
table of twelve months, or its town, or the facts and the table that narrow it; without a place it says so) or
that of a weather file, and prints JSON: weather, months[{month, sun_kwh, need_kwh, heat_kwh, useful_kwh,
vented_kwh, fan_kwh, run_h, useful_outlet_h, outlet_max_c, cycles, comfort_h, ...}], the year's sums, fraction,
cycles, stagnation_max_c, saved_money, payback_years (null: never), the same area as PV, outage{dusk_c,
dusk_without_c, battery_kwh} (the coldest clear day with the mains gone), set_points[{month, close_c,
useful_kwh, as_set_kwh}] (with --set-points), and bands{heat_kwh, useful_kwh: {low, high, largest}} of 95 %.`,
		Example: "  gladember example screen-box | gladember season -",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			h, err := readBox(cmd, args[0])
			if err != nil {
				return err
			}
			y, err := yearFor(cmd, weather, &h)
			if err != nil {
				return err
			}
			l := &season.Laid{Year: y}
			r, err := l.Run(&h)
			if err != nil {
				return err
			}
			out, err := seasonOf(&h, r)
			if err != nil {
				return err
			}
			if !quick {
				b, err := season.EstimateBands(cmd.Context(), &h, l.Series(&h), r, telling(cmd, "bands"))
				if err != nil {
					return err
				}
				out.Bands["heat_kwh"], out.Bands["useful_kwh"] = bandOf(b.Heat), bandOf(b.Useful)
			}
			if points {
				ps, err := season.SetPoints(cmd.Context(), h, l, simulate.Points, telling(cmd, "set points"))
				if err != nil {
					return err
				}
				for _, p := range ps {
					out.SetPoints = append(out.SetPoints, seasonPoint{p.Month, num(p.Close), num(p.Useful), num(p.Now)})
				}
			}
			return emit(cmd, out)
		},
	}
	c.Flags().StringVar(&weather, "weather", "", "EPW or TMY3 file: the heater is moved to its place")
	c.Flags().BoolVar(&points, "set-points", false,
		"add the closing point that serves each month best, of a snap disc or set-point controller")
	c.Flags().BoolVar(&quick, "no-bands", false, "leave the bands out; they take a year for each uncertain input")
	return c
}

type sweepVariant struct {
	Value    any    `json:"value"`
	Heat     num    `json:"heat_kwh"`
	Useful   num    `json:"useful_kwh"`
	Fraction num    `json:"fraction"`
	Fan      num    `json:"fan_kwh"`
	Cycles   int    `json:"cycles"`
	Error    string `json:"error,omitempty"`
}

func sweepCommand() *cobra.Command {
	var weather, path, values string
	c := &cobra.Command{
		Use:   "sweep HEATER.json",
		Short: "Compute the year with one field at several values",
		Long: `Reads a heater (- is standard input) and prints JSON: path, variants[{value, heat_kwh, useful_kwh, fraction,
fan_kwh, cycles, error}]. Values are SI, as the document has them, or names from a list; path is a field's path
as in the document. How far it is goes to standard error.`,
		Example: "  gladember example screen-box | gladember sweep - --path " + design.PlaceTilt.Path + " --values 45,60,75,90",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			h, err := readBox(cmd, args[0])
			if err != nil {
				return err
			}
			f := design.FieldAt(path)
			if f == nil {
				return fmt.Errorf("--path %q is no field of a heater; use one that `gladember example` shows, such as %s", path,
					design.PlaceTilt.Path)
			}
			vs, err := valuesOf(f, values)
			if err != nil {
				return err
			}
			y, err := yearFor(cmd, weather, &h)
			if err != nil {
				return err
			}
			variants, err := season.Sweep(cmd.Context(), h, y, path, vs, telling(cmd, "years"))
			if err != nil {
				return err
			}
			out := struct {
				Path     string         `json:"path"`
				Weather  string         `json:"weather"`
				Variants []sweepVariant `json:"variants"`
			}{Path: path, Weather: y.Source}
			for _, v := range variants {
				x := sweepVariant{Value: v.Value}
				if v.Err != nil {
					x.Error = v.Err.Error()
				} else {
					r := &v.Result.Year
					x.Heat, x.Useful, x.Fraction, x.Fan, x.Cycles = num(r.Heat), num(r.Useful), num(r.Fraction()), num(r.Fan), r.Cycles
				}
				out.Variants = append(out.Variants, x)
			}
			return emit(cmd, out)
		},
	}
	c.Flags().StringVar(&weather, "weather", "", "EPW or TMY3 file: the heater is moved to its place")
	c.Flags().StringVar(&path, "path", design.PlaceTilt.Path, "path of the field")
	c.Flags().StringVar(&values, "values", "30,45,60,75,90", "its values, separated by commas")
	return c
}

// mostValues bounds a sweep.
const mostValues = 1000

func valuesOf(f *design.Field, list string) (out []any, err error) {
	for _, s := range strings.Split(list, ",") {
		s = strings.TrimSpace(s)
		switch {
		case f.Choices != nil || f.Text:
			out = append(out, s)
		default:
			v, err := strconv.ParseFloat(s, 64)
			if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
				return nil, fmt.Errorf("--values: %q is no number; write them like 30,45,60", s)
			}
			if f.Whole {
				out = append(out, int(math.Round(v)))
			} else {
				out = append(out, v)
			}
		}
	}
	if len(out) > mostValues {
		return nil, fmt.Errorf("--values: %d are too many; give up to %d", len(out), mostValues)
	}
	return out, nil
}

type sizeCandidate struct {
	Family  string            `json:"family"`
	Choices map[string]string `json:"choices"`
	Net     num               `json:"useful_less_fan_kwh"`
	Useful  num               `json:"useful_kwh"`
	Share   num               `json:"fraction"`
	Area    num               `json:"aperture_m2"`
	Cost    num               `json:"cost"`
	Heater  design.Heater     `json:"heater"`
}

type sizeReason struct {
	Step    string `json:"step"`
	Chosen  string `json:"chosen"`
	Instead string `json:"instead_of"`
	Gain    num    `json:"gain_kwh"`
	Costs   num    `json:"costs_more"`
}

type sizeResult struct {
	Weather  string         `json:"weather"`
	Proposal *sizeCandidate `json:"proposal"`
	Reasons  []sizeReason   `json:"reasons"`
	RunnerUp *sizeCandidate `json:"runner_up"`
	Rule     num            `json:"rule_of_thumb_m2"`
	Years    int            `json:"years_run"`
}

func candidateOf(c *sizing.Candidate) *sizeCandidate {
	if c == nil {
		return nil
	}
	out := &sizeCandidate{Family: string(c.Heater.Absorber.Family), Choices: map[string]string{}, Net: num(c.Net()),
		Useful: num(c.Year.Year.Useful), Share: num(c.Year.Year.Fraction()), Area: num(c.Year.Aperture), Cost: num(c.Cost),
		Heater: c.Heater}
	for _, x := range c.Choices {
		out.Choices[x.Step] = x.Name
	}
	return out
}

func sizeCommand() *cobra.Command {
	var weather, stockFile string
	c := &cobra.Command{
		Use:   "size HEATER.json",
		Short: "Find the best heater for the materials on hand",
		Long: `Reads a heater (- is standard input) for its place, space and climate, and a stock of panes, foams, fans, ducts
and absorbers with prices and a budget (--stock; without it the heater's own pane and usual parts), tries them
through whole years and prints JSON: proposal{family, choices, useful_kwh, cost, heater}, reasons[{step, chosen,
instead_of, gain_kwh, costs_more}], runner_up{}, rule_of_thumb_m2. A stock: {"panes": [{"width_m", "height_m",
"material", "count", "price"}], "foams": [{"material", "thickness_m", "price_m2"}], "fans": [{"model",
"price"}], "absorbers": [{"family", "price_m2"}], "ducts_m": [], "tilts_deg": [], "budget"}.`,
		Example: "  gladember example screen-box | gladember size - --stock stock.json",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			h, err := readBox(cmd, args[0])
			if err != nil {
				return err
			}
			s := sizing.DefaultStock(&h)
			if stockFile != "" {
				if args[0] == "-" && stockFile == "-" {
					return errors.New("heater and stock cannot both be standard input; name a file for one")
				}
				b, err := open(cmd, stockFile, design.MaxDocument)
				if err != nil {
					return err
				}
				s = sizing.Stock{}
				dec := json.NewDecoder(strings.NewReader(string(b)))
				dec.DisallowUnknownFields()
				if err := dec.Decode(&s); err != nil {
					return fmt.Errorf("%s: not a stock in JSON: %v; `gladember size --help` shows one", stockFile, err)
				}
			}
			y, err := yearFor(cmd, weather, &h)
			if err != nil {
				return err
			}
			ctx := cmd.Context()
			if ctx == nil {
				ctx = context.Background()
			}
			a, err := sizing.Best(ctx, h, y, s, telling(cmd, "years"))
			if err != nil {
				return err
			}
			out := sizeResult{Weather: y.Source, Proposal: candidateOf(a.Proposal), RunnerUp: candidateOf(a.RunnerUp), Rule: num(a.Rule),
				Years: a.Years, Reasons: []sizeReason{}}
			for _, r := range a.Reasons {
				out.Reasons = append(out.Reasons, sizeReason{r.Step, r.Chosen, r.Instead, num(r.Gain), num(r.Saves)})
			}
			return emit(cmd, out)
		},
	}
	c.Flags().StringVar(&weather, "weather", "", "EPW or TMY3 file: the heater is moved to its place")
	c.Flags().StringVar(&stockFile, "stock", "", "what is at hand, in JSON")
	return c
}
