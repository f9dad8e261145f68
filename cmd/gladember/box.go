package main

import (
	"errors"
	"fmt"
	"math"

	"github.com/spf13/cobra"

	"gladember/core/advice"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/season"
	"gladember/core/solar"
	"gladember/core/units"
)

func exampleCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "example [NAME]",
		Short: "List example boxes, or print one as JSON",
		Long:  "Without a name, prints the names as a JSON array. With one, prints a complete box: the starting point for scripts.",
		Args:  cobra.MaximumNArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if len(args) == 0 {
				return emit(cmd, design.ExampleNames())
			}
			h, err := design.Named(args[0])
			if err != nil {
				return err
			}
			b, err := design.Encode(h)
			if err != nil {
				return err
			}
			_, err = cmd.OutOrStdout().Write(b)
			return err
		},
	}
}

func readBox(cmd *cobra.Command, name string) (design.Heater, error) {
	b, err := open(cmd, name, design.MaxDocument)
	if err != nil {
		return design.Heater{}, err
	}
	h, err := design.Decode(b)
	if err != nil {
		return h, fmt.Errorf("%s: %w", name, err)
	}
	return h, nil
}

type finding struct {
	ID       string         `json:"id"`
	Severity string         `json:"severity"`
	Title    string         `json:"title"`
	Text     string         `json:"text"`
	Evidence string         `json:"evidence"`
	Remedy   string         `json:"remedy"`
	Gain     *float64       `json:"gain_w"`
	When     string         `json:"gain_when,omitempty"`
	Year     *float64       `json:"gain_kwh_a_year,omitempty"`
	Money    *float64       `json:"gain_money_a_year,omitempty"`
	Patch    map[string]any `json:"patch,omitempty"`
	Or       []alternative  `json:"or,omitempty"`
}

// branch is one way through a row of boxes.
type branch struct {
	Box     string `json:"box"`
	Mass    num    `json:"mass_kg_s"`
	Share   num    `json:"share_of_even"`
	Outlet  num    `json:"outlet_c"`
	Orifice num    `json:"orifice_mm"`
}

type alternative struct {
	ID     string         `json:"id"`
	Remedy string         `json:"remedy"`
	Gain   float64        `json:"gain_w"`
	Year   *float64       `json:"gain_kwh_a_year,omitempty"`
	Money  *float64       `json:"gain_money_a_year,omitempty"`
	Patch  map[string]any `json:"patch"`
}

func findings(fs []advice.Finding, u units.System) []finding {
	out := []finding{}
	for _, f := range fs {
		x := finding{ID: f.ID, Severity: f.Severity.String(), Title: f.Title, Text: f.Finding.In(u),
			Evidence: f.Evidence.In(u), Remedy: f.Remedy.In(u), When: f.When}
		if f.HasGain {
			x.Gain = &f.Gain
		}
		if f.HasYear {
			x.Year, x.Money = &f.YearGain, &f.YearMoney
		}
		x.Patch = patchOf(f.Patch)
		for _, a := range f.Or {
			y := alternative{ID: a.ID, Remedy: a.Remedy.In(u), Gain: a.Gain, Patch: patchOf(a.Patch)}
			if a.HasYear {
				y.Year, y.Money = &a.YearGain, &a.YearMoney
			}
			x.Or = append(x.Or, y)
		}
		out = append(out, x)
	}
	return out
}

// weather is the flags by which a box is rated.
type weather struct {
	sun, ambient, inlet, wind, flow, elevation, tilt, incidence, diffuse, sky, windH float64
}

func (w *weather) flags(c *cobra.Command) {
	f := c.Flags()
	quantityVar(c, &w.sun, "sun", units.Irradiance, 0, "sun on the glass")
	quantityVar(c, &w.ambient, "ambient", units.Temperature, 0, "outdoor air")
	quantityVar(c, &w.inlet, "inlet", units.Temperature, 0, "air drawn in")
	quantityVar(c, &w.wind, "wind", units.Gust, 0, "wind at the glass (default: the box's)")
	quantityVar(c, &w.flow, "flow", units.MassFlow, 0, "air out of the box (default: the fan's operating point, or what warmth draws)")
	quantityVar(c, &w.elevation, "elevation", units.Distance, 0, "height above sea (default: the box's)")
	f.Float64Var(&w.tilt, "tilt", 0, "tilt, degrees (default: the box's)")
	f.Float64Var(&w.incidence, "incidence", 0, "incidence of the beam, degrees")
	f.Float64Var(&w.diffuse, "diffuse", 0.15, "share of the sun that comes from the whole sky")
	quantityVar(c, &w.sky, "sky", units.Temperature, 0, "radiant sky temperature (default: Swinbank's of the ambient)")
	quantityVar(c, &w.windH, "wind-h", units.Coefficient, 0, "coefficient on the cover, instead of the wind's")
}

