package web_test

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"gladember/app/store"
	"gladember/app/web"
	"gladember/app/web/ui"
	"gladember/app/web/webtest"
	"gladember/core/design"
)

// away is a browser elsewhere in the house, with its cookies.
type away struct {
	t       *testing.T
	h       http.Handler
	host    string
	from    string
	cookies map[string]string
}

func (a *away) do(method, path string, form url.Values) *httptest.ResponseRecorder {
	a.t.Helper()
	r := httptest.NewRequest(method, path, strings.NewReader(form.Encode()))
	r.Host, r.RemoteAddr = a.host, a.from
	if form != nil {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	for k, v := range a.cookies {
		r.AddCookie(&http.Cookie{Name: k, Value: v})
	}
	w := httptest.NewRecorder()
	a.h.ServeHTTP(w, r)
	for _, k := range w.Result().Cookies() {
		a.cookies[k.Name] = k.Value
	}
	return w
}

var csrfIn = regexp.MustCompile(`name="csrf" value="([^"]+)"`)

// A shared workshop: nobody comes in without a code; a code is good once; a few wrong
// ones shut the door for a minute; a device that is shut out stays out; names that are not this machine's are
// refused, and a page on this machine still needs no code.
func TestSharing(t *testing.T) {
	t.Parallel()
	s, err := store.Open(context.Background(), filepath.Join(t.TempDir(), "w.db"))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	st, err := s.Create(context.Background(), design.New())
	if err != nil {
		t.Fatal(err)
	}
	share := &web.Sharing{Hosts: []string{"192.168.7.7"}, Address: "192.168.7.7:8737"}
	h, err := web.New(s, slog.New(slog.NewTextHandler(io.Discard, nil)), web.Options{Share: share})
	if err != nil {
		t.Fatal(err)
	}
	phone := &away{t, h, "192.168.7.7:8737", "192.168.7.20:5000", map[string]string{}}
	if w := phone.do("GET", "/", nil); w.Code != http.StatusSeeOther || w.Header().Get("Location") != "/pair" {
		t.Errorf("a stranger gets %d %s", w.Code, w.Header().Get("Location"))
	}
	page := phone.do("GET", "/pair", nil)
	token := csrfIn.FindStringSubmatch(page.Body.String())
	if token == nil {
		t.Fatal("the pairing page has no token")
	}
	pair := func(a *away, code string) int {
		return a.do("POST", "/pair", url.Values{"csrf": {token[1]}, "code": {code}, "name": {"the shop's phone"}}).Code
	}
	if c := pair(phone, "WRONG234"); c != http.StatusUnprocessableEntity {
		t.Errorf("a wrong code gets %d", c)
	}
	code := share.Code()
	if c := pair(phone, strings.ToLower(code[:4])+" "+code[4:]); c != http.StatusSeeOther {
		t.Errorf("the right code gets %d", c)
	}
	if w := phone.do("GET", ui.HeaterURL(st.Heater, "box"), nil); w.Code != http.StatusOK {
		t.Errorf("let in, it gets %d", w.Code)
	}
	if strings.Contains(phone.do("GET", "/devices", nil).Body.String(), share.Code()) {
		t.Error("a device may let others in")
	}
	other := &away{t, h, "192.168.7.7:8737", "192.168.7.21:5000", map[string]string{"csrf": phone.cookies["csrf"]}}
	if c := pair(other, code); c != http.StatusUnprocessableEntity {
		t.Errorf("a spent code gets %d", c)
	}
	for range 5 {
		pair(other, "WRONG234")
	}
	if c := pair(other, share.Code()); c != http.StatusUnprocessableEntity {
		t.Errorf("after many wrong ones the right code gets %d", c)
	}
	third := &away{t, h, "192.168.7.7:8737", "192.168.7.22:5000", map[string]string{"csrf": phone.cookies["csrf"]}}
	if c := pair(third, share.Code()); c != http.StatusSeeOther {
		t.Errorf("guesses from another address lock this one out: %d", c)
	}
	outside := &away{t, h, "192.168.7.7:8737", "203.0.113.9:5000", phone.cookies}
	if w := outside.do("GET", "/", nil); w.Code != http.StatusForbidden || w.Header().Get("Content-Security-Policy") == "" {
		t.Errorf("an address outside the house gets %d", w.Code)
	}
	large := &away{t, h, "192.168.7.7:8737", "192.168.7.23:5000", map[string]string{"csrf": phone.cookies["csrf"]}}
	if c := large.do("POST", "/pair", url.Values{"csrf": {token[1]}, "code": {strings.Repeat("A", 1<<20)}}).Code; c < 400 || c >= 500 {
		t.Errorf("a megabyte for a code gets %d", c)
	}
	rebound := &away{t, h, "evil.example:8737", "192.168.7.20:5000", phone.cookies}
	if w := rebound.do("GET", "/", nil); w.Code != http.StatusMisdirectedRequest {
		t.Errorf("another name gets %d", w.Code)
	}
	forged := &away{t, h, "127.0.0.1:8737", "192.168.7.20:5000", map[string]string{}}
	if w := forged.do("GET", "/", nil); w.Code == http.StatusOK {
		t.Error("a stranger that says localhost is taken for this machine")
	}
	here := &away{t, h, "127.0.0.1:8737", "127.0.0.1:5000", map[string]string{}}
	if w := here.do("GET", "/devices", nil); w.Code != http.StatusOK || !strings.Contains(w.Body.String(), share.Code()) ||
		!strings.Contains(w.Body.String(), "the shop&#39;s phone") {
		t.Errorf("this machine's own page: %d", w.Code)
	}
	ds, err := s.Devices(context.Background())
	if err != nil || len(ds) != 2 {
		t.Fatal(ds, err)
	}
	if w := phone.do("POST", "/devices/drop", url.Values{"csrf": {token[1]}, "device": {fmt.Sprint(ds[0].ID)}}); w.Code !=
		http.StatusForbidden {
		t.Errorf("a device that shuts another out gets %d", w.Code)
	}
	if err := s.DropDevice(context.Background(), ds[0].ID); err != nil {
		t.Fatal(err)
	}
	if w := phone.do("GET", ui.HeaterURL(st.Heater, "box"), nil); w.Code != http.StatusSeeOther {
		t.Errorf("shut out, it gets %d", w.Code)
	}
	if w := phone.do("POST", ui.HeaterURL(st.Heater, "edit"), url.Values{"path": {"name"},
		"typed": {"x"}}); w.Code != http.StatusUnauthorized {
		t.Errorf("shut out, its edit gets %d", w.Code)
	}
	alone, err := web.New(s, slog.New(slog.NewTextHandler(io.Discard, nil)), web.Options{})
	if err != nil {
		t.Fatal(err)
	}
	phone.h = alone
	if w := phone.do("GET", "/pair", nil); w.Code != http.StatusMisdirectedRequest {
		t.Errorf("a workshop that is not shared answers %d", w.Code)
	}
}

// A device whose connection lapsed keeps its change: it waits, the page says why and leads to the code, and it is sent after that.
func TestLapsedDeviceKeepsItsChange(t *testing.T) {
	t.Parallel()
	base, s, share := webtest.Shared(t)
	p := webtest.Visit(t, base+"/pair?code="+share.Code(), 390, 844)
	webtest.MayBeAway.Store(p, true)
	h := webtest.NewHand(t, p)
	connect := func() {
		wait := p.MustWaitNavigation()
		p.MustElement("button.act").MustClick()
		wait()
	}
	connect()
	p.MustNavigate(base + "/h/1/box").MustWaitLoad()
	ds := webtest.Must(s.Devices(t.Context()))(t)
	if len(ds) != 1 {
		t.Fatalf("%d devices", len(ds))
	}
	if err := s.DropDevice(t.Context(), ds[0].ID); err != nil {
		t.Fatal(err)
	}
	webtest.Field(p, "#f-pane-width_m").MustEval(`() => this.scrollIntoView({block: "center"})`)
	h.TypeIn("#f-pane-width_m", "910 mm")
	h.See("#waiting", "One change waits")
	h.See("#waiting", "Connect this device again")
	if webtest.StateOf(t, s, 1).Document.Pane.Width == 0.91 {
		t.Error("a device that was shut out changed the heater")
	}
	p.MustNavigate(base + "/pair?code=" + share.Code()).MustWaitLoad()
	connect()
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 1).Document.Pane.Width == 0.91 })
}

