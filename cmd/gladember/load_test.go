package main

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"gladember/app/demo/demotest"
	"gladember/core/design"
)

// demoWorkshop is the program with a workshop that holds the demo's heaters.
func demoWorkshop(t *testing.T) (program, data string) {
	t.Helper()
	data = filepath.Join(t.TempDir(), "w.db")
	demotest.Copy(t, data)
	return built(t), data
}

// get asks for a page and returns its text and how long it took; a status of 500 and above is an error.
func (p *process) get(ctx context.Context, t *testing.T, path string) (string, time.Duration) {
	begun := time.Now()
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, p.base+path, nil)
	if err != nil {
		t.Error(err)
		return "", 0
	}
	req.Header.Set("Sec-Fetch-Site", "same-origin")
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		if ctx.Err() == nil {
			t.Error(err)
		}
		return "", 0
	}
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	if (err != nil || res.StatusCode >= http.StatusInternalServerError) && ctx.Err() == nil {
		t.Errorf("%s: %s %v", path, res.Status, err)
	}
	return string(b), time.Since(begun)
}

// slowest asks for pages in turn until the time is over, and returns how long the slowest took.
func (p *process) slowest(t *testing.T, during time.Duration, pages ...string) (slow time.Duration, path string, n int) {
	for end := time.Now().Add(during); time.Now().Before(end); time.Sleep(100 * time.Millisecond) {
		at := pages[n%len(pages)]
		if _, d := p.get(t.Context(), t, at); d > slow {
			slow, path = d, at
		}
		n++
	}
	return slow, path, n
}

// worked is the time that a process has computed; of Linux alone.
func worked(t *testing.T, p *process) time.Duration {
	t.Helper()
	b, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", p.Process.Pid))
	if err != nil {
		t.Skip("SKIPPED: this system does not tell how long a process computed")
	}
	_, after, _ := strings.Cut(string(b), ") ")
	fields := strings.Fields(after) // from the third on, as in proc(5): utime is the 14th, stime the 15th, 1/100 s each
	var ticks int64
	for _, f := range fields[11:13] {
		n, _ := strconv.ParseInt(f, 10, 64)
		ticks += n
	}
	return time.Duration(ticks) * 10 * time.Millisecond
}

// seenOf is what the page of a heater says that it shows.
func (p *process) seenOf(ctx context.Context, t *testing.T, heater int) string {
	page, _ := p.get(ctx, t, fmt.Sprintf("/h/%d/box", heater))
	m := regexp.MustCompile(`name="seen" value="([^"]+)"`).FindStringSubmatch(page)
	if m == nil {
		return ""
	}
	return m[1]
}

// form sends fields as somebody whose page showed seen, and leaves the answer when the context ends.
func (p *process) form(ctx context.Context, t *testing.T, seen, path string, fields url.Values) (int, string) {
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, p.base+path, strings.NewReader(fields.Encode()))
	if err != nil {
		t.Error(err)
		return 0, ""
	}
	req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	req.Header.Set("Sec-Fetch-Site", "same-origin")
	req.Header.Set("HX-Request", "true")
	req.Header.Set("X-Seen", seen+".storm")
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		return 0, ""
	}
	defer res.Body.Close()
	b, _ := io.ReadAll(res.Body)
	if res.StatusCode >= http.StatusInternalServerError {
		t.Errorf("%s %v: %s", path, fields, res.Status)
	}
	return res.StatusCode, string(b)
}

// startJob starts a job of a heater and returns the address at which it is looked at.
func (p *process) startJob(ctx context.Context, t *testing.T, seen, path string, fields url.Values) string {
	status, page := p.form(ctx, t, seen, path, fields)
	m := regexp.MustCompile(`/h/\d+/job/\d+`).FindString(page)
	if ctx.Err() == nil && (status != http.StatusOK || m == "") {
		t.Errorf("%s %v starts nothing: %d %.300s", path, fields, status, page)
	}
	return m
}

