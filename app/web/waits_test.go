package web_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"

	"gladember/app/store"
	"gladember/app/web/webtest"
	"gladember/core/layout"
)

// What a builder marks in a shop without network waits, from every page where it is marked, and is made once the workshop answers: the
// last word on a step or a packet, each piece that was cut, a reading. What cannot wait says that the workshop does not answer.
func TestMarksInTheShopWait(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/build?step=bore", 390, 844)
	webtest.MayBeAway.Store(p, true)
	h := webtest.NewHand(t, p)
	if err := (proto.NetworkEnable{}).Call(p); err != nil {
		t.Fatal(err)
	}
	away := func(on bool) {
		t.Helper()
		if err := (proto.NetworkEmulateNetworkConditions{Offline: on, DownloadThroughput: -1, UploadThroughput: -1}).Call(p); err != nil {
			t.Fatal(err)
		}
	}
	steps := func() []store.Step { return webtest.Must(s.Steps(t.Context(), 2))(t) }
	cut := func() (n int) {
		for _, c := range webtest.Must(s.CutPieces(t.Context(), 2))(t) {
			n += c.Done
		}
		return n
	}
	bought := func() int { return len(webtest.Must(s.Bought(t.Context(), 2))(t)) }
	sent := func() {
		t.Helper()
		away(false)
		webtest.WaitFor(t, func() bool {
			v, err := p.Eval(`() => document.querySelector("#waiting").hidden`)
			return err == nil && v.Value.Bool()
		})
	}
	open := func(path string) {
		t.Helper()
		p.MustNavigate(base + path).MustWaitLoad()
		webtest.Settled(t, p)
		away(true)
	}
	before, packets := len(steps()), bought()

	webtest.Settled(t, p)
	away(true)
	h.Touch("form.gate button.act")
	h.See("#waiting", "One change waits")
	away(false) // of a step with a gate whose lines are not signed it is refused, and kept with the reason
	h.See("#waiting", "was not saved: Sign every line")
	h.Touch("[data-drop-refused]")

	if err := s.SetStep(t.Context(), 2, store.Step{Step: "bore", Entry: "{}"}); err != nil {
		t.Fatal(err)
	}
	open("/h/2/build?step=bore")
	h.Touch("form.gate button.plain") // not done yet
	h.See("#waiting", "One change waits")
	h.Touch(`[hx-post$="build/sky"][aria-pressed=false]`)
	h.See("#notice", "does not answer")
	if len(steps()) != before+1 {
		t.Error("the mark was taken away after all")
	}
	sent()
	webtest.WaitFor(t, func() bool { return len(steps()) == before })

	open("/h/2/buy")
	h.Touch("button.tickbox")
	h.See("#waiting", "One change waits")
	sent()
	webtest.WaitFor(t, func() bool { return bought() == packets+1 })

	pieces := cut()
	open("/h/2/cut")
	h.Touch(`[data-waits="` + partOf(t, s) + `: one more cut"]`)
	h.See("#waiting", "One change waits")
	h.Touch(`[data-waits="` + partOf(t, s) + `: one more cut"]`)
	h.See("#waiting", "2 changes wait")
	sent()
	webtest.WaitFor(t, func() bool { return cut() == pieces+2 })

	open("/h/2/cut/shop")
	h.Touch("form[data-waits] button.act")
	h.See("#waiting", "One change waits")
	sent()
	webtest.WaitFor(t, func() bool { return cut() > pieces+2 })

	trials := func() int { return len(webtest.Must(s.Trials(t.Context(), 2))(t)) }
	made := trials()
	open("/h/2/test?test=offsets")
	p.MustEval(`() => {
		for (const probe of ["inlet", "outlet", "outdoor"])
			for (let i = 0; i < 4; i++) {
				const field = document.getElementById(probe + "-" + i);
				if (field) field.value = 7 + 0.1 * i;
			}
	}`)
	h.Touch("button.plain[data-waits]")
	h.See("#waiting", "One change waits")
	sent()
	webtest.WaitFor(t, func() bool { return trials() == made+1 })

	read := func() int {
		from := time.Date(2031, 1, 1, 0, 0, 0, 0, time.UTC)
		return len(webtest.Must(s.Readings(t.Context(), webtest.Logged(t, s, 2), from, from.AddDate(1, 0, 0)))(t))
	}
	fill := func(outlet string) {
		t.Helper()
		p.MustEval(`(outlet) => {
			const f = document.querySelector("form[data-waits^='a reading']");
			f.closest("details").open = true;
			for (const [name, value] of [["at", "2031-02-03T12:30"], ["inlet", "19"], ["outlet", outlet]])
				f.querySelector(`+"`[name=\"${name}\"]`"+`).value = value;
		}`, outlet)
		h.Touch("form[data-waits^='a reading'] button.act")
		h.See("#waiting", "a reading by hand")
	}
	open("/h/2/log")
	fill("44")
	sent()
	webtest.WaitFor(t, func() bool { return read() == 1 })

	webtest.Settled(t, p)
	away(true) // and one that cannot be is refused in words when it comes
	fill("4444")
	away(false)
	h.See("#waiting", "was not saved")
}

