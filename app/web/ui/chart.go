package ui

import "html/template"

// Chart is a drawing with axes in two widths, for wide screens and for phones.
type Chart struct {
	ID, Title, Note string
	Wide, Narrow    template.HTML
}

// DayTable is a day by hours, with the unit of its temperatures.
type DayTable struct {
	Unit string
	Rows []HourRow
}

// HourRow is an hour of the day in the table, as it is shown.
type HourRow struct{ Time, Inlet, Outlet, Outdoor, Heat string }

// Widths in which charts are drawn, pixels.
const (
	WideChart   = 660
	NarrowChart = 360
)

// Draw draws a chart in both widths.
func Draw(draw func(width float64) template.HTML) Chart {
	return Chart{Wide: draw(WideChart), Narrow: draw(NarrowChart)}
}
