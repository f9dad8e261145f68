package main

import (
	"bytes"
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/core/collector"
	"gladember/core/cost"
	"gladember/core/layout"
)

func packetCommand() *cobra.Command {
	var out, paper, stockFile string
	c := &cobra.Command{
		Use:   "packet BOX.json --out FILE.pdf",
		Short: "Write all that is carried into the shop as one PDF",
		Long: `Reads a box (- is standard input) and writes one PDF, black and white: safety, the buying list, the cutting plan, the
steps with boxes to tick, the wiring, a sheet for the first test, the drawings, and templates at true size with a ruler to
check the printer by. A stock is that of the buy command. Prints JSON: file, bytes. A file that is there is written over.`,
		Example: "  gladember example screen-box | gladember packet - --out packet.pdf --paper letter --units in",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if out == "" {
				return errors.New("--out is missing; name a file to write")
			}
			size, err := paperOf(paper)
			if err != nil {
				return err
			}
			u := systemOf(cmd)
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
			at := collector.WinterNoon(&h)
			e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, at), true)
			if err != nil {
				return err
			}
			input := service.Input(&h, &l, l.Cut(), u)
			input.Hand, input.Prices = stock.Things, stock.Prices
			list, err := cost.Build(cmd.Context(), input)
			if err != nil {
				return err
			}
			p, err := service.Packet(cmd.Context(), &e, &l, &list, &input)
			if err != nil {
				return err
			}
			var b bytes.Buffer
			if err := drawing.PacketPDF(&b, p, u, size); err != nil {
				return err
			}
			if err := os.WriteFile(out, b.Bytes(), 0o644); err != nil {
				return fmt.Errorf("%s cannot be written: %w; name another file", out, err)
			}
			return emit(cmd, struct {
				File  string `json:"file"`
				Bytes int    `json:"bytes"`
			}{out, b.Len()})
		},
	}
	c.Flags().StringVar(&out, "out", "", "file to write")
	c.Flags().StringVar(&paper, "paper", "a4", "a4 or letter")
	c.Flags().StringVar(&stockFile, "stock", "", "what is on hand and what things cost")
	return c
}
