// Package air is the station of the air: its path, the fan, the row of boxes, and what would change the flow.
package air

import (
	"embed"
	"fmt"
	"html/template"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
	"gladember/core/wiring"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	return &ui.Station{
		Key: "air", Name: "Air", Group: ui.Design, Templates: templates, Topics: []advice.Topic{advice.Airflow},
		Open: open, Summary: summary, Routes: routes, Workings: workings,
	}
}

// View is the center of the station.
type View struct {
	Route, Curves, Row ui.Chart
	Sum                []ui.Figure
	Adjust             []Adjuster
	FanVals, FanSide   string
	FanBrings          string // what moving the fan alone would cause
	Pieces             []PieceRow
	Options            []OptionRow
	OptionsOfYear      bool
	Draws              []DrawRow
	Says               []string
	Branches           []BranchRow
}

// Adjuster adds or takes away a piece of the path.
type Adjuster struct {
	Name, Count string
	Less, More  string // JSON for hx-vals
	CanLess     bool
	ID          string
}

// PieceRow is a piece of the path in the table.
type PieceRow struct{ Name, Loss, Share string }

// OptionRow is what a change would do; Brings says which problems, With what else is changed, and Vals is empty where it may
// not be applied by one touch.
type OptionRow struct{ Name, Flow, Out, Gain, Year, Brings, With, Vals string }

// DrawRow is what moves at an irradiance.
type DrawRow struct{ Sun, Speed, Flow, Out, Heat string }

// BranchRow is a branch of a row of boxes in the table.
type BranchRow struct{ Name, Flow, Share, Outlet, Orifice string }

// summary is the air's line in the list of stations.
func summary(v *ui.Visit) (string, bool, error) {
	h, u := v.Doc(), v.F.Units
	line := units.Format(units.Flow, v.Heater.Eval.Running.Volume, u)
	if !h.Indoors() {
		line += " through " + units.Format(units.Bore, h.Air.Diameter, u)
	}
	if !h.Fanned() {
		line += ", natural draft"
	}
	return line, v.Decided(design.AirDiameter, design.AirFan, design.AirDrive, design.AirRoute, design.AirFanFreeAir), nil
}

// open fills the frame.
func open(v *ui.Visit) error {
	h, f := v.Doc(), v.F
	view := &View{}
	f.View = view
	f.Panel(design.FanGroup)
	f.Panel(design.AirPathGroup)
	f.Panel(design.RowGroup)
	f.Panel(design.FanPanelGroup)
	d, err := collector.Describe(h)
	if err != nil {
		return err
	}
	r := &v.Heater.Eval.Running
	ps := d.Route(h, r)
	view.path(v, &d, ps)
	view.row(h, r, f.Units)
	view.figures(v, &d)
	view.says(v, &d, ps)
	view.adjusters(v)
	view.options(v)
	return view.draws(v, &d)
}

// options lists what changes of the path would do.
func (view *View) options(v *ui.Visit) {
	u := v.F.Units
	for i, o := range v.Server.AirOptions(v.Doc(), v.Heater) {
		row := OptionRow{Name: o.Name.In(u), Flow: units.Format(units.Flow, o.Volume, u),
			Out: units.Format(units.Temperature, o.Outlet, u), Gain: ui.Signed(units.Power, o.Gain, u),
			Brings: strings.Join(o.Brings, "; ")}
		if len(o.With) > 0 {
			row.With = o.With[0].Then(o.With[1:]...).In(u)
		}
		if o.HasYear {
			row.Year, view.OptionsOfYear = ui.Signed(units.Energy, o.YearGain, u), true
		}
		if o.Changes[0].Path == design.AirFanSide.Path {
			view.FanBrings = row.Brings
		}
		if o.Stands {
			row.Vals = v.F.VarVals("option", strconv.Itoa(i))
		}
		view.Options = append(view.Options, row)
	}
}

// path draws the pieces of the path and, with a fan, the curves of fan and path.
func (view *View) path(v *ui.Visit, d *collector.Description, ps []collector.Piece) {
	u, r := v.F.Units, &v.Heater.Eval.Running
	link := func(path string) string { return "#" + ui.FieldID(path) }
	view.Route = ui.Draw(func(w float64) template.HTML { return drawing.AirRoute(ps, d.FanAtHot, d.Natural, w, u, link) })
	all := total(ps)
	for _, p := range ps {
		view.Pieces = append(view.Pieces, PieceRow{p.Name, units.Format(units.Pressure, p.Loss, u),
			units.Format(units.Share, p.Loss/max(1e-9, all), u)})
	}
	if d.Natural || r.Mass <= 0 {
		return
	}
	t := r.Conditions.Inlet
	if d.FanAtHot {
		t = r.Outlet
	}
	const points = 60
	rho := air.Density(t, r.Conditions.Pressure)
	c := d.Curves(r, points)
	view.Curves = ui.Draw(func(w float64) template.HTML {
		return drawing.FanCurves(c, v.Heater.Eval.Flow, r.Mass/rho, r.PressureDrop, rho, w, u)
	})
	view.Curves.Note = "shaded: 95 % range of the flow; dotted: the air path with higher fitting losses"
}

