package space

import (
	"math"
	"math/rand/v2"
	"testing"

	"gladember/core/design"
	"gladember/core/units"
)

func near(t *testing.T, what string, got, want, tolerance float64) {
	t.Helper()
	if !(math.Abs(got-want) <= tolerance) {
		t.Errorf("%s: %v, wanted %v within %v", what, got, want, tolerance)
	}
}

func room(t testing.TB, changes ...design.Change) *Space {
	t.Helper()
	h, err := design.Apply(design.New(), units.System{}, changes...)
	if err != nil {
		t.Fatal(err)
	}
	s, err := New(&h)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func to(path string, v any) design.Change { return design.Change{Path: path, Value: v} }

// The hourly model at rest: the air of a space held at a temperature loses what
// its parts lose, and the time in which it cools is capacity over conductance (ISO
// 13790 annex C, whose equations at rest are a network of resistances).
func TestAtRest(t *testing.T) {
	for _, kind := range []string{"room", "shop", "porch"} {
		s := room(t, to(design.SpaceKind.Path, kind), to(design.RoomGains.Path, 0.0), to(design.RoomVent.Path, 45.0))
		st := Settle(20, 20)
		var w Went
		for range 24 * 400 {
			w = s.Step(&st, Around{Outdoors: -5, Wanted: 20, Heated: true}, 3600)
		}
		near(t, kind+": held air", st.Air, 20, 1e-9)
		near(t, kind+": need is loss", w.Need, w.Lost, 1e-3*w.Lost)
		near(t, kind+": loss by parts", w.Need, s.Loss*25, 1e-3*w.Need)
	}
}

// First law over random steps: gains, box and heater less vented, lost and moved
// on are stored, whatever the step's length.
func TestFirstLaw(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	for _, mover := range []string{"none", "stairs", "ceiling-fan", "blower"} {
		for _, kind := range []string{"room", "shop", "greenhouse", "porch"} {
			s := room(t, to(design.SpaceKind.Path, kind), to(design.SecondMover.Path, mover))
			st := Settle(12, 15)
			in, out := 0.0, 0.0
			start := st
			for range 5000 {
				dt := []float64{30, 60, 900, 3600}[r.IntN(4)]
				a := Around{Outdoors: -10 + 30*r.Float64(), Upright: 800 * r.Float64(), Level: 600 * r.Float64(), Wanted: 16,
					Heated: r.IntN(2) == 0, Box: 800 * r.Float64()}
				was := st
				w := s.Step(&st, a, dt)
				need := 0.0
				if a.Heated {
					need = w.Need
				}
				if s.second != nil { // the second space's own part is taken out of the need
					free := s.second.gains + w.MoverK + w.Mover
					k := math.Exp(-s.second.loss * dt / s.second.capacity)
					settle := a.Outdoors + free/s.second.loss
					next := settle + (was.Second-settle)*k
					if own := (st.Second - next) * s.second.loss / (1 - k); own > 0 {
						need -= own
						if !a.Heated {
							need = 0
						}
					}
				}
				in += (w.Gained + a.Box + need) * dt
				out += (w.Vented + w.Lost + w.MoverK + w.Stored) * dt
				if w.Need < 0 || w.Vented < 0 || w.Short < 0 {
					t.Fatalf("%s, %s: %+v", kind, mover, w)
				}
			}
			if math.Abs(in-out) > 1e-3*in {
				t.Errorf("%s, %s: %v J in, %v J out and stored", kind, mover, in, out)
			}
			near(t, "stored is what the mass took up", s.capacity*(st.Mass-start.Mass), s.capacity*(st.Mass-start.Mass), 1)
		}
	}
}

// A space cools to the outdoors with one time constant, and by a long step as by
// many short ones.
func TestExactInAnyStep(t *testing.T) {
	s := room(t, to(design.RoomGains.Path, 0.0))
	long, short := Settle(20, 20), Settle(20, 20)
	s.Step(&long, Around{Outdoors: 0, Wanted: -40}, 36000)
	for range 600 {
		s.Step(&short, Around{Outdoors: 0, Wanted: -40}, 60)
	}
	near(t, "mass after ten hours", long.Mass, short.Mass, 1e-9)
	if long.Mass > 19 || long.Mass < 1 {
		t.Errorf("after ten hours it is at %v C", long.Mass)
	}
}

// Colder outdoors, thinner walls and drafts need more; sun and people less.
func TestNeedMoves(t *testing.T) {
	need := func(a Around, changes ...design.Change) float64 {
		s := room(t, changes...)
		st := Settle(18, 18)
		sum := 0.0
		for range 24 * 30 {
			sum += s.Step(&st, a, 3600).Need
		}
		return sum
	}
	base := Around{Outdoors: 0, Wanted: 20, Heated: true}
	usual := need(base)
	cold, sunny := base, base
	cold.Outdoors, sunny.Upright = -5, 200
	for what, more := range map[string]float64{"colder": need(cold), "bare walls": need(base, to(design.RoomInsulation.Path, "none")),
		"air leakage": need(base, to(design.RoomLeakage.Path, "open")), "single glass": need(base, to(design.RoomGlazing.Path, "single"))} {
		if more <= usual {
			t.Errorf("%s needs %v, without %v", what, more, usual)
		}
	}
	if need(sunny) >= usual || need(base, to(design.RoomGains.Path, 500.0)) >= usual {
		t.Error("sun and people do not help")
	}
}

// Bills made of a known loss, base and other use give them back; noise widens
// the band, which holds the truth.
func TestBills(t *testing.T) {
	h, err := design.Apply(design.New(), units.System{}, to(design.RoomHeater.Path, "gas"))
	if err != nil {
		t.Fatal(err)
	}
	r := rand.New(rand.NewPCG(7, 8))
	var months [12][]float64
	for m := range months {
		for k := range 720 {
			months[m] = append(months[m], 9-11*math.Cos(2*math.Pi*float64(m)/12)+4*math.Sin(2*math.Pi*float64(k)/24))
		}
	}
	const loss, base, other = 210.0, 15.5, 12.0
	unit := 10.72 * 0.85 // kWh of useful heat a m3, as the catalog has it
	for _, noise := range []float64{0, 0.06} {
		h.Room.Bills = nil
		for m := range 12 {
			u := other + loss*DegreeDays(months[m], base)*24/1000/unit
			h.Room.Bills = append(h.Room.Bills, design.Bill{Month: m + 1, Units: u * (1 + noise*r.NormFloat64())})
		}
		b, err := FromBills(&h, months)
		if err != nil {
			t.Fatal(err)
		}
		if noise == 0 {
			near(t, "loss", b.Loss, loss, 0.005*loss)
			near(t, "base", b.Base, base, 0.25)
			near(t, "other", b.Other, other, 1)
		}
		if math.Abs(b.Loss-loss) > 2*b.U || b.U < 0.09*loss {
			t.Errorf("noise %v: %+v, true %v", noise, b, loss)
		}
	}
	// Paid for at its price it is the same.
	inFuel, err := FromBills(&h, months)
	if err != nil {
		t.Fatal(err)
	}
	for i := range h.Room.Bills {
		h.Room.Bills[i] = design.Bill{Month: i + 1, Cost: h.Room.Bills[i].Units * h.Money.FuelPrice}
	}
	paid, err := FromBills(&h, months)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "loss by what was paid", paid.Loss, inFuel.Loss, 1e-9*loss)
	// A usual month alone tells it roughly, and its range holds the truth. By hand: 235 in money a month at 2.89 are 81.3 units.
	all := 0.0
	for _, b := range h.Room.Bills {
		all += b.Cost
	}
	each := h
	each.Room.Bills = []design.Bill{{Cost: all / 12}}
	usual, err := FromBills(&each, months)
	if err != nil || math.Abs(usual.Loss-loss) > 2*usual.U || usual.U < 0.2*usual.Loss {
		t.Errorf("a usual month tells %+v of %v: %v", usual, loss, err)
	}
	h.Room.Bills = h.Room.Bills[:3]
	if _, err := FromBills(&h, months); err == nil {
		t.Error("three bills told a loss")
	}
}
