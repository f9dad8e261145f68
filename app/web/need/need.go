// Package need is the station of the space that is warmed: what it loses, and what it needs through a year.
package need

import (
	"embed"
	"errors"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/space"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	return &ui.Station{
		Key: "need", Name: "Need", Group: ui.Design, Templates: templates, Topics: []advice.Topic{advice.Demand}, Fresh: true,
		Open: open, Summary: summary, Routes: routes, Workings: workings,
	}
}

// View is the center of the station.
type View struct {
	Room    ui.Chart
	Sum     []ui.Figure
	Parts   []PartRow
	Note    string
	YearURL string
	// LossUnit and FilmUnit are those of heat loss by degree, and by area and degree.
	LossUnit, FilmUnit string
	FilmName           string // what the latter is, in words
}

// PartRow is a row of what a space loses heat by.
type PartRow struct{ Name, Area, U, UA, Loss, Share string }

// filmUnit is that of heat loss through an area.
const filmUnit = "W/m²K"

// first is a figure without the unit behind it, and rest the unit.
func first(figure string) string { n, _, _ := strings.Cut(figure, " "); return n }
func rest(figure string) string  { _, unit, _ := strings.Cut(figure, " "); return unit }

// kinds are what a space is called in the list of stations.
var kinds = map[design.RoomKind]string{
	design.LivingRoom: "room", design.Shop: "shop", design.Greenhouse: "greenhouse", design.Porch: "porch",
}

// summary is the need's line in the list of stations.
func summary(v *ui.Visit) (string, bool, error) {
	h, u := v.Doc(), v.F.Units
	decided := v.Decided(design.SpaceKind, design.RoomFloor, design.RoomWanted, design.RoomLoss)
	sp, err := space.New(h)
	if err != nil {
		return "cannot be computed yet", decided, nil // the station says why
	}
	loss := units.Format(units.Power, sp.DesignLoss(h.Room.Wanted, space.DesignOutdoors(h)), u)
	return fmt.Sprintf("%s %s, heat loss %s", units.Format(units.Area, h.Room.Floor, u), kinds[h.Room.Kind], loss), decided, nil
}

// open fills the frame.
func open(v *ui.Visit) error {
	h, f := v.Doc(), v.F
	u := f.Units
	f.Panel(design.SpaceGroup)
	f.Panel(design.WindowsGroup)
	f.Panel(design.HeatingGroup)
	f.Panel(design.SecondSpaceGroup)
	f.Panel(design.RoomNoonGroup)
	sp, err := space.New(h)
	if err != nil {
		return err
	}
	out, inside := space.DesignOutdoors(h), h.Room.Wanted
	view := &View{YearURL: f.StationURL("need/year"), LossUnit: u.Unit(units.Loss), FilmUnit: rest(units.Term(1, filmUnit, 1, u)),
		FilmName: "U-value: heat for each area and degree of difference"}
	if u.Fahrenheit {
		view.FilmUnit, view.FilmName = "R-value", "resistance to heat: square feet, hours and degrees for each BTU"
	}
	view.Room = ui.Draw(func(w float64) template.HTML { return drawing.Room(sp, inside, out, w, u) })
	view.Room.Title = fmt.Sprintf("Heat loss at %s inside, %s outside", units.Format(units.Temperature, inside, u),
		units.Format(units.Temperature, out, u))
	loss := f.Opens(f.Figure("loss", "Heating load", units.Power, sp.DesignLoss(inside, out)))
	loss.Heat = true
	view.Sum = []ui.Figure{
		loss,
		f.Opens(f.Figure("rule", "Rule of thumb: a tenth of the floor", units.Area, space.RuleOfThumb(h.Room.Floor))),
		f.Figure("glass", "Clear glazing", units.Area, h.Glass()),
	}
	if r := v.Heater.Eval.Running; r.Volume > 0 {
		change := ui.Figure{Key: "change", Label: "One room air change every", Value: ui.Whole(sp.AirChange(r.Volume), u), Unit: "min"}
		view.Sum = append(view.Sum, f.Opens(change))
		view.Note = note(h, &r, sp.Carries(r.Warms(), inside, out), u)
	}
	for _, p := range sp.Parts {
		row := PartRow{Name: p.Name, UA: units.Figure(units.Loss, p.UA, u), Loss: units.Format(units.Power, p.Loses(inside, out), u),
			Share: units.Format(units.Share, p.UA/sp.Loss, u)}
		if p.Area > 0 {
			row.Area, row.U = units.Format(units.Area, p.Area, u), first(units.Term(p.U, filmUnit, 2, u))
			if u.Fahrenheit && p.U > 0 {
				row.U = units.RValue(1 / p.U)
			}
		}
		view.Parts = append(view.Parts, row)
	}
	f.View = view
	return nil
}