// total is the pressure that all pieces take, Pa.
func total(ps []collector.Piece) (sum float64) {
	for _, p := range ps {
		sum += p.Loss
	}
	return sum
}

// row tells how a row of boxes shares the air.
func (view *View) row(h *design.Heater, r *collector.Result, u units.System) {
	if len(r.Branches) < 2 {
		return
	}
	far := h.Array.Return == "far-end"
	view.Row = ui.Draw(func(w float64) template.HTML { return drawing.Row(r.Branches, far, w, u) })
	view.Row.ID = "air-row"
	rho := air.Density(r.Conditions.Inlet, r.Conditions.Pressure)
	least, most := r.Branches[0], r.Branches[0]
	for i, b := range r.Branches {
		row := BranchRow{
			Name: strconv.Itoa(i + 1), Flow: units.Format(units.Flow, b.Mass/rho, u), Share: units.Format(units.Share, b.Share, u),
			Outlet: units.Format(units.Temperature, b.Outlet, u), Orifice: "open",
		}
		if b.Kind > 0 {
			row.Name += fmt.Sprintf(", box %c", 'A'+b.Kind)
		}
		if b.Orifice > 0 {
			row.Orifice = units.Format(units.Length, b.Orifice, u)
		}
		view.Branches = append(view.Branches, row)
		if b.Share < least.Share {
			least = b
		}
		if b.Share > most.Share {
			most = b
		}
	}
	view.say("The branch with the least air gets %s of an even share, the one with the most %s.", units.Format(units.Share, least.Share, u),
		units.Format(units.Share, most.Share, u))
	if h.Array.Header > 0 {
		run := h.Array.Pitch * float64(len(r.Branches)-1)
		view.say("The two headers have a bore of %s; each is %s long from the first branch to the last.",
			units.Format(units.Bore, h.Array.Header, u),
			units.Format(units.Distance, run, u))
	}
	if h.Array.Balance == "orifices" {
		view.say("Each bore in the table is a hole in a plate across the branch's duct. A damper closed until the branch gives the " +
			"same air works as well.")
	}
}

// say adds a sentence below the figures.
func (view *View) say(format string, args ...any) {
	view.Says = append(view.Says, fmt.Sprintf(format, args...))
}

// figures are the air's headline figures.
func (view *View) figures(v *ui.Visit, d *collector.Description) {
	f, r := v.F, &v.Heater.Eval.Running
	if s := speed(v); s > 0 {
		view.Sum = append(view.Sum, f.Opens(f.Figure("speed", "Speed in the duct", units.Speed, s)))
	}
	view.Sum = append(view.Sum, f.Figure("drop", "Pressure drop", units.Pressure, total(d.Route(v.Doc(), r))))
	if d.Natural {
		return
	}
	view.Sum = append(view.Sum, f.Figure("power", "Fan power", units.Electric, r.FanPower))
	if r.FanPower > 0 {
		worth := ui.Figure{Key: "worth", Label: "Heat for each watt of the fan", Value: ui.Whole(r.Warms()/r.FanPower, f.Units), Unit: "W"}
		view.Sum = append(view.Sum, f.Opens(worth))
	}
}

// speed is that of the air in the duct, m/s; 0 where there is none.
func speed(v *ui.Visit) float64 {
	return collector.AirWorkings(&v.Heater.Eval.Running, v.Doc().DuctArea())["speed"].Value
}

// workings are those of the air's figures.
func workings(v *ui.Visit) (map[string]collector.Working, error) {
	return collector.AirWorkings(&v.Heater.Eval.Running, v.Doc().DuctArea()), nil
}

