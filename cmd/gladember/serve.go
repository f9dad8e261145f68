package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
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
	var at []string
	c := &cobra.Command{
		Use:   "serve",
		Short: "Open your workshop in the browser",
		Long: "Serves the workshop kept in --data on this machine only, or with --share also to devices of the house's network that " +
			"were let in. The file is made if it is not there; a copy is left beside it before an update changes it.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			data, err := workshopFile(data)
			if err != nil {
				return err
			}
			s, err := store.Open(cmd.Context(), data)
			if err != nil {
				return err
			}
			defer s.Close()
			if d := s.Damaged(); d != "" {
				fmt.Fprintf(cmd.ErrOrStderr(), "gladember: %s is damaged (%s) and open for reading only; restore a copy with gladember "+
					"restore\n", data, d)
			}
			ctx, done := context.WithCancel(cmd.Context())
			defer done()
			go s.Maintain(ctx, func(err error) { fmt.Fprintf(cmd.ErrOrStderr(), "gladember: no daily copy was made: %v\n", err) })
			return listen(cmd, s, address, "Your workshop, kept in "+data, web.Options{Program: Version, Station: station}, share, at)
		},
	}
	dataFlag(c, &data)
	c.Flags().StringVar(&address, "address", defaultAddress, "loopback address to answer on")
	c.Flags().BoolVar(&share, "share", false, "let phones and laptops of this house's network in, each by a code that is good once; "+
		"what goes between is not encrypted")
	c.Flags().StringSliceVar(&at, "share-at", nil,
		"with --share: address of this machine at which devices reach it (default: all its private ones)")
	c.Flags().StringVar(&station, "weather-station", "", "address of a weather station that gives a place's months (see gladember standin)")
	return c
}

// standinCommand serves the stand-ins for devices and services outside.
func standinCommand() *cobra.Command {
	var address string
	c := &cobra.Command{
		Use:   "standin",
		Short: "Run the simulated weather station",
		Long: "Answers GET /months?latitude=&longitude=&elevation= with an invented table of months, for trying what a real station " +
			"would tell. Give its address to serve with --weather-station.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			l, err := loopback(address)
			if err != nil {
				return err
			}
			ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
			defer stop()
			fmt.Fprintf(cmd.OutOrStdout(), "A weather station that invents its months, at http://%s; stop with Ctrl+C.\n", l.Addr())
			return web.Serve(ctx, standin.Weather(), l)
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

// share listens beside loopback at the addresses of this machine that devices of the house's network
// reach, all on one port. Without any named, these are its private ones: a public address is not opened.
func share(main net.Listener, named []string) ([]net.Listener, *web.Sharing, error) {
	_, port, err := net.SplitHostPort(main.Addr().String())
	if err != nil {
		return nil, nil, err
	}
	hosts, err := sharedHosts(named)
	if err != nil {
		return nil, nil, err
	}
	var listeners []net.Listener
	for _, host := range hosts {
		l, err := net.Listen("tcp", net.JoinHostPort(host, port))
		if err != nil {
			for _, open := range listeners {
				open.Close()
			}
			return nil, nil, fmt.Errorf("%w; choose another port with --address or another address with --share-at", err)
		}
		listeners = append(listeners, l)
	}
	return listeners, &web.Sharing{Hosts: hosts, Address: net.JoinHostPort(hosts[0], port)}, nil
}

// sharedHosts are the addresses to share at: those named, else this machine's private ones.
func sharedHosts(named []string) ([]string, error) {
	var hosts []string
	for _, n := range named {
		ip := net.ParseIP(n)
		if ip == nil || ip.IsUnspecified() {
			return nil, fmt.Errorf("--share-at %q is no address of this machine; write one such as 192.168.1.20", n)
		}
		if !ip.IsPrivate() && !ip.IsLoopback() && !ip.IsLinkLocalUnicast() {
			return nil, fmt.Errorf("--share-at %s can be reached from outside the house; name a private address such as 192.168.1.20", n)
		}
		hosts = append(hosts, ip.String())
	}
	if len(hosts) > 0 {
		return hosts, nil
	}
	addresses, err := net.InterfaceAddrs()
	if err != nil {
		return nil, err
	}
	for _, a := range addresses {
		if n, ok := a.(*net.IPNet); ok && n.IP.IsPrivate() && !n.IP.IsLoopback() {
			hosts = append(hosts, n.IP.String())
		}
	}
	if len(hosts) == 0 {
		return nil, errors.New("this machine has no private network address that a phone could reach; join the house's network, name " +
			"an address with --share-at, or leave out --share")
	}
	return hosts, nil
}

// softMemory is the memory, bytes, that the program tries to stay under while it serves: a long log is judged with more garbage
// collections rather than with twice its size. It may be exceeded, and GOMEMLIMIT sets another.
const softMemory = 150 << 20

// listen serves on this machine only or, with sharing, also at the addresses named or found, until it is interrupted.
func listen(cmd *cobra.Command, s *store.Store, address, what string, o web.Options, shared bool, at []string) error {
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(softMemory)
	}
	l, err := loopback(address)
	if err != nil {
		return err
	}
	listeners := []net.Listener{l}
	if shared {
		more, sharing, err := share(l, at)
		if err != nil {
			l.Close()
			return err
		}
		listeners, o.Share = append(listeners, more...), sharing
	}
	h, err := web.New(s, slog.New(slog.NewTextHandler(cmd.ErrOrStderr(), &slog.HandlerOptions{Level: slog.LevelWarn})), o)
	if err != nil {
		return err
	}
	if o.Share != nil {
		code, err := drawing.QRText(o.Share.URL())
		if err != nil {
			return err
		}
		fmt.Fprintf(cmd.OutOrStdout(), "%s\nScan the code with a phone in this network, or open http://%s on it and enter %s.\n", code,
			o.Share.Address, o.Share.Code())
	}
	ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	fmt.Fprintf(cmd.OutOrStdout(), "%s\nOpen http://%s in a browser; stop with Ctrl+C.\n", what, l.Addr())
	if err := web.Serve(ctx, h, listeners...); err != nil && !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}

func demoCommand() *cobra.Command {
	var address string
	c := &cobra.Command{
		Use:   "demo",
		Short: "Look around in a made-up workshop",
		Long: "Serves three invented heaters with two weeks of invented readings from a throwaway copy: change what you like, it is " +
			"gone when you stop.",
		Args: cobra.NoArgs,
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
			return listen(cmd, s, address, "Innerkelden, a village that does not exist", web.Options{Program: Version,
				Station: "http://" + l.Addr().String()}, false, nil)
		},
	}
	c.Flags().StringVar(&address, "address", defaultAddress, "loopback address to answer on")
	return c
}