// What another site asks for by its pictures, frames and scripts is refused; a link to a page is not.
func TestOtherSitesStartNothing(t *testing.T) {
	t.Parallel()
	base, _ := webtest.Workshop(t, true)
	for _, x := range []struct {
		path, site, mode string
		want             int
	}{
		{"/h/1/season/year", "cross-site", "no-cors", 403}, {"/h/1/season/year", "cross-site", "navigate", 403},
		{"/h/1/season", "cross-site", "navigate", 200}, {"/h/1/season", "cross-site", "no-cors", 403}, {"/", "same-site", "no-cors", 403},
		{"/h/1/season/year", "same-origin", "cors", 200}, {"/h/1/box", "none", "navigate", 200},
	} {
		r := webtest.Must(http.NewRequest("GET", base+x.path, nil))(t)
		r.Header.Set("Sec-Fetch-Site", x.site)
		r.Header.Set("Sec-Fetch-Mode", x.mode)
		res := webtest.Must(http.DefaultClient.Do(r))(t)
		res.Body.Close()
		if res.StatusCode != x.want {
			t.Errorf("%s from a %s page by %s: %d, want %d", x.path, x.site, x.mode, res.StatusCode, x.want)
		}
	}
	for path, want := range map[string]int{"/static/": 404, "/static/css/": 404, "/static/nothing.css": 404} {
		res := webtest.Must(http.Get(base + path))(t)
		b := webtest.Must(io.ReadAll(res.Body))(t)
		res.Body.Close()
		if res.StatusCode != want || strings.Contains(string(b), "<pre>") {
			t.Errorf("%s: %d %.100s", path, res.StatusCode, b)
		}
	}
}
