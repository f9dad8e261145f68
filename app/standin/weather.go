// Package standin holds small simulated stand-ins for devices and services outside: they
// ship with the program, speak the same simple protocols that real ones would be given,
// and invent what they tell.
//
// The weather station answers GET /months?latitude=&longitude=&elevation= with twelve
// lines of tab-separated text under a line of names (min, max in C, sunshine in hours a day, wind in m/s),
// which is the table that the place station takes.
package standin

import (
	"context"
	"errors"
	"fmt"
	"io"
	"math"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"gladember/core/solar"
)

// Months invents a place's table of months: colder away from the equator and up
// the hill, sunnier in summer. It is made up, and smooth on purpose.
func Months(latitude, elevation float64) string {
	var b strings.Builder
	b.WriteString("min\tmax\tsunshine\twind\n")
	away := math.Abs(latitude)
	year := 29 - 0.42*max(0, away-10) - 0.0055*elevation
	swing := 1.5 + 0.20*away
	for m := range 12 {
		phase := 2 * math.Pi * (float64(m) - 0.5) / 12
		if latitude < 0 {
			phase += math.Pi
		}
		mean := year - swing*math.Cos(phase)
		mid := time.Date(2025, time.Month(m+1), 15, 0, 0, 0, 0, time.UTC)
		declination := 23.45 * math.Sin(2*math.Pi*float64(284+mid.YearDay())/365)
		_, light := solar.DailyExtraterrestrial(solar.SolarConstant, latitude, declination)
		share := 0.42 - 0.14*math.Cos(phase)
		fmt.Fprintf(&b, "%.1f\t%.1f\t%.1f\t%.1f\n", mean-3.5-share*5, mean+3.5+share*5, share*light, 3.2+0.6*math.Cos(phase))
	}
	return b.String()
}

// Weather is the stand-in weather station.
func Weather() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /months", func(w http.ResponseWriter, r *http.Request) {
		number := func(name string, lo, hi float64) (float64, bool) {
			v, err := strconv.ParseFloat(r.URL.Query().Get(name), 64)
			return v, err == nil && v >= lo && v <= hi
		}
		lat, ok1 := number("latitude", -66, 66)
		_, ok2 := number("longitude", -180, 180)
		high, ok3 := number("elevation", -500, 6000)
		if !ok1 || !ok2 || !ok3 {
			http.Error(w, "give latitude, longitude and elevation", http.StatusBadRequest)
			return
		}
		w.Header().Set("Content-Type", "text/tab-separated-values; charset=utf-8")
		_, _ = io.WriteString(w, Months(lat, high))
	})
	return mux
}

// Ask has a weather station tell the months of a place; base is its address.
func Ask(ctx context.Context, base string, latitude, longitude, elevation float64) (string, error) {
	ctx, stop := context.WithTimeout(ctx, 5*time.Second)
	defer stop()
	f := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	at := strings.TrimSuffix(base, "/") + "/months?" + url.Values{"latitude": {f(latitude)}, "longitude": {f(longitude)},
		"elevation": {f(elevation)}}.Encode()
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, at, nil)
	if err != nil {
		return "", err
	}
	r, err := http.DefaultClient.Do(req)
	if err != nil {
		var ue *url.Error
		if errors.As(err, &ue) {
			err = ue.Err
		}
		return "", err
	}
	defer r.Body.Close()
	text, err := io.ReadAll(io.LimitReader(r.Body, 64<<10))
	if err == nil && r.StatusCode != http.StatusOK {
		err = fmt.Errorf("it says %q", strings.TrimSpace(string(text)))
	}
	return string(text), err
}
