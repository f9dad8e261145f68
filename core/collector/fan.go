package collector

import (
	"gladember/core/airflow"
	"gladember/core/design"
)

// PanelDrive is a PV panel that turns the fan.
type PanelDrive struct {
	// Diode is the panel's curve, and Motor what the fan draws at a voltage.
	Diode airflow.Diode
	Motor airflow.Motor
	// Ohm is the resistance of the wires, there and back.
	Ohm float64
	// Battery is in Wh; above zero the fan runs at its rated voltage.
	Battery float64
}

// FanSpeed is the share of full speed at which the box's fan turns: 1 on the
// mains or a battery, else what its panel gives in the sun; 0 where it stands.
func (d *Description) FanSpeed(c Conditions) float64 {
	pv := d.Panel
	if pv == nil || pv.Battery > 0 {
		return 1
	}
	return d.panelSpeed(c.Sun.Total(), c.Ambient)
}

// cellsWarm is how much warmer a panel's cells run in full sun, K. Common
// practice, no source.
const cellsWarm = 25.0

// panelSpeed is that of the fan for a sun in the glass's own plane, W/m2.
func (d *Description) panelSpeed(g, ambient float64) float64 {
	pv := d.Panel
	speed, _ := pv.Motor.Run(pv.Diode, g, ambient+cellsWarm*g/1000, pv.Ohm)
	return speed
}

// Copper is the resistivity of fine-stranded copper wire for its nominal cross section,
// ohm mm2/m at 30 C. Source: IEC 60228 class 5, 19.5 ohm/km for 1 mm2 and 13.3 for 1.5 mm2
// at 20 C (recalled from memory).
const Copper = 0.0205

// fan sets what moves the air.
// A builder's own curve takes the place of the usual shape. Fans behind each
// other add pressures, beside each other flows. A fan on its panel runs where
// the panel's curve and the motor's meet.
func (d *Description) fan(h *design.Heater) error {
	if d.Natural {
		return nil
	}
	d.Fan = airflow.Fan{FreeAir: h.Air.FanFree, ShutOff: h.Air.FanShut, Power: h.Air.FanPower, Radial: h.Air.FanRadial,
		Table: h.Air.FanTable}.Fitted()
	switch {
	case h.Air.Fans > 1 && h.Air.FansJoin == "behind":
		d.Fan.Behind = h.Air.Fans
	case h.Air.Fans > 1: // staged fans stand beside each other too: rated with all of them
		d.Fan.Beside = h.Air.Fans
		if h.Air.FansJoin == "staged" {
			d.Stages = h.Air.Fans
		}
	}
	if h.Air.Drive != "panel" {
		return nil
	}
	// A small crystalline panel by its peak power: 36 cells, the usual shape.
	// Common practice, no source.
	vmp := 17.5
	imp := h.Air.PanelPeak / vmp
	diode, err := airflow.Panel{Isc: imp * 1.08, Voc: 21.6, Imp: imp, Vmp: vmp, Cells: 36}.Fit()
	if err != nil {
		return err
	}
	all := h.Air.FanPower * max(1, float64(h.Air.Fans))
	d.Panel = &PanelDrive{Diode: diode, Motor: airflow.Motor{Volts: h.Air.FanVolts, Watts: all, Stall: 0.4 * h.Air.FanVolts},
		Ohm: 2 * h.Air.Wire * Copper / h.Air.WireArea, Battery: h.Air.Battery}
	return nil
}
