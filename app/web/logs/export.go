package logs

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"strconv"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/core/measure"
	"gladember/core/units"
)

// exports are the files that a stretch of a log is sent as.
var exports = []struct{ file, name string }{{"readings.csv", "CSV"}, {"readings.json", "JSON"}, {"chart.svg", "chart as SVG"}}

// export sends a stretch of the log as a file.
func (sv station) export(c *echo.Context) error {
	x, err := sv.read(c)
	if err != nil {
		return err
	}
	h := c.Response().Header()
	file := c.Param("file")
	h.Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", x.day()+"-"+file))
	switch file {
	case "readings.csv":
		h.Set("Content-Type", "text/csv; charset=utf-8")
		return x.writeCSV(c.Response())
	case "readings.json":
		h.Set("Content-Type", "application/json")
		return x.writeJSON(c.Response())
	case "chart.svg":
		h.Set("Content-Type", "image/svg+xml")
		_, err := c.Response().Write([]byte(drawing.LogChart(x.drawn(), x.F.Units)))
		return err
	}
	h.Del("Content-Disposition")
	return echo.NewHTTPError(http.StatusNotFound, "There is no such file of a log.")
}

// each calls a function with the readings of the stretch, put right, day by day.
func (x *stretchOf) each(do func([]measure.Sample) error) error {
	const step = 24 * time.Hour
	for from := x.rng.From; from.Before(x.rng.To); from = from.Add(step) {
		to := from.Add(step)
		if to.After(x.rng.To) {
			to = x.rng.To
		}
		samples, err := x.log.WithExcluded(x.Ctx(), from, to)
		if err != nil {
			return err
		}
		if err := do(samples); err != nil {
			return err
		}
	}
	return nil
}

// writeCSV writes the readings with times that name their offset, temperatures in the person's unit.
func (x *stretchOf) writeCSV(to interface{ Write([]byte) (int, error) }) error {
	u := x.F.Units
	deg := u.Unit(units.Temperature)
	w := csv.NewWriter(to)
	if err := w.Write([]string{"time", "inlet " + deg, "outlet " + deg, "outdoor " + deg, "sun W/m2", "speed m/s",
		"excluded"}); err != nil {
		return err
	}
	text := func(v float64) string {
		if math.IsNaN(v) {
			return ""
		}
		return strconv.FormatFloat(math.Round(v*1e6)/1e6, 'f', -1, 64)
	}
	temp := func(v float64) string { return text(u.In(units.Temperature, v)) }
	err := x.each(func(day []measure.Sample) error {
		for _, s := range day {
			left := ""
			if x.log.Excludes(s.At) {
				left = "yes"
			}
			row := []string{s.At.In(x.log.Setup.Zone).Format("2006-01-02T15:04:05.999Z07:00"), temp(s.Inlet), temp(s.Outlet),
				temp(s.Outdoor),
				text(s.Sun), text(s.Speed), left}
			if err := w.Write(row); err != nil {
				return err
			}
		}
		return nil
	})
	w.Flush()
	if err != nil {
		return err
	}
	return w.Error()
}

// reading is a reading as JSON has it; null for what was not measured.
type reading struct {
	At       time.Time `json:"at"`
	Inlet    *float64  `json:"inlet_c"`
	Outlet   *float64  `json:"outlet_c"`
	Outdoor  *float64  `json:"outdoor_c,omitempty"`
	Sun      *float64  `json:"sun_w_m2,omitempty"`
	Speed    *float64  `json:"speed_m_s,omitempty"`
	Excluded bool      `json:"excluded,omitempty"`
}

// dayOut is a day as JSON has it.
type dayOut struct {
	Date      string      `json:"date"`
	Heat      *float64    `json:"heat_kwh"`
	Low       *float64    `json:"heat_low_kwh"`
	High      *float64    `json:"heat_high_kwh"`
	FanHours  float64     `json:"fan_hours"`
	FanEnergy float64     `json:"fan_energy_kwh"`
	Runs      [][2]string `json:"runs"`
	Gaps      [][2]string `json:"gaps"`
	Refused   bool        `json:"refused"`
}

