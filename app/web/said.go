package web

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/labstack/echo/v5"

	"gladember/core/advice"
	"gladember/core/design"
	"gladember/core/units"
)

// SaidView is what builders say of such boxes, put to this one.
type SaidView struct {
	Beliefs   []BeliefRow
	Questions []QuestionRow
	TakeURL   string
	YearURL   string // where the questions are put to the year; empty once they have been
}

// BeliefRow is a belief with what the computation says.
type BeliefRow struct{ Claim, Holds, Says string }

// QuestionRow is a disagreement with each side's result.
type QuestionRow struct {
	Question string
	Sides    []SideRow
}

// SideRow is a side of it.
type SideRow struct {
	Name, Heat, Out, Hot, Useful, Saved, Vals string
	Harms                                     bool // it brings a danger or a fault
	Tie                                       bool // as good as the best, for all that can be told
}

func (f *Frame) said(sv *Server, e *evaluated) {
	f.Said = sv.sayings.of(&f.State.Document, func(*design.Heater) *SaidView { return f.saidView(e) }, fmt.Sprint(f.Units, f.ID))
}

// saidView puts beliefs and disagreements to the heater, each by runs of its own.
func (f *Frame) saidView(e *evaluated) *SaidView {
	u := f.Units
	v := &SaidView{TakeURL: heaterURL(f.ID, "said", "take")}
	for _, b := range advice.Beliefs(&e.eval) {
		v.Beliefs = append(v.Beliefs, BeliefRow{b.Claim, b.Holds, b.Says.In(u)})
	}
	if f.State.Document.KnowsPlace() {
		v.YearURL = heaterURL(f.ID, "said", "year")
	}
	v.Questions = f.questions(advice.Choices(&e.eval))
	return v
}

// questions are disagreements as the page shows them.
func (f *Frame) questions(cs []advice.Choice) (rows []QuestionRow) {
	u := f.Units
	for _, q := range cs {
		row := QuestionRow{Question: q.Question}
		ties, years := 0, false
		for _, s := range q.Sides {
			years = years || s.HasYear
			if s.HasYear && s.YearTie || !s.HasYear && s.Tie {
				ties++
			}
		}
		for i, s := range q.Sides {
			x := SideRow{Name: s.Name, Heat: units.Format(units.Power, s.Heat, u), Out: units.Format(units.Temperature, s.Out, u), Hot: units.Format(units.Temperature, s.Hot, u)}
			x.Harms = s.Harms
			x.Tie = ties > 1 && (years && s.YearTie || !years && s.Tie)
			if s.HasYear {
				x.Useful, x.Saved = units.Format(units.Energy, s.Useful, u), f.Sum(s.Money, 0)
			}
			if isNow := s.Patch != nil && slices.ContainsFunc(s.Patch, func(c design.Change) bool { return design.Get(&f.State.Document, c.Path) != c.Value }); isNow {
				x.Vals = f.vals("", map[string]string{"question": q.ID, "side": strconv.Itoa(i)})
			}
			row.Sides = append(row.Sides, x)
		}
		rows = append(rows, row)
	}
	return rows
}

// saidYear puts the disagreements to the heater's year.
func (sv *Server) saidYear(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	f, e := sv.frame(c, st, "said")
	w := sv.years.of(&st.Document)
	if e.err != nil || w.err != nil {
		return c.Render(http.StatusOK, "questions", SaidView{Questions: f.questions(advice.Choices(&e.eval)), TakeURL: heaterURL(f.ID, "said", "take")})
	}
	cs, err := w.debated(c.Request().Context(), &e.eval)
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "questions", SaidView{Questions: f.questions(cs), TakeURL: heaterURL(f.ID, "said", "take")})
}

// saidTake makes this heater as one side of a disagreement would.
func (sv *Server) saidTake(c *echo.Context) error {
	st, seen, err := sv.changing(c)
	if err != nil {
		return err
	}
	e := sv.evals.of(&st.Document)
	if e.err != nil {
		return e.err
	}
	i, _ := strconv.Atoi(c.FormValue("side"))
	for _, q := range advice.Disagreements(&e.eval) {
		if q.ID == c.FormValue("question") && i >= 0 && i < len(q.Sides) && q.Sides[i].Patch != nil {
			name := q.Sides[i].Name
			return sv.taken(c, st, seen, strings.ToUpper(name[:1])+name[1:], q.Sides[i].Patch)
		}
	}
	return sv.answer(c, st, "That is no longer a question for this box.")
}

// SettingsView is what a person sets for this browser.
type SettingsView struct {
	Page
	Error string
}

func (sv *Server) settingsPage(c *echo.Context) error {
	return c.Render(http.StatusOK, "settings.html", SettingsView{Page: sv.page(c, "Settings")})
}

// setSettings keeps units, decimal mark, currency and theme in this browser.
func (sv *Server) setSettings(c *echo.Context) error {
	money := strings.TrimSpace(c.FormValue("currency"))
	if utf8.RuneCountInString(money) > 4 || strings.ContainsAny(money, "0123456789;=\"") {
		v := SettingsView{sv.page(c, "Settings"), "A currency is a sign or up to four letters, such as € or CHF."}
		return c.Render(http.StatusUnprocessableEntity, "settings.html", v)
	}
	v := "mm"
	if c.FormValue("length") == "in" {
		v = "in"
	}
	if c.FormValue("heat") == "F" {
		v += ".F"
	}
	if c.FormValue("decimal") == "comma" {
		v += ".comma"
	}
	setCookie(c, "units", v)
	setCookie(c, "currency", url.QueryEscape(money))
	theme := c.FormValue("theme")
	if theme != "light" && theme != "dark" {
		theme = "auto"
	}
	setCookie(c, "theme", theme)
	return c.Redirect(http.StatusSeeOther, "/settings")
}

// WordsView is the glossary.
type WordsView struct {
	Page
	Words []advice.Word
}

func (sv *Server) words(c *echo.Context) error {
	return c.Render(http.StatusOK, "words.html", WordsView{sv.page(c, "Words"), advice.Glossary})
}
