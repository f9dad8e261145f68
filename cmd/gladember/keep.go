package main

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"gladember/app/store"
)

// workshopFile is the file that --data names, or the usual one, whose folder is made.
func workshopFile(data string) (string, error) {
	if data != "" {
		return data, nil
	}
	dir, err := os.UserConfigDir()
	if err != nil {
		return "", fmt.Errorf("no place for the workshop file: %w; name one with --data", err)
	}
	if err := os.MkdirAll(filepath.Join(dir, "gladember"), 0o700); err != nil {
		return "", fmt.Errorf("%w; name another file with --data", err)
	}
	return filepath.Join(dir, "gladember", "workshop.db"), nil
}

// dataFlag adds the flag that names the workshop's file.
func dataFlag(c *cobra.Command, data *string) {
	c.Flags().StringVar(data, "data", "", "workshop file (default: workshop.db in your configuration folder)")
}

// backupCommand writes a copy of a workshop.
func backupCommand() *cobra.Command {
	var data string
	c := &cobra.Command{
		Use:   "backup FILE",
		Short: "Write a whole copy of your workshop",
		Long: "Writes a whole, consistent copy of the workshop to a new file, also while it is served. Copying the file by hand is no " +
			"backup: what was written last is in a file beside it.",
		Example: "  gladember backup workshop-november.db",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			from, err := workshopFile(data)
			if err != nil {
				return err
			}
			if err := store.BackupFile(cmd.Context(), from, args[0]); err != nil {
				return err
			}
			_, err = fmt.Fprintf(cmd.OutOrStdout(), "Copied %s to %s.\n", from, args[0])
			return err
		},
	}
	dataFlag(c, &data)
	return c
}

// restoreCommand puts a copy in the place of a workshop.
func restoreCommand() *cobra.Command {
	var data string
	c := &cobra.Command{
		Use:   "restore COPY",
		Short: "Put a copy in the place of your workshop",
		Long: "Puts a copy that backup wrote, or one of the daily copies beside the workshop's file, in the place of the workshop. The " +
			"file that was there is kept beside it under another name. Stop the program that serves it first.",
		Example: "  gladember restore workshop.db.copies/2026-11-27.db",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			to, err := workshopFile(data)
			if err != nil {
				return err
			}
			kept, err := store.Restore(cmd.Context(), args[0], to)
			if err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "Restored %s to %s.\n", args[0], to)
			if kept != "" {
				fmt.Fprintf(cmd.OutOrStdout(), "The file before is kept as %s.\n", kept)
			}
			return nil
		},
	}
	dataFlag(c, &data)
	return c
}

// exportCommand writes a heater as a file.
func exportCommand() *cobra.Command {
	var data, heater string
	c := &cobra.Command{
		Use:   "export FILE.zip",
		Short: "Write one heater as a file",
		Long: "Writes a heater with its versions, readings, tests, notes and photos to a zip archive of JSON and CSV, which import " +
			"takes in " +
			"here or in another workshop; docs/BUNDLE.md describes it. Without --heater the workshop must have one heater only.",
		Example: "  gladember export lean-to.zip --heater 'Lean-to screen box'",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			s, err := opened(cmd, data)
			if err != nil {
				return err
			}
			defer s.Close()
			id, err := heaterNamed(cmd, s, heater)
			if err != nil {
				return err
			}
			f, err := os.OpenFile(args[0], os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
			if err != nil {
				return fmt.Errorf("%w; name a new file", err)
			}
			if err := errors.Join(s.ExportHeater(cmd.Context(), id, f), f.Close()); err != nil {
				_ = os.Remove(args[0])
				return err
			}
			return nil
		},
	}
	dataFlag(c, &data)
	c.Flags().StringVar(&heater, "heater", "", "name of the heater, or its number in the address of its pages")
	return c
}

// importCommand adds a heater from a file.
func importCommand() *cobra.Command {
	var data string
	c := &cobra.Command{
		Use:     "import FILE.zip",
		Short:   "Add a heater from a file that export wrote",
		Example: "  gladember import lean-to.zip",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			f, err := os.Open(args[0])
			if err != nil {
				return fmt.Errorf("%w; name a file that export wrote", err)
			}
			defer f.Close()
			info, err := f.Stat()
			if err != nil {
				return err
			}
			s, err := opened(cmd, data)
			if err != nil {
				return err
			}
			defer s.Close()
			st, err := s.ImportHeater(cmd.Context(), f, info.Size())
			if err != nil {
				return err
			}
			_, err = fmt.Fprintf(cmd.OutOrStdout(), "Added %s.\n", st.Document.Name)
			return err
		},
	}
	dataFlag(c, &data)
	return c
}

// opened opens the workshop that --data names.
func opened(cmd *cobra.Command, data string) (*store.Store, error) {
	path, err := workshopFile(data)
	if err != nil {
		return nil, err
	}
	return store.Open(cmd.Context(), path)
}

// heaterNamed is the heater of a name or a number; without one it is the only one.
func heaterNamed(cmd *cobra.Command, s *store.Store, name string) (int64, error) {
	list, err := s.Heaters(cmd.Context())
	if err != nil {
		return 0, err
	}
	var names []string
	for _, st := range list {
		if name == st.Document.Name || name == strconv.FormatInt(st.Heater, 10) || name == "" && len(list) == 1 {
			return st.Heater, nil
		}
		names = append(names, st.Document.Name)
	}
	if len(names) == 0 {
		return 0, errors.New("the workshop has no heaters; name another file with --data")
	}
	return 0, fmt.Errorf("--heater %q is not in this workshop; it has %s", name, strings.Join(names, ", "))
}