// says are the sentences below the figures.
func (view *View) says(v *ui.Visit, d *collector.Description, ps []collector.Piece) {
	h, u, r := v.Doc(), v.F.Units, &v.Heater.Eval.Running
	if s := speed(v); s > 0 {
		view.say("At %s the air in the duct is %s. The sound of the fan comes on top; mount it on rubber.", units.Format(units.Speed, s, u),
			advice.Loudness(s))
	}
	if h.Air.Drive == "fan" && r.FanPower > 0 {
		view.say("A solar panel of %s, square to the sun, would drive this fan without the mains. Choose it under “Fan” to see at what "+
			"sun it starts.",
			units.Format(units.Electric, design.PanelFor(r.FanPower), u))
	}
	if all := total(ps); d.Natural {
		view.say("Warm air rising gives %s of draft, which the air path takes.", units.Format(units.Pressure, r.Lift, u))
	} else if all > 0 {
		worst := ps[0]
		for _, p := range ps {
			if p.Loss > worst.Loss {
				worst = p
			}
		}
		view.say("The largest pressure drop is at the %s: %s of the fan's pressure.", strings.TrimPrefix(worst.Name, "the "),
			units.Format(units.Share, worst.Loss/all, u))
	}
	if b, has := wiring.PlanBattery(h); has {
		view.say("The battery runs the fan for %s days of %.0f hours without sun.", units.Decimals(b.Days, 1, u), wiring.RunHours)
	}
	if d.Indoors {
		return
	}
	if open, shut, err := advice.BackFlows(&v.Heater.Eval); err == nil {
		const telling = 5.0 // W
		view.say("On a clear night the box at rest would take %s from the room without a backdraft damper, %s with a light one.",
			units.Format(units.Power, open, u), units.Format(units.Power, shut, u))
		if h.Air.Flap == "none" && open > telling {
			view.say("This heater has no backdraft damper.")
		}
	}
}

// adjusters are the pieces that one may count up and down.
func (view *View) adjusters(v *ui.Visit) {
	h, f := v.Doc(), v.F
	for _, x := range []struct {
		one, many string
		field     *design.Of[int]
	}{
		{"bend", "bends", design.AirBends}, {"grille", "grilles", design.AirGrilles},
		{"port at each end", "ports at each end", design.AirPorts}, {"fan", "fans", design.AirFans},
	} {
		if !x.field.Applies(h) {
			continue
		}
		n := x.field.In(h)
		count, name, _ := strings.Cut(ui.Count(n, x.one, x.many, f.Units), " ")
		view.Adjust = append(view.Adjust, Adjuster{
			Name: name, Count: count, Less: f.TypedVals(x.field, strconv.Itoa(n-1)), More: f.TypedVals(x.field, strconv.Itoa(n+1)),
			CanLess: float64(n) > x.field.Min, ID: strings.ReplaceAll(x.field.Path, ".", "-"),
		})
	}
	if h.Fanned() {
		view.FanSide = map[string]string{"inlet": "outlet", "outlet": "inlet"}[h.Air.FanSide]
		view.FanVals = f.TypedVals(design.AirFanSide, view.FanSide)
	}
}

// draws tells how a fan on its own panel, or warmth alone, follows the sun.
func (view *View) draws(v *ui.Visit, d *collector.Description) error {
	if d.Panel == nil && !d.Natural {
		return nil
	}
	u := v.F.Units
	rows, err := d.OverSun(v.Heater.Eval.Running.Conditions, 100, 200, 400, 600, 800, 1000)
	if err != nil {
		return err
	}
	for _, x := range rows {
		row := DrawRow{Sun: units.Format(units.Irradiance, x.Sun, u), Speed: units.Format(units.Share, x.Speed, u), Flow: "none",
			Out: "–", Heat: "–"}
		if x.Volume > 0 {
			row.Flow, row.Out, row.Heat = units.Format(units.Flow, x.Volume, u), units.Format(units.Temperature, x.Outlet, u),
				units.Format(units.Power, x.Heat, u)
		}
		if d.Natural {
			row.Speed = "–"
		}
		view.Draws = append(view.Draws, row)
	}
	return nil
}

// station are the handlers.
type station struct{ *ui.Server }

func routes(sv *ui.Server, g *echo.Group) { g.POST("/option", station{sv}.option) }

// option applies one of the changes that the station lists.
func (sv station) option(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	e, err := sv.Evaluate(c.Request().Context(), &st.Document)
	if err != nil {
		return ui.Uncomputed(err)
	}
	os := sv.AirOptions(&st.Document, e)
	i, err := strconv.Atoi(c.FormValue("option"))
	if err != nil || i < 0 || i >= len(os) || !os[i].Stands {
		return sv.Answer(c, st, "That change is no longer offered.")
	}
	return sv.Apply(c, st, seen, ui.Capital(os[i].Name.In(ui.NewPage(c, "").Units)), os[i].Changes)
}
