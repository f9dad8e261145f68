package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"gladember/app/drawing"
	"gladember/core/cutting"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// drawn is a file that was written.
type drawn struct {
	File string `json:"file"`
	Of   string `json:"of"`
}

// drawingWidth is that of an SVG, pixels.
const drawingWidth = 760

func drawingsCommand() *cobra.Command {
	var out, format, paper string
	c := &cobra.Command{
		Use:   "drawings BOX.json --out DIR",
		Short: "Write a drawing of every part, and of every sheet and bar",
		Long: `Reads a box (- is standard input) and writes into a folder a drawing of each part that is cut, flat and to scale,
with its holes and their centers, named by its letter, and one of the sheets and bars of each material. Prints JSON:
files[{file, of}]. DXF is of release 12: outlines on layer CUT, holes on DRILL, centers on MARK, sheets on SHEET.
SVG has the figures from the datum edges. PDF is one file with a page for each part and, after them, the holes at
their true size on as many pages as they need, with a ruler to check the printer by. Files that are there already
are written over.`,
		Example: "  gladember drawings box.json --out drawings --format dxf --units in",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if out == "" {
				return errors.New("--out is missing; name a folder to write into")
			}
			if format != "svg" && format != "dxf" && format != "pdf" {
				return fmt.Errorf("--format %q is not known; enter svg, dxf or pdf", format)
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
			l, err := layout.Build(&h)
			if err != nil {
				return err
			}
			if err := os.MkdirAll(out, 0o755); err != nil {
				return fmt.Errorf("%s cannot be made: %w; name another folder", out, err)
			}
			w := drawer{out: out, dxf: format == "dxf", u: u, cut: h.Workshop.Cut}
			if format == "pdf" {
				err = w.pdf(&l, size, h.Name)
			} else {
				err = w.all(cmd.Context(), &l)
			}
			if err != nil {
				return err
			}
			return emit(cmd, struct {
				Files []drawn `json:"files"`
			}{w.files})
		},
	}
	c.Flags().StringVar(&out, "out", "", "folder to write into")
	c.Flags().StringVar(&format, "format", "svg", "svg, dxf or pdf")
	c.Flags().StringVar(&paper, "paper", "a4", "of a PDF: a4 or letter")
	return c
}

// paperOf is the paper that a flag names.
func paperOf(name string) (string, error) {
	size, ok := map[string]string{"a4": drawing.A4, "letter": drawing.Letter}[strings.ToLower(name)]
	if !ok {
		return "", fmt.Errorf("--paper %q is not known; enter a4 or letter", name)
	}
	return size, nil
}

// drawer writes drawings into a folder.
type drawer struct {
	out   string
	dxf   bool
	u     units.System
	cut   design.Cut
	files []drawn
}

// all writes the parts, then the materials.
func (w *drawer) all(ctx context.Context, l *layout.Layout) error {
	parts := l.Cut()
	for i := range parts {
		p := &parts[i]
		if p.Form == layout.Whole {
			continue
		}
		svg := func() string { return drawing.Standalone(drawing.Part(p, w.u, drawingWidth)) }
		if err := w.write(p.Letter+"-"+p.Name, p.Letter+" "+p.Name, svg, drawing.PartDXF(p, w.u.Inches)); err != nil {
			return err
		}
	}
	if ctx == nil {
		ctx = context.Background()
	}
	rules := cutting.Rules{Kerf: w.cut.Kerf, Trim: w.cut.Trim}
	ms, err := cutting.Parts(ctx, parts, cutting.NewShop(&w.cut, w.u.Inches), nil, rules, nil)
	if err != nil {
		return err
	}
	for i := range ms {
		m := &ms[i]
		name := fmt.Sprintf("%d-%s-%s", i+1, m.Material, units.Figure(units.Length, m.Thickness, w.u))
		if m.Bars != nil {
			name = fmt.Sprintf("bars-%s-%s", name, units.Figure(units.Length, m.Width, w.u))
			svg := func() string { return drawing.Standalone(drawing.Bars(m, w.u, nil, drawingWidth)) }
			if w.dxf {
				continue // a bar is cut by its figures, not by its outline
			}
			if err := w.write(name, "bars of "+m.Material, svg, nil); err != nil {
				return err
			}
			continue
		}
		svg := func() string { return drawing.Standalone(drawing.Sheets(m, w.u, nil, drawingWidth)) }
		if err := w.write("sheets-"+name, "sheets of "+m.Material, svg, drawing.SheetsDXF(m, w.u.Inches)); err != nil {
			return err
		}
	}
	return nil
}

// pdf writes all parts and templates into one file.
func (w *drawer) pdf(l *layout.Layout, paper, name string) error {
	var b strings.Builder
	if err := drawing.ShopPDF(&b, l, w.u, paper, name); err != nil {
		return err
	}
	return w.save("drawings.pdf", "all parts, and templates of the holes", b.String())
}

// save writes a file and lists it.
func (w *drawer) save(file, of, text string) error {
	if err := os.WriteFile(filepath.Join(w.out, file), []byte(text), 0o644); err != nil {
		return fmt.Errorf("%s cannot be written: %w; name another folder", file, err)
	}
	w.files = append(w.files, drawn{file, of})
	return nil
}

// write writes one drawing under a name made of letters, figures and dashes.
func (w *drawer) write(name, of string, svg func() string, d *drawing.DXF) error {
	file := strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9' || r == '-' || r == '.':
			return r
		case r == ' ' || r == '/':
			return '-'
		}
		return -1
	}, name)
	if w.dxf {
		file += ".dxf"
	} else {
		file += ".svg"
	}
	var b strings.Builder
	if w.dxf {
		if _, err := d.WriteTo(&b); err != nil {
			return err
		}
	} else {
		b.WriteString(svg())
	}
	return w.save(file, of, b.String())
}
