// Package web is the workshop as pages. The stations of a heater are folders of their own below it, put together in
// stations.go; what they share is package ui. This package serves them, with the first page, the settings, the glossary
// and the pairing of other devices, and decides who is let in.
package web

import (
	"context"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"html/template"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"runtime/debug"
	"strings"
	"sync/atomic"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/towns"
	"gladember/app/web/static"
	"gladember/app/web/ui"
	"gladember/core/design"
)

//go:embed *.html
var templates embed.FS

// policy is the content policy: everything from here, nothing inline.
const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; " +
	"form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// maxBody bounds a request, bytes: the largest log with its wrapping.
const maxBody = 66 << 20

// site is the workshop behind HTTP.
type site struct {
	*ui.Server
	share *Sharing // lets browsers elsewhere in; nil: this machine only
}

// Options are what a workshop is told of its surroundings.
type Options struct {
	Program string   // version of the program
	Station string   // address of a weather station to ask; empty: there is none
	Share   *Sharing // lets browsers elsewhere in; nil: this machine only
	// Before is [service.Workshop.Before].
	Before func(h *design.Heater)
	// Memory is shared with other workshops; nil for one of its own.
	Memory *service.Memory
}

// New returns the handler of a workshop.
func New(s *store.Store, logger *slog.Logger, o Options) (http.Handler, error) {
	all := stations()
	files := []fs.FS{templates}
	for _, x := range all {
		files = append(files, x.Templates)
	}
	t, err := ui.Parse(asset, files...)
	if err != nil {
		return nil, err
	}
	// The first search should not wait for the town list to unpack.
	go func() {
		if _, err := towns.Load(); err != nil {
			logger.Error("town list", "error", err)
		}
		debug.FreeOSMemory() // unpacking took twice what the list keeps
	}()
	sv := &site{
		Server: &ui.Server{Workshop: service.New(s, o.Memory), Program: o.Program, WeatherStation: o.Station, Logger: logger,
			Stations: all},
		share: o.Share,
	}
	sv.Before = o.Before
	e := echo.New()
	e.Logger = logger
	e.Renderer = &echo.TemplateRenderer{Template: t}
	e.HTTPErrorHandler = sv.fail
	e.Use(middleware.Recover(), headers, sv.gate) // refusals have the content policy too
	// Between programs of one machine compression gains nothing, and it keeps 800 kB for each answer that is waited for.
	here := func(c *echo.Context) bool { return fromHere(c.Request()) }
	e.Use(middleware.GzipWithConfig(middleware.GzipConfig{Level: 1, MinLength: 2048, Skipper: here}))
	e.Use(bodies(maxForm), sv.Receive)
	e.Use(middleware.CSRFWithConfig(middleware.CSRFConfig{
		TokenLookup: "header:X-CSRF-Token,form:csrf", CookieName: "csrf", CookiePath: "/", CookieHTTPOnly: true,
		CookieSameSite: http.SameSiteStrictMode,
	}))
	e.Use(sv.InWorkshop)
	e.Use((&made{store: s, known: map[string]chan struct{}{}}).once)
	built := http.StripPrefix("/static/", http.FileServerFS(static.Files))
	e.GET("/static/*", func(c *echo.Context) error {
		if strings.HasSuffix(c.Request().URL.Path, "/") { // no list of what is there
			return echo.ErrNotFound
		}
		c.Response().Header().Set("Cache-Control", "public, max-age=31536000, immutable")
		built.ServeHTTP(c.Response(), c.Request())
		return nil
	})
	sv.routes(e)
	return &app{e, sv.Workshop}, nil
}

// app is the handler with the workshop that may forget in quiet times.
type app struct {
	*echo.Echo
	workshop *service.Workshop
}

// Rest forgets what can be computed again.
func (a *app) Rest() { a.workshop.Rest() }

// routes registers the pages that are of no heater, and the heaters'.
func (sv *site) routes(e *echo.Echo) {
	e.GET("/", sv.home)
	e.POST("/start/preview", sv.preview)
	e.POST("/start/more", sv.more)
	e.POST("/start/working", sv.working)
	e.POST("/start", sv.start)
	e.GET("/towns", sv.towns)
	e.GET("/pair", sv.pairPage)
	e.POST("/pair", sv.pair)
	e.GET("/devices", sv.devices)
	e.POST("/devices/drop", sv.dropDevice)
	e.GET("/glossary", sv.glossary)
	e.GET("/settings", sv.settingsPage)
	e.POST("/settings", sv.setSettings)
	e.POST("/settings/undo", sv.moveSettings)
	e.POST("/units", sv.setUnits)
	e.POST("/theme", sv.setTheme)
	sv.keepRoutes(e)
	h := e.Group("/h/:id")
	sv.homeRoutes(h)
	sv.Routes(h)
}

// maxForm bounds a request without files, bytes.
const maxForm = 1 << 20

// bodies bounds what a request may send: files may be large, forms are small.
func bodies(form int64) echo.MiddlewareFunc {
	large, small := middleware.BodyLimit(maxBody), middleware.BodyLimit(form)
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		files, fields := large(next), small(next)
		return func(c *echo.Context) error {
			if strings.HasPrefix(c.Request().Header.Get("Content-Type"), "multipart/form-data") {
				return files(c)
			}
			return fields(c)
		}
	}
}