// While two hundred send as slowly as they may, pages answer at once; those who send too slowly are let go, nothing of what they sent
// stays on the disk, and a stop ends well.
func TestSlowBodyStorm(t *testing.T) {
	if os.Getenv("GLADEMBER_LONG") == "" {
		t.Skip("half a minute: ./test long")
	}
	program, data := demoWorkshop(t)
	p := started(t, program, data)
	defer p.kill()
	p.slowest(t, time.Second, "/h/1/box") // the list of towns is there then
	host := strings.TrimPrefix(p.base, "http://")
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	kinds := []string{
		"POST /h/1/log/upload HTTP/1.1\r\nHost: %s\r\nSec-Fetch-Site: same-origin\r\nContent-Type: multipart/form-data; boundary=x\r\n" +
			"Content-Length: 60000000\r\n\r\n--x\r\nContent-Disposition: form-data; name=\"file\"; filename=\"a.csv\"\r\n\r\n",
		"POST /h/1/edit HTTP/1.1\r\nHost: %s\r\nSec-Fetch-Site: same-origin\r\nContent-Type: application/x-www-form-urlencoded\r\n" +
			"Content-Length: 900000\r\n\r\npath=",
		"GET /h/1/box HTTP/1.1\r\nHost: %s\r\nX-Long: ",
		"GET /h/1/journal/photo/1 HTTP/1.1\r\nHost: %s\r\n\r\n", // and never read
	}
	var wg sync.WaitGroup
	for i := range 200 {
		c, err := net.Dial("tcp", host)
		if err != nil {
			t.Fatal(err)
		}
		defer c.Close()
		wg.Go(func() {
			piece := bytes.Repeat([]byte("1"), 1+4000*(i%2))
			if _, err := fmt.Fprintf(c, kinds[i%len(kinds)], host); err != nil {
				return
			}
			for ctx.Err() == nil && i%len(kinds) != 3 {
				if _, err := c.Write(piece); err != nil {
					return
				}
				time.Sleep(100 * time.Millisecond)
			}
		})
	}
	slow, at, n := p.slowest(t, 20*time.Second, "/", "/h/1/box", "/h/2/log", "/h/3/cut")
	if mb := mostMemory(t, p); mb > 300 || slow > time.Second {
		t.Errorf("%.0f MB, %s took %v", mb, at, slow)
	} else {
		t.Logf("200 send slowly: %d pages, the slowest %v (%s), peak %.0f MB", n, slow.Round(time.Millisecond), at, mb)
	}
	p.stops(t, syscall.SIGTERM)
	stop()
	wg.Wait()
	if left, _ := filepath.Glob(data + ".tmp*"); len(left) > 0 {
		t.Errorf("%s is left behind", left)
	}
}

// Whoever starts everything that takes long, ten times each, and leaves: pages answer meanwhile, and soon nothing computes any more.
func TestJobStorm(t *testing.T) {
	if os.Getenv("GLADEMBER_LONG") == "" {
		t.Skip("a minute: ./test long")
	}
	program, data := demoWorkshop(t)
	p := started(t, program, data)
	defer p.kill()
	p.slowest(t, time.Second, "/h/1/box")
	season, _ := p.get(t.Context(), t, "/h/1/season")
	tries := optionsOf(season, "of")
	if len(tries) < 3 {
		t.Fatalf("no values to compare: %v", tries)
	}
	var seen [3]string
	for i := range seen {
		seen[i] = p.seenOf(t.Context(), t, i+1)
	}
	ctx, leave := context.WithTimeout(t.Context(), 10*time.Second)
	defer leave()
	var wg sync.WaitGroup
	for i := range 10 {
		for k, seen := range seen {
			h := fmt.Sprintf("/h/%d", k+1)
			for _, path := range []string{"/season/year", "/season/judged", "/debates/year", "/buy/alternatives", "/cut/plan",
				"/build/packet.pdf",
				"/switch/curve", "/switch/months"} {
				wg.Go(func() { p.get(ctx, t, h+path) })
			}
			wg.Go(func() { p.form(ctx, t, seen, h+"/season/sweep", url.Values{"of": {tries[i%len(tries)]}}) })
			wg.Go(func() { p.form(ctx, t, seen, h+"/stock/size", url.Values{"budget": {strconv.Itoa(50 * i)}}) })
			wg.Go(func() { p.form(ctx, t, seen, h+"/build/worked", nil) })
			wg.Go(func() { p.form(ctx, t, seen, h+"/log/fit", nil) })
		}
	}
	slow, at, n := p.slowest(t, 10*time.Second, "/", "/h/1/box", "/h/2/air", "/h/3/switch")
	wg.Wait()
	if mb := mostMemory(t, p); mb > 300 || slow > time.Second {
		t.Errorf("%.0f MB, %s took %v", mb, at, slow)
	} else {
		t.Logf("360 ask at once: %d pages, the slowest %v (%s), peak %.0f MB", n, slow.Round(time.Millisecond), at, mb)
	}
	time.Sleep(20 * time.Second) // those whose page has gone end after 15
	before := worked(t, p)
	time.Sleep(5 * time.Second)
	if d := worked(t, p) - before; d > time.Second/2 {
		t.Errorf("nobody waits, and it computes %v of 5 s", d)
	}
}

// optionsOf are the values of a choice of a page.
func optionsOf(page, name string) []string {
	_, after, _ := strings.Cut(page, `name="`+name+`"`)
	list, _, _ := strings.Cut(after, "</select>")
	var out []string
	for _, m := range regexp.MustCompile(`<option value="([^"]+)"`).FindAllStringSubmatch(list, -1) {
		out = append(out, m[1])
	}
	return out
}

