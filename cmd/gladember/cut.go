package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"gladember/core/cutting"
	"gladember/core/units"
)

// cutList is what `cut` reads. Numbers are pointers where leaving one out means something.
type cutList struct {
	Kerf   float64     `json:"kerf_mm"`
	Trim   float64     `json:"trim_mm"`
	Stock  []cutBar    `json:"stock"`
	Parts  []cutPart   `json:"parts"`
	Sheets []cutSheet  `json:"sheets"`
	Panels []cutPanels `json:"panels"`
}

type cutBar struct {
	Name   string  `json:"name"`
	Length float64 `json:"length_mm"`
	Count  *int    `json:"count"`
	Price  float64 `json:"price"`
}

type cutPart struct {
	Name   string  `json:"name"`
	Length float64 `json:"length_mm"`
	Count  *int    `json:"count"`
}

type cutSheet struct {
	Name   string  `json:"name"`
	Width  float64 `json:"width_mm"`
	Height float64 `json:"height_mm"`
	Count  *int    `json:"count"`
	Price  float64 `json:"price"`
}

type cutPanels struct {
	Name   string  `json:"name"`
	Width  float64 `json:"width_mm"`
	Height float64 `json:"height_mm"`
	Count  *int    `json:"count"`
	Rotate bool    `json:"rotate"`
}

// cutResult is what it prints.
type cutResult struct {
	Bars       []cutBarPlan   `json:"bars"`
	BarsUsed   int            `json:"bars_used"`
	LowerBound int            `json:"lower_bound"`
	Proven     bool           `json:"proven"`
	SheetsUsed int            `json:"sheets_used"`
	SheetBound int            `json:"sheets_lower_bound"`
	Sheets     []cutSheetPlan `json:"sheets"`
	Cost       float64        `json:"cost"`
	CostBound  float64        `json:"cost_bound"`
	Waste      float64        `json:"waste_fraction"`
}

type cutBarPlan struct {
	Stock  string        `json:"stock"`
	Pieces []cutBarPiece `json:"pieces"`
	Offcut float64       `json:"offcut_mm"`
}

type cutBarPiece struct {
	Name   string  `json:"name"`
	At     float64 `json:"at_mm"`
	Length float64 `json:"length_mm"`
}

type cutSheetPlan struct {
	Sheet   string          `json:"sheet"`
	Pieces  []cutSheetPiece `json:"pieces"`
	Cuts    []cutSaw        `json:"cuts"`
	Offcuts []cutRect       `json:"offcuts"`
}

type cutRect struct {
	X      float64 `json:"x_mm"`
	Y      float64 `json:"y_mm"`
	Width  float64 `json:"width_mm"`
	Height float64 `json:"height_mm"`
}

type cutSheetPiece struct {
	Name string `json:"name"`
	cutRect
}

// cutSaw is a cut from edge to edge of a piece: along the height at x, or across at y.
type cutSaw struct {
	Of    cutRect  `json:"of"`
	AtX   *float64 `json:"at_x_mm,omitempty"`
	AtY   *float64 `json:"at_y_mm,omitempty"`
	Order int      `json:"order"`
}

// cutBytes bounds a list's size.
const cutBytes = 4 << 20

// Seconds that a search may take: for a usual list, and for one of over largeList pieces.
const (
	usualSeconds = 2.0
	largeSeconds = 15.0
	largeList    = 200
)

func cutCommand() *cobra.Command {
	var seconds float64
	c := &cobra.Command{
		Use:   "cut LIST.json",
		Short: "Plan how to cut parts from bars and panels from sheets",
		Long: `Reads a list (- is standard input) and prints JSON: bars[{stock, pieces[{name, at_mm, length_mm}], offcut_mm}],
bars_used, lower_bound (no plan has fewer bars), sheets[{sheet, pieces[{name, x_mm, y_mm, width_mm, height_mm}],
cuts[{of, at_x_mm or at_y_mm, order}], offcuts[]}], sheets_used, sheets_lower_bound, cost (what must be bought),
cost_bound (no plan costs less), waste_fraction, proven (no plan costs less, nor opens less stock at this cost).
What must be bought is made least, then the stock that is opened. The list:
{"kerf_mm": 3, "trim_mm": 0, "stock": [{"name", "length_mm", "count", "price"}], "parts": [{"name", "length_mm",
"count"}], "sheets": [{"name", "width_mm", "height_mm", "count", "price"}], "panels": [{"name", "width_mm",
"height_mm", "count", "rotate"}]}. A stock without a count may be bought in any number.`,
		Example: "  gladember cut list.json",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if err := inRange(cmd, ranged{"seconds", seconds, 0, 600, units.Duration, ""}); err != nil {
				return err
			}
			b, err := open(cmd, args[0], cutBytes)
			if err != nil {
				return err
			}
			l, err := readCutList(b)
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			return l.plan(cmd, seconds)
		},
	}
	c.Flags().Float64Var(&seconds, "seconds", 0, "time for the search; 0 takes 2 s, 15 s for over 200 pieces")
	return c
}

