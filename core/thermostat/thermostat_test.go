package thermostat

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"gladember/core/design"
	"gladember/core/units"
)

// A disc of 43/32 C, the most common, by hand through a morning and an evening.
func TestSnapDiscByHand(t *testing.T) {
	s := Switch{Kind: SnapDisc, Close: 43, Open: 32}
	on := 0
	for i, x := range []struct {
		box  float64
		want int
	}{{20, 0}, {42.9, 0}, {43, 1}, {33, 1}, {32.1, 1}, {32, 0}, {40, 0}, {43.1, 1}, {20, 0}} {
		if on = s.Next(on, Reading{Box: x.box}); on != x.want {
			t.Errorf("step %d at %v C: %d stages, want %d", i, x.box, on, x.want)
		}
	}
}

// Each kind starts and stops for its own reason.
func TestEachKind(t *testing.T) {
	for _, x := range []struct {
		s       Switch
		running int
		r       Reading
		want    int
	}{
		{Switch{Kind: Differential, OnAbove: 10, OffAbove: 4}, 0, Reading{Box: 27, Room: 18}, 0},
		{Switch{Kind: Differential, OnAbove: 10, OffAbove: 4}, 0, Reading{Box: 28, Room: 18}, 1},
		{Switch{Kind: Differential, OnAbove: 10, OffAbove: 4}, 1, Reading{Box: 22, Room: 18}, 0},
		{Switch{Kind: Direct}, 0, Reading{Speed: 0.4}, 1},
		{Switch{Kind: Direct}, 1, Reading{Speed: 0}, 0},
		{Switch{Kind: Timer, From: 10, To: 15}, 0, Reading{Hour: 9.9}, 0},
		{Switch{Kind: Timer, From: 10, To: 15}, 0, Reading{Hour: 10}, 1},
		{Switch{Kind: Timer, From: 10, To: 15}, 1, Reading{Hour: 15}, 0},
		{Switch{Kind: Plug}, 0, Reading{}, 1},
		{Switch{}, 0, Reading{Box: 90}, 0},
		{Switch{Kind: Plug, RoomLimit: 26}, 1, Reading{Room: 26.1}, 0},
		{Switch{Kind: Plug, RoomLimit: 26}, 0, Reading{Room: 25.5}, 0},
		{Switch{Kind: Plug, RoomLimit: 26}, 0, Reading{Room: 24.9}, 1},
		{Switch{Kind: SetPoint, Close: 35, Open: 25, Second: 45}, 1, Reading{Box: 45}, 2},
		{Switch{Kind: SetPoint, Close: 35, Open: 25, Second: 45}, 2, Reading{Box: 36}, 2},
		{Switch{Kind: SetPoint, Close: 35, Open: 25, Second: 45}, 2, Reading{Box: 34}, 1},
	} {
		if got := x.s.Next(x.running, x.r); got != x.want {
			t.Errorf("%+v with %d running at %+v: %d, want %d", x.s, x.running, x.r, got, x.want)
		}
	}
}

// Whatever the switch: warmer never runs fewer stages, running never starts
// worse than standing, and a room above its limit stops all.
func TestSwitchProperties(t *testing.T) {
	r := rand.New(rand.NewPCG(21, 22))
	for range 20000 {
		s := Switch{Kind: []Kind{SnapDisc, SetPoint, Differential, Direct, Timer, Plug}[r.IntN(6)], Close: 30 + 20*r.Float64(),
			OnAbove: 5 + 15*r.Float64(), From: 8, To: 16, RoomLimit: 25 * float64(r.IntN(2))}
		s.Open, s.OffAbove = s.Close-12*r.Float64(), s.OnAbove*r.Float64()
		if r.IntN(2) == 0 {
			s.Second = s.Close + 10*r.Float64()
		}
		x := Reading{Box: 10 + 60*r.Float64(), Room: 10 + 20*r.Float64(), Hour: 24 * r.Float64(), Speed: r.Float64() - 0.3}
		now := r.IntN(3)
		n := s.Next(now, x)
		warmer := x
		warmer.Box += 5
		if s.Next(now, warmer) < n {
			t.Fatalf("%+v: warmer runs fewer stages", s)
		}
		if s.Next(1, x) < s.Next(0, x) {
			t.Fatalf("%+v: running is harder than starting at %+v", s, x)
		}
		if s.RoomLimit > 0 && x.Room > s.RoomLimit+0.02 && n != 0 {
			t.Fatalf("%+v runs in a room of %v", s, x.Room)
		}
	}
}

// A disc's tolerance can turn a box that runs into one that never starts.
func TestJudge(t *testing.T) {
	h, err := design.Apply(design.New(), units.System{}, design.Set(design.SwitchKind, "snap"),
		design.Set(design.SwitchClose, 50.0), design.Set(design.SwitchOpen, 38.0))
	if err != nil {
		t.Fatal(err)
	}
	s := New(&h)
	for _, x := range []struct {
		off, still, running float64
		want                Behavior
	}{{0, 80, 45, Runs}, {0, 80, 37, Cycles}, {0, 49, 45, Never}, {3, 52, 45, Never}, {3, 80, 40, Cycles}} {
		if got := s.Off(x.off).Judge(x.still, x.running, 18, 1); got != x.want {
			t.Errorf("off by %v, %v still, %v running: %v, want %v", x.off, x.still, x.running, got, x.want)
		}
	}
	h.Air.Drive = "natural"
	if New(&h).Judge(90, 50, 18, 1) != Never {
		t.Error("a box without a fan has a switch that runs")
	}
}

func ExampleSwitch_Judge() {
	s := Switch{Kind: SnapDisc, Close: 43, Open: 32}
	fmt.Println(s.Judge(95, 29, 18, 1))
	// Output: cycles
}

// A fan with run-on goes on for its time after the switch has opened, unless the
// room is too warm, and without it stops at once.
func TestRunOn(t *testing.T) {
	hot, cold := Reading{Box: 50, Room: 18}, Reading{Box: 20, Room: 18}
	for _, c := range []struct {
		on   float64
		more int
	}{{0, 0}, {180, 3}} {
		s := Clocked{Switch: Switch{Kind: SnapDisc, Close: 40, Open: 30, RunOn: c.on}}
		if s.Step(cold, 60) != 0 || s.Step(hot, 60) != 1 {
			t.Fatal("it does not start")
		}
		n := 0
		for s.Step(cold, 60) > 0 {
			n++
		}
		if n != c.more {
			t.Errorf("runs on for %d minutes, set to %v s", n, c.on)
		}
		if s.Step(cold, 60) != 0 {
			t.Error("it starts again by itself")
		}
	}
	s := Clocked{Switch: Switch{Kind: SnapDisc, Close: 40, Open: 30, RunOn: 600, RoomLimit: 24}}
	s.Step(hot, 60)
	if s.Step(Reading{Box: 20, Room: 26}, 60) != 0 {
		t.Error("it runs on into a room that is too warm")
	}
}
