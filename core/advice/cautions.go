package advice

import (
	"gladember/core/collector"
	"gladember/core/units"
)

// Caution is a usual warning where it bears on a step, with the part that
// calls for it. Common practice, no source; local codes and licensed trades
// have the last word.
type Caution struct {
	Part string
	Text Text
}

// heavyPane is the area above which a pane wants two people, m2. Common
// practice, no source.
const heavyPane = 0.6

// Cautions returns what to mind at a station.
func Cautions(e *collector.Evaluation, station string) []Caution {
	h := e.Heater
	hot := 0.0
	for _, p := range e.Peaks {
		if p.Kind != collector.CoverLayer && p.Upper > hot {
			hot = p.Upper
		}
	}
	switch station {
	case "place":
		return []Caution{
			{"the wall", say("Ask for permit and landlord's leave before you cut a wall. Find wires, pipes and studs first.")},
			{"the box outdoors", say("Anchor it against wind and snow as your local code asks. Work from a ladder with someone at its foot.")},
		}
	case "box":
		cs := []Caution{
			{"the absorber", say("With the fan off it can reach %v: keep it clear of anything that burns, and of children's hands. A wooden box wants an over-temperature cut-out or a summer cover.", q(units.Temperature, hot))},
			{"the paint", say("Bake the box outdoors on its first sunny days, before it is joined to the room; paint and glue fume.")},
			{"the fan", say("Low-voltage wiring gets a fuse; mains wiring is for a licensed electrician.")},
			{"the room", say("A fan that draws from a room with a flued burner can pull its fumes in: fit a carbon monoxide alarm. The box adds heat; it replaces neither frost protection nor a safe heater.")},
		}
		if h.Box.BackFoam > 0 || h.Box.EdgeFoam > 0 {
			cs = append(cs, Caution{"the foam", say("Foam must be covered, and kept below its service temperature.")})
		}
		return cs
	case "cut":
		cs := []Caution{
			{"saw and drill", say("Eyes, ears and dust mask. Gloves for cut sheet, mesh and duct edges. Old paint and board may hold lead or asbestos: have them tested first.")},
		}
		if h.Pane.Width*h.Pane.Height > heavyPane {
			cs = append(cs, Caution{"the pane", say("%v of pane: two people, gloves, and tempered or well-edged glass.", q(units.Area, h.Pane.Width*h.Pane.Height))})
		}
		return cs
	}
	return nil
}
