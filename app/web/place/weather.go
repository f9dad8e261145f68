package place

import (
	"bytes"
	"errors"
	"io"
	"net/http"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/standin"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/climate"
	"gladember/core/design"
	"gladember/core/units"
)

// ClimateView is where the weather of a year comes from.
type ClimateView struct {
	Now       string // what is used
	File      string // the kept file's name
	DropVals  string // removes the file
	UploadURL string
	AskURL    string // of the weather station, if one is known
}

// maxWeather bounds a file of weather, bytes.
const maxWeather = 16 << 20

// station are the handlers.
type station struct{ *ui.Server }

func routes(sv *ui.Server, g *echo.Group) {
	s := station{sv}
	g.POST("/weather", s.importWeather)
	g.POST("/weather/ask", s.askWeather)
}

// climateView says which weather is used and how another comes in.
func climateView(v *ui.Visit) (*ClimateView, error) {
	h := v.Doc()
	c := &ClimateView{UploadURL: v.F.StationURL("place/weather")}
	if v.WeatherStation != "" {
		c.AskURL = v.F.StationURL("place/weather/ask")
	}
	switch {
	case h.Climate.File != "":
		c.DropVals = v.F.Vals(design.ClimateFile.Path, map[string]string{"ours": "1"})
		name, _, err := v.Store.Weather(v.Ctx(), h.Climate.File)
		if errors.Is(err, store.ErrNotFound) || err != nil && v.Ctx().Err() == nil {
			c.File, c.Now = "the missing file", "The weather file of this heater is missing; import it again."
			return c, nil
		}
		if err != nil {
			return nil, err
		}
		c.File, c.Now = name, "Used now: the hours of "+name+"."
	case len(h.Climate.Months) == 12:
		c.Now = "Used now: hours made from the table of months."
	default:
		c.Now = estimated(h, v.F.Units)
	}
	return c, nil
}

// far is a distance over land, km, in km or miles.
func far(km float64, u units.System) string {
	const mile = 1.609344 // km
	if u.Inches {
		return units.Decimals(km/mile, 0, u) + " miles"
	}
	return units.Decimals(km, 0, u) + " km"
}

// estimated says what a year by facts rests on, how rough it is, and which fact would narrow it most.
func estimated(h *design.Heater, u units.System) string {
	if climate.Lacks(h) != nil {
		return "There is no weather yet: enter the town, a table of months, or import a weather file."
	}
	e := h.Place.Usual()
	d, _ := climate.EstimateDoubt(h)
	s := "Used now: an estimate from the weather stations around; the nearest is " + e.Nearest + ", " + far(e.Distance, u) +
		" away. Monthly temperatures may be off by " + units.Format(units.Rise, 2*d.Temperature, u) +
		", sunny days in winter by " + units.Decimals(20*d.Winter, 1, u) + " in ten."
	if e.Thin() {
		s += " There are few stations here, so this is a rough guide."
	}
	switch climate.Narrows(h) {
	case design.ClimateSunnyWinter.Path:
		return s + " Entering how many days in ten are sunny in winter would reduce the uncertainty most."
	case design.ClimateColdest.Path:
		return s + " Entering the mean temperature of the coldest month would reduce the uncertainty most."
	case design.ClimateSunny.Path:
		return s + " Entering how many days in ten are sunny in summer would reduce the uncertainty further."
	}
	return s + " A table of months is better, a file of hours best."
}

// importWeather takes a file of hourly weather in.
func (sv station) importWeather(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	again := func(text string) error { return sv.Again(c, st, "place", text) }
	src := ui.FileOf(c, "weather")
	if src == nil {
		return again("No file was sent; choose an EPW or TMY3 file first.")
	}
	data, err := io.ReadAll(io.LimitReader(src, maxWeather+1))
	if err != nil {
		return err
	}
	if len(data) > maxWeather {
		return again(src.Named + " is larger than 16 MB; a year of hours is about 2 MB.")
	}
	y, err := climate.Read(bytes.NewReader(data))
	if err != nil {
		return again(src.Named + ": " + err.Error())
	}
	name := strings.TrimSpace(y.Place)
	if name == "" {
		name = src.Named
	}
	sum, err := sv.Store.PutWeather(c.Request().Context(), name, data)
	if err != nil {
		return err
	}
	saved, err := sv.Save(c, seen, "Weather file", units.System{}, design.Set(design.ClimateFile, sum))
	if err != nil {
		if ui.BehindOf(err) != nil {
			return err
		}
		return again(err.Error())
	}
	if len(y.Notes) > 0 { // what was mended is said once
		v, err := sv.OpenAt(c, saved.State, "place")
		if err != nil {
			return err
		}
		v.F.Notice = ui.Sentences(append([]string{src.Named + " is imported."}, y.Notes...)...)
		return c.Render(http.StatusOK, "frame.html", v.F)
	}
	return c.Redirect(http.StatusSeeOther, ui.HeaterURL(st.Heater, "place"))
}

// askWeather has the weather station tell the months of the heater's place.
func (sv station) askWeather(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	p := st.Document.Place
	text, err := standin.Ask(c.Request().Context(), sv.WeatherStation, p.Latitude, p.Longitude, p.Elevation)
	if err != nil {
		return sv.Answer(c, st, "The weather station does not answer: "+err.Error()+". Enter facts or a table, or import a file instead.")
	}
	months := design.Change{Path: design.ClimateMonths.Path, Typed: text, Origin: design.Measured}
	saved, err := sv.Save(c, seen, "Months from the weather station", units.System{}, months)
	if err != nil {
		return sv.Refuse(c, st, design.ClimateMonths.Path, text, err)
	}
	return sv.Answer(c, saved.State, "Twelve months came from the weather station. Undo removes them.")
}
