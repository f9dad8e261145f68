package web_test

import (
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"strings"
	"testing"

	"gladember/app/web/webtest"
)

// looker is a browser that looks at a workshop.
type looker struct {
	t    *testing.T
	base string
	http *http.Client
	// language is what it asks for.
	language string
}

func newLooker(t *testing.T, base, language string) *looker {
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	return &looker{t, base, &http.Client{Jar: jar}, language}
}

// do asks for an address, with a form if there is one.
func (l *looker) do(path string, form url.Values) string {
	l.t.Helper()
	method, body := http.MethodGet, ""
	if form != nil {
		method, body = http.MethodPost, form.Encode()
	}
	r, err := http.NewRequest(method, l.base+path, strings.NewReader(body))
	if err != nil {
		l.t.Fatal(err)
	}
	r.Header.Set("Accept-Language", l.language)
	r.Header.Set("Sec-Fetch-Site", "same-origin")
	if form != nil {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	a, err := l.http.Do(r)
	if err != nil {
		l.t.Fatal(err)
	}
	defer a.Body.Close()
	b, err := io.ReadAll(a.Body)
	if err != nil || a.StatusCode >= 400 {
		l.t.Fatalf("%s answers %d, %v", path, a.StatusCode, err)
	}
	return string(b)
}

// A workshop begins with the units of the browser's language, takes those of the place of its first heater, and has them on every
// device that opens it; who looks may switch for himself, and nobody else sees it. Sizes that are bought are the workshop's own, so that
// what is ticked on one device is ticked on all.
func TestUnitsBelongToTheWorkshop(t *testing.T) {
	t.Parallel()
	base, _ := webtest.Workshop(t, false)
	const inches, metric = "34 x 58 in", "860 x 1480 mm"
	placeholder := func(page string) string {
		_, rest, _ := strings.Cut(page, `placeholder="`)
		p, _, _ := strings.Cut(rest, `"`)
		return p
	}
	for language, want := range map[string]string{"en-US,en;q=0.9": inches, "de-AT": metric, "en-GB": metric, "en": metric, "": metric,
		"%": metric} {
		if got := placeholder(newLooker(t, base, language).do("/", nil)); got != want {
			t.Errorf("%q begins with %s", language, got)
		}
	}
	inInches := func(l *looker) bool { return strings.Contains(l.do("/h/1/box", nil), `aria-label="Lengths in in;`) }
	first, phone := newLooker(t, base, "en-US"), newLooker(t, base, "de")
	first.do("/start", url.Values{"pane": {"34 x 58"}, "town": {"Duluth, MN"}, "room": {"shop"}})
	for _, l := range []*looker{first, phone} {
		if !inInches(l) {
			t.Errorf("%s sees a box that is not in inches", l.language)
		}
	}
	bought := func(l *looker) string { // the sold sizes by which lines are ticked
		_, rest, _ := strings.Cut(l.do("/h/1/buy", nil), "name=\"id\"")
		return rest[:min(200, len(rest))]
	}
	before := bought(first)
	phone.do("/units", url.Values{"flip": {"length"}, "here": {"/"}})
	if inInches(phone) {
		t.Error("who looks cannot switch")
	}
	if !inInches(first) {
		t.Error("a switch of one browser reaches another")
	}
	if bought(first) != before || bought(phone) != before {
		t.Error("what is bought follows the browser")
	}
	phone.do("/settings", url.Values{"length": {"mm"}, "heat": {"C"}, "decimal": {"point"}, "currency": {"CHF"}})
	if inInches(first) || inInches(phone) {
		t.Error("settings of the workshop do not reach the other browser")
	}
	if page := phone.do("/settings", nil); !strings.Contains(page, "Undo: units and currency") || !strings.Contains(page, `value="CHF"`) {
		t.Error("the settings cannot be undone")
	}
	phone.do("/settings/undo", url.Values{"way": {"undo"}})
	if !inInches(first) || strings.Contains(first.do("/settings", nil), `value="CHF"`) {
		t.Error("an undo of the settings left them")
	}
	phone.do("/settings/undo", url.Values{"way": {"redo"}})
	if inInches(first) || !strings.Contains(first.do("/settings", nil), `value="CHF"`) {
		t.Error("a redo of the settings did nothing")
	}
}
