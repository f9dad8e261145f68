package web

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base32"
	"encoding/hex"
	"errors"
	"html/template"
	"net"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/labstack/echo/v5"
	"golang.org/x/time/rate"

	"gladember/app/drawing"
	"gladember/app/store"
	"gladember/app/web/ui"
)

// Sharing lets browsers elsewhere in the house in, each by a code that is good once.
type Sharing struct {
	// Hosts are the names and addresses, without port, by which this machine may be
	// asked for; anything else could be a page that only pretends to be it.
	Hosts []string
	// Address is the one that a phone is sent to, with its port.
	Address string

	lock  sync.Mutex
	code  string
	until time.Time
	tries *lru.Cache[string, *rate.Limiter] // of the addresses that tried last
	all   *rate.Limiter
}

// How long a pairing code is good, how many may be tried in a minute from one address and from all together, and of how many addresses
// that is counted.
const (
	codeGood  = 10 * time.Minute
	codeTries = 5
	allTries  = 60
	addresses = 1024
)

// Code is the pairing code that is good now.
func (s *Sharing) Code() string {
	s.lock.Lock()
	defer s.lock.Unlock()
	if now := time.Now(); s.code == "" || now.After(s.until) {
		b := make([]byte, 5)
		_, _ = rand.Read(b) // never fails
		s.code, s.until = base32.StdEncoding.EncodeToString(b), now.Add(codeGood)
	}
	return s.code
}

// URL is where a phone pairs, with the code in it.
func (s *Sharing) URL() string {
	return (&url.URL{Scheme: "http", Host: s.Address, Path: "/pair", RawQuery: url.Values{"code": {s.Code()}}.Encode()}).String()
}

var (
	errTries = errors.New("too many codes were tried; wait a minute, then enter the code that the workshop shows now")
	errCode  = errors.New("that code is wrong or has expired; enter the code that the workshop shows now")
)

// tried counts a try from an address, unless there were too many. Guesses from one address leave the others' tries alone.
func (s *Sharing) tried(from string, now time.Time) bool {
	if s.all == nil {
		s.tries, _ = lru.New[string, *rate.Limiter](addresses) // fails for a size below one alone
		s.all = rate.NewLimiter(rate.Every(time.Minute/allTries), allTries)
	}
	own, known := s.tries.Get(from)
	if !known {
		own = rate.NewLimiter(rate.Every(time.Minute/codeTries), codeTries)
		s.tries.Add(from, own)
	}
	return own.AllowN(now, 1) && s.all.AllowN(now, 1)
}

// use spends a code that was entered at an address.
func (s *Sharing) use(code, from string) error {
	good := s.Code()
	s.lock.Lock()
	defer s.lock.Unlock()
	if !s.tried(from, time.Now()) {
		return errTries
	}
	code = strings.ToUpper(strings.NewReplacer(" ", "", "-", "").Replace(code))
	if subtle.ConstantTimeCompare([]byte(code), []byte(good)) != 1 {
		return errCode
	}
	s.code = ""
	return nil
}

// deviceCookie holds the token of a browser that was let in.
const deviceCookie = "device"

// crossOrigin refuses changes that a page of another site asks for.
var crossOrigin = http.NewCrossOriginProtection()

// gate answers this machine's own browser; where the workshop is shared, also browsers that
// were let in by a code. Changes are taken only from the workshop's own pages: a page elsewhere must not
// reach a server that runs here.
func (sv *site) gate(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		name, _, err := net.SplitHostPort(r.Host)
		if err != nil {
			name = r.Host
		}
		name = strings.Trim(name, "[]")
		if crossOrigin.Check(r) != nil {
			return echo.NewHTTPError(http.StatusForbidden, "this change was requested by another site; open the workshop itself")
		}
		if !wanted(r) {
			return echo.NewHTTPError(http.StatusForbidden, "this was requested by another site; open the workshop itself")
		}
		shared := sv.share != nil && slices.Contains(sv.share.Hosts, name)
		if !shared && local(name) && fromHere(r) {
			c.Set("local", true)
			return next(c)
		}
		if sv.share == nil {
			return echo.NewHTTPError(http.StatusMisdirectedRequest, "this workshop answers at localhost only")
		}
		if !shared {
			return echo.NewHTTPError(http.StatusMisdirectedRequest, "this workshop does not answer at that name")
		}
		if ip := remote(r); !near(ip) {
			return echo.NewHTTPError(http.StatusForbidden, "this workshop answers devices of its own network only")
		}
		if r.URL.Path == "/pair" || strings.HasPrefix(r.URL.Path, "/static/") {
			r.Body = http.MaxBytesReader(c.Response(), r.Body, maxStranger)
			return next(c)
		}
		if k, err := c.Cookie(deviceCookie); err == nil {
			if _, err := sv.Store.DeviceOf(r.Context(), k.Value); err == nil {
				return next(c)
			} else if !errors.Is(err, store.ErrNotFound) {
				return err
			}
		}
		if r.Method != http.MethodGet || r.Header.Get("HX-Request") != "" {
			return echo.NewHTTPError(http.StatusUnauthorized, "this device is not connected; connect it again")
		}
		return c.Redirect(http.StatusSeeOther, "/pair")
	}
}

