package web

import (
	"errors"
	"net/http"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/design"
	"gladember/core/units"
)

// SettingsView is what is set for the workshop, and the colors of this browser.
type SettingsView struct {
	ui.Page
	Error string
	// Undo names what was changed last; empty where there is nothing to take back.
	Undo string
	Redo bool
}

// settings answers with the page; why, if something was refused.
func (sv *site) settings(c *echo.Context, why string) error {
	v := SettingsView{Page: ui.NewPage(c, "Settings"), Error: why}
	if st, err := sv.Store.Workshop(c.Request().Context()); err == nil {
		if v.Redo = st.CanRedo; st.CanUndo {
			v.Undo = st.Label
		}
	}
	status := http.StatusOK
	if why != "" {
		status = http.StatusUnprocessableEntity
	}
	return c.Render(status, "settings.html", v)
}

func (sv *site) settingsPage(c *echo.Context) error { return sv.settings(c, "") }

// setSettings keeps units, decimal mark and currency for the workshop, and the theme in this browser.
func (sv *site) setSettings(c *echo.Context) error {
	currency := design.Reset(design.WorkshopCurrency)
	if sign := strings.TrimSpace(c.FormValue("currency")); sign != "" {
		currency = design.Set(design.WorkshopCurrency, sign)
	}
	err := sv.SetShop(c, "units and currency", append(design.UnitsChanges(units.System{
		Inches: c.FormValue("length") == "in", Fahrenheit: c.FormValue("heat") == "F", DecimalComma: c.FormValue("decimal") == "comma",
	}), currency)...)
	var bad *design.Problem
	if errors.As(err, &bad) {
		return sv.settings(c, ui.Capital(bad.Reason)+": "+bad.Remedy+".")
	}
	if err != nil {
		return err
	}
	ui.SetTheme(c, c.FormValue("theme"))
	return c.Redirect(http.StatusSeeOther, "/settings")
}

// moveSettings takes back what was changed last for the workshop, or makes it again.
func (sv *site) moveSettings(c *echo.Context) error {
	if err := sv.Store.MoveWorkshop(c.Request().Context(), c.FormValue("way") != "redo"); err != nil && !errors.Is(err, store.ErrNothing) {
		return err
	}
	return c.Redirect(http.StatusSeeOther, "/settings")
}

// setUnits changes one unit to the other for the one who looks.
func (sv *site) setUnits(c *echo.Context) error {
	u := ui.NewPage(c, "").Units
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
	return c.Render(http.StatusOK, "glossary.html", GlossaryView{ui.NewPage(c, "Glossary"), advice.Glossary})
}
