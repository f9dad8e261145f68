// Package web is the workshop as pages: Echo handlers, view models and
// templates. A handler reads the request, calls core and store, and hands a
// view model to a template; it decides nothing of the trade.
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
	"time"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"gladember/app/store"
)

//go:embed templates/*.html
var templates embed.FS

// policy is the content policy: everything from here, nothing inline.
const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// maxBody bounds a request, bytes: the largest log with its wrapping.
const maxBody = 66 << 20

// Server is the workshop behind HTTP.
type Server struct {
	store   *store.Store
	pages   *template.Template
	evals   *evaluations
	years   *years
	days    *remembered[played]
	places  *remembered[PlaceView]
	sayings *remembered[SaidView]
	logs    *remembered[judged]
	jobs    jobs
	log     *slog.Logger
	Options
}

// Options are what a workshop is told of its surroundings.
type Options struct {
	Program string   // version of the program
	Station string   // address of a weather station to ask; empty: there is none
	Share   *Sharing // lets browsers elsewhere in; nil: this machine only
}

// New returns the handler of a workshop.
func New(s *store.Store, logger *slog.Logger, o Options) (http.Handler, error) {
	t, err := template.New("").Funcs(template.FuncMap{"asset": asset}).ParseFS(templates, "templates/*.html")
	if err != nil {
		return nil, fmt.Errorf("templates: %w", err)
	}
	// The first search should not wait for the town list to unpack.
	go func() {
		if _, err := loadTowns(); err != nil {
			logger.Error("town list", "error", err)
		}
		debug.FreeOSMemory() // unpacking took twice what the list keeps
	}()
	sv := &Server{store: s, pages: t, evals: newEvaluations(), days: remember[played](32), places: remember[PlaceView](64), sayings: remember[SaidView](32), logs: remember[judged](16), log: logger, Options: o}
	sv.years = newYears(sv.weatherOf)
	e := echo.New()
	e.Logger = logger
	e.Renderer = &echo.TemplateRenderer{Template: t}
	e.HTTPErrorHandler = sv.fail
	e.Use(middleware.Recover(), sv.gate, headers)
	e.Use(middleware.GzipWithConfig(middleware.GzipConfig{Level: 1, MinLength: 2048}))
	e.Use(middleware.BodyLimit(maxBody))
	e.Use(middleware.CSRFWithConfig(middleware.CSRFConfig{TokenLookup: "header:X-CSRF-Token,form:csrf", CookieName: "csrf", CookiePath: "/", CookieHTTPOnly: true, CookieSameSite: http.SameSiteStrictMode}))
	sub, err := fs.Sub(static, "static")
	if err != nil {
		return nil, err
	}
	files := http.StripPrefix("/static/", http.FileServerFS(sub))
	e.GET("/static/*", func(c *echo.Context) error {
		c.Response().Header().Set("Cache-Control", "public, max-age=31536000, immutable")
		files.ServeHTTP(c.Response(), c.Request())
		return nil
	})
	sv.routes(e)
	return e, nil
}

