package versions_test

import (
	"context"
	"errors"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"gladember/app/store"
	"gladember/app/web/webtest"
	"gladember/core/design"
	"gladember/core/units"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// Four versions are branched, changed and laid side by side: only what differs is shown, a
// choice is taken across and taken back, a version gets a name and a taken name is refused.
func TestFourVersionsCompared(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	bg := context.Background()
	for i := range 3 {
		st := webtest.Must(s.Branch(bg, webtest.StateOf(t, s, 3).Seen()))(t)
		webtest.Must(s.Edit(bg, st.Seen(), "foam", units.System{}, design.Set(design.BoxBackFoam, 0.02+0.02*float64(i))))(t)
	}
	p := webtest.Visit(t, base+"/h/3/box", 1280, 900)
	h := webtest.NewHand(t, p)
	h.Touch("#beside")
	h.See(".versions", "Choices that differ")
	if n := len(p.MustElements(".version-front svg")); n != 4 {
		t.Errorf("%d drawings", n)
	}
	text := p.MustElement(".beside").MustText()
	for _, want := range []string{"Back insulation", "20 mm", "40 mm", "60 mm", "Useful heat a year", "Measured, best logged day"} {
		if !strings.Contains(text, want) {
			t.Errorf("not shown: %s", want)
		}
	}
	if strings.Contains(text, "Glazing width") {
		t.Error("what is alike is shown")
	}
	was := webtest.StateOf(t, s, 3).Document.Box.BackFoam
	h.Touch(".beside [aria-label^='Use this: Back insulation 40']")
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 3).Document.Box.BackFoam == 0.04 })
	h.See("#notice", "the value of version C")
	h.Touch("#undo")
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 3).Document.Box.BackFoam == was })
	p.MustElement("[aria-label='Name of version B']").MustSelectAllText().MustInput("thin back").MustType(input.Enter)
	h.See(".beside", "thin back")
	webtest.WaitFor(t, func() bool { return p.MustHas("[aria-label='Name of version thin back']") })
	p.MustElement("[aria-label='Name of version C']").MustSelectAllText().MustInput("A").MustType(input.Enter)
	h.See("#notice", "choose another")
}

// A version is deleted and put back; the open one gives way to another, and the last one stays.
func TestVersionIsDeletedAndPutBack(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	webtest.Must(s.Branch(t.Context(), webtest.StateOf(t, s, 3).Seen()))(t)
	open := webtest.StateOf(t, s, 3)
	p := webtest.Visit(t, base+"/h/3/versions", 1280, 800)
	h := webtest.NewHand(t, p)
	h.Go(`button[aria-label="Delete version ` + open.Name + `"]`)
	h.See("form.notice", "The version is deleted")
	if st := webtest.StateOf(t, s, 3); len(st.Versions) != 1 || st.Version == open.Version {
		t.Errorf("after it: %+v, version %d is open", st.Versions, st.Version)
	}
	if p.MustHas(`button[aria-label^="Delete version"]`) {
		t.Error("the only version can be deleted")
	}
	if err := s.DropVersion(t.Context(), 3, webtest.StateOf(t, s, 3).Version, false); !errors.Is(err, store.ErrLast) {
		t.Errorf("the last one: %v", err)
	}
	h.Go("form.notice button")
	if st := webtest.StateOf(t, s, 3); len(st.Versions) != 2 {
		t.Errorf("put back: %+v", st.Versions)
	}
	again := webtest.Must(s.Branch(t.Context(), webtest.StateOf(t, s, 3).Seen()))(t)
	if again.Name == open.Name {
		t.Errorf("two versions are called %s", again.Name)
	}
}
