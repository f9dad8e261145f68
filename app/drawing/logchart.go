package drawing

import (
	"fmt"
	"math"
	"strings"
	"time"

	"gladember/core/measure"
	"gladember/core/units"
)

// LogStretch is a stretch of a log as it is drawn to a file.
type LogStretch struct {
	Title    string
	From, To time.Time
	Zone     *time.Location
	Points   []measure.Sample // NaN in gaps
	Expected []measure.Prediction
	Runs     []measure.Run
	Notes    []LogNote
}

// LogNote is a note at a moment.
type LogNote struct {
	At   time.Time
	Text string
}

// The sheet of a chart that is sent as a file, px, and its own colors, since no page is around it.
const (
	sheetWide, sheetHigh = 1100.0, 560.0
	plotLeft, plotRight  = 70.0, 1080.0
	plotTop, plotFoot    = 70.0, 400.0
	sunTop, sunFoot      = 455.0, 535.0

	sheetStyle = "text{font:13px sans-serif;fill:#1d1a16}.title{font-size:17px;font-weight:700}.soft{fill:#5f574b}" +
		".grid{stroke:#d9d0c0;stroke-width:1}.axis{stroke:#1d1a16;stroke-width:1}" +
		"path{fill:none;stroke-width:1.8;stroke-linejoin:round}.outlet{stroke:#c2410c}.inlet{stroke:#1f6280}" +
		".outdoor{stroke:#5f574b;stroke-dasharray:2 4}.sunline{stroke:#b98a00}.want{stroke:#1d1a16;stroke-dasharray:7 5}" +
		".range{fill:#1d1a16;fill-opacity:.1;stroke:none}.run{fill:#c2410c;fill-opacity:.08}.pin{stroke:#1d1a16;stroke-dasharray:2 3}" +
		".koutlet{fill:#c2410c;font-weight:700}.kinlet{fill:#1f6280;font-weight:700}"
)

// LogChart draws a stretch of a log as a picture that stands by itself: temperatures over the sun, with runs, notes, and the
// prediction with its 95 % range.
func LogChart(x *LogStretch, u units.System) string {
	c := &logChart{LogStretch: x, u: u}
	c.scale()
	fmt.Fprintf(&c.svg, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %.0f %.0f" role="img" aria-label="%s"><style>%s</style>`,
		sheetWide, sheetHigh, esc(c.summary()), sheetStyle)
	c.svg.text("title", "start", plotLeft, 24, x.Title)
	c.svg.text("soft", "start", plotLeft, 44, c.summary())
	c.frame()
	c.band()
	for _, l := range []struct {
		class string
		of    func(*measure.Sample) float64
	}{{"outdoor", func(s *measure.Sample) float64 { return s.Outdoor }}, {"inlet", func(s *measure.Sample) float64 { return s.Inlet }},
		{"outlet", func(s *measure.Sample) float64 { return s.Outlet }}} {
		c.curve(l.class, l.of, c.y)
	}
	if c.sun > 0 {
		c.svg.text("soft", "start", plotLeft, sunTop-8, fmt.Sprintf("sun on the glass, up to %s", units.Format(units.Irradiance, c.sun, u)))
		c.svg.line("axis", plotLeft, sunFoot, plotRight, sunFoot)
		c.curve("sunline", func(s *measure.Sample) float64 { return s.Sun }, func(v float64) float64 {
			return sunFoot - (sunFoot-sunTop)*max(0, v)/c.sun
		})
	}
	return string(c.svg.close()) + "\n"
}

// logChart is a chart being drawn.
type logChart struct {
	*LogStretch
	svg    svg
	u      units.System
	lo, hi float64 // C, of the plot
	sun    float64 // W/m2, the greatest
}

// scale finds what the plot must hold.
func (c *logChart) scale() {
	c.lo, c.hi = math.Inf(1), math.Inf(-1)
	for i := range c.Points {
		s := &c.Points[i]
		for _, v := range []float64{s.Inlet, s.Outlet, s.Outdoor} {
			if !math.IsNaN(v) {
				c.lo, c.hi = min(c.lo, v), max(c.hi, v)
			}
		}
		if s.Sun > c.sun {
			c.sun = s.Sun
		}
	}
	for _, p := range c.Expected {
		_, high := p.Range()
		c.hi = max(c.hi, high)
	}
	if c.lo > c.hi {
		c.lo, c.hi = 0, 50
	}
	c.lo, c.hi = math.Floor(c.lo/5)*5, math.Ceil(c.hi/5)*5
	if c.hi == c.lo {
		c.hi += 5
	}
}

func (c *logChart) x(at time.Time) float64 {
	return plotLeft + (plotRight-plotLeft)*float64(at.Sub(c.From))/float64(c.To.Sub(c.From))
}

func (c *logChart) y(v float64) float64 { return plotFoot - (plotFoot-plotTop)*(v-c.lo)/(c.hi-c.lo) }

// summary says what the chart shows.
func (c *logChart) summary() string {
	const day = "2 January 2006 15:04"
	return fmt.Sprintf("Inlet, outlet and outdoor temperature from %s to %s", c.From.In(c.Zone).Format(day), c.To.In(c.Zone).Format(day))
}

