package climate

import (
	"errors"
	"fmt"
	"math"
	"time"

	"gladember/core/solar"
)

// fewMissing is the share of a year's hours that may be missing, and longestGap how many hours
// in a row: more than that is another year than the one that was measured. Ours.
//
// A file may be right hour by hour and wrong as a whole: hours that stand twice or in another
// order, a column that was never measured, sun that cannot be. Each is refused, or where it is
// a little mended and told.
//
// Judging a whole year costs a position of the sun for each hour, about as much as reading the
// rows of the file.
const (
	fewMissing = 0.05
	longestGap = 48
)

// inSequence says whether every hour follows the one before it. The years of the rows are not
// looked at: a typical year puts its months together from several.
// The error names the first hour that does not, and what should stand there.
func (y *Year) inSequence() error {
	leap := 2023
	if len(y.Hours) == hoursInLeap {
		leap = 2024
	}
	at := time.Date(leap, 1, 1, 0, 0, 0, 0, time.UTC)
	for i := range y.Hours {
		h := &y.Hours[i]
		if h.Month != int(at.Month()) || h.Day != at.Day() || h.Hour != at.Hour()+1 {
			return fmt.Errorf("hour %d is %d-%02d, hour %d, where %d-%02d, hour %d follows; put the hours in their order, each once", i+1,
				h.Month,
				h.Day, h.Hour, int(at.Month()), at.Day(), at.Hour()+1)
		}
		at = at.Add(time.Hour)
	}
	return nil
}

// mendTemperature fills short gaps on a straight line between the hours beside them; the year
// closes on itself, so that a gap at its end takes its first hour.
// The error gives how many hours are missing, and the longest run of them.
func (y *Year) mendTemperature() error {
	n := len(y.Hours)
	missing, longest := 0, 0
	for i, run := 0, 0; i < n; i++ {
		if run++; !math.IsNaN(y.Hours[i].Temperature) {
			run = 0
			continue
		}
		missing++
		longest = max(longest, run)
	}
	switch {
	case missing == 0:
		return nil
	case float64(missing) > fewMissing*float64(n) || longest > longestGap:
		return fmt.Errorf("%d of %d hours have no temperature, up to %d in a row; choose a file that has them", missing, n, longest)
	}
	for i := range y.Hours {
		if !math.IsNaN(y.Hours[i].Temperature) {
			continue
		}
		before, after := 1, 1
		for math.IsNaN(y.Hours[(i-before+n)%n].Temperature) {
			before++
		}
		for math.IsNaN(y.Hours[(i+after)%n].Temperature) {
			after++
		}
		a, b := y.Hours[(i-before+n)%n].Temperature, y.Hours[(i+after)%n].Temperature
		y.Hours[i].Temperature = a + (b-a)*float64(before)/float64(before+after)
	}
	y.Notes = append(y.Notes, fmt.Sprintf("%d of %d hours have no temperature; they are filled on a straight line.", missing, n))
	return nil
}

// The sky's long-wave radiation on the level lies between that of a dry polar night and that of
// a tropical cloud, W/m2. Ours.
const coldestSky, warmestSky = 50.0, 700.0

// mendInfrared takes infrared that no sky gives for missing: it is then computed from dew point
// and cloud. A mark such as 9998, just under the format's own of 9999, would else be a sky of
// several hundred degrees, which heats any box.
func (y *Year) mendInfrared() error {
	wrong := 0
	worst := 0.0
	for i := range y.Hours {
		if v := y.Hours[i].Infrared; !math.IsNaN(v) && (v < coldestSky || v > warmestSky) {
			y.Hours[i].Infrared = math.NaN()
			worst = v
			wrong++
		}
	}
	if wrong > 0 {
		y.Notes = append(y.Notes,
			fmt.Sprintf("%d of %d hours have infrared from the sky that cannot be, such as %.0f W/m2; it is computed "+
				"there from the dew point and the clouds.", wrong, len(y.Hours), worst))
	}
	return nil
}

// A year's sun on the level as a share of that above the atmosphere: the cloudiest places have
// about a quarter, deserts three quarters. Ours, with room.
const leastClearness, mostClearness = 0.15, 0.85

// judgeSun holds the sun of the file against that above the atmosphere at its place: its sum
// over the year, which finds wrong units and empty columns, and hour by hour, which finds a
// wrong time zone and months in another order, since then the sun shines by night.
// Global is on the level, W/m2; where it is missing it is diffuse and beam together. Hours of
// daylight without any sun are counted.
func (y *Year) judgeSun() error {
	sum, above, none, night := 0.0, 0.0, 0, 0
	// The middle of the hour stands for its mean: the hours of sunrise and sunset are less exact than that in most files.
	start := y.start(2025) // without a leap day, which moves the sun by less than what is allowed here
	for i := range y.Hours {
		h := &y.Hours[i]
		p := solar.Position(start.Add(time.Duration(i)*time.Hour+30*time.Minute), y.Site, 0, 0)
		mean := max(0, math.Cos(p.TrueZenith*math.Pi/180))
		top := solar.SolarConstant * mean
		above += top
		global := h.Global
		if math.IsNaN(global) {
			global = h.Diffuse + h.Normal*mean
		}
		if math.IsNaN(global) {
			if top > 0 {
				none++
			}
			continue
		}
		sum += global
		const twilight = 60 // W/m2, for hours that are stamped otherwise by half
		if global > 1.1*top+twilight {
			night++
		}
	}
	n := len(y.Hours)
	switch {
	case float64(none) > fewMissing*float64(n):
		return fmt.Errorf("%d hours of daylight have no sun, neither global nor beam and diffuse; choose a file that has it", none)
	case above <= 0:
		return errors.New("the sun never rises at the file's place; check its latitude")
	case sum < leastClearness*above || sum > mostClearness*above:
		return fmt.Errorf("the sun of the file sums to %.0f kWh/m2, %.0f %% of that above the atmosphere at its place; a year has %.0f to "+
			"%.0f %%: check the units of the sun and the place in line 1", sum/1000, 100*sum/above, 100*leastClearness, 100*mostClearness)
	case night > n/200:
		return fmt.Errorf("%d hours have more sun than there is above the atmosphere then; check the place and the time zone in line "+
			"1, and "+
			"that the months are in their order", night)
	}
	if none > 0 {
		y.Notes = append(y.Notes, fmt.Sprintf("%d hours of daylight have no sun; they count as dark.", none))
	}
	return nil
}
