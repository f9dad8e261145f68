package stock

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/design"
	"gladember/core/sizing"
	"gladember/core/units"
)

// station are the handlers.
type station struct{ *ui.Server }

func routes(sv *ui.Server, g *echo.Group) {
	s := station{sv}
	g.POST("/add", s.add)
	g.POST("/test", s.test)
	g.POST("/take", s.take)
	g.POST("/size", s.size)
	g.POST("/:thing/drop", s.drop)
	g.POST("/:thing/more", s.more)
}

// Draft is an item as it is typed.
type Draft struct{ What, Size, Thick, Count, Goal, Condition, Price, Resale string }

// thing reads a draft; the size as people write it: 34 x 58, or one length.
func (d *Draft) thing(u units.System) (t sizing.Thing, err error) {
	kind, what, _ := strings.Cut(d.What, ":")
	t = sizing.Thing{Kind: sizing.Kind(kind), What: what, Condition: d.Condition}
	if s := strings.TrimSpace(d.Size); s != "" {
		if t.Width, t.Height, err = design.ParsePane(s, u); err != nil {
			var one float64
			if one, err = units.Parse(units.Distance, s, u); err != nil {
				return t, fmt.Errorf("%q is not a size: enter 34 x 58 for a sheet, or 2.4 m for a length", s)
			}
			t.Width, t.Height = 0, one
		}
	}
	if s := strings.TrimSpace(d.Thick); s != "" {
		if t.Thickness, err = units.Parse(units.Length, s, u); err != nil {
			return t, fmt.Errorf("thickness: %w", err)
		}
	}
	for _, x := range []struct {
		name, text string
		to         *float64
	}{{"price", d.Price, &t.Price}, {"resale value", d.Resale, &t.Resale}} {
		if s := strings.TrimSpace(x.text); s != "" {
			if *x.to, err = units.ParseMoney(s, u); err != nil {
				return t, fmt.Errorf("%s: %w", x.name, err)
			}
		}
	}
	if t.Count, err = count("quantity", d.Count, 1); err != nil {
		return t, err
	}
	if t.Goal, err = count("quantity wanted", d.Goal, 0); err != nil {
		return t, err
	}
	return t, t.Check()
}

// count reads a whole number; none is what an empty entry means.
func count(name, text string, none int) (int, error) {
	if text = strings.TrimSpace(text); text == "" {
		return none, nil
	}
	n, err := strconv.Atoi(text)
	if err != nil {
		return 0, fmt.Errorf("%s: %q is not a whole number; enter one like 12", name, text)
	}
	return n, nil
}

// draftOf writes an item as it would be typed.
func draftOf(t *sizing.Thing, u units.System) Draft {
	d := Draft{
		What: string(t.Kind) + ":" + t.What, Count: strconv.Itoa(t.Count), Condition: t.Condition,
		Price: amount(t.Price), Resale: amount(t.Resale), Size: sizeOf(t, u, " x "),
	}
	if t.Thickness > 0 {
		d.Thick = units.Format(units.Length, t.Thickness, u)
	}
	if t.Goal > 0 {
		d.Goal = strconv.Itoa(t.Goal)
	}
	return d
}

// amount writes a sum as it is typed; empty for none.
func amount(v float64) string {
	if v == 0 {
		return ""
	}
	return strconv.FormatFloat(v, 'f', -1, 64)
}

// said is what an answer adds to the station.
type said struct {
	refused string
	draft   *Draft
	verdict string
}

// again answers with the stock as it is now; what was typed stays if it was refused.
func (sv station) again(c *echo.Context, st store.State, s said) error {
	v, err := sv.OpenAt(c, st, "stock")
	if err != nil {
		return err
	}
	c.Response().Header().Set("HX-Trigger", "stocked")
	if view, ok := v.F.View.(*View); ok {
		view.Error, view.Verdict = s.refused, s.verdict
		if s.draft != nil {
			view.Draft = *s.draft
			view.choices()
		}
	}
	return c.Render(http.StatusOK, "changed", v.F)
}

// add takes an item in.
func (sv station) add(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	f := c.FormValue
	d := Draft{f("what"), f("size"), f("thick"), f("count"), f("goal"), f("condition"), f("price"), f("resale")}
	t, err := d.thing(ui.NewPage(c, "").Units)
	if err != nil {
		return sv.again(c, st, said{refused: ui.Capital(err.Error()), draft: &d})
	}
	b, err := json.Marshal(t)
	if err != nil {
		return err
	}
	if err := sv.Store.PutStock(c.Request().Context(), string(t.Kind), string(b)); err != nil {
		return err
	}
	return sv.again(c, st, said{})
}

// found looks up the item that the address names; ok is false where another page removed it.
func (sv station) found(c *echo.Context) (t sizing.Thing, id int64, ok bool, err error) {
	things, ids, err := sv.Stock(c.Request().Context())
	if err != nil {
		return t, 0, false, err
	}
	for i := range things {
		if ui.ID(ids[i]) == c.Param("thing") {
			return things[i], ids[i], true, nil
		}
	}
	return t, 0, false, nil
}

// drop removes an item and puts it into the form, from which one touch adds it again.
func (sv station) drop(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	t, id, ok, err := sv.found(c)
	if err != nil {
		return err
	}
	if !ok {
		return sv.again(c, st, said{})
	}
	if err := sv.Store.DropStock(c.Request().Context(), id); err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	d := draftOf(&t, ui.NewPage(c, "").Units)
	return sv.again(c, st, said{draft: &d})
}

// most is how many of an item may be counted.
const most = 10000

// more counts some more of an item that is being collected, or marks a pane's condition.
func (sv station) more(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	const allHeaters = 0
	done, err := sv.Alone(c.Request().Context(), allHeaters)
	if err != nil {
		return err
	}
	defer done()
	t, id, ok, err := sv.found(c)
	if err != nil {
		return err
	}
	if ok {
		if n, err := strconv.Atoi(c.FormValue("more")); err == nil {
			t.Count = max(1, min(most, t.Count+n))
		}
		if s := c.FormValue("condition"); sizing.KnownCondition(s) {
			t.Condition = s
		}
		b, err := json.Marshal(t)
		if err != nil {
			return err
		}
		if err := sv.Store.SetStock(c.Request().Context(), id, string(b)); err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
	}
	return sv.again(c, st, said{})
}

// test judges a pane that may carry a coating.
func (sv station) test(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	u := ui.NewPage(c, "").Units
	number := func(name string) (float64, error) {
		s := strings.TrimSpace(c.FormValue(name))
		if s == "" {
			return 0, nil
		}
		return units.Parse(units.Number, s, u)
	}
	open, err1 := number("open")
	under, err2 := number("under")
	if err := errors.Join(err1, err2); err != nil {
		return sv.again(c, st, said{verdict: err.Error()})
	}
	v, err := sizing.TestPane(open, under, c.FormValue("ground"))
	if err != nil {
		return sv.again(c, st, said{verdict: ui.Capital(err.Error()) + "."})
	}
	return sv.again(c, st, said{verdict: v.Text})
}

// take makes this heater one of the boxes of the stock.
func (sv station) take(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	things, _, err := sv.Stock(c.Request().Context())
	if err != nil {
		return err
	}
	s := sizing.CollectStock(things, 0)
	if err := s.Check(); err != nil {
		return sv.again(c, st, said{refused: ui.Capital(err.Error())})
	}
	if changes := changesOf(st.Document, &s, c.FormValue); changes != nil {
		return sv.Apply(c, st, seen, "A box of the materials on hand", changes)
	}
	return sv.again(c, st, said{refused: "The materials for that box are no longer on hand"})
}
