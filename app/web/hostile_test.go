package web_test

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/labstack/echo/v5"

	"gladember/app/demo/demotest"
	"gladember/app/store"
	"gladember/app/web"
)

// hostile is what nobody enters by mistake.
var hostile = []string{"", "1e308", "-1", "NaN", "0", "9223372036854775808", "<script>alert(1)</script>", strings.Repeat("x", 200_000),
	"a\x00b\xff", "2026-02-10T12:00", "../../etc/passwd", "%s%d%n", `{"a":[1,2]}`, "\u202e٣ ½ 🜂", "1.1", "'; DROP TABLE heaters; --"}

// fieldNames are the names of all fields that our pages and their buttons send.
func fieldNames(t *testing.T) []string {
	t.Helper()
	found := map[string]bool{}
	names := regexp.MustCompile(`name="([^"{}]+)"|FormValue\("([^"]+)"\)|"([a-z_]+)": ?(?:ui\.ID|string|"|f\.|d\.|v\.)`)
	err := fs.WalkDir(os.DirFS("."), ".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || strings.HasSuffix(path, "_test.go") || !strings.HasSuffix(path, ".html") && !strings.HasSuffix(path,
			".go") {
			return err
		}
		b, err := os.ReadFile(filepath.FromSlash(path))
		for _, m := range names.FindAllStringSubmatch(string(b), -1) {
			found[m[1]+m[2]+m[3]] = true
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	delete(found, "csrf")
	var out []string
	for n := range found {
		out = append(out, n)
	}
	slices.Sort(out)
	if len(out) < 60 {
		t.Fatalf("only %d fields are known: %v", len(out), out)
	}
	return out
}

// alarm gathers what a server logs as an error: a panic, or what it answers with status 500.
type alarm struct {
	mu   sync.Mutex
	said []string
}

// Write implements [io.Writer].
func (a *alarm) Write(b []byte) (int, error) {
	a.mu.Lock()
	defer a.mu.Unlock()
	a.said = append(a.said, string(b))
	return len(b), nil
}

// Every address is asked with every hostile value in every field, as a form and as one with a file: none panics or fails, and all pages of
// the heaters open after it.
func TestHostileForms(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("thousands of requests")
	}
	path := filepath.Join(t.TempDir(), "w.db")
	demotest.Copy(t, path)
	s, err := store.Open(context.Background(), path)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	var log alarm
	h, err := web.New(s, slog.New(slog.NewTextHandler(&log, &slog.HandlerOptions{Level: slog.LevelError})), web.Options{})
	if err != nil {
		t.Fatal(err)
	}
	names := fieldNames(t)
	ask := func(method, path, kind string, body io.Reader) *httptest.ResponseRecorder {
		r := httptest.NewRequest(method, path, body)
		r.Host, r.RemoteAddr = "127.0.0.1:8737", "127.0.0.1:5000"
		r.Header.Set("Sec-Fetch-Site", "same-origin")
		r.Header.Set("Content-Type", kind)
		if st, err := s.Get(t.Context(), 3); err == nil {
			r.Header.Set("X-Seen", fmt.Sprintf("%d.%d.hostile", st.Version, st.Revision))
		}
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		return w
	}
	asked := 0
	long := os.Getenv("GLADEMBER_LONG") != ""
	for n, route := range h.(interface{ Router() echo.Router }).Router().Routes() {
		if strings.Contains(route.Path, "*") || strings.HasSuffix(route.Path, "/delete") {
			continue
		}
		for i, value := range hostile {
			if !long && (n+i)%32 > 0 { // each address meets one of the values
				continue
			}
			param := []string{"1", "-1", "x", "9223372036854775808"}[i%4]
			path := regexp.MustCompile(`:[a-z]+`).ReplaceAllString(strings.Replace(route.Path, ":id", "3", 1), param)
			form := url.Values{}
			for _, name := range names {
				form.Set(name, value)
			}
			var w *httptest.ResponseRecorder
			switch {
			case route.Method == http.MethodGet:
				if len(value) > 1000 {
					continue
				}
				w = ask("GET", path+"?"+form.Encode(), "", nil)
			case i%2 == 0:
				w = ask(route.Method, path, "application/x-www-form-urlencoded", strings.NewReader(form.Encode()))
			default:
				var b bytes.Buffer
				m := multipart.NewWriter(&b)
				for name := range form {
					_ = m.WriteField(name, value)
				}
				for _, name := range []string{"file", "weather", "photo"} {
					f, _ := m.CreateFormFile(name, value)
					_, _ = io.WriteString(f, value)
				}
				m.Close()
				w = ask(route.Method, path, m.FormDataContentType(), &b)
			}
			asked++
			if w.Code >= 500 {
				t.Errorf("%s %s with %.30q: %d %.200s", route.Method, path, value, w.Code, w.Body)
			}
			if strings.Contains(w.Body.String(), "<script>alert") {
				t.Errorf("%s %s answers with a script of ours", route.Method, path)
			}
		}
		if err := s.Restore(t.Context(), 3); err != nil && !strings.Contains(err.Error(), "not in this workshop") {
			t.Fatal(err)
		}
	}
	for _, page := range []string{"/", "/keep", "/h/3/log", "/h/3/test", "/h/3/build", "/h/3/buy", "/h/3/cut", "/h/3/box", "/h/3/journal"} {
		if w := ask("GET", page, "", nil); w.Code != http.StatusOK {
			t.Errorf("%s answers %d after it", page, w.Code)
		}
	}
	if len(log.said) > 0 {
		t.Errorf("%d alarms: %.2000s", len(log.said), strings.Join(log.said, "\n"))
	}
	t.Logf("%d requests with %d fields each", asked, len(names))
}
