package design

// FlowIs says where the flow comes from by which a log is read.
type FlowIs string

// What a log's flow is.
const (
	// WorkedOut is the operating point of fan and duct, computed for each
	// reading.
	WorkedOut FlowIs = "worked-out"
	// OnLabel is the fan's free air, which is always too much; kept so that the
	// mistake can be shown.
	OnLabel FlowIs = "on-label"
	// ByMeasure is the flow that was measured at the outlet.
	ByMeasure FlowIs = "measured"
)

// Log is how a logger's readings are turned into heat.
type Log struct {
	// FlowIs says which of the three flows counts.
	FlowIs FlowIs `json:"flow_is"`
	// Flow is the measured flow, as air of the room, m3/s.
	Flow float64 `json:"flow_m3_s"`
	// InletOff, OutletOff and OutdoorOff are by how much each probe reads too high, K.
	InletOff   float64 `json:"inlet_off_k"`
	OutletOff  float64 `json:"outlet_off_k"`
	OutdoorOff float64 `json:"outdoor_off_k"`
	// ClockOff is how far the logger's clock is ahead, min, and Swapped says that its inlet is
	// the outlet.
	ClockOff float64 `json:"clock_off_min"`
	Swapped  bool    `json:"swapped"`
}