// A change that is sent twice, since its answer was lost, is made once; one that was refused may be tried again.
func TestAChangeSentTwiceIsMadeOnce(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	request := func(ctx context.Context, number string, fields url.Values) *http.Request {
		req := webtest.Must(http.NewRequestWithContext(ctx, "POST", base+"/h/2/cut/tick", strings.NewReader(fields.Encode())))(t)
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		req.Header.Set("Sec-Fetch-Site", "same-origin")
		req.Header.Set("HX-Request", "true")
		req.Header.Set("X-Change", number)
		return req
	}
	send := func(number string, fields url.Values) *http.Response {
		t.Helper()
		res := webtest.Must(http.DefaultClient.Do(request(t.Context(), number, fields)))(t)
		res.Body.Close()
		return res
	}
	name := partOf(t, s)
	cut := func() int {
		for _, c := range webtest.Must(s.CutPieces(t.Context(), 2))(t) {
			if c.Name == name {
				return c.Done
			}
		}
		return 0
	}
	one := url.Values{"part": {name}, "by": {"1"}}
	for i, x := range []struct {
		number string
		fields url.Values
		want   int
	}{
		{"a", one, 1}, {"a", one, 1}, {"b", one, 2}, {"b", one, 2},
		{"c", url.Values{"part": {name}, "by": {"1"}, "sized": {"yes"}, "real": {"nonsense"}}, 2},
		{"c", url.Values{"part": {name}, "by": {"-1"}}, 1},
		{strings.Repeat("x", 100), one, 2}, {"", url.Values{"part": {name}, "by": {"-1"}}, 1},
	} {
		if res := send(x.number, x.fields); res.StatusCode >= 300 || cut() != x.want {
			t.Errorf("%d: status %d, %d cut, want %d", i, res.StatusCode, cut(), x.want)
		}
	}
	// Whoever leaves at any moment of a change and sends it again has made it once.
	for i := range 30 {
		want, by := 2, "1"
		if i%2 == 1 {
			want, by = 1, "-1"
		}
		number, fields := fmt.Sprint("left", i), url.Values{"part": {name}, "by": {by}}
		ctx, leave := context.WithTimeout(t.Context(), time.Duration(i)*time.Millisecond)
		if res, err := http.DefaultClient.Do(request(ctx, number, fields)); err == nil {
			res.Body.Close()
		}
		leave()
		send(number, fields)
		if cut() != want {
			t.Fatalf("left after %d ms and sent again: %d cut, want %d", i, cut(), want)
		}
	}
}

// Marks that several make at the same time all count: pieces cut on two phones, cans counted by quick touches.
func TestMarksAtOnceAllCount(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	many := func(path string, n int, fields url.Values) {
		t.Helper()
		var wg sync.WaitGroup
		for range n {
			wg.Go(func() {
				req, err := http.NewRequestWithContext(t.Context(), "POST", base+path, strings.NewReader(fields.Encode()))
				if err != nil {
					t.Error(err)
					return
				}
				req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
				req.Header.Set("Sec-Fetch-Site", "same-origin")
				req.Header.Set("HX-Request", "true")
				res, err := http.DefaultClient.Do(req)
				if err != nil || res.StatusCode >= 300 {
					t.Errorf("%s: %v %v", path, res, err)
					return
				}
				res.Body.Close()
			})
		}
		wg.Wait()
	}
	st := webtest.StateOf(t, s, 2)
	l := webtest.Must(layout.Build(&st.Document))(t)
	want := 0
	var wg sync.WaitGroup
	for _, p := range l.Cut() {
		if p.Count > 1 && want < 12 {
			want += p.Count
			wg.Go(func() { many("/h/2/cut/tick", p.Count, url.Values{"part": {p.Name}, "by": {"1"}}) })
		}
	}
	wg.Wait()
	got := 0
	for _, c := range webtest.Must(s.CutPieces(t.Context(), 2))(t) {
		got += c.Done
	}
	if got != want {
		t.Errorf("%d pieces are cut, %d were marked", got, want)
	}
	if err := s.PutStock(t.Context(), "cans", `{"kind":"cans","count":1,"condition":"collecting"}`); err != nil {
		t.Fatal(err)
	}
	things := webtest.Must(s.Stock(t.Context()))(t)
	cans := &things[len(things)-1]
	many(fmt.Sprintf("/h/2/stock/%d/more", cans.ID), 20, url.Values{"more": {"1"}})
	things = webtest.Must(s.Stock(t.Context()))(t)
	if text := things[len(things)-1].Item; !strings.Contains(text, `"count":21`) {
		t.Errorf("1 can and 20 more are %s", text)
	}
}

// partOf is the name of a part of heater 2 that is cut more than once.
func partOf(t *testing.T, s *store.Store) string {
	t.Helper()
	st := webtest.StateOf(t, s, 2)
	l := webtest.Must(layout.Build(&st.Document))(t)
	for _, p := range l.Cut() {
		if p.Count > 1 {
			return p.Name
		}
	}
	t.Fatal("nothing is cut twice")
	return ""
}
