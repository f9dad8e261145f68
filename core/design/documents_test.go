package design

import (
	"strings"
	"testing"

	"gladember/core/units"
)

// parts are the three documents of a heater.
func parts(t *testing.T, h Heater) (own, workshop, log []byte) {
	t.Helper()
	var out [3][]byte
	for d := range out {
		b, err := h.Part(Document(d))
		if err != nil {
			t.Fatal(err)
		}
		out[d] = b
	}
	return out[0], out[1], out[2]
}

// A heater comes back from its three documents as it was, and each holds nothing of the others.
func TestPartsJoin(t *testing.T) {
	for _, h := range wholeHeaters(t) {
		n, err := Apply(h, units.System{}, Set(CutKerf, 0.0022), Enter(CutSold, "2.4 m, 6.50"), Set(BenchDays, "weekend"),
			Set(WorkshopCurrency, "CHF"), Set(LogFlowIs, ByMeasure), Set(LogFlow, 0.02), Measure(LogInletOff, 0.3, 0.1))
		if err != nil {
			t.Fatal(err)
		}
		own, workshop, log := parts(t, n)
		back, err := Join(own, workshop, log)
		if err != nil {
			t.Fatal(err)
		}
		was, _ := Encode(n)
		if now, _ := Encode(back); string(now) != string(was) {
			t.Fatalf("%s came back as\n%s\nwas\n%s", n.Name, now, was)
		}
		for _, x := range []struct{ in, not string }{{string(own), "kerf"}, {string(own), "inlet_off"}, {string(own), "workshop"},
			{string(workshop), "inlet_off"}, {string(workshop), "pane"}, {string(log), "kerf"}, {string(log), "trim"}} {
			if strings.Contains(x.in, x.not) {
				t.Errorf("%s is in a document of another kind:\n%s", x.not, x.in)
			}
		}
	}
}

// Values of ours follow from each heater, though its workshop has others.
func TestWorkshopIsSharedByUnlikePlaces(t *testing.T) {
	there, err := Apply(New(), units.System{}, Set(PlaceZone, "America/Denver"), Set(BenchHelpers, 3))
	if err != nil {
		t.Fatal(err)
	}
	_, workshop, _ := parts(t, there)
	here := New()
	own, _, _ := parts(t, here)
	h, err := Join(own, workshop, nil)
	if err != nil {
		t.Fatal(err)
	}
	if h.Workshop.Bench.Helpers != 3 || h.Workshop.Cut.Kerf != here.Workshop.Cut.Kerf || h.Workshop.Cut.Kerf == there.Workshop.Cut.Kerf {
		t.Errorf("%+v", h.Workshop)
	}
	if err := h.Replace(WorkshopDocument, nil); err != nil || h.Workshop.Bench.Helpers != here.Workshop.Bench.Helpers ||
		h.Given(BenchHelpers) {
		t.Errorf("%v: %+v", err, h.Workshop)
	}
}

// A file may say a part of its workshop, and leaves the rest to us.
func TestFileOfAHeaterAlone(t *testing.T) {
	b, _, _ := parts(t, New())
	h, err := Decode(b)
	if err != nil || h.Workshop.Bench.Minutes != 120 || h.Log.FlowIs != WorkedOut {
		t.Fatalf("%v: %+v", err, h.Workshop)
	}
	h, err = Decode([]byte(strings.Replace(string(b), `"place"`, `"workshop": {"cut": {"kerf_m": 0.002}}, "place"`, 1)))
	if err != nil || h.Workshop.Cut.Kerf != 0.002 || h.Workshop.Bench.Minutes != 120 {
		t.Fatalf("%v: %+v", err, h.Workshop)
	}
	for _, wrong := range []string{`{"schema": 11, "workshop": {"kerf_m": 1}}`, `{"schema": 10}`, `[]`, `{"schema": 11} {}`,
		`{"schema": 11, "workshop": {"currency": "12345"}, "entries": {"workshop.currency": {"origin": "yours"}}}`} {
		n := h.Clone()
		if err := n.Replace(WorkshopDocument, []byte(wrong)); err == nil {
			t.Errorf("%s was taken for a workshop", wrong)
		}
	}
}
