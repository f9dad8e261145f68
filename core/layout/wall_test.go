package layout

import (
	"math"
	"math/rand/v2"
	"testing"

	"gladember/core/design"
	"gladember/core/units"
)

// A box between windows: what is left beside it, the openings over the studs, and the least
// move that frees them all, which is checked on boxes by chance.
func TestOnWall(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 16))
	freed, none := 0, 0
	for range 300 {
		h, err := design.Apply(design.New(), units.System{}, design.Set(design.WallBetween, 1.0+2*r.Float64()),
			design.Set(design.WallStud, []float64{0.3, 0.406, 0.6}[r.IntN(3)]),
			design.Set(design.WallFirstStud, 0.4*r.Float64()), design.Set(design.WallSill, 0.9))
		if err != nil {
			t.Fatal(err)
		}
		l, err := Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		w, ok := OnWall(&h, &l)
		if !ok || math.Abs(w.Spare-(h.Wall.Between-l.Width)) > 1e-12 || math.Abs(h.Wall.Left+l.Width+w.Beside-h.Wall.Between) > 1e-9 ||
			math.Abs(w.OffSill) > 1e-9 {
			t.Fatalf("%+v of %+v", w, h.Wall)
		}
		for i, o := range w.Openings {
			if math.Abs(o.X-h.Wall.Left-l.Holes[i].X) > 1e-12 || o.Y < h.Wall.Bottom || o.Y > h.Wall.Bottom+l.Height {
				t.Errorf("%+v of %+v", o, l.Holes[i])
			}
			worst := math.Inf(1)
			for _, s := range w.Studs {
				worst = min(worst, math.Abs(o.X-s)-0.019-o.Diameter/2)
			}
			if math.Abs(worst-o.Clear) > 1e-12 {
				t.Errorf("%v from the stud, by hand %v", o.Clear, worst)
			}
		}
		if math.IsNaN(w.Shift) {
			none++
			continue
		}
		moved, err := design.Apply(h, units.System{}, design.Set(design.WallLeft, h.Wall.Left+w.Shift))
		if err != nil {
			t.Fatal(err)
		}
		again, _ := OnWall(&moved, &l)
		for _, o := range again.Openings {
			if o.Clear < edge-1e-6 {
				t.Errorf("moved by %v, %s still meets a stud: %v", w.Shift, o.Name, o.Clear)
			}
		}
		if again.Beside < -1e-9 || moved.Wall.Left < -1e-9 {
			t.Errorf("moved by %v it hangs over a window", w.Shift)
		}
		freed++
	}
	if freed < 50 {
		t.Errorf("%d freed, %d not to be freed", freed, none)
	}
	h := design.New()
	l, _ := Build(&h)
	if _, ok := OnWall(&h, &l); ok {
		t.Error("a wall that nobody measured")
	}
}

// Stones on the back weigh what they weigh, and are no piece to cut.
func TestStonesWeigh(t *testing.T) {
	h := design.New()
	before, err := Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	if h, err = design.Apply(h, units.System{}, design.Set(design.BoxStones, 18.0)); err != nil {
		t.Fatal(err)
	}
	after, err := Build(&h)
	if err != nil || math.Abs(after.Mass()-before.Mass()-18) > 1e-9 || len(after.Cut()) != len(before.Cut()) {
		t.Errorf("%v kg after %v, %d pieces after %d, %v", after.Mass(), before.Mass(), len(after.Cut()), len(before.Cut()), err)
	}
}