// readCutList reads a list and checks what the planner cannot know: names and what is left out.
func readCutList(b []byte) (*cutList, error) {
	var l cutList
	dec := json.NewDecoder(strings.NewReader(string(b)))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&l); err != nil {
		var te *json.UnmarshalTypeError
		if errors.As(err, &te) {
			return nil, fmt.Errorf("%s holds a %s; `gladember cut --help` shows a list", te.Field, te.Value)
		}
		return nil, fmt.Errorf("not a cutting list in JSON: %v; `gladember cut --help` shows one", err)
	}
	if _, err := dec.Token(); err != io.EOF {
		return nil, errors.New("the file goes on after the list's closing brace; keep one list a file")
	}
	if len(l.Parts)+len(l.Panels) == 0 {
		return nil, errors.New("the list has no parts and no panels; name at least one")
	}
	for list, names := range map[string][]string{
		"stock":  named(l.Stock, func(x cutBar) string { return x.Name }),
		"parts":  named(l.Parts, func(x cutPart) string { return x.Name }),
		"sheets": named(l.Sheets, func(x cutSheet) string { return x.Name }),
		"panels": named(l.Panels, func(x cutPanels) string { return x.Name }),
	} {
		for i, n := range names {
			if n == "" {
				return nil, fmt.Errorf("%s.%d: the name is missing; give each row a name", list, i)
			}
			if first := slices.Index(names, n); first < i {
				return nil, fmt.Errorf("%s.%d: the name %q is that of %s.%d too; give each row a name of its own", list, i, n, list, first)
			}
		}
	}
	for i, p := range l.Parts {
		if p.Count == nil || *p.Count < 1 {
			return nil, fmt.Errorf("parts.%d: the count is missing or below 1; enter how many are wanted", i)
		}
	}
	for i, p := range l.Panels {
		if p.Count == nil || *p.Count < 1 {
			return nil, fmt.Errorf("panels.%d: the count is missing or below 1; enter how many are wanted", i)
		}
	}
	for i, s := range l.Stock {
		if s.Count != nil && *s.Count < 0 {
			return nil, fmt.Errorf("stock.%d: the count is below 0; enter 0 or more, or leave it out for any number", i)
		}
	}
	for i, s := range l.Sheets {
		if s.Count != nil && *s.Count < 0 {
			return nil, fmt.Errorf("sheets.%d: the count is below 0; enter 0 or more, or leave it out for any number", i)
		}
	}
	return &l, nil
}

// named picks the names of a list.
func named[T any](list []T, of func(T) string) (out []string) {
	for _, x := range list {
		out = append(out, of(x))
	}
	return out
}

// count is a stock's: any where it is left out.
func count(n *int) int {
	if n == nil {
		return cutting.Any
	}
	return *n
}

// mm rounds a length to thousandths of a millimeter.
func mm(m float64) float64 { return math.Round(1e6*m) / 1e3 }

// plan plans bars and sheets and prints both.
func (l *cutList) plan(cmd *cobra.Command, seconds float64) error {
	out := cutResult{Bars: []cutBarPlan{}, Sheets: []cutSheetPlan{}, Proven: true}
	pieces := 0
	for _, p := range l.Parts {
		pieces += *p.Count
	}
	for _, p := range l.Panels {
		pieces += *p.Count
	}
	if seconds == 0 {
		if seconds = usualSeconds; pieces > largeList {
			seconds = largeSeconds
		}
	}
	limit := time.Duration(seconds * float64(time.Second))
	if len(l.Parts) > 0 {
		if err := l.planBars(cmd, limit, &out); err != nil {
			return err
		}
	}
	if len(l.Panels) > 0 {
		if err := l.planSheets(cmd, limit/2, &out); err != nil {
			return err
		}
	}
	out.Cost, out.CostBound, out.Waste = math.Round(100*out.Cost)/100, math.Round(100*out.CostBound)/100, math.Round(1e6*out.Waste)/1e6
	return emit(cmd, out)
}

