// Package design is the heater as one document: what a person decided, what
// was defaulted for them, and which of the two each value is.
//
// Values are SI with the unit in the key, so that a script reads them as they
// stand. Beside them, entries maps a field's path to what was typed and whose
// it is. A value without an entry is ours: [Refresh] derives it again whenever
// what it follows from changes; a person's value is never touched.
//
// [Fields] is the one table of what can be decided: label, kind, range, choices
// and default of every field. Editing, validation and forms all read it.
package design

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"reflect"
)

// Schema is the version of the document this package writes.
const Schema = 1

// Heater is a solar air heater: where it stands, what it warms, what it is
// made of and how it is switched.
type Heater struct {
	Schema   int              `json:"schema"`
	Name     string           `json:"name"`
	Place    Place            `json:"place"`
	Room     Room             `json:"room"`
	Pane     Pane             `json:"pane"`
	Cover    Cover            `json:"cover"`
	Box      Box              `json:"box"`
	Absorber Absorber         `json:"absorber"`
	Air      Air              `json:"air"`
	Switch   Switch           `json:"switch"`
	Log      Log              `json:"log"`
	Entries  map[string]Entry `json:"entries,omitempty"`
}

// Entry is how a value came to be.
type Entry struct {
	Typed  string `json:"typed,omitempty"`
	Origin Origin `json:"origin"`
}

// Origin says whose a value is.
type Origin string

// The origins of a value. Ours has no entry.
const (
	Ours     Origin = "ours"
	Yours    Origin = "yours"
	Measured Origin = "measured"
)

// Place is where the glass stands and faces.
type Place struct {
	Town      string  `json:"town"`
	Latitude  float64 `json:"latitude_deg"`
	Longitude float64 `json:"longitude_deg"`
	Elevation float64 `json:"elevation_m"`
	Zone      string  `json:"zone"`
	Bearing   float64 `json:"bearing_deg"`
	Tilt      float64 `json:"tilt_deg"`
	Outdoor   float64 `json:"outdoor_c"` // on the clear winter noon it is judged by
	Wind      float64 `json:"wind_m_s"`
}

// RoomKind is the sort of space a heater warms.
type RoomKind string

// The kinds of space.
const (
	LivingRoom RoomKind = "room"
	Shop       RoomKind = "shop"
	Greenhouse RoomKind = "greenhouse"
)

// Room is the space the air comes from and goes back to.
type Room struct {
	Kind  RoomKind `json:"kind"`
	Floor float64  `json:"floor_m2"`
	Air   float64  `json:"air_c"` // what the box draws in
}

// Pane is the sheet the box is built around.
type Pane struct {
	Width  float64 `json:"width_m"`
	Height float64 `json:"height_m"`
	Rest   float64 `json:"rest_m"` // how far it lies on the frame, each side
}

// Cover is what the pane is made of, and how many lie over each other.
type Cover struct {
	Material  string  `json:"material"`
	Thickness float64 `json:"thickness_m"`
	Layers    int     `json:"layers"`
	Between   float64 `json:"between_m"` // air between two covers
	Dirt      float64 `json:"dirt"`      // share of the sun that dirt keeps out
}

// Box is the body.
type Box struct {
	Gap        float64 `json:"gap_m"` // least distance from cover to absorber
	Frame      string  `json:"frame"`
	FrameWidth float64 `json:"frame_width_m"`
	Foam       string  `json:"foam"`
	BackFoam   float64 `json:"back_foam_m"`
	EdgeFoam   float64 `json:"edge_foam_m"`
	Board      float64 `json:"board_m"` // plywood back
	Seam       float64 `json:"seam_m3_s_m"`
}

// Family names a way of making the absorber.
type Family string

// The families.
const (
	ScreenBox     Family = "screen-box"
	BackPassPlate Family = "back-pass-plate"
)

// Absorber is a tagged union: Family says which of the members holds.
type Absorber struct {
	Family  Family    `json:"family"`
	Paint   string    `json:"paint"`
	Screens *Screens  `json:"screens,omitempty"`
	Plate   *BackPass `json:"back_pass,omitempty"`
}

// Screens are layers of dark mesh that the air crosses from front to back.
type Screens struct {
	Mesh    string  `json:"mesh"`
	Layers  int     `json:"layers"`
	Spacing float64 `json:"spacing_m"`
	Lift    float64 `json:"lift_m"` // how much nearer the glass they lie at the top
	Rear    float64 `json:"rear_m"` // from last screen to back at the bottom
	Bypass  float64 `json:"bypass"` // share of the air that slips around
}

// BackPass is a dark plate with the air behind it.
type BackPass struct {
	Metal     string  `json:"metal"`
	Thickness float64 `json:"thickness_m"`
	Channel   float64 `json:"channel_m"`
	Baffles   int     `json:"baffles"`
}

// Air is the way from the room through the box and back.
type Air struct {
	Duct      string  `json:"duct"`
	Diameter  float64 `json:"diameter_m"`
	ToBox     float64 `json:"to_box_m"`
	FromBox   float64 `json:"from_box_m"`
	Bends     int     `json:"bends"` // 90 degrees, both ways together
	Flap      bool    `json:"flap"`
	FanFree   float64 `json:"fan_free_air_m3_s"`
	FanShut   float64 `json:"fan_shut_off_pa"`
	FanPower  float64 `json:"fan_power_w"`
	FanRadial bool    `json:"fan_radial"`
	FanModel  string  `json:"fan"`
	FanSide   string  `json:"fan_side"` // "inlet" pushes, "outlet" pulls
}