// frame draws axes, runs, notes and the key.
func (c *logChart) frame() {
	s := &c.svg
	for _, r := range c.Runs {
		a, b := max(plotLeft, c.x(r.From)), min(plotRight, c.x(r.To))
		if b > a {
			s.rect("run", a, plotTop, b-a, plotFoot-plotTop)
		}
	}
	step := 5.0
	for (c.hi-c.lo)/step > 9 {
		step *= 2
	}
	for v := math.Ceil(c.lo/step) * step; v <= c.hi; v += step {
		s.line("grid", plotLeft, c.y(v), plotRight, c.y(v))
		s.text("soft", "end", plotLeft-8, c.y(v)+4, units.Format(units.Temperature, v, c.u))
	}
	s.line("axis", plotLeft, plotFoot, plotRight, plotFoot)
	for _, at := range ticks(c.From, c.To, c.Zone) {
		s.line("axis", c.x(at.when), plotFoot, c.x(at.when), plotFoot+5)
		s.text("soft", "middle", c.x(at.when), plotFoot+20, at.text)
	}
	for i, n := range c.Notes {
		x := c.x(n.At)
		if x < plotLeft || x > plotRight {
			continue
		}
		s.line("pin", x, plotTop, x, plotFoot)
		anchor, dx := "start", 4.0
		if x > (plotLeft+plotRight)/2 {
			anchor, dx = "end", -4
		}
		s.text("note", anchor, x+dx, plotTop+14+float64(i%4)*16, n.Text)
	}
	s.text("koutlet", "end", plotRight, 44, "outlet")
	s.text("kinlet", "end", plotRight-60, 44, "inlet")
	s.text("soft", "end", plotRight-110, 44, "outdoors dotted, expected dashed")
}

// band draws the prediction with its range.
func (c *logChart) band() {
	var mid, up, down []string
	flush := func() {
		if len(mid) > 1 {
			c.svg.path("range", "M"+strings.Join(up, "L")+"L"+strings.Join(down, "L")+"Z")
			c.svg.path("want", "M"+strings.Join(mid, "L"))
		}
		mid, up, down = nil, nil, nil
	}
	var last time.Time
	for _, p := range c.Expected {
		if p.At.Before(c.From) || p.At.After(c.To) {
			continue
		}
		if p.At.Sub(last) > time.Hour {
			flush()
		}
		last = p.At
		at := func(v float64) string { return fmt.Sprintf("%.1f %.1f", c.x(p.At), c.y(v)) }
		low, high := p.Range()
		mid, up = append(mid, at(p.Outlet)), append(up, at(high))
		down = append([]string{at(low)}, down...)
	}
	flush()
}

// curve draws a quantity, broken where there are no values.
func (c *logChart) curve(class string, of func(*measure.Sample) float64, y func(float64) float64) {
	var d strings.Builder
	pen := "M"
	for i := range c.Points {
		v := of(&c.Points[i])
		if math.IsNaN(v) {
			pen = "M"
			continue
		}
		fmt.Fprintf(&d, "%s%.1f %.1f", pen, c.x(c.Points[i].At), y(v))
		pen = "L"
	}
	if d.Len() > 0 {
		c.svg.path(class, d.String())
	}
}

// tick is a mark of the time axis.
type tick struct {
	when time.Time
	text string
}

// ticks are about ten marks of a stretch at round times of the clock.
func ticks(from, to time.Time, zone *time.Location) (out []tick) {
	const few = 11
	long := to.Sub(from)
	for _, step := range []time.Duration{5 * time.Minute, 10 * time.Minute, 30 * time.Minute, time.Hour, 2 * time.Hour, 3 * time.Hour,
		6 * time.Hour, 12 * time.Hour} {
		if long/step > few {
			continue
		}
		local := from.In(zone)
		for n := 0; ; n++ { // by the wall clock, of which a day may have 23 hours
			at := time.Date(local.Year(), local.Month(), local.Day(), 0, n*int(step/time.Minute), 0, 0, zone)
			if at.After(to) {
				break
			}
			if at.Before(from) || len(out) > 0 && !at.After(out[len(out)-1].when) {
				continue
			}
			text := at.In(zone).Format("15:04")
			if text == "00:00" && long > 24*time.Hour {
				text = at.In(zone).Format("2 Jan")
			}
			out = append(out, tick{at, text})
		}
		return out
	}
	for _, step := range []struct{ months, days int }{{0, 1}, {0, 2}, {0, 7}, {0, 14}, {1, 0}, {2, 0}, {4, 0}, {12, 0}, {24, 0}, {60, 0}} {
		const month = 30.4 // days
		if long.Hours()/24/(month*float64(step.months)+float64(step.days)) > few {
			continue
		}
		local := from.In(zone)
		at, form := time.Date(local.Year(), local.Month(), local.Day(), 0, 0, 0, 0, zone), "2 Jan"
		if step.months > 0 {
			at, form = time.Date(local.Year(), local.Month(), 1, 0, 0, 0, 0, zone), "Jan 2006"
		}
		for ; !at.After(to); at = at.AddDate(0, step.months, step.days) {
			if !at.Before(from) {
				out = append(out, tick{at, at.Format(form)})
			}
		}
		return out
	}
	return nil
}
