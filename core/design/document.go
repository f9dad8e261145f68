package design

// Schema is the version of the document this package writes.
const Schema = 11

// Heater is a solar air heater: where it stands, what it warms, what it is
// made of and how it is switched. With it go two documents of their own, which
// a file may leave out: its workshop and its log, see [Document].
type Heater struct {
	// Schema is the version of the document, [Schema] once it is read.
	Schema int `json:"schema"`
	// Name is the builder's own name for it, 80 letters at most.
	Name string `json:"name"`
	// Place is where the glass stands and faces.
	Place Place `json:"place"`
	// Climate is the weather through a year.
	Climate Climate `json:"climate"`
	// Room is the space that is warmed, and Second the one that warm air is
	// moved on to.
	Room   Room   `json:"room"`
	Second Second `json:"second"`
	// Money is what the box and the heating cost.
	Money Money `json:"money"`
	// Pane is the sheet of glazing that the box is built around.
	Pane  Pane  `json:"pane"`
	Cover Cover `json:"cover"`
	Box   Box   `json:"box"`
	// Guard is what keeps the box from overheating with the fan off.
	Guard  Guard  `json:"guard"`
	Mirror Mirror `json:"mirror"`
	// Shade is what stands between sun and glass.
	Shade Shade `json:"shade"`
	Wall  Wall  `json:"wall"`
	// Site is what the place asks of an installation.
	Site Site `json:"site"`
	// Array says how many boxes share the fan, and how they are joined.
	Array    Array    `json:"array"`
	Absorber Absorber `json:"absorber"`
	// Air is the way from the room through the box and back, with its fan.
	Air    Air    `json:"air"`
	Switch Switch `json:"switch"`
	// Workshop is what all heaters of a builder share.
	Workshop Workshop `json:"workshop,omitzero"`
	// Log says how readings of this heater are turned into heat.
	Log Log `json:"log,omitzero"`
	// Entries maps a field's path to how its value came to be. A path that is
	// missing means that the value is ours.
	Entries map[string]Entry `json:"entries,omitempty"`
}

// Entry is how a value came to be.
type Entry struct {
	// Typed is the text as it was typed; empty where the value came from a
	// program.
	Typed string `json:"typed,omitempty"`
	// Origin is yours or measured.
	Origin Origin `json:"origin"`
	// U is the standard uncertainty of what was measured, in the field's own SI unit; 0 where
	// nothing is known of it.
	U float64 `json:"u,omitempty"`
}

// Origin says whose a value is.
type Origin string

// The origins of a value. Ours has no entry.
const (
	// Ours is a value that the program derived; it has no entry in a document.
	Ours Origin = "ours"
	// Yours was typed or chosen by the builder.
	Yours Origin = "yours"
	// Measured comes from a test of the built box, and is more certain than
	// either.
	Measured Origin = "measured"
)

// MadeAs returns the family as a builder calls it.
// An unknown family is returned as it stands.
func (h *Heater) MadeAs() string {
	if r := h.Absorber.Family.Record(); r != nil {
		return r.Name
	}
	return string(h.Absorber.Family)
}

// Indoors says whether the box hangs inside, behind the room's own window.
// It then has no ducts, no body and no insulation, and counts only against the
// sun that the bare window would have let in.
func (h *Heater) Indoors() bool { return h.Absorber.Family == WindowPanel }
