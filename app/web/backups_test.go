package web_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"gladember/app/demo/demotest"
	"gladember/app/store"
	"gladember/app/web"
	"gladember/app/web/webtest"
	"gladember/core/design"
)

// press sends a form of the page with one button, as the browser does, and returns what comes.
func press(t *testing.T, base, path string) (*http.Response, []byte) {
	t.Helper()
	r := webtest.Must(http.NewRequest(http.MethodPost, base+path, nil))(t)
	r.Header.Set("Sec-Fetch-Site", "same-origin")
	res := webtest.Must(http.DefaultClient.Do(r))(t)
	defer res.Body.Close()
	return res, webtest.Must(io.ReadAll(res.Body))(t)
}

// On the page of backups: the workshop is saved whole, while it is used, and opens as a workshop; a heater is saved as a file and added
// again from it; a file that is none is refused in words; a daily copy is listed with what to enter to restore it.
func TestKeepPage(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	if err := s.CopyDaily(t.Context()); err != nil {
		t.Fatal(err)
	}
	p := webtest.Visit(t, base+"/", 1280, 900)
	h := webtest.NewHand(t, p)
	h.Go(`footer a[href="/keep"]`)
	h.See("#copies", filepath.Base(s.DailyCopies()[0].Path))
	h.See("#keep", "gladember restore")

	res, copied := press(t, base, "/keep/backup")
	name := filepath.Join(t.TempDir(), "copy.db")
	if err := os.WriteFile(name, copied, 0o600); err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(res.Header.Get("Content-Disposition"), "attachment") {
		t.Error(res.Header)
	}
	c := webtest.Must(store.Open(t.Context(), name))(t)
	if n := len(webtest.Must(c.Heaters(t.Context()))(t)); n != 3 {
		t.Errorf("the copy has %d heaters", n)
	}
	c.Close()

	_, archive := press(t, base, "/h/3/file")
	if _, err := zip.NewReader(bytes.NewReader(archive), int64(len(archive))); err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(t.TempDir(), "gable.zip")
	for content, see := range map[string]string{"no archive": "choose a file that Glad Ember wrote", string(archive): ""} {
		if err := os.WriteFile(file, []byte(content), 0o600); err != nil {
			t.Fatal(err)
		}
		p.MustNavigate(base + "/keep").MustWaitLoad()
		p.MustElement("#heater-file").MustSetFiles(file)
		if see != "" {
			h.See("#keep-error", see)
			continue
		}
		webtest.WaitFor(t, func() bool { return strings.Contains(p.MustInfo().URL, "/h/4") })
	}
	back := webtest.StateOf(t, s, 4)
	if back.Document.Name != webtest.StateOf(t, s, 3).Document.Name || len(webtest.Must(s.Imports(t.Context(), back.Logged()))(t)) != 1 {
		t.Errorf("%s came back", back.Document.Name)
	}
}

// A file that was removed from the log waits in the trash and comes back by one touch.
func TestRemovedFileComesBack(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/log", 390, 844)
	h := webtest.NewHand(t, p)
	h.Touch(`[aria-label="Remove february.csv from the log"]`)
	h.See("#center", "No readings yet")
	h.Touch(`[aria-label="Put february.csv back into the log"]`)
	h.See("#fig-day", "kWh")
	if n := len(webtest.Must(s.Imports(t.Context(), webtest.Logged(t, s, 3)))(t)); n != 1 {
		t.Errorf("%d files", n)
	}
}

// A thirty-first version, a name that is taken, a form of two megabytes and a full disk are told in words.
func TestRefusalsInWords(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	for range 25 {
		webtest.Must(s.Branch(t.Context(), webtest.StateOf(t, s, 1).Seen()))(t)
	}
	if err := s.Rename(t.Context(), 1, webtest.StateOf(t, s, 1).Version, "Z'"); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Branch(t.Context(), webtest.StateOf(t, s, 1).Seen()); err == nil || !strings.Contains(err.Error(), "26 versions") {
		t.Errorf("a 27th version: %v", err)
	}
	big, err := http.Post(base+"/units", "application/x-www-form-urlencoded", strings.NewReader(strings.Repeat("a", 2<<20)))
	if err != nil {
		t.Fatal(err)
	}
	text := string(webtest.Must(io.ReadAll(big.Body))(t))
	big.Body.Close()
	if big.StatusCode != http.StatusRequestEntityTooLarge || !strings.Contains(text, "a form 1024 kB") || !strings.Contains(text, "<html") {
		t.Errorf("%d %.200s", big.StatusCode, text)
	}
	// Letters that were given away do not stand in the way of the next version.
	for _, name := range []string{"B", "B'"} {
		st := webtest.Must(s.Create(t.Context(), design.New()))(t)
		if err := s.Rename(t.Context(), st.Heater, st.Version, name); err != nil {
			t.Fatal(err)
		}
		for range 3 {
			if _, err := s.Branch(t.Context(), webtest.StateOf(t, s, st.Heater).Seen()); err != nil {
				t.Errorf("after %q: %v", name, err)
			}
		}
	}
}

// A damaged workshop is shown: its pages open and say so, and a change is refused with the reason, its value kept on the page.
func TestDamagedWorkshopIsShown(t *testing.T) {
	t.Parallel()
	path := filepath.Join(t.TempDir(), "w.db")
	demotest.Copy(t, path)
	b := webtest.Must(os.ReadFile(path))(t)
	var damaged *store.Store
	for page := len(b)/4096 - 1; page > 0 && damaged == nil; page-- { // a page near the end, which holds nothing that all pages need
		bad := bytes.Clone(b)
		copy(bad[4096*page:], "damaged!")
		if err := os.WriteFile(path, bad, 0o600); err != nil {
			t.Fatal(err)
		}
		if s, err := store.Open(t.Context(), path); err == nil && s.Damaged() != "" {
			if _, err := s.Heaters(t.Context()); err == nil {
				damaged = s
				break
			}
			s.Close()
		} else if err == nil {
			s.Close()
		}
	}
	if damaged == nil {
		t.Fatal("no damage leaves the heaters readable")
	}
	defer damaged.Close()
	h := webtest.Must(web.New(damaged, slog.New(slog.NewTextHandler(io.Discard, nil)), web.Options{}))(t)
	here := &away{t, h, "127.0.0.1:8737", "127.0.0.1:5000", map[string]string{}}
	for _, page := range []string{"/", "/keep", "/h/1/box", "/h/1/season", "/h/1/log"} {
		if w := here.do("GET", page, nil); w.Code != http.StatusOK {
			t.Errorf("%s: %d", page, w.Code)
		}
	}
	if w := here.do("GET", "/h/1/box", nil); !strings.Contains(w.Body.String(), "open for reading only") {
		t.Error("the page does not say that the file is damaged")
	}
	r := httptest.NewRequest("POST", "/h/1/edit", strings.NewReader("path="+design.PaneWidth.Path+"&typed=900+mm&station=box"))
	r.Host, r.RemoteAddr = "127.0.0.1:8737", "127.0.0.1:5000"
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("Sec-Fetch-Site", "same-origin")
	r.Header.Set("HX-Request", "true")
	st := webtest.StateOf(t, damaged, 1)
	r.Header.Set("X-Seen", fmt.Sprintf("%d.%d.x", st.Version, st.Revision))
	w := httptest.NewRecorder()
	h.ServeHTTP(w, r)
	if w.Code != http.StatusServiceUnavailable || !strings.Contains(w.Body.String(), "gladember restore") {
		t.Errorf("a change gets %d %.200s", w.Code, w.Body)
	}
}
