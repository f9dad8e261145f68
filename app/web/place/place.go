// Package place is the station of the heater's place: sun, shade, tilt, wall and weather.
package place

import (
	"embed"
	"fmt"
	"html/template"
	"math"

	"gladember/core/design"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/collector"
	"gladember/core/layout"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// remembered is how many views are kept while their fields are typed in.
const remembered = 64

// New returns the station.
func New() *ui.Station {
	views := service.NewCache[*SunView](remembered)
	return &ui.Station{
		Key: "place", Name: "Place", Group: ui.Design, Templates: templates, Topics: []advice.Topic{advice.Siting},
		Open:    func(v *ui.Visit) error { return open(v, views) },
		Summary: summary,
		Routes:  func(sv *ui.Server, g *echo.Group) { sv.Trims(views); routes(sv, g) },
	}
}

// View is the center of the station, and the weather at its side.
type View struct {
	*SunView
	Climate *ClimateView
	Town    string
}

// SunView is sun, shade and wall at a place.
type SunView struct {
	Tracks, Year ui.Chart
	Tilt         template.HTML
	Noon         string
	Sun          string
	SunUnit      string // of a day's sun
	Shaders      []ShaderRow
	NeverLit     string
	Mounts       []MountRow
	Obstacles    []Obstacle
	Wall         *WallView
}

// Obstacle is something one may draw on the horizon.
type Obstacle struct{ Kind, Name string }

// ShaderRow is what one obstacle costs.
type ShaderRow struct{ Name, Hours, Sun string }

// MountRow is a way to set the box up.
type MountRow struct {
	Name, Tilt, Bearing, Sun, Share, Vals string
	Other                                 bool // its tilt can be used
}

// WallView is the box on its wall.
type WallView struct {
	Chart ui.Chart
	Says  []string
	Vals  string // moves the box clear of the studs
}

// summary is the place's line in the list of stations.
func summary(v *ui.Visit) (string, bool, error) {
	h, u := v.Doc(), v.F.Units
	where := h.Place.Town
	if where == "" {
		where = position(h.Place.Latitude, h.Place.Longitude)
	}
	line := fmt.Sprintf("%s, %s, faces %s", where, units.Format(units.Distance, h.Place.Elevation, u),
		units.Format(units.Angle, h.Place.Bearing, u))
	return line, v.Decided(design.PlaceLatitude, design.PlaceLongitude, design.PlaceTown), nil
}

// position writes coordinates.
func position(lat, lon float64) string {
	ns, ew := "N", "E"
	if lat < 0 {
		ns = "S"
	}
	if lon < 0 {
		ew = "W"
	}
	return fmt.Sprintf("%.2f° %s, %.2f° %s", math.Abs(lat), ns, math.Abs(lon), ew)
}

// open fills the frame.
func open(v *ui.Visit, views *service.Cache[*SunView]) error {
	f := v.F
	sun, err := views.Get(v.Ctx(), service.KeyOfPage(v.Doc(), f.Units), func() (*SunView, error) { return sunView(v), nil })
	if err != nil {
		return err
	}
	climate, err := climateView(v)
	if err != nil {
		return err
	}
	f.View = &View{sun, climate, v.Doc().Place.Town}
	for _, g := range []*design.Group{design.LocationGroup, design.OrientationGroup, design.WeatherGroup, design.ShadeGroup,
		design.WallGroup,
		design.LoadsGroup, design.NoonGroup, design.NameGroup} {
		f.Panel(g)
	}
	return nil
}

// sunView computes tilts, shades and the sun through the year.
func sunView(v *ui.Visit) *SunView {
	h, u := v.Doc(), v.F.Units
	r := &v.Heater.Eval.Running
	noon := collector.WinterNoon(h)
	view := &SunView{
		Tracks:    ui.Draw(func(w float64) template.HTML { return drawing.SunTracks(h, w, u) }),
		Year:      ui.Chart{Wide: drawing.SunYear(h, 420, u), Narrow: drawing.SunYear(h, ui.NarrowChart, u)},
		Tilt:      drawing.Lean(h, 220, u),
		Noon:      units.Time(noon, "2 January, 15:04", u),
		Sun:       units.Format(units.Irradiance, r.Energy.Sun/r.Aperture, u),
		Obstacles: []Obstacle{{"solid", "a hill or building"}, {"evergreen", "an evergreen tree"}, {"tree", "a deciduous tree"}},
	}
	for _, x := range collector.Shaders(h) {
		view.Shaders = append(view.Shaders, ShaderRow{x.Name, ui.Whole(x.Hours, u), units.Format(units.Energy, x.Sun, u)})
	}
	const visible = 0.005 // m
	site := collector.Site(h)
	months := collector.HeatingMonths(site.Latitude)
	if n := collector.Surroundings(h).NeverLit(site, h.Place.Tilt, h.Place.Bearing, months...); n > visible {
		view.NeverLit = units.Format(units.Length, n, u)
	}
	view.SunUnit = u.Unit(units.Insolation)
	ls := collector.Leans(h)
	best := ls[len(ls)-1].Sun
	for i, l := range ls {
		view.Mounts = append(view.Mounts, MountRow{
			Name: l.Name, Tilt: units.Format(units.Angle, l.Tilt, u), Bearing: units.Format(units.Angle, l.Bearing, u),
			Sun: units.Figure(units.Insolation, l.Sun, u), Share: units.Format(units.Share, l.Sun/best, u),
			Vals: v.F.TypedVals(design.PlaceTilt, fmt.Sprintf("%.0f", l.Tilt)), Other: i > 0 && i < len(ls)-1,
		})
	}
	view.Wall = wallView(v)
	return view
}

// wallView lays the box on its wall between windows and studs; nil where there is no such wall.
func wallView(v *ui.Visit) *WallView {
	h, u := v.Doc(), v.F.Units
	w, ok := layout.OnWall(h, &v.Heater.Layout)
	if !ok || v.Heater.Misfit != nil {
		return nil
	}
	view := &WallView{Chart: ui.Draw(func(width float64) template.HTML { return drawing.OnWall(h, &v.Heater.Layout, w, false, width, u) })}
	view.Chart.ID = "onwall"
	say := func(format string, args ...any) { view.Says = append(view.Says, fmt.Sprintf(format, args...)) }
	fm := func(m float64) string { return units.Format(units.Length, m, u) }
	if w.Spare < 0 {
		say("The box is %s wider than the wall between the windows.", fm(-w.Spare))
	} else {
		say("The wall is free for %s at the left of the box and %s at the right.", fm(h.Wall.Left), fm(w.Beside))
	}
	hit := false
	for _, o := range w.Openings {
		if o.Clear < 0 {
			hit = true
			say("The hole for the %s, centered %s from the left window and %s above the ground, meets a stud.", o.Name, fm(o.X), fm(o.Y))
		} else {
			say("Drill the hole for the %s with its center %s from the left window and %s above the ground.", o.Name, fm(o.X), fm(o.Y))
		}
	}
	switch {
	case !hit:
	case math.IsNaN(w.Shift):
		say("No position between the windows keeps all holes clear of the studs: move a port on the box, use smaller ducts, or frame " +
			"the stud as your code requires.")
	default:
		side := "right"
		if w.Shift < 0 {
			side = "left"
		}
		say("Moved %s to the %s, all holes are clear of the studs.", fm(math.Abs(w.Shift)), side)
		view.Vals = v.F.TypedVals(design.WallLeft, fm(h.Wall.Left+w.Shift))
	}
	const level = 0.005 // m
	if !math.IsNaN(w.OffSill) && math.Abs(w.OffSill) > level {
		say("The bottom of the box is %s off the line of the window sills.", fm(math.Abs(w.OffSill)))
	}
	return view
}
