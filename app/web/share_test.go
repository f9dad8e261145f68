package web_test

import (
	"context"
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
	if err != nil || len(ds) != 1 {
		t.Fatal(ds, err)
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
