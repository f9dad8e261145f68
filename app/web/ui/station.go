package ui

import (
	"io/fs"
	"slices"

	"github.com/labstack/echo/v5"

	"gladember/core/advice"
	"gladember/core/collector"
	"gladember/core/design"
)

// Group is a part of the work.
type Group string

// The groups, in the order of the work. A station without one is not in the list of stations.
const (
	Design  Group = "Design"
	Build   Group = "Build"
	Measure Group = "Measure"
)

// Station is a page of a heater, kept in a folder of its own; a line of the server's list adds it.
//
// Its templates are named after its key: "box" is its center, filled with a [Frame] whose View is the station's view
// model; "box-side", if there is one, stands above the fields at the side; "box-foot" below them, where changes do not
// replace it.
type Station struct {
	Key, Name string
	Group     Group
	Templates fs.FS

	// Topics are those whose findings and cautions it shows; AllFindings shows every finding.
	Topics      []advice.Topic
	AllFindings bool
	// Quiet stations show no findings at the side.
	Quiet bool
	// Fresh stations load a part of their center by themselves, so that a change must replace it as a whole.
	Fresh bool

	// Open fills the frame with what the station shows.
	Open func(*Visit) error
	// Summary is its line in the list of stations, and whether the user has decided anything there.
	Summary func(*Visit) (line string, decided bool, err error)
	// Routes are its addresses below its own.
	Routes func(*Server, *echo.Group)
	// Workings are those of its figures; they open at the address of [Frame.WorkingURL].
	Workings func(*Visit) (map[string]collector.Working, error)
}

// shows says whether a station shows findings of a topic.
func (s *Station) shows(t advice.Topic) bool {
	for _, x := range s.Topics {
		if x == t {
			return true
		}
	}
	return false
}

// Decided says whether the user has set any of these fields.
func (v *Visit) Decided(fields ...design.Ref) bool {
	return slices.ContainsFunc(fields, v.Doc().Given)
}
