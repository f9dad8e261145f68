package demo

import (
	"context"

	"gladember/app/store"
	"gladember/core/cutting"
)

// The prices of the demo are invented, as the builder of the demo saw them on two days.
const (
	firstTrip  = "2025-10-11"
	secondTrip = "2025-10-25"
)

// perMeter are invented prices of boards by their section, for a meter.
var perMeter = []struct{ thick, wide, price float64 }{
	{0.008, 0.030, 0.90}, {0.030, 0.112, 3.20}, {0.030, 0.134, 3.90}, {0.030, 0.239, 7.40}, {0.030, 0.070, 2.10}, {0.022, 0.018, 0.80},
	{0.022, 0.012, 0.70}, {0.025, 0.018, 0.85}, {0.025, 0.012, 0.75}, {0.016, 0.012, 0.60}, {0.045, 0.045, 1.90},
}

// perSheet are invented prices of sheets, 1220 by 2440 mm, by material and thickness.
var perSheet = []struct {
	material     string
	thick, price float64
}{
	{"exterior plywood", 0.009, 34}, {"mineral wool board", 0.050, 31}, {"mineral wool board", 0.012, 16},
	{"extruded polystyrene foam", 0.050, 27}, {"extruded polystyrene foam", 0.012, 11}, {"aluminum sheet", 0.0007, 58},
	{"aluminum sheet", 0.0005, 46}, {"galvanized steel sheet", 0.0007, 39},
}

// perPack are invented prices of all else.
var perPack = map[string]float64{
	"high-heat-black": 9.90, "neutral-silicone": 6.40, "glazing gasket": 7.80, "wood screws, short": 8.50, "wood screws, long": 11.90,
	"structural screws": 1.10, "hose clamp 150": 1.80, "hose clamp 100": 1.40, "duct collar 150": 6.50, "duct collar 100": 5.20,
	"grille": 8.90, "flap membrane": 13.50, "switch differential": 38, "over-temperature cut-out": 4.50, "insect screen, roll 600": 1.60,
	"black aluminum insect screen, roll 900": 2.40, "fan ec-inline-5": 96, "fan inline-5": 58, "fuse holder": 3.20,
	"power supply 12 V": 11.50, "bend 150": 6.90,
}

// putPrices fills in what the builder of the demo paid, and what is bought for a heater.
func putPrices(ctx context.Context, s *store.Store, heater int64) error {
	put := func(what string, pack float64, seen string) error {
		return s.SetPrice(ctx, store.Price{What: what, Pack: pack, Seen: seen})
	}
	for _, b := range perMeter {
		for _, l := range cutting.Metric.Bars {
			if err := put(cutting.StockID("planed softwood", b.thick, b.wide, 0, l.Length), b.price*l.Length, firstTrip); err != nil {
				return err
			}
		}
	}
	for _, b := range perSheet {
		x := cutting.Metric.Sheets[0]
		if err := put(cutting.StockID(b.material, b.thick, 0, x.Width, x.Height), b.price, firstTrip); err != nil {
			return err
		}
	}
	for what, price := range perPack {
		if err := put(what, price, secondTrip); err != nil {
			return err
		}
	}
	for what, n := range map[string]int{"high-heat-black": 3, "wood screws, short": 1, "wood screws, long": 1, "grille": 1,
		"flap membrane": 1} {
		if err := s.SetBought(ctx, heater, store.Purchase{What: what, Packs: n}); err != nil {
			return err
		}
	}
	return nil
}