// Switch turns the fan on as the box warms.
type Switch struct {
	Close float64 `json:"close_c"`
	Open  float64 `json:"open_c"`
}

// FlowIs says where the flow comes from by which a log is read.
type FlowIs string

// What a log's flow is.
const (
	WorkedOut FlowIs = "worked-out" // fan curve against resistance
	OnLabel   FlowIs = "on-label"   // the fan's free air
	ByMeasure FlowIs = "measured"   // Flow, measured
)

// Log is how a logger's readings are turned into heat.
type Log struct {
	FlowIs FlowIs  `json:"flow_is"`
	Flow   float64 `json:"flow_m3_s"` // measured, as air of the room
	Useful float64 `json:"useful_c"`  // an hour counts as useful with the outlet above it
}

// InsideWidth is the frame's clear opening across, m.
func (h *Heater) InsideWidth() float64 { return h.Pane.Width - 2*h.Pane.Rest }

// InsideHeight is the frame's clear opening along the slope, m.
func (h *Heater) InsideHeight() float64 { return h.Pane.Height - 2*h.Pane.Rest }

// ApertureWidth is what is left between the foam that lines the frame, m.
func (h *Heater) ApertureWidth() float64 { return h.InsideWidth() - 2*h.Box.EdgeFoam }

// ApertureHeight is what is left between the foam that lines the frame, m.
func (h *Heater) ApertureHeight() float64 { return h.InsideHeight() - 2*h.Box.EdgeFoam }

// Aperture is the clear opening through which the sun reaches the absorber, m2.
func (h *Heater) Aperture() float64 { return h.ApertureWidth() * h.ApertureHeight() }

// OuterWidth is the frame's outer width, m.
func (h *Heater) OuterWidth() float64 { return h.InsideWidth() + 2*h.Box.FrameWidth }

// OuterHeight is the frame's outer height, m.
func (h *Heater) OuterHeight() float64 { return h.InsideHeight() + 2*h.Box.FrameWidth }

// Gross is the area of the whole box seen from the front, m2 (ISO 9806:2017).
func (h *Heater) Gross() float64 { return h.OuterWidth() * h.OuterHeight() }

// CavityDepth is the distance from the inner cover to the back foam, m.
func (h *Heater) CavityDepth() float64 {
	d := h.Box.Gap
	switch a := h.Absorber; {
	case a.Family == ScreenBox && a.Screens != nil:
		d += a.Screens.Lift + float64(a.Screens.Layers-1)*a.Screens.Spacing + a.Screens.Rear
	case a.Family == BackPassPlate && a.Plate != nil:
		d += a.Plate.Thickness + a.Plate.Channel
	}
	return d
}

// FrameDepth is the depth of the frame's boards, from the underside of the
// outer cover to the back, m.
func (h *Heater) FrameDepth() float64 {
	d := h.CavityDepth() + h.Box.BackFoam + h.Box.Board
	if h.Cover.Layers > 1 {
		d += float64(h.Cover.Layers-1) * (h.Cover.Between + h.Cover.Thickness)
	}
	return d
}

// Clone returns a copy that shares nothing with h.
func (h Heater) Clone() Heater {
	if h.Absorber.Screens != nil {
		s := *h.Absorber.Screens
		h.Absorber.Screens = &s
	}
	if h.Absorber.Plate != nil {
		p := *h.Absorber.Plate
		h.Absorber.Plate = &p
	}
	e := make(map[string]Entry, len(h.Entries))
	for k, v := range h.Entries {
		e[k] = v
	}
	h.Entries = e
	return h
}

// Encode writes the document in its one canonical form: the same heater is
// always the same bytes.
func Encode(h Heater) ([]byte, error) {
	if len(h.Entries) == 0 {
		h.Entries = nil
	}
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	if err := enc.Encode(h); err != nil {
		return nil, fmt.Errorf("writing the heater: %w", err)
	}
	return b.Bytes(), nil
}

// MaxDocument bounds a document's size in bytes.
const MaxDocument = 1 << 20

// Decode reads one document and validates it. The error names the field, what
// is wrong and what would be right.
func Decode(data []byte) (Heater, error) {
	var h Heater
	if len(data) > MaxDocument {
		return h, fmt.Errorf("the file holds %d bytes; a heater is under %d", len(data), MaxDocument)
	}
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&h); err != nil {
		var te *json.UnmarshalTypeError
		switch {
		case errors.As(err, &te):
			return h, fmt.Errorf("%s holds a %s; it takes %s", te.Field, te.Value, inWords(te.Type.Kind()))
		case errors.Is(err, io.EOF):
			return h, errors.New("the file is empty; `gladember example` prints a heater to start from")
		}
		return h, fmt.Errorf("not a heater in JSON: %v; `gladember example` prints one to start from", err)
	}
	if _, err := dec.Token(); err != io.EOF {
		return h, errors.New("the file goes on after the heater's closing brace; keep one heater a file")
	}
	if h.Schema != Schema {
		return h, fmt.Errorf("schema is %d; this program reads schema %d", h.Schema, Schema)
	}
	if ps := Validate(&h); len(ps) > 0 {
		return h, &ps[0]
	}
	return h, nil
}

func inWords(k reflect.Kind) string {
	switch k {
	case reflect.Float64:
		return "a number"
	case reflect.Int:
		return "a whole number"
	case reflect.String:
		return "a text"
	case reflect.Bool:
		return "true or false"
	}
	return "an object, as `gladember example` shows"
}

func finite(v float64) bool { return !math.IsNaN(v) && !math.IsInf(v, 0) }
