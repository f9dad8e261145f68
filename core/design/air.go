package design

import (
	"math"

	"gladember/core/airflow"
)

// Air is the way from the room through the box and back.
type Air struct {
	// Source is room or outdoors.
	Source string `json:"source"`
	// Vent, for outdoor air, is sheltered, windward or leeward.
	Vent string `json:"vent"`
	// Drive is fan, panel (a fan on its own PV panel) or natural.
	Drive string `json:"drive"`
	// Route is wall, window, stand or furnace.
	Route string `json:"route"`
	// Duct is a duct of the catalog.
	Duct string `json:"duct"`
	// Stretch is the share of its full length that a flexible duct is pulled
	// to.
	Stretch float64 `json:"stretch"`
	// Diameter is the bore of ducts and ports, m.
	Diameter float64 `json:"diameter_m"`
	// Ports is how many equal holes there are at each end of the box.
	Ports int `json:"ports"`
	// PortFace is back, side or end: what the ports go through.
	PortFace string `json:"port_face"`
	// PortPlaces is opposite, same-side, both-bottom or both-top: where the outlet
	// lies by the inlet.
	PortPlaces string `json:"port_places"`
	// ToBox and FromBox are lengths of duct, m.
	ToBox   float64 `json:"to_box_m"`
	FromBox float64 `json:"from_box_m"`
	// Bends counts those of 90 degrees on both ways together.
	Bends int `json:"bends"`
	// Grilles counts those on both ways together.
	Grilles int `json:"grilles"`
	// BendsIn is how many of the bends lie before the box, and GrillesIn how
	// many of the grilles; both may be fractions, where the split is not known.
	BendsIn   float64 `json:"bends_before"`
	GrillesIn float64 `json:"grilles_before"` // of the grilles, before the box
	// Filter is none, coarse or fine.
	Filter string `json:"filter"`
	// Flap is none, membrane, spring or motor.
	Flap string `json:"flap"`
	// Riser is the height of warm duct above the box, inside, m.
	Riser float64 `json:"riser_m"`
	// FanFree is the free air on the fan's label, m3/s.
	FanFree float64 `json:"fan_free_air_m3_s"`
	// FanShut is the fan's pressure at no flow, Pa.
	FanShut float64 `json:"fan_shut_off_pa"`
	// FanPower is what one fan takes, W.
	FanPower float64 `json:"fan_power_w"`
	// FanRadial says whether it is a blower rather than a propeller in a ring.
	FanRadial bool `json:"fan_radial"`
	// FanStrength is the share of that curve that the fan was measured to reach.
	FanStrength float64 `json:"fan_strength"`
	// FanModel is a fan of the catalog, whose figures the four above follow.
	FanModel string `json:"fan"`
	// FanSide is inlet, where the fan pushes, or outlet, where it pulls.
	FanSide string `json:"fan_side"`
	// Fans is how many there are, and FansJoin is beside, behind or staged.
	Fans     int    `json:"fans"`
	FansJoin string `json:"fans_join"` // beside, behind or staged
	// FanVolts is the voltage that the fan is made for.
	FanVolts float64 `json:"fan_volts"`
	// FanTable is the fan's own curve from its data sheet, by rising flow;
	// empty for the usual shape through free air and shut-off pressure.
	FanTable []airflow.FanPoint `json:"fan_table,omitempty"`
	// PanelPeak is the rated power of the PV panel that drives it, W.
	PanelPeak float64 `json:"panel_w"`
	// Battery is its capacity, Wh; 0 for none.
	Battery float64 `json:"battery_wh"`
	// Wire is its length one way, m, and WireArea its copper, mm2.
	Wire     float64 `json:"wire_m"`
	WireArea float64 `json:"wire_mm2"`
}

// Switch turns the fan on as the box warms.
type Switch struct {
	// Kind is snap, set-point, differential, timer or plug.
	Kind string `json:"kind"`
	// Close is the temperature that starts the fan, and Open the one that stops
	// it, C.
	Close float64 `json:"close_c"`
	Open  float64 `json:"open_c"`
	// Tolerance is by how much a snap disc may be off its label, K.
	Tolerance float64 `json:"tolerance_k"`
	// OnAbove and OffAbove are a differential controller's points over the
	// room, K.
	OnAbove  float64 `json:"on_above_k"`
	OffAbove float64 `json:"off_above_k"`
	// RoomLimit stops the fan when the room is this warm, C; 0 for no limit.
	RoomLimit float64 `json:"room_limit_c"`
	// From and To are a timer's clock hours.
	From float64 `json:"from_h"`
	To   float64 `json:"to_h"`
	// Second is where the second fan joins, C.
	Second float64 `json:"second_c"`
	// RunOn is how long the fan goes on after its thermostat has opened,
	// minutes.
	RunOn float64 `json:"run_on_min"`
}

// PanelFor is the peak power of a solar panel that drives a fan well, for what
// the fan takes, W: twice that, as panels are sold. Common practice, no source.
// The smallest answer is 5 W, and larger ones come in steps of 5 W.
func PanelFor(watts float64) float64 { return max(5, 5*math.Ceil(2*watts/5)) }

// FreeAir is what the labels of all fans promise against nothing, m3/s.
// Fans one behind the other add pressure and no free air.
func (h *Heater) FreeAir() float64 {
	if h.Air.Fans > 1 && h.Air.FansJoin != "behind" {
		return h.Air.FanFree * float64(h.Air.Fans)
	}
	return h.Air.FanFree
}

// Fanned says whether a fan moves the air.
// A heater without one moves air by natural draft alone.
func (h *Heater) Fanned() bool { return h.Air.Drive != "natural" }
