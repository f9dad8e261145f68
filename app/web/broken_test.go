package web_test

import (
	"context"
	"fmt"
	"html"
	"io"
	"net/http"
	"strings"
	"testing"

	"gladember/app/store"
	"gladember/app/web/webtest"
	"gladember/core/design"
	"gladember/core/units"
)

// unlucky is a mass of stones with which the program of these tests fails.
const unlucky = 7.0

// A heater with which the program fails closes nothing: the change that would make it is refused at its field, and one that is kept
// already opens on every page with undo; the first page lists it, and all the others.
func TestHeaterThatCannotBeComputed(t *testing.T) {
	t.Parallel()
	base, s := webtest.Failing(t, func(h *design.Heater) {
		if h.Box.Stones == unlucky {
			var none []int
			_ = none[len(h.Name)]
		}
	})
	all, err := s.Heaters(context.Background())
	if err != nil {
		t.Fatal(err)
	}
	st := all[0]
	at := func(page string) string { return fmt.Sprintf("/h/%d/%s", st.Heater, page) }
	p := webtest.Visit(t, base+at("box?part=foam"), 1280, 800)
	hand := webtest.NewHand(t, p)
	hand.TypeIn("#f-box-stones_kg", "7 kg")
	hand.See("#w-f-box-stones_kg .msg", "cannot be computed")
	if now, err := s.Get(context.Background(), st.Heater); err != nil || now.Document.Box.Stones == unlucky || now.Revision != st.Revision {
		t.Errorf("a change that cannot be computed was kept: %v, %v", now.Document.Box.Stones, err)
	}

	// Kept by an older program, it still opens.
	seen := store.Seen{Heater: st.Heater, Version: st.Version, Revision: st.Revision}
	change := design.Set(design.BoxStones, unlucky)
	if _, err := s.Edit(context.Background(), seen, "Stones", units.System{}, change); err != nil {
		t.Fatal(err)
	}
	get := func(path string) string {
		t.Helper()
		r, err := http.Get(base + path)
		if err != nil {
			t.Fatal(err)
		}
		defer r.Body.Close()
		b, err := io.ReadAll(r.Body)
		if err != nil || r.StatusCode != http.StatusOK {
			t.Errorf("%s answers %d, %v", path, r.StatusCode, err)
		}
		return string(b)
	}
	home := get("/")
	for _, h := range all {
		if !strings.Contains(html.UnescapeString(home), h.Document.Name) {
			t.Errorf("the first page lacks %s", h.Document.Name)
		}
	}
	if !strings.Contains(home, "cannot be computed") {
		t.Error("the first page does not say which heater cannot be computed")
	}
	stations := []string{"place", "need", "stock", "box", "air", "switch", "cut", "buy", "build", "install", "test", "log", "season",
		"debates", "versions", "safety", "journal"}
	for _, key := range stations {
		page := get(at(key))
		for _, want := range []string{"This heater cannot be computed", "Undo the last change", "error in this program"} {
			if !strings.Contains(page, want) {
				t.Errorf("the %s page does not say %q", key, want)
			}
		}
	}
	p.MustNavigate(base + at("box")).MustWaitLoad()
	hand.See("#center", "cannot be computed")
	hand.Touch("#center .broken button")
	hand.See("#headline", "Heat")
	get("/")
	if now, err := s.Get(context.Background(), st.Heater); err != nil || now.Document.Box.Stones == unlucky {
		t.Errorf("undo left %v kg, %v", now.Document.Box.Stones, err)
	}
}
