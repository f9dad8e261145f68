package collector

import (
	"gladember/core/airflow"
	"gladember/core/solar"
)

// BackFlow returns what a box does by night with its fan standing and, if
// shut, its flap closed: cold air falls through it into the room and draws warm
// air after it. Heat is negative; Mass is 0 where nothing moves.
func (d *Description) BackFlow(c Conditions, shut bool) (Result, error) {
	night := *d
	c.Sun = solar.OnPlane{}
	c.Flow, c.NoFlow = 0, false
	forward := night.Passages.Air
	night.Passages.Air = func(f Flow) AirNet { return reversed(forward(f)) }
	bore := airflow.Duct{Diameter: 0.1, Length: 0}
	if len(d.Hot) > 0 {
		if duct, ok := d.Hot[0].(airflow.Duct); ok {
			bore = airflow.Duct{Diameter: duct.Diameter, Area: duct.Area}
		}
	}
	if !d.Natural {
		bore.Fittings += standingFan
	}
	if shut {
		bore.Fittings += sealed
	}
	night.Natural = true
	night.Riser = -d.Riser
	night.Cold, night.Hot = append([]airflow.Element{bore}, d.Hot...), d.Cold
	return night.Rate(c, Tuning{}, nil)
}

// NightLoss is what the air of a [Description.BackFlow] takes out of the room, W. With the intake outdoors the room's air does not come
// back: all that it carries over the outdoor air is lost, since as much of that comes in for it.
func (d *Description) NightLoss(r *Result) float64 {
	if d.FromOutdoors {
		return max(0, r.Mass*r.Cp*(r.Conditions.Inlet-r.Conditions.Ambient))
	}
	return max(0, -r.Heat)
}