// planBars adds the bars' plan.
func (l *cutList) planBars(cmd *cobra.Command, limit time.Duration, out *cutResult) error {
	j := &cutting.Job{Kerf: l.Kerf / 1000, Trim: l.Trim / 1000, Limit: limit}
	for _, s := range l.Stock {
		j.Stock = append(j.Stock, cutting.Bar{Name: s.Name, Length: s.Length / 1000, Count: count(s.Count), Price: s.Price})
	}
	for _, p := range l.Parts {
		j.Pieces = append(j.Pieces, cutting.Piece{Name: p.Name, Length: p.Length / 1000, Count: *p.Count})
	}
	p, err := cutting.Solve(cmd.Context(), j)
	if err != nil {
		return err
	}
	for i, x := range l.Parts {
		if n := p.Missing[i]; n > 0 {
			return fmt.Errorf("parts.%d: %d of %q do not come out of the stock; add a bar of %g mm or longer", i, n, x.Name, x.Length)
		}
	}
	for _, c := range p.Bars {
		bar := cutBarPlan{Stock: j.Stock[c.Stock].Name, Offcut: mm(c.Offcut), Pieces: []cutBarPiece{}}
		for _, at := range c.Pieces {
			x := j.Pieces[at.Piece]
			bar.Pieces = append(bar.Pieces, cutBarPiece{x.Name, mm(at.From), mm(x.Length)})
		}
		out.Bars = append(out.Bars, bar)
	}
	out.BarsUsed, out.LowerBound, out.Proven = len(p.Bars), p.LeastBars, p.Proven
	out.Cost, out.CostBound, out.Waste = p.Cost, p.CostBound, p.Waste
	return nil
}

// planSheets adds the sheets' plan. The waste of a list with both is that of the sheets where there are no bars.
func (l *cutList) planSheets(cmd *cobra.Command, limit time.Duration, out *cutResult) error {
	j := &cutting.SheetJob{Kerf: l.Kerf / 1000, Trim: l.Trim / 1000, Limit: limit}
	for _, s := range l.Sheets {
		j.Stock = append(j.Stock, cutting.Sheet{Name: s.Name, Width: s.Width / 1000, Height: s.Height / 1000, Count: count(s.Count),
			Price: s.Price})
	}
	for _, p := range l.Panels {
		j.Panels = append(j.Panels, cutting.Panel{Name: p.Name, Width: p.Width / 1000, Height: p.Height / 1000, Count: *p.Count,
			Rotate: p.Rotate})
	}
	p, err := cutting.SolveSheets(cmd.Context(), j)
	if err != nil {
		return err
	}
	for i, x := range l.Panels {
		if n := p.Missing[i]; n > 0 {
			return fmt.Errorf("panels.%d: %d of %q do not come out of the sheets; add a sheet of %g x %g mm or larger", i, n, x.Name,
				x.Width, x.Height)
		}
	}
	rect := func(r cutting.Rect) cutRect { return cutRect{mm(r.X), mm(r.Y), mm(r.W), mm(r.H)} }
	for _, c := range p.Sheets {
		s := cutSheetPlan{Sheet: j.Stock[c.Stock].Name, Pieces: []cutSheetPiece{}, Cuts: []cutSaw{}, Offcuts: []cutRect{}}
		for _, x := range c.Panels {
			s.Pieces = append(s.Pieces, cutSheetPiece{j.Panels[x.Panel].Name, rect(x.Rect)})
		}
		for i, x := range c.Cuts {
			saw, at := cutSaw{Of: rect(x.Of), Order: i + 1}, mm(x.At)
			if saw.AtY = &at; x.Along {
				saw.AtX, saw.AtY = &at, nil
			}
			s.Cuts = append(s.Cuts, saw)
		}
		for _, x := range c.Offcuts {
			s.Offcuts = append(s.Offcuts, rect(x))
		}
		out.Sheets = append(out.Sheets, s)
	}
	out.SheetsUsed, out.SheetBound = len(p.Sheets), p.LeastSheets
	out.Proven = out.Proven && p.Proven
	out.Cost, out.CostBound = out.Cost+p.Cost, out.CostBound+p.CostBound
	if len(l.Parts) == 0 {
		out.Waste = p.Waste
	}
	return nil
}