// asset is the address of a built file, named after its content so that it may be kept for good.
func asset(name string) (string, error) {
	b, err := static.Files.ReadFile(name)
	if err != nil {
		return "", err
	}
	sum := sha256.Sum256(b)
	u := url.URL{Path: "/static/" + name, RawQuery: url.Values{"v": {hex.EncodeToString(sum[:6])}}.Encode()}
	return u.String(), nil
}

// headers keeps pages from other pages, and other pages from ours.
func headers(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		h := c.Response().Header()
		h.Set("Content-Security-Policy", policy)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("X-Frame-Options", "DENY")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		if !strings.HasPrefix(c.Request().URL.Path, "/static/") {
			h.Set("Cache-Control", "no-store")
		}
		return next(c)
	}
}

// fail shows an error as a page, or as a line where htmx asked.
func (sv *site) fail(c *echo.Context, err error) {
	if errors.Is(err, context.Canceled) || c.Request().Context().Err() != nil {
		return // a newer entry has taken this one's place, or the page was left
	}
	if b := ui.BehindOf(err); b != nil {
		if sv.FailBehind(c, b) == nil {
			return
		}
	}
	code, text := reason(err)
	if code >= http.StatusInternalServerError {
		sv.Logger.Error("request failed", "path", c.Request().URL.Path, "error", err)
	}
	if c.Request().Method == http.MethodPost {
		ui.Declined(c, text)
	}
	if c.Request().Header.Get("HX-Request") != "" {
		c.Response().Header().Set("HX-Retarget", "#notice")
		c.Response().Header().Set("HX-Reswap", "innerHTML")
		_ = c.String(code, template.HTMLEscapeString(text))
		return
	}
	if r := c.Render(code, "error.html", errorView{ui.NewPage(c, "Error"), text}); r != nil {
		_ = c.String(code, text)
	}
}

// errorView is an error as a page.
type errorView struct {
	ui.Page
	Text string
}

// reason is the status of an error, and what is said of it.
func reason(err error) (code int, text string) {
	if said, ok := store.Said(err); ok {
		return http.StatusServiceUnavailable, ui.Capital(said) + "."
	}
	code, text = http.StatusInternalServerError, "Something failed here. Your data is saved; go back and try again."
	var he *echo.HTTPError
	var sc echo.HTTPStatusCoder
	switch {
	case errors.Is(err, store.ErrNotFound):
		return http.StatusNotFound, ui.Capital(err.Error()) + "."
	case errors.Is(err, store.ErrName), errors.Is(err, store.ErrFull):
		return http.StatusUnprocessableEntity, ui.Capital(err.Error()) + "."
	case errors.As(err, &he):
		code, text = he.Code, he.Message
	case errors.As(err, &sc):
		code, text = sc.StatusCode(), http.StatusText(sc.StatusCode())
	}
	if code == http.StatusRequestEntityTooLarge {
		return code, fmt.Sprintf("That is too large: a file may have %d MB, a form %d kB.", maxBody>>20-2, maxForm>>10)
	}
	if code == http.StatusNotFound && (text == "" || text == http.StatusText(code)) {
		return code, "This page does not exist. All heaters are on the first page."
	}
	if text == "" {
		text = http.StatusText(code)
	}
	return code, ui.Capital(strings.TrimSuffix(text, ".")) + "."
}

// idle gives memory back to the system once nobody has asked for a while: a workshop runs all day beside other work.
type idle struct {
	http.Handler
	asked atomic.Int64 // when the last request came, ns
}

// ServeHTTP implements [http.Handler].
func (i *idle) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	i.asked.Store(time.Now().UnixNano())
	i.Handler.ServeHTTP(w, r)
}

// quiet is how long nobody asks before memory is given back.
const quiet = 15 * time.Second

// rest gives memory back in quiet times until the context ends.
func (i *idle) rest(ctx context.Context) {
	t := time.NewTicker(quiet)
	defer t.Stop()
	var done int64 // the last request after which it was given back
	for {
		select {
		case <-ctx.Done():
			return
		case <-t.C:
		}
		if last := i.asked.Load(); last != done && time.Since(time.Unix(0, last)) > quiet {
			if r, ok := i.Handler.(interface{ Rest() }); ok {
				r.Rest()
			}
			debug.FreeOSMemory()
			debug.FreeOSMemory() // pools let go of what they hold at the second time
			done = last
		}
	}
}

// Serve answers on listeners until the context ends or one of them fails.
func Serve(ctx context.Context, h http.Handler, listeners ...net.Listener) error {
	i := &idle{Handler: h}
	go i.rest(ctx)
	srv := &http.Server{
		Handler: i, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 2 * time.Minute, WriteTimeout: 2 * time.Minute,
		IdleTimeout:    2 * time.Minute,
		MaxHeaderBytes: 64 << 10,
	}
	done := make(chan error, len(listeners))
	for _, l := range listeners {
		go func() { done <- srv.Serve(l) }()
	}
	var failed error
	select {
	case failed = <-done:
	case <-ctx.Done():
	}
	stop, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	if err := srv.Shutdown(stop); err != nil { // somebody still sends, or listens slowly
		_ = srv.Close()
	}
	return failed
}
