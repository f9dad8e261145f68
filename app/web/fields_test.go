package web_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"gladember/app/web/ui"
	"gladember/app/web/webtest"
	"gladember/core/design"
	"gladember/core/units"
)

// Every field that a heater may have is edited on a page: under the heading of its group on one of them at least, or, where it has a
// control of its own, by that.
func TestEveryFieldIsOnAPage(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, false)
	l := newLooker(t, base, "de")
	var heaters []design.Heater
	for _, name := range design.ExampleNames() {
		h := webtest.Must(design.Named(name))(t)
		heaters = append(heaters, h)
	}
	for _, changes := range [][]design.Change{
		{design.Set(design.AirDrive, "panel"), design.Set(design.AirFans, 2), design.Set(design.AirFansJoin, "staged"),
			design.Set(design.SecondMover, "stairs"), design.Set(design.GuardKind, "shutter"), design.Set(design.CoverLayers, 2),
			design.Set(design.BoxBody, "sheet")},
		{design.Set(design.SwitchKind, "timer"), design.Set(design.MirrorLength, 0.5), design.Set(design.ShadeEaveDepth, 0.4),
			design.Set(design.ShadeFinLeft, 0.2), design.Set(design.GuardKind, "vent"), design.Set(design.LogFlowIs, design.ByMeasure),
			design.Set(design.PlaceSnowFrom, 11), design.Set(design.CoverCoveredFrom, 5), design.Set(design.WallBetween, 2.5),
			design.Set(design.WallStud, 0.6)},
		{design.Set(design.ArrayBoxes, 4), design.Set(design.ArrayJoin, "groups"), design.Set(design.AirSource, "outdoors"),
			design.Set(design.SecondMover, "blower"), design.Set(design.SwitchKind, "snap"), design.Set(design.RoomHeater, "oil")},
	} {
		heaters = append(heaters, webtest.Must(design.Apply(design.New(), units.System{}, changes...))(t))
	}
	wanted := map[string]*design.Field{}
	for _, f := range design.Fields {
		wanted[f.Path] = f
	}
	slices.Reverse(heaters)
	for _, h := range heaters {
		news := slices.ContainsFunc(design.Fields, func(f *design.Field) bool { return wanted[f.Path] != nil && f.Applies(&h) })
		if !news {
			continue
		}
		id := webtest.Must(s.Create(t.Context(), h))(t).Heater
		var pages []string
		for _, page := range []string{"place", "need", "box", "air", "switch", "season", "cut", "buy", "build", "test", "log"} {
			pages = append(pages, fmt.Sprintf("/h/%d/%s", id, page))
		}
		for _, part := range []string{"absorber", "foam", "guard", "frame"} {
			pages = append(pages, fmt.Sprintf("/h/%d/box?part=%s", id, part))
		}
		pages = append(pages, "/settings")
		for _, page := range pages {
			name := page[strings.LastIndex(page, "/")+1:]
			found(t, l.do(page, nil), name, wanted)
		}
	}
	for path := range wanted {
		if strings.Contains(path, "passages.2") || strings.Contains(path, "passages.3") {
			continue // like the first two, which the example has
		}
		t.Errorf("%s is on no page under the heading of its group", path)
	}
}

// control is what a page has for a field that is not edited as the others are.
var control = map[string]string{design.PlaceTown.Path: `name="town"`, design.ClimateFile.Path: `type="file"`,
	design.AbsorberFamily.Path: design.AbsorberFamily.Path, design.WorkshopLength.Path: `name="length"`,
	design.WorkshopTemperature.Path: `name="heat"`, design.WorkshopDecimal.Path: `name="decimal"`,
	design.WorkshopCurrency.Path: `name="currency"`}

// found takes the fields of a page out of those that are wanted.
func found(t *testing.T, page, name string, wanted map[string]*design.Field) {
	t.Helper()
	for i, panel := range strings.Split(page, `<details class="panel"`) {
		panel, _, _ = strings.Cut(panel, "</details>")
		for path, f := range wanted {
			switch {
			case i == 0 && control[path] != "" && strings.Contains(page, control[path]),
				i > 0 && strings.Contains(panel, f.Group.Title) && strings.Contains(panel, `id="`+ui.FieldID(path)+`"`):
				t.Logf("%s: %s, %s", path, name, f.Group.Title)
				delete(wanted, path)
			}
		}
	}
}
