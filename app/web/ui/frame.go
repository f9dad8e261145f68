package ui

import (
	"encoding/json"
	"html/template"
	"net/url"
	"strings"

	"gladember/app/drawing"
	"gladember/app/store"
	"gladember/core/advice"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// Frame is what a heater's page shows around the station that is open.
type Frame struct {
	Page
	ID       int64
	Name     string
	State    store.State
	Station  string // key of the station
	Stations []StationLink
	Headline []Figure
	Findings []FindingView
	Cautions []CautionView
	Panels   []Panel
	Notice   string
	Broken   string // why nothing could be computed
	View     any    // the station's view model; nil where nothing could be computed
	Noon     string // the date of the clear winter noon

	station *Station
	carried map[string]string // what every change sends back beside itself
}

// newFrame begins a frame.
func newFrame(p Page, v *Visit) *Frame {
	f := &Frame{Page: p, ID: v.State.Heater, Name: v.State.Document.Name, State: v.State, station: v.Station, carried: map[string]string{}}
	if v.Station != nil {
		f.Station = v.Station.Key
	}
	return f
}

// fill adds findings, stations and headline figures.
func (f *Frame) fill(v *Visit) error {
	all := v.Workshop.Findings(v.Doc(), v.Heater)
	for i := range all {
		if s := f.station; s == nil || s.AllFindings || s.shows(all[i].Topic) {
			f.Findings = append(f.Findings, Finding(&all[i], f.Page))
		}
	}
	if f.station != nil {
		for _, t := range f.station.Topics {
			for _, x := range advice.Cautions(&v.Heater.Eval, t) {
				f.Cautions = append(f.Cautions, CautionView{x.Part, x.Text.In(f.Units)})
			}
		}
	}
	f.Noon = units.Time(collector.WinterNoon(v.Doc()), "2 January", f.Units)
	f.headline(v)
	return f.listStations(v, all)
}

// Carry adds what every change sends back beside itself, such as the part of the box that is open.
func (f *Frame) Carry(name, value string) {
	if value != "" {
		f.carried[name] = value
	}
}

// StationLink is a station in the list that every page of a heater has.
type StationLink struct {
	Group    Group
	Key      string
	Name     string
	Line     string
	Decided  bool
	Here     bool
	Findings int
	URL      string
}

// listStations lists the stations with what is decided at each and how much there is to recommend.
func (f *Frame) listStations(v *Visit, findings []advice.Finding) error {
	for _, s := range v.Stations {
		if s.Group == "" {
			continue
		}
		r := StationLink{Group: s.Group, Key: s.Key, Name: s.Name, Here: s == f.station, URL: HeaterURL(f.ID, s.Key)}
		var err error
		if r.Line, r.Decided, err = s.Summary(v); err != nil {
			return err
		}
		for i := range findings {
			if s.shows(findings[i].Topic) {
				r.Findings++
			}
		}
		f.Stations = append(f.Stations, r)
	}
	return nil
}

// bareStations lists the stations alone, for a heater that cannot be computed.
func (f *Frame) bareStations(v *Visit) {
	f.Stations = nil
	for _, s := range v.Stations {
		if s.Group != "" {
			f.Stations = append(f.Stations, StationLink{Group: s.Group, Key: s.Key, Name: s.Name, Here: s == f.station,
				URL: HeaterURL(f.ID, s.Key)})
		}
	}
}

// Link is that of a station; the zero value if nothing could be computed.
func (f *Frame) Link(key string) StationLink {
	for _, r := range f.Stations {
		if r.Key == key {
			return r
		}
	}
	return StationLink{}
}

// Next is the first station that is not decided; the last one where all are.
func (f *Frame) Next() string {
	last := "box"
	for _, r := range f.Stations {
		if !r.Decided {
			return r.Key
		}
		last = r.Key
	}
	return last
}

// NextStation is the station to go on with.
func (f *Frame) NextStation() StationLink { return f.Link(f.Next()) }

// Replaces says whether a change replaces the center as a whole.
func (f *Frame) Replaces() bool { return f.station != nil && f.station.Fresh }

// Quiet says whether the station shows no findings at the side.
func (f *Frame) Quiet() bool { return f.station == nil || f.station.Quiet }

// AllFindings says whether the station shows every finding, and says so where there are none.
func (f *Frame) AllFindings() bool { return f.station != nil && f.station.AllFindings }

// Vals is what a change of a field sends, as JSON.
func (f *Frame) Vals(path string, more map[string]string) string {
	m := map[string]string{"path": path, "station": f.Station}
	for k, v := range f.carried {
		m[k] = v
	}
	for k, v := range more {
		m[k] = v
	}
	b, err := json.Marshal(m)
	if err != nil {
		return "{}"
	}
	return string(b)
}

// RemedyVals is what a touch on a finding's remedy sends.
func (f *Frame) RemedyVals(id string) string { return f.Vals("", map[string]string{"finding": id}) }

// StationVals is what a touch on undo and the like sends.
func (f *Frame) StationVals() string { return f.Vals("", nil) }

// VarVals is what a touch sends that carries one more value.
func (f *Frame) VarVals(name, value string) string {
	return f.Vals("", map[string]string{name: value})
}

// TypedVals is what a touch sends that fills a field.
func (f *Frame) TypedVals(x design.Ref, typed string) string {
	return f.Vals(x.Declaration().Path, map[string]string{"typed": typed})
}

// URLOf is an address below the heater's.
func (f *Frame) URLOf(what string) string { return HeaterURL(f.ID, what) }

// StationURL is an address below a station's, with a query of names and values.
func (f *Frame) StationURL(key string, query ...string) string {
	q := url.Values{}
	for i := 0; i+1 < len(query); i += 2 {
		q.Set(query[i], query[i+1])
	}
	if len(q) == 0 {
		return HeaterURL(f.ID, key)
	}
	return HeaterURL(f.ID, key) + "?" + q.Encode()
}

// EditURL is where entries go.
func (f *Frame) EditURL() string { return HeaterURL(f.ID, "edit") }

// Sentences joins what is said with spaces.
func Sentences(parts ...string) string {
	var out []string
	for _, p := range parts {
		if p != "" {
			out = append(out, p)
		}
	}
	return strings.Join(out, " ")
}

// Scene is the box for drawing; link gives the address of a part, nil for no links.
func (v *Visit) Scene(chosen layout.Group, link drawing.Linker) *drawing.Scene {
	return &drawing.Scene{Heater: v.Doc(), Layout: &v.Heater.Layout, Eval: &v.Heater.Eval, Units: v.F.Units, Chosen: chosen, Link: link}
}

// InPlace is a link that replaces the sheet and the fields without loading the page anew.
func InPlace(to string) drawing.Link {
	return drawing.Link{To: to, Attributes: template.HTMLAttr(` hx-get="` + template.HTMLEscapeString(to) +
		`" hx-target="#work" hx-select="#work" hx-swap="outerMorph" hx-push-url="true"`)}
}

// headline writes the figures people quote to each other, each with its uncertainty and what the last change did to it.
func (f *Frame) headline(v *Visit) {
	was := map[string]collector.Working{}
	if v.State.Before != nil {
		if b, err := v.Evaluate(v.Ctx(), v.State.Before); err == nil {
			was = b.Eval.Workings()
		}
	}
	ws := v.Heater.Eval.Workings()
	for _, x := range []struct {
		key, at string
		heat    bool
	}{{"heat", collector.AtNoon, true}, {"efficiency", "", false}, {"outlet", "", true}, {"flow", "", false},
		{"stagnation", collector.AtNoon, true}} {
		w := ws[x.key]
		fig := f.Figure(x.key, w.Name+x.at, w.Kind, w.Value)
		fig.Heat, fig.URL, fig.Band = x.heat, HeaterURL(f.ID, "working", x.key), Range(w.Kind, w.Band.Low, w.Band.High, f.Units)
		if b, ok := was[x.key]; ok {
			fig.Change = f.change(w, b)
		}
		f.Headline = append(f.Headline, fig)
	}
}

// change says what the last change did to a figure; empty where it did nothing to speak of.
func (f *Frame) change(now, before collector.Working) string {
	const telling = 1e-3 // of the figure
	by := now.Value - before.Value
	kind := now.Kind
	if kind == units.Temperature {
		kind = units.Rise
	}
	text := Signed(kind, by, f.Units)
	if text == NoChange || by < telling*now.Value && -by < telling*now.Value {
		return ""
	}
	return strings.TrimSuffix(text, " "+f.Units.Unit(kind)) + " by your change"
}
