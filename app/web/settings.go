package web

import (
	"net/http"
	"strings"
	"unicode/utf8"

	"github.com/labstack/echo/v5"

	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/units"
)

// SettingsView is what is set for the workshop, and the colors of this browser.
type SettingsView struct {
	ui.Page
	Error string
}

func (sv *site) settingsPage(c *echo.Context) error {
	return c.Render(http.StatusOK, "settings.html", SettingsView{Page: ui.PageOf(c, "Settings")})
}

// longestCurrency is how many letters a sign of money may have.
const longestCurrency = 4

// setSettings keeps units, decimal mark and currency for the workshop, and the theme in this browser.
func (sv *site) setSettings(c *echo.Context) error {
	sign := strings.TrimSpace(c.FormValue("currency"))
	if utf8.RuneCountInString(sign) > longestCurrency || strings.ContainsAny(sign, "0123456789;=\"") {
		v := SettingsView{ui.PageOf(c, "Settings"), "A currency is a sign or up to four letters, such as € or CHF."}
		return c.Render(http.StatusUnprocessableEntity, "settings.html", v)
	}
	if err := sv.SetShop(c, units.System{
		Inches: c.FormValue("length") == "in", Fahrenheit: c.FormValue("heat") == "F", DecimalComma: c.FormValue("decimal") == "comma",
	}); err != nil {
		return err
	}
	if err := sv.SetCurrency(c, sign); err != nil {
		return err
	}
	ui.SetTheme(c, c.FormValue("theme"))
	return c.Redirect(http.StatusSeeOther, "/settings")
}

// setUnits changes one unit to the other for the one who looks.
func (sv *site) setUnits(c *echo.Context) error {
	u := ui.PageOf(c, "").Units
	switch c.FormValue("flip") {
	case "length":
		u.Inches = !u.Inches
	case "heat":
		u.Fahrenheit = !u.Fahrenheit
	case "decimal":
		u.DecimalComma = !u.DecimalComma
	}
	ui.SetUnits(c, u)
	return c.Redirect(http.StatusSeeOther, ui.BackTo(c))
}

func (sv *site) setTheme(c *echo.Context) error {
	ui.SetTheme(c, c.FormValue("theme"))
	return c.Redirect(http.StatusSeeOther, ui.BackTo(c))
}

// GlossaryView is the glossary.
type GlossaryView struct {
	ui.Page
	Words []advice.Word
}

func (sv *site) glossary(c *echo.Context) error {
	return c.Render(http.StatusOK, "glossary.html", GlossaryView{ui.PageOf(c, "Glossary"), advice.Glossary})
}