func local(name string) bool {
	ip := net.ParseIP(name)
	return name == "localhost" || ip != nil && ip.IsLoopback()
}

// remote is the address that a request came from; nil for one that cannot be read.
func remote(r *http.Request) net.IP {
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		return nil
	}
	host, _, _ = strings.Cut(host, "%") // a zone
	return net.ParseIP(host)
}

// fromHere says whether a request came over loopback.
func fromHere(r *http.Request) bool {
	ip := remote(r)
	return ip != nil && ip.IsLoopback()
}

// near says whether an address is one of a house's network.
func near(ip net.IP) bool {
	return ip != nil && (ip.IsPrivate() || ip.IsLoopback() || ip.IsLinkLocalUnicast())
}

// maxStranger bounds what a device may send before it was let in, bytes.
const maxStranger = 8 << 10

// wanted says whether a page of ours, or the person, asked: another site may link to a page of the workshop, but it may not have years
// computed by pictures or frames that it shows, or by the parts of a page.
func wanted(r *http.Request) bool {
	site := r.Header.Get("Sec-Fetch-Site")
	if r.Method != http.MethodGet && r.Method != http.MethodHead || site != "cross-site" && site != "same-site" {
		return true
	}
	const page = 4 // /h/1/season, and not a part of it
	return r.Header.Get("Sec-Fetch-Mode") == "navigate" && len(strings.Split(r.URL.Path, "/")) <= page
}

// PairView is the page on which a phone gives its code.
type PairView struct {
	ui.Page
	Code, Name, Error string
}

func (sv *site) pairPage(c *echo.Context) error {
	if sv.share == nil {
		return echo.NewHTTPError(http.StatusNotFound, "")
	}
	return c.Render(http.StatusOK, "pair.html", PairView{Page: ui.NewPage(c, "Connect this device"), Code: c.QueryParam("code"),
		Name: deviceName(c.Request().UserAgent())})
}

// deviceName guesses what a browser runs on.
func deviceName(agent string) string {
	for _, x := range [][2]string{{"Android", "phone"}, {"iPhone", "phone"}, {"iPad", "tablet"}, {"Windows", "laptop"},
		{"Macintosh", "laptop"}} {
		if strings.Contains(agent, x[0]) {
			return x[1]
		}
	}
	return "device"
}

func (sv *site) pair(c *echo.Context) error {
	if sv.share == nil {
		return echo.NewHTTPError(http.StatusNotFound, "")
	}
	v := PairView{Page: ui.NewPage(c, "Connect this device"), Code: c.FormValue("code"), Name: strings.TrimSpace(c.FormValue("name"))}
	if err := sv.share.use(v.Code, remote(c.Request()).String()); err != nil {
		v.Error = err.Error()
		return c.Render(http.StatusUnprocessableEntity, "pair.html", v)
	}
	if v.Name == "" || len(v.Name) > 40 {
		v.Name = deviceName(c.Request().UserAgent())
	}
	b := make([]byte, 32)
	_, _ = rand.Read(b) // never fails
	token := hex.EncodeToString(b)
	if err := sv.Store.AddDevice(c.Request().Context(), v.Name, token); err != nil {
		return err
	}
	ui.SetCookie(c, deviceCookie, token)
	return c.Redirect(http.StatusSeeOther, "/")
}

// DevicesView is who was let in, and how another comes in.
type DevicesView struct {
	ui.Page
	Shared  bool
	Here    bool // this is the workshop's own computer
	QR      template.HTML
	Code    string
	Address string
	Devices []DeviceRow
}

// DeviceRow is a device that was let in.
type DeviceRow struct {
	ID               int64
	Name, When, Seen string
}

func (sv *site) devices(c *echo.Context) error {
	v := DevicesView{Page: ui.NewPage(c, "Connect a phone"), Shared: sv.share != nil}
	ds, err := sv.Store.Devices(c.Request().Context())
	if err != nil {
		return err
	}
	at := func(ms int64) string { return time.UnixMilli(ms).Format("2 January 2006, 15:04") }
	for _, d := range ds {
		v.Devices = append(v.Devices, DeviceRow{d.ID, d.Name, at(d.At), at(d.Seen)})
	}
	v.Here, _ = c.Get("local").(bool)
	if v.Here && v.Shared { // a device does not let others in
		v.Code, v.Address = sv.share.Code(), "http://"+sv.share.Address
		if v.QR, err = drawing.QR(sv.share.URL()); err != nil {
			return err
		}
	}
	return c.Render(http.StatusOK, "devices.html", v)
}

func (sv *site) dropDevice(c *echo.Context) error {
	if here, _ := c.Get("local").(bool); !here { // a device does not shut others out
		return echo.NewHTTPError(http.StatusForbidden, "Disconnect devices on the computer that the workshop runs on.")
	}
	id, err := strconv.ParseInt(c.FormValue("device"), 10, 64)
	if err != nil {
		return store.ErrNotFound
	}
	if err := sv.Store.DropDevice(c.Request().Context(), id); err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	return c.Redirect(http.StatusSeeOther, "/devices")
}
