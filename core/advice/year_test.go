package advice

import (
	"context"
	"math"
	"testing"

	"gladember/core/climate"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/units"
)

// through runs a heater at a made-up place through its year.
func through(t *testing.T, changes ...design.Change) *year {
	t.Helper()
	h, err := design.Named("back-pass-plate")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range changes { // one after the other, as a person does
		if h, err = design.Apply(h, units.System{}, c); err != nil {
			t.Fatal(err)
		}
	}
	y, err := climate.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	r, err := season.Run(&h, y)
	if err != nil {
		t.Fatal(err)
	}
	x, err := newYear(context.Background(), &h, &season.Laid{Year: y}, r)
	if err != nil {
		t.Fatal(err)
	}
	return x
}

// found are the findings of a judge by their IDs.
func found(t *testing.T, fs []Finding) map[string]Finding {
	t.Helper()
	m := map[string]Finding{}
	for _, f := range fs {
		m[f.ID] = f
		if f.Finding.In(units.System{}) == "" || f.Evidence.In(units.System{}) == "" || f.Remedy.In(units.System{}) == "" || f.Topic == "" {
			t.Errorf("%s says too little", f.ID)
		}
	}
	return m
}

// Each judgment of a year fires on one heater and stays silent on another; its
// gain is what the year gives with the remedy applied.
func TestYearFindingsFireAndMend(t *testing.T) {
	if testing.Short() {
		t.Skip("some eighty years; the others run them")
	}
	usual := through(t)
	for _, c := range []struct {
		id            string
		judge         func(*year) []Finding
		fires, silent []design.Change
	}{
		{"year-idle", idleYear, []design.Change{design.Set(design.SwitchKind, "snap"), design.Set(design.SwitchClose, 62.0),
			design.Set(design.SwitchOpen, 52.0)}, nil},
		{"year-cycling", cyclingYear, []design.Change{design.Set(design.SpaceKind, "shop"), design.Set(design.RoomHeater, "none"),
			design.Set(design.SwitchKind, "snap"),
			design.Set(design.SwitchClose, 40.0), design.Set(design.SwitchOpen, 36.0)}, nil},
		{"year-draft", lukewarm, nil, []design.Change{design.Set(design.AirFanFreeAir, 0.02), design.Set(design.SwitchKind, "snap"),
			design.Set(design.SwitchClose, 45.0),
			design.Set(design.SwitchOpen, 38.0)}},
		{"year-too-warm", tooWarm, []design.Change{design.Set(design.RoomFloor, 8.0), design.Set(design.RoomVent, 22.0)},
			[]design.Change{design.Set(design.RoomFloor, 60.0), design.Set(design.RoomVent, 30.0), design.Set(design.RoomGains, 0.0),
				design.Set(design.RoomInsulation, "none")}},
		{"year-spring", springHeat, []design.Change{design.Set(design.RoomMass, "light"), design.Set(design.RoomFloor, 9.0),
			design.Set(design.RoomVent, 22.0),
			design.Set(design.RoomSunnyWindow, 2.0), design.Set(design.RoomWindow, 3.0)},
			[]design.Change{design.Set(design.RoomFloor, 60.0),
				design.Set(design.RoomVent, 30.0), design.Set(design.RoomInsulation, "none")}},
		{"year-fan-eats", moverEats, []design.Change{design.Set(design.SecondMover, "blower"), design.Set(design.RoomHeater, "gas"),
			design.Set(design.MoneyFuelPrice, 0.5),
			design.Set(design.RoomWanted, 12.0), design.Set(design.RoomSetback, 5.0)}, nil},
		{"year-never-pays", neverPays, []design.Change{design.Set(design.MoneySpent, 3000.0)}, nil},
		{"year-second-cover", betterYear, nil, []design.Change{design.Set(design.CoverLayers, 2)}},
		{"year-foam", betterYear, []design.Change{design.Set(design.AirRoute, "stand"), design.Set(design.BoxBackFoam, 0.0)},
			[]design.Change{design.Set(design.BoxBackFoam, 0.08)}},
		{"year-tilt", betterYear, []design.Change{design.Set(design.PlaceTilt, 20.0)}, []design.Change{design.Set(design.PlaceTilt, 65.0)}},
		{"year-back-flow", coldNights, []design.Change{design.Set(design.AirFlap, "none"), design.Set(design.AirDiameter, 0.2),
			design.Set(design.AirFan, "computer-120")},
			[]design.Change{design.Set(design.AirFlap, "membrane")}},
	} {
		x := through(t, c.fires...)
		fs := found(t, c.judge(x))
		f, ok := fs[c.id]
		if !ok {
			t.Errorf("%s stays silent; there are %v; outlet %v, year %+v", c.id, keys(fs), x.r.Jet, x.r.Year)
			continue
		}
		still := usual
		if c.silent != nil {
			still = through(t, c.silent...)
		}
		if _, ok := found(t, c.judge(still))[c.id]; ok && (c.silent != nil || c.id != "year-draft") {
			t.Errorf("%s fires on %v", c.id, c.silent)
		}
		if !f.HasYear || c.id == "year-back-flow" { // the nights' loss is no part of the year that is run
			continue
		}
		mended, err := design.Apply(*x.h, units.System{}, f.Patch...)
		if err != nil {
			t.Errorf("%s: %v", c.id, err)
			continue
		}
		n, err := season.Run(&mended, x.y.Year)
		if err != nil {
			t.Fatal(err)
		}
		if got := n.Year.Useful - n.Year.Fan - x.r.Year.Useful + x.r.Year.Fan; math.Abs(got-f.YearGain) > 1e-6 || f.YearGain <= 0 {
			t.Errorf("%s promises %v kWh, the year gives %v", c.id, f.YearGain, got)
		}
	}
}

func keys(m map[string]Finding) (ks []string) {
	for k := range m {
		ks = append(ks, k)
	}
	return ks
}