// noteOut is a note as JSON has it.
type noteOut struct {
	At   time.Time `json:"at"`
	Text string    `json:"text"`
}

// predictedOut is a prediction as JSON has it.
type predictedOut struct {
	At     time.Time `json:"at"`
	Outlet float64   `json:"outlet_c"`
	U      float64   `json:"standard_uncertainty_k"`
	Heat   float64   `json:"heat_w"`
}

// writeJSON writes the stretch with its runs, gaps, notes and prediction, in SI. The readings are written as they are read.
func (x *stretchOf) writeJSON(to interface{ Write([]byte) (int, error) }) error {
	head := struct {
		Heater    string         `json:"heater"`
		Version   string         `json:"version"`
		Zone      string         `json:"zone"`
		From      time.Time      `json:"from"`
		To        time.Time      `json:"to"`
		Interval  float64        `json:"interval_s"`
		Flow      float64        `json:"flow_kg_s"`
		Days      []dayOut       `json:"days"`
		Notes     []noteOut      `json:"notes"`
		Predicted []predictedOut `json:"predicted"`
	}{x.Doc().Name, x.State.Name, x.log.Setup.Zone.String(), x.rng.From.UTC(), x.rng.To.UTC(), x.log.Report.Interval.Seconds(),
		x.log.Report.Flow, []dayOut{}, []noteOut{}, []predictedOut{}}
	known := func(v float64) *float64 {
		if math.IsNaN(v) {
			return nil
		}
		return &v
	}
	for i := range x.days {
		d := &x.days[i]
		out := dayOut{Date: d.Date, Heat: known(d.Heat), Low: known(d.Band[0]), High: known(d.Band[1]), FanHours: d.RunHours,
			FanEnergy: d.FanEnergy(x.log.Setup.FanPower), Runs: [][2]string{}, Gaps: [][2]string{}, Refused: d.Impossible}
		for _, r := range d.Runs {
			out.Runs = append(out.Runs, [2]string{r.From.UTC().Format(time.RFC3339), r.To.UTC().Format(time.RFC3339)})
		}
		for _, g := range d.Gaps {
			out.Gaps = append(out.Gaps, [2]string{g.From.UTC().Format(time.RFC3339), g.To.UTC().Format(time.RFC3339)})
		}
		head.Days = append(head.Days, out)
	}
	for _, n := range x.notes {
		head.Notes = append(head.Notes, noteOut{n.at.UTC(), n.Text})
	}
	for _, p := range x.expected {
		head.Predicted = append(head.Predicted, predictedOut{p.At.UTC(), p.Outlet, p.U, p.Heat})
	}
	b, err := json.Marshal(head)
	if err != nil {
		return err
	}
	if _, err := to.Write(append(b[:len(b)-1], `,"readings":[`...)); err != nil {
		return err
	}
	comma := ""
	err = x.each(func(day []measure.Sample) error {
		for _, s := range day {
			b, err := json.Marshal(reading{s.At.UTC(), known(s.Inlet), known(s.Outlet), known(s.Outdoor), known(s.Sun), known(s.Speed),
				x.log.Excludes(s.At)})
			if err != nil {
				return err
			}
			if _, err := to.Write(append([]byte(comma), b...)); err != nil {
				return err
			}
			comma = ",\n"
		}
		return nil
	})
	if err != nil {
		return err
	}
	_, err = to.Write([]byte("]}\n"))
	return err
}

// drawn is the stretch for the drawing.
func (x *stretchOf) drawn() *drawing.LogStretch {
	s := &drawing.LogStretch{From: x.rng.From, To: x.rng.To, Zone: x.log.Setup.Zone, Points: x.rng.Points, Expected: x.expected,
		Title: x.Doc().Name + ", version " + x.State.Name}
	for i := range x.days {
		s.Runs = append(s.Runs, x.days[i].Runs...)
	}
	for _, n := range x.notes {
		s.Notes = append(s.Notes, drawing.LogNote{At: n.at, Text: n.Text})
	}
	return s
}
