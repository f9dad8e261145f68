package collector

import (
	"math"
	"testing"
	"time"

	"gladember/core/design"
	"gladember/core/solar"
	"gladember/core/units"
)

// A hill that fills the whole horizon up to the zenith hides every hour; one behind
// the glass hides none; a leafless tree hides less than a house of its size; a piece that
// crosses north counts on both sides.
func TestShaders(t *testing.T) {
	with := func(h design.Heater, text string) []Hidden {
		t.Helper()
		h, err := design.Apply(h, units.System{}, design.Enter(design.ShadeHorizon, text))
		if err != nil {
			t.Fatal(err)
		}
		return Shaders(&h)
	}
	h := design.New()
	whole := with(h, "0 to 360: 90, hill")[0]
	behind := with(h, "0 to 45: 20, hill")[0]
	house, tree := with(h, "150 to 210: 40, house")[0], with(h, "150 to 210: 40, tree")[0]
	if behind.Sun > 0.02*house.Sun || behind.Hours > 0 {
		t.Errorf("a hill behind hides %+v", behind)
	}
	if !(whole.Hours > house.Hours && house.Hours > 100 && tree.Sun < house.Sun && tree.Sun > 0.2*house.Sun) {
		t.Errorf("whole %+v, house %+v, tree %+v", whole, house, tree)
	}
	south, err := design.Apply(h, units.System{}, design.Set(design.PlaceLatitude, -46.0))
	if err != nil {
		t.Fatal(err)
	}
	over := with(south, "330 to 30: 40, house")
	if len(over) != 2 || math.Abs(over[0].Hours+over[1].Hours-house.Hours) > 0.07*house.Hours {
		t.Errorf("past north: %+v, in the north %+v", over, house)
	}
	eaved, err := design.Apply(h, units.System{}, design.Set(design.ShadeEaveDepth, 0.6),
		design.Set(design.ShadeFinLeft, 0.5))
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range Shaders(&eaved) {
		if x.Sun <= 0 {
			t.Errorf("%+v costs nothing", x)
		}
	}
}

// The way it stands is among the leans, none beats the best, and turning north loses.
func TestLeans(t *testing.T) {
	h := design.New()
	ls := Leans(&h)
	best := ls[len(ls)-1]
	for _, l := range ls {
		if l.Sun > best.Sun+1e-9 || l.Sun <= 0 {
			t.Errorf("%+v against the best %+v", l, best)
		}
	}
	if math.Abs(ls[0].Sun-HeatingSun(&h, h.Place.Tilt, h.Place.Bearing)) > 1e-9 {
		t.Error("the first is not the way it stands")
	}
	if HeatingSun(&h, 90, 0) > 0.3*HeatingSun(&h, 90, 180) {
		t.Error("a glass that looks north gets as much")
	}
	// Against the whole day's sum that the sun drawing used: same model, finer steps.
	sum := 0.0
	for _, m := range HeatingMonths(h.Place.Latitude) {
		sum += Surroundings(&h).ClearDay(dayOf(m), Site(&h), h.Place.Tilt, h.Place.Bearing, skyAir(&h, m)) / 7
	}
	if math.Abs(sum/ls[0].Sun-1) > 0.005 {
		t.Errorf("%v by quarter hours, %v by the day", ls[0].Sun, sum)
	}
}

func dayOf(m time.Month) time.Time { return time.Date(2026, m, 21, 12, 0, 0, 0, time.UTC) }

func skyAir(h *design.Heater, m time.Month) solar.Air {
	return solar.Air{Linke: h.Place.Haze, Albedo: h.Place.Albedo(int(m))}
}
