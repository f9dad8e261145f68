package web

import (
	"fmt"
	"html/template"
	"math"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/core/advice"
	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// AirView is the centre of the air station.
type AirView struct {
	Route, RouteNarrow   template.HTML
	Curves, CurvesNarrow template.HTML
	Sum                  []Figure
	Adjust               []AirAdjust
	FanVals, FanSide     string
	Pieces               []PieceRow
	Options              []AirOptionRow
	Draws                []DrawRow
	DrawTitle            string
	Night                string
	Says                 []string
	Row, RowNarrow       template.HTML
	Branches             []BranchRow
}

// BranchRow is a branch of a row of boxes in the table.
type BranchRow struct{ Name, Flow, Share, Outlet, Orifice string }

// AirAdjust adds or takes away a piece of the way.
type AirAdjust struct {
	Name, Count string
	Less, More  string // JSON for hx-vals
	CanLess     bool
	ID          string
}

// PieceRow is a piece of the way in the table.
type PieceRow struct{ Name, Loss, Share string }

// AirOptionRow is what a change would do.
type AirOptionRow struct{ Name, Flow, Out, Gain, Vals string }

// DrawRow is what moves at a sun.
type DrawRow struct{ Sun, Speed, Flow, Out, Heat string }

// row tells how a row of boxes shares the air.
func (v *AirView) row(h *design.Heater, r *collector.Result, u units.System) {
	if len(r.Branches) < 2 {
		return
	}
	far := h.Array.Return == "far-end"
	v.Row, v.RowNarrow = drawing.Row(r.Branches, far, 700, u), drawing.Row(r.Branches, far, 360, u)
	rho := air.Density(r.Conditions.Inlet, r.Conditions.Pressure)
	least, most := r.Branches[0], r.Branches[0]
	for i, b := range r.Branches {
		row := BranchRow{Name: fmt.Sprint(i + 1), Flow: units.Format(units.Flow, b.Mass/rho, u), Share: units.Format(units.Share, b.Share, u), Outlet: units.Format(units.Temperature, b.Outlet, u)}
		if b.Kind > 0 {
			row.Name += fmt.Sprintf(", box %c", 'A'+b.Kind)
		}
		if b.Orifice > 0 {
			row.Orifice = units.Format(units.Length, b.Orifice, u)
		}
		v.Branches = append(v.Branches, row)
		if b.Share < least.Share {
			least = b
		}
		if b.Share > most.Share {
			most = b
		}
	}
	v.Says = append(v.Says, fmt.Sprintf("The branch with the least air gets %s of an even share, the one with the most %s.", units.Format(units.Share, least.Share, u), units.Format(units.Share, most.Share, u)))
	if h.Array.Header > 0 {
		run := h.Array.Pitch * float64(len(r.Branches)-1)
		v.Says = append(v.Says, fmt.Sprintf("Two headers of %s bore, %s each from the first branch to the last.", units.Format(units.Bore, h.Array.Header, u), units.Format(units.Distance, run, u)))
	}
	if h.Array.Balance == "orifices" {
		v.Says = append(v.Says, "Each bore below is the hole in a plate across the branch's stub; a damper closed until the branch gives the same air does the same.")
	}
}

func (f *Frame) air(e *evaluated) error {
	h := &f.State.Document
	u := f.Units
	r := &e.eval.Running
	v := &AirView{}
	f.Air = v
	f.panel("The way", "air.drive", "air.source", "air.vent", "air.route", "air.duct", "air.stretch", "air.diameter_m", "air.ports", "air.to_box_m", "air.from_box_m", "air.riser_m", "air.bends", "air.bends_before", "air.grilles", "air.grilles_before", "air.filter", "air.flap")
	f.panel("The row", "array.header_m", "array.pitch_m", "array.return", "array.port_m", "array.balance", "array.others")
	f.panel("The fan", "air.fan", "air.fan_free_air_m3_s", "air.fan_shut_off_pa", "air.fan_power_w", "air.fan_radial", "air.fan_table", "air.fan_side", "air.fans", "air.fans_join")
	f.panel("Its own panel", "air.fan_volts", "air.panel_w", "air.battery_wh", "air.wire_m", "air.wire_mm2")
	d, err := collector.Describe(h)
	if err != nil {
		return err
	}
	link := func(path string) string { return "#" + fieldID(path) }
	ps := d.Route(h, r)
	all := 0.0
	for _, p := range ps {
		all += p.Loss
	}
	v.Route, v.RouteNarrow = drawing.AirRoute(ps, d.FanAtHot, d.Natural, 700, u, link), drawing.AirRoute(ps, d.FanAtHot, d.Natural, 360, u, link)
	for _, p := range ps {
		v.Pieces = append(v.Pieces, PieceRow{p.Name, units.Format(units.Pressure, p.Loss, u), units.Format(units.Share, p.Loss/math.Max(1e-9, all), u)})
	}
	v.row(h, r, u)
	if !d.Natural && r.Mass > 0 {
		t := r.Conditions.Inlet
		if d.FanAtHot {
			t = r.Outlet
		}
		rho := air.Density(t, r.Conditions.Pressure)
		c := d.Curves(r, 60)
		v.Curves, v.CurvesNarrow = drawing.FanCurves(c, e.eval.Flow, r.Mass/rho, r.PressureDrop, rho, 700, u), drawing.FanCurves(c, e.eval.Flow, r.Mass/rho, r.PressureDrop, rho, 360, u)
	}
	fig := func(label string, k units.Kind, x float64, heat bool) Figure {
		return Figure{Label: label, Value: units.Figure(k, x, u), Unit: u.Unit(k), Heat: heat}
	}
	speed := collector.AirWorkings(r, ductArea(h))["speed"].Value
	open := func(key string, x Figure) Figure {
		x.Key, x.URL = key, heaterURL(f.ID, "working", key)
		return x
	}
	v.Sum = []Figure{open("flow", fig("Air moved", units.Flow, r.Volume, false)), open("outlet", fig("Out", units.Temperature, r.Outlet, true))}
	if speed > 0 {
		v.Sum = append(v.Sum, open("air-speed", fig("Speed in the duct", units.Speed, speed, false)))
	}
	if !d.Natural {
		v.Sum = append(v.Sum, fig("The fan takes", units.Electric, r.FanPower, false))
		if r.FanPower > 0 {
			v.Sum = append(v.Sum, open("air-worth", Figure{Label: "Heat for a watt of it", Value: fmt.Sprintf("%.0f", r.Heat/r.FanPower), Unit: "W"}))
		}
	}
	if speed > 0 {
		v.Says = append(v.Says, fmt.Sprintf("At %s in the duct the air is %s. The fan's own sound comes on top; hang it soft.", units.Format(units.Speed, speed, u), advice.Loudness(speed)))
	}
	if h.Air.Drive == "fan" && r.FanPower > 0 {
		v.Says = append(v.Says, fmt.Sprintf("A small solar panel of %.0f W, square to the sun, would run this fan without the mains; under “Air is moved by” it shows from what sun on.", design.PanelFor(r.FanPower)))
	}
	if d.Natural {
		v.Says = append(v.Says, fmt.Sprintf("Nothing drives it but warmth: %s of lift against the same way.", units.Format(units.Pressure, r.Lift, u)))
	} else if all > 0 {
		worst := 0
		for i := range ps {
			if ps[i].Loss > ps[worst].Loss {
				worst = i
			}
		}
		v.Says = append(v.Says, fmt.Sprintf("The dearest piece of the way is %s, %s of the fan's pressure.", ps[worst].Name, units.Format(units.Share, ps[worst].Loss/all, u)))
	}
	for _, x := range []struct{ name, path string }{{"bend", "air.bends"}, {"grille", "air.grilles"}, {"hole at each end", "air.ports"}, {"fan", "air.fans"}} {
		field := design.FieldAt(x.path)
		if !field.Applies(h) {
			continue
		}
		n := int(design.Number(h, x.path))
		val := func(n int) string { return f.vals(x.path, map[string]string{"typed": fmt.Sprint(n)}) }
		v.Adjust = append(v.Adjust, AirAdjust{Name: many(n, x.name), Count: fmt.Sprint(n), Less: val(n - 1), More: val(n + 1), CanLess: float64(n) > field.Min, ID: strings.ReplaceAll(x.path, ".", "-")})
	}
	if h.Fanned() {
		other := map[string]string{"inlet": "outlet", "outlet": "inlet"}[h.Air.FanSide]
		v.FanVals, v.FanSide = f.vals("air.fan_side", map[string]string{"typed": other}), other
	}
	for i, o := range advice.AirOptions(&e.eval) {
		v.Options = append(v.Options, AirOptionRow{o.Name.In(u), units.Format(units.Flow, o.Volume, u), units.Format(units.Temperature, o.Outlet, u), signed(units.Power, o.Gain, u), f.vals("", map[string]string{"option": fmt.Sprint(i)})})
	}
	if d.Panel != nil || d.Natural {
		v.DrawTitle = "As the sun comes and goes"
		rows, err := d.OverSun(r.Conditions, 100, 200, 400, 600, 800, 1000)
		if err != nil {
			return err
		}
		for _, x := range rows {
			row := DrawRow{Sun: units.Format(units.Irradiance, x.Sun, u), Speed: units.Format(units.Share, x.Speed, u), Flow: "stands", Heat: "0"}
			if x.Volume > 0 {
				row.Flow, row.Out, row.Heat = units.Format(units.Flow, x.Volume, u), units.Format(units.Temperature, x.Outlet, u), units.Format(units.Power, x.Heat, u)
			}
			if d.Natural {
				row.Speed = ""
			}
			v.Draws = append(v.Draws, row)
		}
		if b, has := advice.BatteryOf(h); has {
			v.Says = append(v.Says, fmt.Sprintf("The battery runs the fan for %s days of %.0f hours without sun.", units.Decimals(b.Days, 1, u), advice.RunHours))
		}
	}
	if !d.Indoors {
		open, shut, err := advice.BackFlows(&e.eval)
		if err == nil {
			v.Night = fmt.Sprintf("On a clear night the standing box draws %s out of the room without a flap, %s with a light one.", units.Format(units.Power, open, u), units.Format(units.Power, shut, u))
			if h.Air.Flap == "none" && open > 5 {
				v.Night += " This one has none."
			}
		}
	}
	return nil
}

// airOption takes one of the air station's options over.
func (sv *Server) airOption(c *echo.Context) error {
	st, seen, err := sv.changing(c)
	if err != nil {
		return err
	}
	e := sv.evals.of(&st.Document)
	if e.err != nil {
		return e.err
	}
	os := advice.AirOptions(&e.eval)
	i, err := strconv.Atoi(c.FormValue("option"))
	if err != nil || i < 0 || i >= len(os) {
		return sv.answer(c, st, "That is no longer among the changes.")
	}
	u := sv.page(c, "").Units
	name := os[i].Name.In(u)
	return sv.taken(c, st, seen, strings.ToUpper(name[:1])+name[1:], os[i].Changes)
}

// many is a word for a count of things: the first of its words takes the s.
func many(n int, word string) string {
	if n == 1 {
		return word
	}
	first, rest, _ := strings.Cut(word, " ")
	return strings.TrimSpace(first + "s " + rest)
}

// ductArea is the bore of all ducts at one end, m2; 0 where there are none.
func ductArea(h *design.Heater) float64 {
	if h.Indoors() {
		return 0
	}
	return math.Pi / 4 * h.Air.Diameter * h.Air.Diameter * float64(max(1, h.Air.Ports))
}
