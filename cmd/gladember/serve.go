package main

import (
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"gladember/app/demo"
	"gladember/app/standin"
	"gladember/app/store"
	"gladember/app/web"
)

// defaultAddress is where the workshop answers unless told otherwise.
const defaultAddress = "127.0.0.1:8737"

func serveCommand() *cobra.Command {
	var data, address, station string
	c := &cobra.Command{
		Use:   "serve",
		Short: "Open your workshop in the browser",
		Long:  "Serves the workshop kept in --data on this machine only. The file is made if it is not there; a copy is left beside it before an update changes it.",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if data == "" {
				dir, err := os.UserConfigDir()
				if err != nil {
					return fmt.Errorf("no place for the workshop file: %w; name one with --data", err)
				}
				if err := os.MkdirAll(filepath.Join(dir, "gladember"), 0o700); err != nil {
					return fmt.Errorf("%w; name another file with --data", err)
				}
				data = filepath.Join(dir, "gladember", "workshop.db")
			}
			s, err := store.Open(cmd.Context(), data)
			if err != nil {
				return err
			}
			defer s.Close()
			return listen(cmd, s, address, "Your workshop, kept in "+data, station)
		},
	}
	c.Flags().StringVar(&data, "data", "", "workshop file (default: workshop.db in your configuration folder)")
	c.Flags().StringVar(&address, "address", defaultAddress, "loopback address to answer on")
	c.Flags().StringVar(&station, "weather-station", "", "address of a weather station that tells a place's months (see gladember standin)")
	return c
}

// standinCommand serves the stand-ins for devices and services outside.
func standinCommand() *cobra.Command {
	var address string
	c := &cobra.Command{
		Use:   "standin",
		Short: "Run the simulated weather station",
		Long:  "Answers GET /months?latitude=&longitude=&elevation= with an invented table of months, for trying what a real station would tell. Give its address to serve with --weather-station.",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			l, err := loopback(address)
			if err != nil {
				return err
			}
			ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
			defer stop()
			fmt.Fprintf(cmd.OutOrStdout(), "A weather station that invents its months, at http://%s; stop with Ctrl+C.\n", l.Addr())
			return web.Serve(ctx, l, standin.Weather())
		},
	}
	c.Flags().StringVar(&address, "address", "127.0.0.1:8738", "loopback address to answer on")
	return c
}

// loopback listens on an address of this machine only.
func loopback(address string) (net.Listener, error) {
	host, _, err := net.SplitHostPort(address)
	if err != nil {
		return nil, fmt.Errorf("--address %q is no address; write it like %s", address, defaultAddress)
	}
	if ip := net.ParseIP(host); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
		return nil, fmt.Errorf("--address %s reaches beyond this machine; use a loopback address such as %s", address, defaultAddress)
	}
	l, err := net.Listen("tcp", address)
	if err != nil {
		return nil, fmt.Errorf("%w; choose another with --address", err)
	}
	return l, nil
}

// listen serves until interrupted. Only loopback addresses are taken: there is
// no password yet.
func listen(cmd *cobra.Command, s *store.Store, address, what, station string) error {
	l, err := loopback(address)
	if err != nil {
		return err
	}
	h, err := web.New(s, slog.New(slog.NewTextHandler(cmd.ErrOrStderr(), &slog.HandlerOptions{Level: slog.LevelWarn})), web.Options{Program: Version, Station: station})
	if err != nil {
		return err
	}
	ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	fmt.Fprintf(cmd.OutOrStdout(), "%s\nOpen http://%s in a browser; stop with Ctrl+C.\n", what, l.Addr())
	if err := web.Serve(ctx, l, h); err != nil && !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}

func demoCommand() *cobra.Command {
	var address string
	c := &cobra.Command{
		Use:   "demo",
		Short: "Look round in a made-up workshop",
		Long:  "Serves three invented heaters with two weeks of invented readings from a throwaway copy: change what you like, it is gone when you stop.",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			dir, err := os.MkdirTemp("", "gladember-demo-")
			if err != nil {
				return fmt.Errorf("%w; make room for a temporary folder", err)
			}
			defer os.RemoveAll(dir)
			s, err := store.Open(cmd.Context(), filepath.Join(dir, "demo.db"))
			if err != nil {
				return err
			}
			defer s.Close()
			if err := demo.Fill(cmd.Context(), s); err != nil {
				return err
			}
			l, err := net.Listen("tcp", "127.0.0.1:0")
			if err != nil {
				return err
			}
			station := &http.Server{Handler: standin.Weather(), ReadHeaderTimeout: 5 * time.Second}
			go func() { _ = station.Serve(l) }()
			defer station.Close()
			return listen(cmd, s, address, "Innerkelden, a village that does not exist", "http://"+l.Addr().String())
		},
	}
	c.Flags().StringVar(&address, "address", defaultAddress, "loopback address to answer on")
	return c
}
