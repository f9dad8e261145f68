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
	"gladember/app/drawing"
	"gladember/app/standin"
	"gladember/app/store"
	"gladember/app/web"
)

// defaultAddress is where the workshop answers unless told otherwise.
const defaultAddress = "127.0.0.1:8737"

func serveCommand() *cobra.Command {
	var data, address, station string
	var share bool
	c := &cobra.Command{
		Use:   "serve",
		Short: "Open your workshop in the browser",
		Long:  "Serves the workshop kept in --data on this machine only, or with --share also to devices of the house's network that were let in. The file is made if it is not there; a copy is left beside it before an update changes it.",
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
			return listen(cmd, s, address, "Your workshop, kept in "+data, web.Options{Program: Version, Station: station}, share)
		},
	}
	c.Flags().StringVar(&data, "data", "", "workshop file (default: workshop.db in your configuration folder)")
	c.Flags().StringVar(&address, "address", defaultAddress, "loopback address to answer on")
	c.Flags().BoolVar(&share, "share", false, "let phones and laptops of this house's network in, each by a code that is good once; what goes between is not encrypted")
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

// shared listens on every address of this machine at the port of an address, and says
// by which names it may be asked for there.
func shared(address string) (net.Listener, *web.Sharing, error) {
	_, port, err := net.SplitHostPort(address)
	if err != nil {
		return nil, nil, fmt.Errorf("--address %q is no address; write it like %s", address, defaultAddress)
	}
	addresses, err := net.InterfaceAddrs()
	if err != nil {
		return nil, nil, err
	}
	sh := &web.Sharing{}
	for _, a := range addresses {
		n, ok := a.(*net.IPNet)
		if ok && n.IP.IsPrivate() && !n.IP.IsLoopback() {
			sh.Hosts = append(sh.Hosts, n.IP.String())
		}
	}
	if len(sh.Hosts) == 0 {
		return nil, nil, errors.New("this machine is in no house network that a phone could share; join one, or leave --share out")
	}
	l, err := net.Listen("tcp", net.JoinHostPort("", port))
	if err != nil {
		return nil, nil, fmt.Errorf("%w; choose another port with --address", err)
	}
	if _, p, err := net.SplitHostPort(l.Addr().String()); err == nil {
		port = p
	}
	sh.Address = net.JoinHostPort(sh.Hosts[0], port)
	return l, sh, nil
}

// listen serves until interrupted, on this machine only or, shared, in its network.
func listen(cmd *cobra.Command, s *store.Store, address, what string, o web.Options, share bool) error {
	l, err := loopback(address)
	if share {
		l, o.Share, err = shared(address)
	}
	if err != nil {
		return err
	}
	h, err := web.New(s, slog.New(slog.NewTextHandler(cmd.ErrOrStderr(), &slog.HandlerOptions{Level: slog.LevelWarn})), o)
	if err != nil {
		return err
	}
	if share {
		code, err := drawing.QRText(o.Share.URL())
		if err != nil {
			return err
		}
		fmt.Fprintf(cmd.OutOrStdout(), "%s\nA phone in this network comes in by the code, or at http://%s with %s.\n", code, o.Share.Address, o.Share.Code())
	}
	ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	at := l.Addr().String()
	if _, port, err := net.SplitHostPort(at); err == nil && share {
		at = net.JoinHostPort("127.0.0.1", port)
	}
	fmt.Fprintf(cmd.OutOrStdout(), "%s\nOpen http://%s in a browser; stop with Ctrl+C.\n", what, at)
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
			return listen(cmd, s, address, "Innerkelden, a village that does not exist", web.Options{Program: Version, Station: "http://" + l.Addr().String()}, false)
		},
	}
	c.Flags().StringVar(&address, "address", defaultAddress, "loopback address to answer on")
	return c
}