func (sv *Server) routes(e *echo.Echo) {
	e.GET("/", sv.home)
	e.POST("/start/preview", sv.preview)
	e.POST("/start", sv.start)
	e.GET("/towns", sv.towns)
	e.GET("/pair", sv.pairPage)
	e.POST("/pair", sv.pair)
	e.GET("/devices", sv.devices)
	e.POST("/devices/drop", sv.dropDevice)
	e.GET("/words", sv.words)
	e.GET("/settings", sv.settingsPage)
	e.POST("/settings", sv.setSettings)
	e.POST("/units", sv.setUnits)
	e.POST("/theme", sv.setTheme)
	h := e.Group("/h/:id")
	h.GET("", sv.resume)
	h.GET("/since", sv.since)
	h.GET("/place", sv.station("place"))
	h.POST("/weather", sv.putWeather)
	h.POST("/weather/ask", sv.askWeather)
	h.GET("/box", sv.station("box"))
	h.GET("/air", sv.station("air"))
	h.POST("/air/option", sv.airOption)
	h.GET("/switch", sv.station("switch"))
	h.GET("/switch/day", sv.switchDay)
	h.GET("/switch/curve", sv.switchCurve)
	h.GET("/switch/months", sv.switchMonths)
	h.GET("/need", sv.station("need"))
	h.GET("/need/year", sv.needYear)
	h.GET("/stock", sv.station("stock"))
	h.POST("/stock", sv.stockAdd)
	h.POST("/stock/test", sv.stockTest)
	h.POST("/stock/take", sv.stockTake)
	h.POST("/stock/:thing/drop", sv.stockDrop)
	h.POST("/stock/:thing/more", sv.stockMore)
	h.POST("/size", sv.size)
	h.POST("/sweep", sv.sweep)
	h.GET("/job/:job", sv.jobNow)
	h.POST("/job/:job/stop", sv.jobStop)
	h.POST("/job/:job/take", sv.jobTake)
	h.GET("/season", sv.station("season"))
	h.GET("/season/year", sv.seasonYear)
	h.GET("/season/judged", sv.seasonJudged)
	h.GET("/cut", sv.station("cut"))
	h.GET("/log", sv.station("log"))
	h.POST("/edit", sv.edit)
	h.POST("/town", sv.town)
	h.POST("/remedy", sv.remedy)
	h.POST("/undo", sv.undo)
	h.POST("/redo", sv.redo)
	h.POST("/branch", sv.branch)
	h.GET("/versions", sv.station("versions"))
	h.GET("/said", sv.station("said"))
	h.GET("/said/year", sv.saidYear)
	h.POST("/said/take", sv.saidTake)
	h.POST("/versions/put", sv.putAcross)
	h.POST("/versions/rename", sv.rename)
	h.POST("/version", sv.version)
	h.GET("/working/:figure", sv.working)
	h.GET("/log/day", sv.logDay)
	h.POST("/log/upload", sv.upload)
	h.GET("/log/columns", sv.columns)
	h.POST("/log/columns", sv.columnsAgain)
	h.POST("/log/import", sv.importLog)
	h.POST("/log/imports/:import/remove", sv.removeImport)
}

// asset is the address of a built file, named after its content so that it may
// be kept for good.
func asset(name string) (string, error) {
	b, err := static.ReadFile("static/" + name)
	if err != nil {
		return "", err
	}
	sum := sha256.Sum256(b)
	u := url.URL{Path: "/static/" + name, RawQuery: url.Values{"v": {hex.EncodeToString(sum[:6])}}.Encode()}
	return u.String(), nil
}

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

// uncomputed is an error for what exists but cannot be computed for this heater; its reason is shown.
func uncomputed(why error) error {
	switch {
	case why == nil:
		why = errors.New("this cannot be computed for this heater; change it, or load the page again")
	case errors.Is(why, context.Canceled):
		return why
	}
	return echo.NewHTTPError(http.StatusUnprocessableEntity, why.Error())
}

// fail shows an error as a page, or as a line where htmx asked.
func (sv *Server) fail(c *echo.Context, err error) {
	if errors.Is(err, context.Canceled) {
		return // a newer entry has taken this one's place
	}
	if b := behindOf(err); b != nil {
		if sv.failBehind(c, b) == nil {
			return
		}
	}
	code, text := http.StatusInternalServerError, "Something broke here. What you had is saved; go back and try again."
	var he *echo.HTTPError
	var sc echo.HTTPStatusCoder
	switch {
	case errors.Is(err, store.ErrNotFound):
		code, text = http.StatusNotFound, err.Error()
	case errors.As(err, &he):
		code, text = he.Code, he.Message
	case errors.As(err, &sc):
		code, text = sc.StatusCode(), http.StatusText(sc.StatusCode())
	}
	if text == "" {
		text = http.StatusText(code)
	}
	if code == http.StatusNotFound && he != nil && (he.Message == "" || he.Message == http.StatusText(code)) {
		text = "There is no such page. The workshop's heaters are on the first page."
	}
	if code >= 500 {
		sv.log.Error("request failed", "path", c.Request().URL.Path, "error", err)
	}
	if c.Request().Method == http.MethodPost {
		c.Response().Header().Set(refusedHeader, url.QueryEscape(text))
	}
	if c.Request().Header.Get("HX-Request") != "" {
		c.Response().Header().Set("HX-Retarget", "#notice")
		c.Response().Header().Set("HX-Reswap", "innerHTML")
		_ = c.String(code, template.HTMLEscapeString(text))
		return
	}
	if r := c.Render(code, "error.html", struct {
		Page
		Text string
	}{sv.page(c, "Not here"), text}); r != nil {
		_ = c.String(code, text)
	}
}

// Serve answers on listeners until the context ends or one of them fails.
func Serve(ctx context.Context, h http.Handler, listeners ...net.Listener) error {
	srv := &http.Server{Handler: h, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 2 * time.Minute, WriteTimeout: 2 * time.Minute, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10}
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
	return errors.Join(failed, srv.Shutdown(stop))
}