// goroutines stops a process so that it tells what runs in it, and counts that.
func goroutines(t *testing.T, p *process) int {
	t.Helper()
	if err := p.Process.Signal(syscall.SIGQUIT); err != nil {
		t.Fatal(err)
	}
	_ = p.Wait()
	said := p.Stderr.(*bytes.Buffer).String()
	n := strings.Count(said, "\ngoroutine ")
	if n < 3 {
		t.Fatalf("it does not tell what runs: %.500s", said)
	}
	return n
}

// After ten minutes of everything that people do, the program rests with as little memory and as few goroutines as when it was new.
func TestSoak(t *testing.T) {
	if os.Getenv("GLADEMBER_LONG") == "" {
		t.Skip("eleven minutes: ./test long")
	}
	program, data := demoWorkshop(t)
	p := started(t, program, data)
	p.slowest(t, time.Second, "/", "/h/1/box", "/h/3/log")
	time.Sleep(40 * time.Second)
	fresh := goroutines(t, p)

	p = started(t, program, data)
	defer p.kill()
	end := time.Now().Add(10 * time.Minute)
	var wg sync.WaitGroup
	var asked [4]int
	for w := range asked {
		r := rand.New(rand.NewPCG(uint64(w), 107))
		wg.Go(func() {
			for time.Now().Before(end) {
				asked[w] += p.evening(t, r)
			}
		})
	}
	wg.Wait()
	peak := mostMemory(t, p)
	time.Sleep(45 * time.Second)
	rest := memory(t, p, "VmRSS")
	now := goroutines(t, p)
	t.Logf("%d requests, peak %.0f MB; at rest %.0f MB, %d goroutines, of the new program %d", asked[0]+asked[1]+asked[2]+asked[3], peak,
		rest, now, fresh)
	if rest > 80 || now > fresh+2 {
		t.Errorf("at rest %.0f MB and %d goroutines, of the new program %d", rest, now, fresh)
	}
}

// evening does some of what a builder does, and returns how many requests that took.
func (p *process) evening(t *testing.T, r *rand.Rand) (n int) {
	ctx, heater := t.Context(), 1+r.IntN(3)
	h := fmt.Sprintf("/h/%d", heater)
	look := func(paths ...string) {
		for _, path := range paths {
			p.get(ctx, t, path)
			n++
		}
	}
	send := func(path string, fields ...string) (page string) {
		form := url.Values{}
		for pair := range slices.Chunk(fields, 2) {
			form.Set(pair[0], pair[1])
		}
		n += 2
		_, page = p.form(ctx, t, p.seenOf(ctx, t, heater), path, form)
		return page
	}
	look("/")
	switch r.IntN(6) {
	case 0: // design
		for _, s := range []string{"place", "need", "stock", "box", "air", "switch"} {
			look(h + "/" + s)
			send(h+"/edit", "path", design.PaneWidth.Path, "typed", fmt.Sprintf("%d mm", 700+r.IntN(500)), "station", s)
			look(h + "/working/heat")
		}
		send(h + "/undo")
	case 1: // build
		look(h+"/cut", h+"/cut/plan", h+"/cut/drawings.pdf", h+"/buy", h+"/buy/list.csv", h+"/build", h+"/build/packet.pdf", h+"/install")
	case 2: // the year
		look(h+"/season", h+"/season/year", h+"/debates", h+"/versions", "/glossary", "/settings")
		job := p.startJob(ctx, t, p.seenOf(ctx, t, heater), h+"/season/sweep", url.Values{"of": {design.PlaceTilt.Path}})
		time.Sleep(300 * time.Millisecond)
		if look(job); r.IntN(2) == 0 {
			send(job + "/stop")
		}
		n += 2
	case 3: // the log
		kind, body := asForm(loggedRows(500 + r.IntN(5000)))
		p.post(h+"/log/upload", kind, bytes.NewReader(body))
		page, _ := p.get(ctx, t, h+"/log")
		if m := regexp.MustCompile(`name="file" value="(\d+)"`).FindStringSubmatch(page); m != nil {
			send(h+"/log/import", "file", m[1])
		}
		look(h+"/log", h+"/log/series?from=1771110000&to=1771196400&with=", h+"/log/export/readings.csv", h+"/test", h+"/journal")
		n += 2
	case 4: // take it out again
		page, _ := p.get(ctx, t, h+"/log")
		for _, m := range regexp.MustCompile(`/log/imports/(\d+)/remove`).FindAllStringSubmatch(page, 3) {
			send(h + "/log/imports/" + m[1] + "/remove")
		}
		n++
	case 5: // keep
		look("/keep", h+"/season/judged", h+"/safety")
	}
	return n
}
