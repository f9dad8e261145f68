package ui

import (
	"encoding/json"
	"net/http"
	"net/url"
	"strings"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"
	"golang.org/x/text/language"

	"gladember/core/design"
	"gladember/core/units"
)

// Page is what every page knows.
type Page struct {
	Title string
	Theme string       // "", light or dark
	Units units.System // of the one who looks
	Shop  units.System // of the workshop: what sizes it buys in
	CSRF  string
	Here  string // path to come back to
	// Currency is the sign that sums of money carry; empty where none was set
	// and the country is not known.
	Currency string
	// chosen says that the person chose the currency, or chose none.
	chosen bool
}

// Names of the cookies that keep what the one who looks has switched.
const (
	unitsCookie = "units"
	themeCookie = "theme"
)

// NewPage reads the settings of a request: those of the workshop, with what the one who looks has switched in the browser.
func NewPage(c *echo.Context, title string) Page {
	p := Page{Title: title, Here: c.Request().URL.RequestURI()}
	if t, ok := c.Get("csrf").(string); ok {
		p.CSRF = t
	} else {
		p.CSRF = middleware.CSRFUsingSecFetchSite
	}
	own := workshopOf(c)
	p.Shop, p.Currency, p.chosen = own.Workshop.Units(byLanguage(c)), own.Workshop.Currency, own.Workshop.Currency != ""
	p.Units = p.Shop
	if k, err := c.Cookie(unitsCookie); err == nil {
		p.Units = unitsOf(k.Value)
	}
	if k, err := c.Cookie(themeCookie); err == nil && (k.Value == "light" || k.Value == "dark") {
		p.Theme = k.Value
	}
	return p
}

// workshopKey is where a request carries what all heaters share.
const workshopKey = "workshop"

// InWorkshop lets every request carry what all heaters share.
func (sv *Server) InWorkshop(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		if st, err := sv.Store.Workshop(c.Request().Context()); err == nil { // of a damaged file the pages tell
			c.Set(workshopKey, &st.Document)
		}
		return next(c)
	}
}

// workshopOf is what all heaters share, in a heater of which nothing else is known.
func workshopOf(c *echo.Context) *design.Heater {
	if h, ok := c.Get(workshopKey).(*design.Heater); ok {
		return h
	}
	return &design.Heater{}
}

// SetShop changes units, or currency, of the whole workshop, and takes back what this browser had switched.
func (sv *Server) SetShop(c *echo.Context, label string, changes ...design.Change) error {
	if err := sv.Store.EditWorkshop(c.Request().Context(), label, units.System{}, changes...); err != nil {
		return err
	}
	c.SetCookie(&http.Cookie{Name: unitsCookie, Path: "/", MaxAge: -1, HttpOnly: true, SameSite: http.SameSiteStrictMode})
	return nil
}

// byLanguage is what people use where a browser's first language is spoken: inches and degrees Fahrenheit in the United States.
func byLanguage(c *echo.Context) (u units.System) {
	first, _, _ := strings.Cut(c.Request().Header.Get("Accept-Language"), ",")
	first, _, _ = strings.Cut(first, ";")
	if tag, err := language.Parse(strings.TrimSpace(first)); err == nil {
		if region, sure := tag.Region(); sure == language.Exact && region.String() == "US" {
			u.Inches, u.Fahrenheit = true, true
		}
	}
	return u
}

// unitsOf reads a cookie such as in.F.comma.
func unitsOf(cookie string) (u units.System) {
	for _, word := range strings.Split(cookie, ".") {
		switch word {
		case "in":
			u.Inches = true
		case "F":
			u.Fahrenheit = true
		case "comma":
			u.DecimalComma = true
		}
	}
	return u
}

// unitsText is what [unitsOf] reads.
func unitsText(u units.System) string {
	words := []string{"mm"}
	if u.Inches {
		words[0] = "in"
	}
	if u.Fahrenheit {
		words = append(words, "F")
	}
	if u.DecimalComma {
		words = append(words, "comma")
	}
	return strings.Join(words, ".")
}

// SetUnits keeps a system of units in the browser, for the one who looks.
func SetUnits(c *echo.Context, u units.System) { SetCookie(c, unitsCookie, unitsText(u)) }

// UnitsChosen says whether the units were chosen, for the workshop or in this browser.
func UnitsChosen(c *echo.Context) bool {
	_, err := c.Cookie(unitsCookie)
	return err == nil || workshopOf(c).Given(design.WorkshopLength)
}

// SetTheme keeps light, dark or whatever the machine is set to in the browser.
func SetTheme(c *echo.Context, theme string) {
	if theme != "light" && theme != "dark" {
		theme = "auto"
	}
	SetCookie(c, themeCookie, theme)
}

// SetCookie keeps a value in the browser for a year.
func SetCookie(c *echo.Context, name, value string) {
	c.SetCookie(&http.Cookie{Name: name, Value: value, Path: "/", MaxAge: 365 * 24 * 3600, HttpOnly: true,
		SameSite: http.SameSiteStrictMode})
}

// Headers are the request headers htmx sends with every change, as JSON.
func (p Page) Headers() (string, error) {
	b, err := json.Marshal(map[string]string{"X-CSRF-Token": p.CSRF})
	return string(b), err
}

// UnitsWords names the person's units, of length and of temperature.
func (p Page) UnitsWords() [2]string {
	return [2]string{p.Units.Unit(units.Length), p.Units.Unit(units.Temperature)}
}

// Sum is a sum of money as the country of its currency writes it.
func (p Page) Sum(v float64, digits int) string { return units.Money(v, digits, p.Currency, p.Units) }

// BackTo is the page that a setting was changed on: a path of ours, nothing else.
func BackTo(c *echo.Context) string {
	u, err := url.Parse(c.FormValue("here"))
	if err != nil || u.IsAbs() || u.Host != "" || !strings.HasPrefix(u.Path, "/") || strings.HasPrefix(u.Path, "//") {
		return "/"
	}
	return u.RequestURI()
}