// conditions checks the flags and fills in what the box says.
func (w *weather) conditions(cmd *cobra.Command, h *design.Heater) (collector.Conditions, error) {
	given := cmd.Flags().Changed
	if !given("elevation") {
		w.elevation = h.Place.Elevation
	}
	if !given("tilt") {
		w.tilt = h.Place.Tilt
	}
	if !given("wind") {
		w.wind = h.Place.Wind
	}
	checks := []ranged{{"sun", w.sun, 0, 1500, units.Irradiance, ""}, {"ambient", w.ambient, -60, 60, units.Temperature, ""},
		{"inlet", w.inlet, -60, 80, units.Temperature, ""}, {"wind", w.wind, 0, 30, units.Gust, ""},
		{"elevation", w.elevation, -430, 6000, units.Distance, ""}, {"tilt", w.tilt, 0, 90, units.Angle, ""},
		{"incidence", w.incidence, 0, 89.9, units.Angle, ""}, {"diffuse", w.diffuse, 0, 1, 0, "as a share"}}
	if given("flow") {
		checks = append(checks, ranged{"flow", w.flow, 1e-5, 10, units.MassFlow, ""})
	}
	if given("sky") {
		checks = append(checks, ranged{"sky", w.sky, -100, 60, units.Temperature, ""})
	}
	if given("wind-h") {
		checks = append(checks, ranged{"wind-h", w.windH, 0.1, 500, units.Coefficient, ""})
	}
	if err := inRange(cmd, checks...); err != nil {
		return collector.Conditions{}, err
	}
	if !given("sky") {
		w.sky = solar.Swinbank(w.ambient)
	}
	return collector.Conditions{Sun: solar.OnPlane{Beam: w.sun * (1 - w.diffuse), Sky: w.sun * w.diffuse, Incidence: w.incidence},
		Tilt: w.tilt, Ambient: w.ambient, Inlet: w.inlet, Room: h.Room.Air,
		Sky: w.sky, Wind: w.wind, WindH: w.windH, Pressure: solar.Pressure(w.elevation), Flow: w.flow}, nil
}

func rateCommand() *cobra.Command {
	var w weather
	c := &cobra.Command{
		Use:   "rate BOX.json",
		Short: "Compute a box at given sun, weather and air",
		Long: `Reads a box (see "gladember example"; - is standard input) and prints JSON. --sun is on the glass.
mass_flow_kg_s, volume_flow_m3_s (of air at the inlet), outlet_c, heat_w (to the air), heat_to_room_w (heat_w
less duct_loss_w, less make_up_air_w for outdoor air that replaces in the room what leaks, less airing_w for an
intake outdoors), efficiency (of heat_w, on the aperture), efficiency_gross (on the whole box, ISO 9806:2017),
aperture_m2, gross_m2, absorber_mean_c, absorber_max_c, cover_c (outer), pressure_drop_pa, fan_w, stagnation_c
(absorber's hottest spot at the same sun and weather with no air passing), energy {sun_w, reflected_w, front_w,
back_w, edge_w, leak_w, air_w, room_w} (the parts sum to the sun; room_w is what an indoor panel's back gives,
and heat_w of such a panel is net of bare_window_w), lift_pa (of warmth), fan_speed, evenness (least over mean
flow of tubes or of the crossing of screens), branches of a row of boxes {box, mass_kg_s, share_of_even,
outlet_c, orifice_mm}, line {fr_tau_alpha, fr_ul_w_m2k, curvature_w_m2k2, angle_modifier[0, 10 .. 80 degrees]}
by the inlet temperature, layers, bands (95 %, the sun taken as given; flow too where --flow gives it) with
their causes, peaks (materials on the worst noon of the year with the fan off: most likely, one-sided upper 95
%, service limit), findings.`,
		Example: "  gladember example screen-box > box.json\n  gladember rate box.json " +
			"{--sun 900 --ambient 0 --inlet 18 --wind 3|--units in --sun 285 --ambient 32 --inlet 64 --wind 7}",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			h, err := readBox(cmd, args[0])
			if err != nil {
				return err
			}
			cond, err := w.conditions(cmd, &h)
			if err != nil {
				return err
			}
			e, err := collector.Evaluate(&h, cond, false)
			if err != nil {
				return err
			}
			return emit(cmd, rated(&e, systemOf(cmd)))
		},
	}
	w.flags(c)
	for _, n := range []string{"sun", "ambient", "inlet"} {
		_ = c.MarkFlagRequired(n)
	}
	return c
}

