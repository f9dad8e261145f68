package logs

import (
	"math"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/collector"
	"gladember/core/measure"
	"gladember/core/units"
)

// ExcludedRow is a stretch that is left out.
type ExcludedRow struct{ When, Why, Vals string }

// excludedRows lists what is left out of a log.
func excludedRows(f *ui.Frame, out []store.Excluded, zone *time.Location) (rows []ExcludedRow) {
	for _, x := range out {
		rows = append(rows, ExcludedRow{span(x.From(), x.To(), zone), x.Why, f.Vals("", map[string]string{"stretch": ui.ID(x.ID)})})
	}
	return rows
}

// span writes a stretch, the day once where it is one.
func span(from, to time.Time, zone *time.Location) string {
	if to.In(zone).Format(time.DateOnly) == from.In(zone).Format(time.DateOnly) {
		return dated(from, zone) + " to " + to.In(zone).Format("15:04")
	}
	return dated(from, zone) + " to " + dated(to, zone)
}

// stretchVals sends a finding's stretch to be excluded; empty for one that concerns the whole log.
func stretchVals(f *ui.Frame, x *measure.Finding) string {
	if x.From.IsZero() {
		return ""
	}
	return f.Vals("", map[string]string{"lo": strconv.FormatInt(x.From.UnixMilli(), 10), "hi": strconv.FormatInt(x.To.UnixMilli(), 10),
		"why": x.Title})
}

// stretch reads the stretch to exclude: from one moment to another, in ms or by the clock.
func stretch(c *echo.Context, zone *time.Location) (from, to time.Time, ok bool) {
	lo, e1 := strconv.ParseInt(c.FormValue("lo"), 10, 64)
	hi, e2 := strconv.ParseInt(c.FormValue("hi"), 10, 64)
	if e1 == nil && e2 == nil {
		from, to = time.UnixMilli(lo), time.UnixMilli(hi)
	} else {
		if from, ok = moment(c.FormValue("from"), zone); !ok {
			return from, to, false
		}
		if to, ok = moment(c.FormValue("to"), zone); !ok {
			return from, to, false
		}
		to = to.Add(59 * time.Second) // the minute that was named is meant whole
	}
	const longest = 400 * 24 * time.Hour
	return from, to, to.After(from) && to.Sub(from) < longest && from.Year() > 1989 && from.Year() < 2101
}

// exclude leaves a stretch out of the judgment.
func (sv station) exclude(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	zone := collector.Site(&st.Document).Zone
	from, to, ok := stretch(c, zone)
	if !ok {
		return sv.declined(c, st, "Enter two moments, the earlier one first.")
	}
	why := c.FormValue("why")
	const longest = 200
	if len(why) > longest {
		why = strings.ToValidUTF8(why[:longest], "") // no half of a letter
	}
	if err := sv.Store.Exclude(c.Request().Context(), st.Heater, from, to, why); err != nil {
		return err
	}
	return sv.mended(c, st, "Excluded: "+span(from, to, zone)+". The readings stay in the log.")
}

// include takes a stretch back.
func (sv station) include(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	id, _ := strconv.ParseInt(c.FormValue("stretch"), 10, 64)
	if err := sv.Store.Include(c.Request().Context(), st.Heater, id); err != nil {
		return err
	}
	return sv.mended(c, st, "The stretch counts again.")
}

// declined answers a change that cannot be made.
func (sv station) declined(c *echo.Context, st store.State, why string) error {
	ui.Declined(c, why)
	return sv.mended(c, st, why)
}

// mended answers with the station anew.
func (sv station) mended(c *echo.Context, st store.State, notice string) error {
	v, err := sv.Visit(c, st, "log")
	if err != nil {
		return err
	}
	if v.Heater != nil {
		if err := open(v); err != nil {
			return err
		}
	}
	return v.Changed(notice)
}

// byHand adds one reading that was taken with thermometers.
func (sv station) byHand(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	u := ui.NewPage(c, "").Units
	at, ok := moment(c.FormValue("at"), collector.Site(&st.Document).Zone)
	if !ok {
		return sv.Again(c, st, "log", "Enter the day and the time of the reading.")
	}
	s := measure.Sample{At: at}
	for i := range measure.Quantities {
		q := &measure.Quantities[i]
		value, text := q.Of(&s), c.FormValue(q.ID)
		*value = math.NaN()
		if text == "" {
			continue
		}
		v, err := units.Parse(q.Kind, text, u)
		if err != nil {
			return sv.Again(c, st, "log", ui.Capital(q.Name)+": "+err.Error()+".")
		}
		if v < q.Low || v > q.High {
			return sv.Again(c, st, "log", ui.Capital(measure.Implausible{Quantity: q, Value: v}.In(u))+".")
		}
		*value = v
	}
	if math.IsNaN(s.Inlet) || math.IsNaN(s.Outlet) {
		return sv.Again(c, st, "log", "Enter the inlet and the outlet temperature.")
	}
	if err := sv.Store.AddByHand(c.Request().Context(), st.Logged(), s); err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, ui.HeaterURL(st.Heater, "log")+"?day="+at.Format(time.DateOnly))
}
