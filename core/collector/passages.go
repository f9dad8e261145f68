package collector

import (
	"gladember/core/airflow"
	"gladember/core/network"
	"gladember/core/optics"
)

// Segments is how many pieces the air's way is cut into, and tubeSegments that of each class of tubes.
const (
	Segments     = 8
	tubeSegments = 5
)

// LayerKind says what a layer is, for reading its temperature.
type LayerKind int

// Kinds of layer.
const (
	CoverLayer LayerKind = iota
	AbsorberLayer
	BackLayer
)

// Layer is a solid sheet of the stack behind the covers.
type Layer struct {
	// Name is for a reader; Kind tells covers, absorbers and the back apart.
	Name string
	Kind LayerKind
	// Material is its catalog id.
	Material string
	// Service is what the material withstands, C.
	Service float64
	// Gap is the air in front of it, in the mean, m.
	Gap float64
	// Store is the heat that it takes up, J/m2K of aperture.
	Store float64
	// Infrared is what its faces do to heat radiation.
	Infrared optics.Layer
	// Sun gives what the layer does to sunlight at an incidence in degrees.
	Sun func(theta float64) optics.Layer
}

// Flow is what an air network is built for.
type Flow struct {
	// Mass enters at the inlet, kg/s.
	Mass float64
	// LeakOut is lost on the way through the seams, kg/s, and LeakIn drawn in
	// from outdoors.
	LeakOut float64
	LeakIn  float64 // drawn in from outdoors on the way, kg/s
	// Mean is the mean temperature of the air, C, at which its properties are
	// taken.
	Mean float64
	// P is the air pressure, Pa.
	P    float64
	Tune Tuning
	// First is the index of the first layer behind the covers.
	First int
	// Warmth is what warmth adds in branches between two headers.
	Warmth warmth
	// start is what the searches of the rating begin from.
	start *start
	// Of the box: segments along the way of a part, tilt in degrees, height in m.
	Segments int
	Tilt     float64
	Height   float64
}

// A Join is metal between two layers behind the covers, W/m2K of aperture.
type Join struct {
	// A and B are layers that metal joins, counted from the first behind the
	// covers.
	A, B int
	// G is the conductance between them, W/m2K of aperture.
	G float64
}

// Passages is what makes a family: layers, where air runs between them, and
// the pressure it costs.
type Passages struct {
	// Layers are what lies behind the covers, from the glass to the back.
	Layers []Layer
	// Air makes the nodes for a flow.
	Air func(Flow) AirNet
	// Elements are the pressure losses on the way.
	Elements []airflow.Element
	// Joins are conduction between layers, such as through the walls of a tube.
	Joins []Join
	// Ways are the passages that the air takes between layers, for a box in
	// which it stands.
	Ways []passage
	// Spread is each segment's share of the length where the air's way is cut
	// into so many that are not alike; nil cuts it evenly.
	Spread func(segments int) []float64
	// Ports are the depths of the spaces that inlet and outlet open into, m.
	Ports [2]float64
	// Strips shares the air among equal strips side by side across the box or among its equal tubes, kg/s; nil where it spreads
	// evenly.
	Strips func(Flow) []float64
	// branches is how many of them there are, and classes in how many classes they are taken.
	branches, classes int
	// tubes says that the strips are tubes.
	tubes bool
	// shared is how many groups of passages all air takes together before it comes to them.
	shared int
	// Evenness is the least over the mean flow; nil where it means nothing.
	Evenness func(Flow) float64
	// RoomSide is the coefficient from the last layer to the room where the
	// box hangs indoors, for their temperatures, the height in m and Pa.
	RoomSide func(layer, room, height, p float64) float64
}

// opaque returns the layer of a surface that lets nothing through, for the sun
// at any angle and for infrared.
// It returns a painted face for sunlight of any incidence, and for infrared.
func opaque(absorptance, emittance float64) (func(float64) optics.Layer, optics.Layer) {
	sun := optics.Layer{ReflectFront: 1 - absorptance, ReflectBack: 1 - absorptance}
	return func(float64) optics.Layer { return sun }, optics.Layer{ReflectFront: 1 - emittance, ReflectBack: 1 - emittance}
}

// always is a touch whose coefficient does not follow the temperatures.
// Its film coefficient does not depend on temperatures.
func always(layer int, h float64) network.Touch {
	return network.Touch{Layer: layer, H: func(_, _ float64) float64 { return h }}
}