func adviseCommand() *cobra.Command {
	var w weather
	throughYear := false
	c := &cobra.Command{
		Use:   "advise BOX.json",
		Short: "Judge a box: problems, losses, common claims and debates",
		Long: `Reads a box (- is standard input) and prints JSON: findings[{id, severity, text, evidence, remedy, gain_w,
gain_when, patch}], worst first, beliefs[{id, claim, verdict, text, figures}] and choices[{id, question,
sides[{name, heat_w, outlet_c, stagnation_c, tie, brings_danger_or_fault, patch}]}]. Gains are computed with the
heat balance with the patch applied. With --year each remedy and each side is run through the year of the box's
climate as well: gain_kwh_a_year, gain_money_a_year, useful_less_fan_kwh, saved_money, year_tie. It is judged at
the clear winter noon of the box's own place, or at --sun, --ambient and --inlet, which go together. A patch
holds field paths and values as the box's JSON names them.`,
		Example: "  gladember example can-columns | gladember advise -",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			h, err := readBox(cmd, args[0])
			if err != nil {
				return err
			}
			cond, forecast := collector.ConditionsAt(&h, collector.WinterNoon(&h)), true
			given := cmd.Flags().Changed
			if given("sun") || given("ambient") || given("inlet") {
				if !given("sun") || !given("ambient") || !given("inlet") {
					return errors.New("--sun, --ambient and --inlet go together; give all three, or none for the box's own winter noon")
				}
				if cond, err = w.conditions(cmd, &h); err != nil {
					return err
				}
				forecast = false
			}
			e, err := collector.Evaluate(&h, cond, forecast)
			if err != nil {
				return err
			}
			if !throughYear {
				return emit(cmd, advise(&e, advice.Evaluate(&e), advice.Choices(&e), systemOf(cmd)))
			}
			y, err := climate.Build(&h)
			if err != nil {
				return err
			}
			laid := &season.Laid{Year: y}
			r, err := laid.Run(&h)
			if err != nil {
				return err
			}
			fs, err := advice.EvaluateYear(cmd.Context(), &h, laid, r)
			if err != nil {
				return err
			}
			cs, err := advice.YearChoices(cmd.Context(), &e, laid)
			if err != nil {
				return err
			}
			return emit(cmd, advise(&e, fs, cs, systemOf(cmd)))
		},
	}
	w.flags(c)
	c.Flags().BoolVar(&throughYear, "year", false, "run each remedy and each side through the year as well")
	for _, n := range []string{"sun", "ambient", "inlet"} {
		c.MarkFlagsMutuallyExclusive("year", n)
	}
	return c
}

type belief struct {
	ID      string `json:"id"`
	Claim   string `json:"claim"`
	Verdict string `json:"verdict"`
	Text    string `json:"text"`
	Figures []num  `json:"figures"`
}

type choiceSide struct {
	Name       string         `json:"name"`
	Heat       num            `json:"heat_w"`
	Outlet     num            `json:"outlet_c"`
	Stagnation num            `json:"stagnation_c"`
	Tie        bool           `json:"tie"`
	Harms      bool           `json:"brings_danger_or_fault"`
	Useful     *num           `json:"useful_less_fan_kwh,omitempty"`
	Saved      *num           `json:"saved_money,omitempty"`
	YearTie    *bool          `json:"year_tie,omitempty"`
	Patch      map[string]any `json:"patch"`
}

