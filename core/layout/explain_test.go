package layout

import (
	"math"
	"testing"

	"gladember/core/design"
)

// By hand: a side board is as long as the pane, less twice its overlap, plus twice the frame; nothing else is in it.
func TestWhyASideBoardIsSoLong(t *testing.T) {
	h, err := design.Named("back-pass-plate")
	if err != nil {
		t.Fatal(err)
	}
	why, err := Explain(&h)
	if err != nil {
		t.Fatal(err)
	}
	want := map[string]float64{design.PaneHeight.Path: 1, design.PaneRest.Path: -2, design.BoxFrameWidth.Path: 2}
	w := why["side board"]
	if len(w.Length) != len(want) || math.Abs(w.LengthAllowance) > 1e-9 {
		t.Errorf("%+v", w)
	}
	for _, term := range w.Length {
		if want[term.Path] != term.Times {
			t.Errorf("%s is held %v times", term.Path, term.Times)
		}
	}
	// The cleat is 100 mm shorter than the box is wide.
	if w := why["hanging cleat"]; math.Abs(w.LengthAllowance+cleatShort) > 1e-9 {
		t.Errorf("%+v", w)
	}
}

// Of every part of every example the terms and the allowance sum to its size, and an allowance is no more than a hand.
func TestWhyAddsUp(t *testing.T) {
	for name, h := range examples(t) {
		why, err := Explain(&h)
		if err != nil {
			t.Fatal(name, err)
		}
		l, err := Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range l.Cut() {
			w, ok := why[p.Name]
			if !ok && len(l.Others) == 0 {
				t.Errorf("%s: nothing is said of %s", name, p.Name)
			}
			if ok && (math.Abs(sum(w.Length)+w.LengthAllowance-p.Length) > 1e-9 || math.Abs(sum(w.Width)+w.WidthAllowance-p.Width) > 1e-9) {
				t.Errorf("%s: %s is %v x %v, not %+v", name, p.Name, p.Length, p.Width, w)
			}
		}
	}
}

// A board that came out 6 mm short fits a box with 3 mm more overlap, or 6 mm less glazing, or 3 mm less frame; each is
// laid out again and has that size.
func TestFollowWhatWasCut(t *testing.T) {
	h, err := design.Named("back-pass-plate")
	if err != nil {
		t.Fatal(err)
	}
	l, err := Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	p := partOf(l.Cut(), "side board")
	fits, err := Follow(&h, "side board", p.Length-0.006, p.Width)
	if err != nil {
		t.Fatal(err)
	}
	found := map[string]float64{}
	for _, f := range fits {
		found[f.Path] = f.Value.(float64) - design.FieldAt(f.Path).Number(&h)
		if q := partOf(f.Layout.Cut(), "side board"); math.Abs(q.Length-p.Length+0.006) > sawPlay {
			t.Errorf("%s leads to %v", f.Path, q.Length)
		}
	}
	for path, want := range map[string]float64{design.PaneHeight.Path: -0.006, design.PaneRest.Path: 0.003} {
		if got, ok := found[path]; !ok || math.Abs(got-want) > 1e-6 {
			t.Errorf("%s moves by %v, by hand %v", path, got, want)
		}
	}
	if fits, _ := Follow(&h, "no such part", 1, 1); len(fits) != 0 {
		t.Error("a part that is not there fits")
	}
	if fits, _ := Follow(&h, "side board", 40, p.Width); len(fits) != 0 {
		t.Errorf("a board of 40 m fits: %+v", fits[0].Change)
	}
}
