package service

import (
	"context"
	"errors"
	"math"
	"time"

	"gladember/app/store"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/simulate"
)

// Day is a heater simulated through a day.
type Day struct {
	simulate.Day
	Noon     time.Time
	Weather  simulate.Weather
	Measured bool // the sun was measured; else it is that of a clear sky

	key Key
}

// errNoReadings is returned for a logged day without readings.
var errNoReadings = errors.New("there are no readings of that day; choose another")

// Simulate runs a heater through a design day of a month, 1 to 12; 0 is that of the winter noon.
func (w *Workshop) Simulate(ctx context.Context, h *design.Heater, sky simulate.Sky, month int) (*Day, error) {
	key := KeyOf(h, design.Judged, sky, month)
	return w.days.Get(ctx, key, func() (*Day, error) {
		d := &Day{Noon: collector.WinterNoon(h), Weather: simulate.DesignDay(h, sky), key: key}
		if month > 0 {
			d.Noon = time.Date(d.Noon.Year(), time.Month(month), d.Noon.Day(), 12, 0, 0, 0, d.Noon.Location())
		}
		var err error
		d.Day, err = simulate.Run(h, d.Noon, d.Weather)
		return d, err
	})
}

// Replay runs a heater through the weather of a day that its logger recorded; date is like 2026-02-10.
func (w *Workshop) Replay(ctx context.Context, st *store.State, date string) (*Day, error) {
	h := &st.Document
	midnight, err := time.ParseInLocation(time.DateOnly, date, collector.Site(h).Zone)
	if err != nil {
		return nil, err
	}
	stamp, err := w.daysStamp(ctx, st)
	if err != nil {
		return nil, err
	}
	key := KeyOf(h, design.Judged|design.Reading, st.Logged(), stamp, date)
	return w.days.Get(ctx, key, func() (*Day, error) { return w.replay(ctx, st, midnight, key) })
}

// replay runs a heater through the day that begins at midnight.
func (w *Workshop) replay(ctx context.Context, st *store.State, midnight time.Time, key Key) (*Day, error) {
	h := &st.Document
	samples, err := w.Store.Readings(ctx, st.Logged(), midnight, midnight.AddDate(0, 0, 1))
	if err != nil {
		return nil, err
	}
	for i := range samples {
		samples[i], _ = samples[i].Plausible()
	}
	if len(samples) == 0 {
		return nil, errNoReadings
	}
	d := &Day{Noon: midnight.Add(12 * time.Hour), Weather: simulate.Recorded(h, samples), key: key}
	for _, s := range samples {
		d.Measured = d.Measured || !math.IsNaN(s.Sun)
	}
	d.Day, err = simulate.Run(h, d.Noon, d.Weather)
	return d, err
}

// Settings are what a day gives with the thermostat set to each of the usual points.
func (w *Workshop) Settings(ctx context.Context, h *design.Heater, d *Day) ([]simulate.Setting, error) {
	return w.settings.Get(ctx, d.key, func() ([]simulate.Setting, error) {
		return simulate.Settings(ctx, h, d.Noon, d.Weather, simulate.Points)
	})
}
