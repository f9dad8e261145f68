package ui

import (
	"encoding/json"
	"net/http"
	"net/url"
	"strings"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"gladember/core/units"
)

// Page is what every page knows.
type Page struct {
	Title string
	Theme string // "", light or dark
	Units units.System
	CSRF  string
	Here  string // path to come back to
	// Currency is the sign that sums of money carry; empty where none was set
	// and the country is not known.
	Currency string
	// chosen says that the person chose the currency, or chose none.
	chosen bool
}

// Names of the cookies that keep a person's settings in a browser.
const (
	unitsCookie    = "units"
	currencyCookie = "currency"
	themeCookie    = "theme"
)

// PageOf reads a person's settings from a request.
func PageOf(c *echo.Context, title string) Page {
	p := Page{Title: title, Here: c.Request().URL.RequestURI()}
	if t, ok := c.Get("csrf").(string); ok {
		p.CSRF = t
	} else {
		p.CSRF = middleware.CSRFUsingSecFetchSite
	}
	if k, err := c.Cookie(unitsCookie); err == nil {
		p.Units = unitsOf(k.Value)
	}
	if k, err := c.Cookie(currencyCookie); err == nil {
		p.Currency, _ = url.QueryUnescape(k.Value)
		p.chosen = true
	}
	if k, err := c.Cookie(themeCookie); err == nil && (k.Value == "light" || k.Value == "dark") {
		p.Theme = k.Value
	}
	return p
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

// SetUnits keeps a system of units in the browser.
func SetUnits(c *echo.Context, u units.System) {
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
	SetCookie(c, unitsCookie, strings.Join(words, "."))
}

// UnitsChosen says whether the browser keeps a system of units.
func UnitsChosen(c *echo.Context) bool {
	_, err := c.Cookie(unitsCookie)
	return err == nil
}

// SetCurrency keeps the sign of money in the browser.
func SetCurrency(c *echo.Context, sign string) { SetCookie(c, currencyCookie, url.QueryEscape(sign)) }

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

// Sum is a sum of money as the person counts it.
func (p Page) Sum(v float64, digits int) string {
	return strings.TrimSpace(units.Decimals(v, digits, p.Units) + " " + p.Currency)
}

// BackTo is the page that a setting was changed on: a path of ours, nothing else.
func BackTo(c *echo.Context) string {
	u, err := url.Parse(c.FormValue("here"))
	if err != nil || u.IsAbs() || u.Host != "" || !strings.HasPrefix(u.Path, "/") || strings.HasPrefix(u.Path, "//") {
		return "/"
	}
	return u.RequestURI()
}
