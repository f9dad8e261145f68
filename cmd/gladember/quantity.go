package main

import (
	"fmt"
	"strconv"
	"strings"

	"github.com/spf13/cobra"
	"github.com/spf13/pflag"

	"gladember/core/units"
)

// unitsFlag is the flag of all commands that says in which units flags are read without one, and words, sizes and help are written.
// JSON is in the SI units of its keys always.
const unitsFlag = "units"

// addUnits adds the flag to the root, and lets the help follow it.
func addUnits(root *cobra.Command) {
	root.PersistentFlags().String(unitsFlag, "mm", "mm or in: units of words and sizes, and of a flag's number that has none")
	root.PersistentPreRunE = func(cmd *cobra.Command, _ []string) error { return readQuantities(cmd) }
	help := root.HelpFunc()
	root.SetHelpFunc(func(cmd *cobra.Command, args []string) {
		sys := systemOf(cmd)
		cmd.Short, cmd.Long, cmd.Example = units.Localize(cmd.Short, sys), units.Localize(cmd.Long, sys), units.Localize(cmd.Example, sys)
		cmd.Flags().VisitAll(func(f *pflag.Flag) {
			f.Usage = units.Localize(f.Usage, sys)
			if q, ok := f.Value.(*quantity); ok && q.first != 0 {
				f.DefValue = units.Figure(q.kind, q.first, sys)
			}
		})
		help(cmd, args)
	})
}

// systemOf is the system of units that a command was asked for; what else is asked for is refused by [readQuantities].
func systemOf(cmd *cobra.Command) units.System {
	american := cmd.Root().PersistentFlags().Lookup(unitsFlag).Value.String() == "in"
	return units.System{Inches: american, Fahrenheit: american}
}

// quantity is a flag's number with its unit, kept as typed until all flags are read.
type quantity struct {
	kind  units.Kind
	to    *float64
	first float64
	typed string
	cmd   *cobra.Command
}

// quantityVar adds a flag for a quantity of a kind, SI.
func quantityVar(c *cobra.Command, to *float64, name string, kind units.Kind, value float64, usage string) {
	*to = value
	c.Flags().Var(&quantity{kind: kind, to: to, first: value, cmd: c}, name, usage)
	c.Flags().Lookup(name).DefValue = "" // none is printed for zero
}

// String is what was typed.
func (q *quantity) String() string { return q.typed }

// Set keeps what was typed.
func (q *quantity) Set(typed string) error {
	q.typed = typed
	return nil
}

// ascii writes a unit without the characters that the help's columns count as two.
var ascii = strings.NewReplacer("°", "", "²", "2", "·", "-", " ", "-")

// Type is the unit that the help shows behind the flag's name.
func (q *quantity) Type() string { return ascii.Replace(systemOf(q.cmd).Unit(q.kind)) }

// readQuantities reads what was typed for the flags of a command, once it is known in which units.
func readQuantities(cmd *cobra.Command) (err error) {
	if in := cmd.Root().PersistentFlags().Lookup(unitsFlag).Value.String(); in != "mm" && in != "in" {
		return fmt.Errorf("--%s %q is not known; enter mm or in", unitsFlag, in)
	}
	sys := systemOf(cmd)
	cmd.Flags().Visit(func(f *pflag.Flag) {
		q, ok := f.Value.(*quantity)
		if !ok || err != nil {
			return
		}
		text := strings.TrimSpace(q.typed)
		if v, e := strconv.ParseFloat(text, 64); e == nil {
			text = strconv.FormatFloat(v, 'f', -1, 64) // 1e-3 too
		}
		v, e := units.Parse(q.kind, text, sys)
		if e != nil {
			err = fmt.Errorf("--%s: %w; a number alone is in %s", f.Name, e, sys.Unit(q.kind))
			return
		}
		*q.to = v
	})
	return err
}

// ranged is a flag's value with the span that makes sense; unit names that of a number without a kind.
type ranged struct {
	name   string
	value  float64
	lo, hi float64
	kind   units.Kind
	unit   string
}

// inRange says which flag is out of its span.
func inRange(cmd *cobra.Command, rs ...ranged) error {
	sys := systemOf(cmd)
	for _, r := range rs {
		if r.value >= r.lo && r.value <= r.hi {
			continue
		}
		if r.unit != "" {
			return fmt.Errorf("--%s %v is not possible; enter %v to %v %s", r.name, r.value, r.lo, r.hi, r.unit)
		}
		return fmt.Errorf("--%s %s is not possible; enter %s to %s", r.name, units.Format(r.kind, r.value, sys),
			units.Format(r.kind, r.lo, sys), units.Format(r.kind, r.hi, sys))
	}
	return nil
}