type choice struct {
	ID       string       `json:"id"`
	Question string       `json:"question"`
	Sides    []choiceSide `json:"sides"`
}

type advised struct {
	Findings []finding `json:"findings"`
	Beliefs  []belief  `json:"beliefs"`
	Choices  []choice  `json:"choices"`
}

func patchOf(cs []design.Change) map[string]any {
	if cs == nil {
		return nil
	}
	m := map[string]any{}
	for _, c := range cs {
		m[c.Path] = c.Value
	}
	return m
}

func advise(e *collector.Evaluation, fs []advice.Finding, cs []advice.Choice, u units.System) advised {
	out := advised{Findings: findings(fs, u), Beliefs: []belief{}, Choices: []choice{}}
	for _, v := range advice.Beliefs(e) {
		b := belief{v.ID, v.Claim, v.Holds, v.Says.In(u), []num{}}
		for _, f := range v.Figures {
			b.Figures = append(b.Figures, num(f.SI))
		}
		out.Beliefs = append(out.Beliefs, b)
	}
	for _, c := range cs {
		x := choice{c.ID, c.Question, nil}
		for _, s := range c.Sides {
			side := choiceSide{Name: units.Localize(s.Name, u),
				Heat: num(s.Heat), Outlet: num(s.Out), Stagnation: num(s.Hot), Tie: s.Tie, Harms: s.Harms,
				Patch: patchOf(s.Patch)}
			if s.HasYear {
				useful, saved, tie := num(s.Useful), num(s.Money), s.YearTie
				side.Useful, side.Saved, side.YearTie = &useful, &saved, &tie
			}
			x.Sides = append(x.Sides, side)
		}
		out.Choices = append(out.Choices, x)
	}
	return out
}

type rating struct {
	Mass            num           `json:"mass_flow_kg_s"`
	Volume          num           `json:"volume_flow_m3_s"`
	Outlet          num           `json:"outlet_c"`
	Heat            num           `json:"heat_w"`
	Efficiency      num           `json:"efficiency"`
	ToRoom          num           `json:"heat_to_room_w"`
	DuctLoss        num           `json:"duct_loss_w"`
	MakeUp          num           `json:"make_up_air_w"`
	Airing          num           `json:"airing_w"`
	EfficiencyGross num           `json:"efficiency_gross"`
	Aperture        num           `json:"aperture_m2"`
	Gross           num           `json:"gross_m2"`
	AbsorberMean    num           `json:"absorber_mean_c"`
	AbsorberMax     num           `json:"absorber_max_c"`
	Cover           num           `json:"cover_c"`
	PressureDrop    num           `json:"pressure_drop_pa"`
	Fan             num           `json:"fan_w"`
	Leak            num           `json:"leak_kg_s"`
	Lift            num           `json:"lift_pa"`
	FanSpeed        num           `json:"fan_speed"`
	Evenness        *num          `json:"evenness"`
	Branches        []branch      `json:"branches,omitempty"`
	Bare            num           `json:"bare_window_w"`
	Stagnation      num           `json:"stagnation_c"`
	Energy          energy        `json:"energy"`
	Layers          []layerRating `json:"layers"`
	Line            *line         `json:"line"`
	Bands           bands         `json:"bands"`
	Peaks           []peak        `json:"peaks"`
	Findings        []finding     `json:"findings"`
}

type energy struct {
	Sun       num `json:"sun_w"`
	Reflected num `json:"reflected_w"`
	Front     num `json:"front_w"`
	Back      num `json:"back_w"`
	Edge      num `json:"edge_w"`
	Leak      num `json:"leak_w"`
	Air       num `json:"air_w"`
	Room      num `json:"room_w"`
}

type layerRating struct {
	Name string `json:"name"`
	Mean num    `json:"mean_c"`
	Max  num    `json:"max_c"`
}

type line struct {
	Optical num   `json:"fr_tau_alpha"`
	Loss    num   `json:"fr_ul_w_m2k"`
	Bend    num   `json:"curvature_w_m2k2"`
	Angle   []num `json:"angle_modifier"` // by 10 degrees from 0
}

