package standin

import (
	"context"
	"net/http/httptest"
	"strings"
	"testing"

	"gladember/core/climate"
	"gladember/core/design"
	"gladember/core/units"
)

// What the station tells is a table that a heater takes and a year is made of, in
// either half of the world; colder up the hill.
func TestTheStationTellsMonths(t *testing.T) {
	srv := httptest.NewServer(Weather())
	defer srv.Close()
	mean := map[float64]float64{}
	for _, at := range []struct{ lat, high float64 }{{47, 400}, {47, 1600}, {-44, 50}} {
		text, err := Ask(context.Background(), srv.URL, at.lat, 11, at.high)
		if err != nil {
			t.Fatal(err)
		}
		h, err := design.Apply(design.New(), units.System{}, design.Set(design.PlaceLatitude, at.lat),
			design.Enter(design.ClimateMonths, text))
		if err != nil {
			t.Fatal(err)
		}
		y, err := climate.Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		mean[at.high] = y.Hours[12].Temperature
		warmest := 6
		if at.lat < 0 {
			warmest = 0
		}
		if *h.Climate.Months[warmest].Max < *h.Climate.Months[(warmest+6)%12].Max {
			t.Errorf("at %v the summer is the colder half", at.lat)
		}
	}
	if mean[1600] >= mean[400] {
		t.Error("the mountain is warmer than the valley")
	}
	if _, err := Ask(context.Background(), srv.URL, 91, 0, 0); err == nil || !strings.Contains(err.Error(), "latitude") {
		t.Errorf("nowhere has weather: %v", err)
	}
	srv.Close()
	if _, err := Ask(context.Background(), srv.URL, 47, 0, 0); err == nil {
		t.Error("a station that is gone answers")
	}
}