// note sets the box beside the loss.
func note(h *design.Heater, r *collector.Result, share float64, u units.System) string {
	text := fmt.Sprintf("At the clear winter noon the box gives %s, %s of that loss.", units.Format(units.Power, r.Warms(), u),
		units.Format(units.Share, share, u))
	if r.Outlet < space.Drafty && h.Room.Kind != design.Greenhouse {
		text += fmt.Sprintf(" Its air leaves at %s; below %s moving air feels like a draft.", units.Format(units.Temperature, r.Outlet, u),
			units.Format(units.Temperature, space.Drafty, u))
	}
	return text
}

// workings are those of the station's figures.
func workings(v *ui.Visit) (map[string]collector.Working, error) {
	h := v.Doc()
	sp, err := space.New(h)
	if err != nil {
		return nil, err
	}
	return space.Workings(h, sp, h.Room.Wanted, space.DesignOutdoors(h), v.Heater.Eval.Running.Volume), nil
}

// YearView is what a space needs by month.
type YearView struct {
	Missing           []string
	Chart             ui.Chart
	Words             string
	Bills             string
	BillVals, EditURL string
}

// station are the handlers.
type station struct{ *ui.Server }

func routes(sv *ui.Server, g *echo.Group) { g.GET("/year", station{sv}.year) }

// year is what the space needs by month against the sun, and what its bills say.
func (sv station) year(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	v := sv.Begin(c, st, "need")
	y, err := sv.Year(v.Ctx(), v.Doc())
	var lack *climate.Missing
	switch {
	case errors.As(err, &lack):
		return c.Render(http.StatusOK, "need-year", YearView{Missing: lack.Names})
	case err != nil && v.Ctx().Err() == nil:
		return c.Render(http.StatusOK, "need-year", YearView{Missing: []string{err.Error()}})
	case err != nil:
		return err
	}
	return c.Render(http.StatusOK, "need-year", yearView(v, y))
}

// yearView sets need beside sun, and the bills beside both.
func yearView(v *ui.Visit, y *service.Year) YearView {
	h, u, r := v.Doc(), v.F.Units, y.Result
	view := YearView{Chart: ui.Draw(func(w float64) template.HTML { return drawing.NeedAndSun(r, w, u) })}
	need, sun := 0, 0
	for i := range r.Months {
		if r.Months[i].Need > r.Months[need].Need {
			need = i
		}
		if r.Months[i].Sun > r.Months[sun].Sun {
			sun = i
		}
	}
	view.Words = fmt.Sprintf("The space needs %s a year, most of it in %s; the glass gets the most sun in %s.",
		units.Format(units.Energy, r.Year.Need, u),
		time.Month(need+1), time.Month(sun+1))
	if len(h.Room.Bills) == 0 {
		return view
	}
	b, err := space.FromBills(h, y.Climate.Year.ByMonth())
	if err != nil {
		view.Bills = "The bills cannot be used: " + err.Error() + "."
		return view
	}
	verdict := "The two agree."
	if math.Abs(b.Loss-r.Space.Loss) > 2*b.U {
		verdict = "The two do not agree, so one of them is wrong."
	}
	view.Bills = fmt.Sprintf("By its fuel bills the space loses %s (%s), heated below %s outdoors; by your answers, %s. %s",
		units.Format(units.Loss, b.Loss, u), ui.Range(units.Loss, b.Loss-2*b.U, b.Loss+2*b.U, u),
		units.Format(units.Temperature, b.Base, u), units.Format(units.Loss, r.Space.Loss, u), verdict)
	view.EditURL, view.BillVals = v.F.EditURL(), v.F.TypedVals(design.RoomLoss, units.Format(units.Loss, b.Loss, u))
	return view
}