// lineOf is the box's rating line at the flow and weather it was rated at; nil
// where no air moves or it hangs behind a window.
func lineOf(e *collector.Evaluation) *line {
	d, err := collector.Describe(&e.Heater)
	if err != nil || e.Heater.Indoors() || e.Running.Energy.Sun <= 0 {
		return nil
	}
	l, err := d.RatingLine(&e.Running)
	if err != nil {
		return nil
	}
	out := &line{Optical: num(l.Optical), Loss: num(l.Loss), Bend: num(l.Bend)}
	for _, k := range l.Angle {
		out.Angle = append(out.Angle, num(k))
	}
	return out
}

type bands struct {
	Outlet     [2]num  `json:"outlet_c"`
	Heat       [2]num  `json:"heat_to_room_w"`
	Efficiency [2]num  `json:"efficiency"`
	Stagnation [2]num  `json:"stagnation_c"`
	Causes     []cause `json:"causes"`
}

type cause struct {
	Figure string `json:"figure"`
	Name   string `json:"name"`
	Effect num    `json:"effect_1_sigma"`
}

type peak struct {
	Name     string `json:"name"`
	Material string `json:"material"`
	Likely   num    `json:"likely_c"`
	Upper    num    `json:"upper_c"`
	Service  num    `json:"service_c"`
}

func rated(e *collector.Evaluation, u units.System) rating {
	r := &e.Running
	out := rating{num(r.Mass), num(r.Volume), num(r.Outlet), num(r.Heat), num(r.Efficiency), num(r.Warms()), num(r.DuctLoss),
		num(r.MakeUp), num(r.Airing), num(r.EfficiencyGross), num(r.Aperture), num(r.Gross), num(r.AbsorberMean), num(r.AbsorberMax),
		num(r.CoverOuter), num(r.PressureDrop), num(r.FanPower), num(r.Leak), num(r.Lift), num(r.FanSpeed), nil, nil, num(r.Bare),
		num(e.Still.AbsorberMax),
		energy{num(r.Energy.Sun), num(r.Energy.Reflected), num(r.Energy.Front), num(r.Energy.Back), num(r.Energy.Edge),
			num(r.Energy.Leak), num(r.Energy.Air), num(r.Energy.Room)}, nil, lineOf(e),
		bands{pair(e.Outlet.Low, e.Outlet.High), pair(e.Heat.Low, e.Heat.High), pair(e.Efficiency.Low, e.Efficiency.High),
			pair(e.Stagnation.Low, e.Stagnation.High), []cause{}}, []peak{}, findings(advice.Evaluate(e), u)}
	if r.Evenness > 0 {
		v := num(r.Evenness)
		out.Evenness = &v
	}
	for _, b := range r.Branches {
		out.Branches = append(out.Branches, branch{string(rune('A' + b.Kind)), num(b.Mass), num(b.Share), num(b.Outlet),
			num(1000 * b.Orifice)})
	}
	for _, l := range r.Layers {
		out.Layers = append(out.Layers, layerRating{l.Name, num(l.Mean), num(l.Max)})
	}
	for _, b := range []struct {
		figure string
		band   collector.Band
	}{{"heat_w", e.Heat}, {"outlet_c", e.Outlet}, {"efficiency", e.Efficiency}, {"stagnation_c", e.Stagnation}} {
		for _, c := range b.band.Largest(3) {
			out.Bands.Causes = append(out.Bands.Causes, cause{b.figure, c.Name, num(math.Abs(c.Effect))})
		}
	}
	for _, p := range e.Peaks {
		out.Peaks = append(out.Peaks, peak{p.Name, p.Material, num(p.Max), num(p.Upper), num(p.Service)})
	}
	return out
}

// partBore is a hole in a part, from its own left and bottom edges.
type partBore struct {
	Part string `json:"part"`
	Name string `json:"name"`
	Bore num    `json:"bore_mm"`
	X    num    `json:"x_mm"`
	Y    num    `json:"y_mm"`
}

