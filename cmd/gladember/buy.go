package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"

	"github.com/spf13/cobra"

	"gladember/app/service"
	"gladember/core/cost"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/sizing"
	"gladember/core/units"
)

// buyLine is a line of the buying list; amounts are in its unit, lengths in the words in mm or inches.
type buyLine struct {
	ID      string   `json:"id"`
	What    string   `json:"what"`
	Counter string   `json:"counter"`
	Need    num      `json:"need"`
	Spare   num      `json:"spare"`
	Have    num      `json:"have"`
	Buy     int      `json:"buy"`
	Pack    num      `json:"pack"`
	Unit    string   `json:"unit"`
	Price   *num     `json:"price"`
	Seen    string   `json:"seen,omitempty"`
	For     []string `json:"for"`
	How     string   `json:"how"`
	Missing bool     `json:"missing,omitempty"`
}

// buyLineOf writes a line in a system of units.
func buyLineOf(l *cost.Line, u units.System) buyLine {
	x := buyLine{
		ID: l.ID, What: l.What.In(u), Counter: string(l.Counter), Need: round3(l.Need), Spare: round3(l.Spare),
		Have: round3(l.Have), Buy: l.Buy, Pack: round3(l.Pack), Unit: string(l.Unit), Seen: l.Price.Seen, For: l.For,
		How: l.How.In(u), Missing: l.Missing,
	}
	if x.For == nil {
		x.For = []string{}
	}
	if l.Priced() {
		p := num(l.Price.Pack)
		x.Price = &p
	}
	return x
}

// round3 keeps three places.
func round3(v float64) num { return num(math.Round(1000*v) / 1000) }

// buyStock is what is on hand and what things cost.
type buyStock struct {
	Things []sizing.Thing `json:"things"`
	Prices []cost.Price   `json:"prices"`
}

func buyCommand() *cobra.Command {
	var stockFile string
	var times int
	c := &cobra.Command{
		Use:   "buy BOX.json",
		Short: "List what must be bought to build a box",
		Long: `Reads a box (- is standard input) and prints JSON: lines[{id, what, counter, need, spare, have, buy, pack, unit, price,
seen, for[], how}], total, unpriced. Need, spare and have are in the unit; buy is how many packs of pack units; price is
for one pack, null where it is not known, and total leaves such lines out. For are the letters of the parts command.
Boards and sheets come from the cutting plan, consumables from surfaces and seams. A stock is what is on hand and what
things cost: {"things": [{"kind", "what", "width_m", "height_m", "thickness_m", "count", "condition"}], "prices":
[{"what": an id, "price", "seen": "2026-11-28"}]}.`,
		Example: "  gladember example can-columns | gladember buy -",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			u := systemOf(cmd)
			if times < 1 || times > 100 {
				return fmt.Errorf("--times %d is not possible; enter 1 to 100", times)
			}
			h, err := readBox(cmd, args[0])
			if err != nil {
				return err
			}
			stock, err := readStock(cmd, stockFile, args[0])
			if err != nil {
				return err
			}
			l, err := layout.Build(&h)
			if err != nil {
				return err
			}
			input := service.Input(&h, &l, l.Cut(), u)
			input.Hand, input.Prices, input.Times = stock.Things, stock.Prices, times
			list, err := cost.Build(cmd.Context(), input)
			if err != nil {
				return err
			}
			out := struct {
				Lines    []buyLine `json:"lines"`
				Total    num       `json:"total"`
				Unpriced int       `json:"unpriced"`
			}{Lines: []buyLine{}, Total: round3(list.Total), Unpriced: list.Unpriced}
			for i := range list.Lines {
				out.Lines = append(out.Lines, buyLineOf(&list.Lines[i], u))
			}
			return emit(cmd, out)
		},
	}
	c.Flags().StringVar(&stockFile, "stock", "", "what is on hand and what things cost")
	c.Flags().IntVar(&times, "times", 1, "how many such heaters")
	return c
}

// readStock reads what is on hand; an empty name is an empty shed.
func readStock(cmd *cobra.Command, name, box string) (s buyStock, err error) {
	if name == "" {
		return s, nil
	}
	if name == "-" && box == "-" {
		return s, errors.New("box and stock cannot both be standard input; name a file for one")
	}
	b, err := open(cmd, name, design.MaxDocument)
	if err != nil {
		return s, err
	}
	if err := json.Unmarshal(b, &s); err != nil {
		return s, fmt.Errorf("%s: not a stock in JSON: %v; `gladember buy --help` shows one", name, err)
	}
	for i := range s.Things {
		if err := s.Things[i].Check(); err != nil {
			return s, fmt.Errorf("%s: things.%d: %w", name, i, err)
		}
	}
	for i, p := range s.Prices {
		if !(p.Pack >= 0 && p.Pack <= 1e6) {
			return s, fmt.Errorf("%s: prices.%d: enter a price of 0 to 1000000", name, i)
		}
	}
	return s, nil
}
