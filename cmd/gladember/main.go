// Gladember designs, rates and proves solar air heaters: as a web application
// for a workshop, and as commands that read and write JSON.
package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"strings"
	_ "time/tzdata" // places name their zones whatever the machine knows

	"github.com/spf13/cobra"
)

// Version is set by the release build.
var Version = "0.1.0"

// badInput is the exit status for anything a person can put right.
const badInput = 2

func main() {
	os.Exit(run(context.Background(), os.Args[1:], os.Stdin, os.Stdout, os.Stderr))
}

// run is main with its surroundings given; it ends when ctx does. Nothing reaches out unless the
// command succeeds.
func run(ctx context.Context, args []string, in io.Reader, out, errs io.Writer) int {
	root := &cobra.Command{
		Use:           "gladember",
		Short:         "Design, build and test solar air heaters",
		Version:       Version,
		SilenceErrors: true,
		SilenceUsage:  true,
	}
	root.CompletionOptions.DisableDefaultCmd = true
	root.AddCommand(sunCommand(), exampleCommand(), rateCommand(), partsCommand(), buyCommand(), stepsCommand(), packetCommand(),
		adviseCommand(),
		dayCommand(), seasonCommand(),
		sweepCommand(), sizeCommand(), cutCommand(), drawingsCommand(), logCommand(), fitCommand(), serveCommand(), backupCommand(),
		restoreCommand(), exportCommand(), importCommand(), standinCommand(),
		demoCommand())
	addUnits(root)
	root.SetArgs(args)
	root.SetIn(in)
	root.SetOut(out)
	root.SetErr(errs)
	if err := root.ExecuteContext(ctx); err != nil {
		text := strings.Join(strings.Fields(err.Error()), " ")
		if !strings.Contains(text, "; ") { // cobra's own words name no remedy
			text += "; see gladember --help"
		}
		fmt.Fprintln(errs, "gladember: "+text)
		return badInput
	}
	return 0
}

// emit prints v as one indented JSON document.
func emit(cmd *cobra.Command, v any) error {
	b, err := json.MarshalIndent(v, "", "  ")
	if err != nil {
		return err
	}
	_, err = fmt.Fprintln(cmd.OutOrStdout(), string(b))
	return err
}

// open reads a named file, or standard input for "-", up to a limit.
func open(cmd *cobra.Command, name string, limit int64) ([]byte, error) {
	r := cmd.InOrStdin()
	if name != "-" {
		f, err := os.Open(name)
		if err != nil {
			var pe *os.PathError
			if errors.As(err, &pe) {
				return nil, fmt.Errorf("%s: %v; name a file that exists, or - for standard input", name, pe.Err)
			}
			return nil, err
		}
		defer f.Close()
		r = f
	}
	b, err := io.ReadAll(io.LimitReader(r, limit+1))
	if err != nil {
		return nil, fmt.Errorf("%s: %v", name, err)
	}
	if int64(len(b)) > limit {
		return nil, fmt.Errorf("%s is over %d MB; give a smaller file", name, limit>>20)
	}
	return b, nil
}

// num is a float that prints as null where it is no number.
type num float64

// MarshalJSON implements [json.Marshaler].
func (n num) MarshalJSON() ([]byte, error) {
	v := float64(n)
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return []byte("null"), nil
	}
	return json.Marshal(v)
}

func pair(lo, hi float64) [2]num { return [2]num{num(lo), num(hi)} }