// partRow is a part of the list.
type partRow struct {
	Letter    string     `json:"letter"`
	Name      string     `json:"name"`
	Material  string     `json:"material"`
	Form      string     `json:"form"`
	Count     int        `json:"count"`
	Length    num        `json:"length_mm"`
	Width     num        `json:"width_mm"`
	Thickness num        `json:"thickness_mm"`
	Mass      num        `json:"mass_kg"`
	Joint     string     `json:"joint,omitempty"`
	X         *num       `json:"x_mm,omitempty"`
	Y         *num       `json:"y_mm,omitempty"`
	Z         *num       `json:"z_mm,omitempty"`
	Holes     []partBore `json:"holes,omitempty"`
	Note      string     `json:"note,omitempty"`
}

// holeRow is a hole of the box, or of a header board.
type holeRow struct {
	Name     string   `json:"name"`
	X        num      `json:"from_left_mm"`
	Y        num      `json:"from_bottom_mm"`
	Diameter num      `json:"diameter_mm"`
	Face     string   `json:"face,omitempty"`
	Z        *num     `json:"from_front_mm,omitempty"`
	Through  []string `json:"through"`
}

// rowOfHole is a hole as the list has it.
func rowOfHole(x layout.Hole) holeRow {
	row := holeRow{Name: x.Name, X: hundredths(x.X), Y: hundredths(x.Y), Diameter: hundredths(x.Diameter), Face: string(x.Face),
		Through: x.Through}
	if x.Face != layout.ThroughBack {
		z := hundredths(x.Z)
		row.Z = &z
	}
	return row
}

// hundredths rounds a length in m to hundredths of a millimeter.
func hundredths(v float64) num { return num(math.Round(v*1e5) / 100) }

// rowOf is a part as the list has it.
func rowOf(p *layout.Part, u units.System) partRow {
	x := partRow{
		Letter: p.Letter, Name: p.Name, Material: p.Material, Form: string(p.Form), Count: p.Count, Length: hundredths(p.Length),
		Width: hundredths(p.Width), Thickness: hundredths(p.Thickness), Mass: num(p.Mass), Joint: p.Joint,
		Note: layout.Words(p.Note, u),
	}
	if len(p.Places) > 0 {
		at := [3]num{hundredths(p.Places[0].X), hundredths(p.Places[0].Y), hundredths(p.Places[0].Z)}
		x.X, x.Y, x.Z = &at[0], &at[1], &at[2]
	}
	for _, b := range p.Bores {
		x.Holes = append(x.Holes, partBore{p.Letter, b.Name, hundredths(b.Diameter), hundredths(b.X), hundredths(b.Y)})
	}
	return x
}

func partsCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "parts BOX.json",
		Short: "List the parts of a box with their sizes",
		Long: "Reads a box (- is standard input) and prints JSON: parts[{letter, name, material, form, count, length_mm, width_mm, " +
			"thickness_mm, mass_kg, joint, x_mm, y_mm, z_mm, holes[{part, name, bore_mm, x_mm, y_mm}]}] of all boxes; x, y and z are " +
			"the corner of the first piece of a part from the box's left, bottom and front; holes are measured from the part's own " +
			"left and bottom edges; boxes, holes with their centers from the left and bottom outer edges (of those through a side, the " +
			"bottom or the top also face and from_front_mm, from the front edge of the boards), header_holes from a header board's " +
			"left end and front edge, mass_kg of one box.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			h, err := readBox(cmd, args[0])
			if err != nil {
				return err
			}
			l, err := layout.Build(&h)
			if err != nil {
				return err
			}
			out := struct {
				Parts  []partRow `json:"parts"`
				Holes  []holeRow `json:"holes"`
				Header []holeRow `json:"header_holes,omitempty"`
				Notes  []string  `json:"notes,omitempty"`
				Mass   num       `json:"mass_kg"`
				Boxes  int       `json:"boxes"`
			}{Notes: l.Notes, Mass: num(l.Mass()), Boxes: l.Boxes}
			for _, p := range l.Cut() {
				out.Parts = append(out.Parts, rowOf(&p, systemOf(cmd)))
			}
			for _, x := range l.Holes {
				out.Holes = append(out.Holes, rowOfHole(x))
			}
			for _, x := range l.HeaderHoles {
				out.Header = append(out.Header, rowOfHole(x))
			}
			return emit(cmd, out)
		},
	}
}
