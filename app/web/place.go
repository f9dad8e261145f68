package web

import (
	"bytes"
	"context"
	"fmt"
	"html/template"
	"io"
	"math"
	"net/http"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/standin"
	"gladember/app/store"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// PlaceView is the centre of the place station.
type PlaceView struct {
	Tracks, TracksNarrow template.HTML
	Year, YearNarrow     template.HTML
	Lean                 template.HTML
	Noon                 string
	Sun                  string
	Shaders              []ShaderRow
	NeverLit             string
	Leans                []LeanRow
	Kinds                []string
	Wall, WallNarrow     template.HTML
	WallSays             []string
	WallVals             string // moves the box clear of the studs
}

// ShaderRow is what one thing in the sun's way costs.
type ShaderRow struct{ Name, Hours, Sun string }

// LeanRow is a way to set the box up.
type LeanRow struct {
	Name, Tilt, Bearing, Sun, Share, Vals string
	Other                                 bool // one may take its lean
}

// ClimateView is where the weather of a year comes from.
type ClimateView struct {
	Now       string // what is in force
	File      string // the kept file's name
	DropVals  string // gives the file back
	UploadURL string
	AskURL    string // of the weather station, if one is known
	Station   string
}

func (f *Frame) place(sv *Server, c *echo.Context, e *evaluated) error {
	v := sv.places.of(&f.State.Document, func(*design.Heater) *PlaceView { return f.placeView(e) }, fmt.Sprint(f.Units))
	f.Place = v
	if err := f.climate(sv, c); err != nil {
		return err
	}
	f.panel("This heater", "name")
	f.panel("Where it stands", "place.latitude_deg", "place.longitude_deg", "place.elevation_m", "place.zone", "place.bearing_deg", "place.tilt_deg")
	f.panel("On the wall", "wall.between_m", "wall.left_m", "wall.stud_m", "wall.first_stud_m", "wall.stud_width_m", "wall.sill_m", "wall.bottom_m")
	f.panel("What stands in the sun's way", "shade.horizon", "shade.eave_depth_m", "shade.eave_above_m", "shade.eave_over_m", "shade.fin_left_m", "shade.fin_right_m", "shade.fin_beside_m")
	f.panel("The weather through a year", "climate.sunny_winter_days", "climate.sunny_days", "climate.coldest_c", "climate.warmest_c", "place.shore", "climate.months")
	f.panel("The noon you judge it by", "place.outdoor_c", "place.linke_turbidity", "place.terrain", "place.above_ground_m", "place.wind_m_s", "place.ground_reflectance", "place.snow_from_month", "place.snow_to_month")
	return nil
}

// placeView works the place out: leans, shades and the sun through the year.
func (f *Frame) placeView(e *evaluated) *PlaceView {
	h := &f.State.Document
	u := f.Units
	noon := collector.WinterNoon(h, time.Now().Year())
	v := &PlaceView{
		Tracks: drawing.SunTracks(h, 700, u), TracksNarrow: drawing.SunTracks(h, 360, u),
		Year: drawing.SunYear(h, 440), YearNarrow: drawing.SunYear(h, 360), Lean: drawing.Lean(h, 230, u),
		Noon:  noon.Format("2 January, 15:04"),
		Sun:   units.Format(units.Irradiance, e.eval.Running.Energy.Sun/e.eval.Running.Aperture, u),
		Kinds: []string{"solid", "evergreen", "tree"},
	}
	for _, x := range collector.Shaders(h) {
		v.Shaders = append(v.Shaders, ShaderRow{x.Name, fmt.Sprintf("%.0f", x.Hours), units.Format(units.Energy, x.Sun, u)})
	}
	site := collector.Site(h)
	if n := collector.Surroundings(h).NeverLit(site, h.Place.Tilt, h.Place.Bearing, collector.HeatingMonths(site.Latitude)...); n > 0.005 {
		v.NeverLit = units.Format(units.Length, n, u)
	}
	ls := collector.Leans(h)
	best := ls[len(ls)-1].Sun
	for i, l := range ls {
		v.Leans = append(v.Leans, LeanRow{Name: l.Name, Tilt: units.Format(units.Angle, l.Tilt, u), Bearing: units.Format(units.Angle, l.Bearing, u), Sun: units.Decimals(l.Sun, 1, u), Share: units.Format(units.Share, l.Sun/best, u),
			Vals: f.vals("place.tilt_deg", map[string]string{"typed": fmt.Sprintf("%.0f", l.Tilt)}), Other: i > 0 && i < len(ls)-1})
	}
	if w, ok := layout.OnWall(h, &e.layout); ok && e.misfit == nil {
		v.Wall, v.WallNarrow = drawing.OnWall(h, &e.layout, w, 700, u), drawing.OnWall(h, &e.layout, w, 360, u)
		fm := func(m float64) string { return units.Format(units.Length, m, u) }
		if w.Spare < 0 {
			v.WallSays = append(v.WallSays, fmt.Sprintf("The box is %s wider than the wall between the windows.", fm(-w.Spare)))
		} else {
			v.WallSays = append(v.WallSays, fmt.Sprintf("Beside it %s of wall stay free at the left and %s at the right.", fm(h.Wall.Left), fm(w.Beside)))
		}
		hit := false
		for _, o := range w.Openings {
			if hit = hit || o.Clear < 0; o.Clear < 0 {
				v.WallSays = append(v.WallSays, fmt.Sprintf("The hole of the %s, its centre %s from the left window and %s over the ground, meets a stud.", o.Name, fm(o.X), fm(o.Y)))
			} else {
				v.WallSays = append(v.WallSays, fmt.Sprintf("Bore the %s %s from the left window and %s over the ground, to its centre.", o.Name, fm(o.X), fm(o.Y)))
			}
		}
		switch {
		case !hit:
		case math.IsNaN(w.Shift):
			v.WallSays = append(v.WallSays, "Nowhere between the windows do all holes miss the studs: move a port on the box, take smaller ducts, or head the stud off as your code asks.")
		default:
			side := "right"
			if w.Shift < 0 {
				side = "left"
			}
			v.WallSays = append(v.WallSays, fmt.Sprintf("Moved %s to the %s, all holes miss them.", fm(math.Abs(w.Shift)), side))
			v.WallVals = f.vals("wall.left_m", map[string]string{"typed": fm(h.Wall.Left + w.Shift)})
		}
		if !math.IsNaN(w.OffSill) && math.Abs(w.OffSill) > 0.005 {
			v.WallSays = append(v.WallSays, fmt.Sprintf("Its foot lies %s off the line of the sills.", fm(math.Abs(w.OffSill))))
		}
	}
	return v
}

// climate says which weather is in force and how another comes in.
func (f *Frame) climate(sv *Server, c *echo.Context) error {
	h := &f.State.Document
	v := &ClimateView{UploadURL: heaterURL(f.ID, "weather")}
	if sv.Station != "" {
		v.AskURL, v.Station = heaterURL(f.ID, "weather", "ask"), "Ask the weather station"
	}
	switch {
	case h.Climate.File != "":
		name, _, err := sv.store.Weather(c.Request().Context(), h.Climate.File)
		if err != nil {
			v.Now = "The weather file of this heater is not in this workshop; bring it in again."
			break
		}
		v.File, v.Now = name, "In force: the hours of "+name+"."
		v.DropVals = f.vals("climate.file", map[string]string{"ours": "1"})
	case len(h.Climate.Months) == 12:
		v.Now = "In force: the table of months, made into hours."
	default:
		v.Now = estimated(h, f.Units)
	}
	f.Climate = v
	return nil
}

// far is a distance over land, km, in km or miles.
func far(km float64, u units.System) string {
	if u.Inches {
		return units.Decimals(km/1.609344, 0, u) + " miles"
	}
	return units.Decimals(km, 0, u) + " km"
}

// estimated says what a year by facts rests on, how rough it is, and which fact would narrow it most.
func estimated(h *design.Heater, u units.System) string {
	if climate.Lacks(h) != nil {
		return "There is no season yet: name the town, paste a table of months, or bring a weather file."
	}
	e := h.Place.Usual()
	d, _ := climate.DoubtOf(h)
	s := fmt.Sprintf("In force: an estimate from the weather stations around the place; the nearest is %s, %s away. Monthly temperatures may be off by %s, sunny days in winter by %s in ten.",
		e.Nearest, far(e.Distance, u), units.Format(units.Rise, 2*d.Temperature, u), units.Decimals(20*d.Winter, 1, u))
	if e.Thin() {
		s += " The stations are few here, so take it as a rough guide."
	}
	switch climate.Narrows(h) {
	case "climate.sunny_winter_days":
		return s + " How many days in ten are sunny in winter would narrow the year most."
	case "climate.coldest_c":
		return s + " The mean temperature of the coldest month would narrow the year most."
	case "climate.sunny_days":
		return s + " How many days in ten are sunny in summer would narrow it further."
	}
	return s + " A table of months is better, a file of hours best."
}

// maxWeather bounds a file of weather, bytes.
const maxWeather = 16 << 20

// putWeather takes a file of hourly weather in.
func (sv *Server) putWeather(c *echo.Context) error {
	st, seen, err := sv.changing(c)
	if err != nil {
		return err
	}
	fh, err := c.FormFile("weather")
	if err != nil {
		return sv.again(c, st, "place", "No file came; choose an EPW or TMY3 file first.")
	}
	src, err := fh.Open()
	if err != nil {
		return err
	}
	defer src.Close()
	data, err := io.ReadAll(io.LimitReader(src, maxWeather+1))
	if err != nil {
		return err
	}
	if len(data) > maxWeather {
		return sv.again(c, st, "place", fh.Filename+" is over 16 MB; a year of hours is about 2 MB.")
	}
	y, err := climate.Read(bytes.NewReader(data))
	if err != nil {
		return sv.again(c, st, "place", fh.Filename+": "+err.Error())
	}
	name := strings.TrimSpace(y.Place)
	if name == "" {
		name = fh.Filename
	}
	sum, err := sv.store.PutWeather(c.Request().Context(), name, data)
	if err != nil {
		return err
	}
	if _, err := sv.save(c, seen, "Weather file", units.System{}, design.Change{Path: "climate.file", Value: sum}); err != nil {
		return sv.again(c, st, "place", err.Error())
	}
	return c.Redirect(http.StatusSeeOther, heaterURL(st.Heater, "place"))
}

// askWeather has the weather station tell the months of the heater's place.
func (sv *Server) askWeather(c *echo.Context) error {
	st, seen, err := sv.changing(c)
	if err != nil {
		return err
	}
	text, err := standin.Ask(c.Request().Context(), sv.Station, st.Document.Place.Latitude, st.Document.Place.Longitude, st.Document.Place.Elevation)
	if err != nil {
		return sv.answer(c, st, "The weather station does not answer: "+err.Error()+". Give facts, a table or a file instead.")
	}
	saved, err := sv.save(c, seen, "Months from the weather station", units.System{}, design.Change{Path: "climate.months", Typed: text, Origin: design.Measured})
	if err != nil {
		return sv.refused(c, st, "climate.months", text, err)
	}
	return sv.answer(c, saved.State, "Twelve months came from the weather station; undo takes them back.")
}

// again shows a station with a message.
func (sv *Server) again(c *echo.Context, st store.State, key, notice string) error {
	f, err := sv.at(c, st, key)
	if err != nil {
		return err
	}
	f.Notice = notice
	return c.Render(http.StatusUnprocessableEntity, "frame.html", f)
}

// weatherOf is the year of hours that a heater's document names.
func (sv *Server) weatherOf(h *design.Heater) (*climate.Year, error) {
	if h.Climate.File == "" {
		return climate.Of(h)
	}
	name, data, err := sv.store.Weather(context.Background(), h.Climate.File)
	if err != nil {
		return nil, fmt.Errorf("the weather file of this heater cannot be had (%w); bring it in again at the place, or give it up there", err)
	}
	y, err := climate.Read(bytes.NewReader(data))
	if err != nil {
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	y.Source = name
	return y, nil
}
