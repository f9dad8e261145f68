package drawing

import (
	"bytes"
	"context"
	"strconv"
	"strings"
	"testing"

	"gladember/core/advice"
	"gladember/core/buildplan"
	"gladember/core/collector"
	"gladember/core/cost"
	"gladember/core/cutting"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
	"gladember/core/wiring"
)

// Every element of every circuit is named in its drawing; names do not leave it, no two share a line, and the wires lead from the
// supply to the last load.
func TestWiringNamesEveryElement(t *testing.T) {
	for _, name := range design.ExampleNames() {
		for _, model := range []string{"computer-120", "ec-inline-4"} {
			h, err := design.Named(name)
			if err != nil {
				t.Fatal(err)
			}
			if next, err := design.Apply(h, units.System{}, design.Set(design.AirFan, model)); err == nil {
				h = next
			}
			c, ok := wiring.Build(&h)
			if !ok {
				continue
			}
			for _, width := range []float64{360, 660} {
				es := parse(t, Wiring(&c, units.System{}, width))
				box := strings.Fields(es[0].attr["viewBox"])
				w, _ := strconv.ParseFloat(box[2], 64)
				ht, _ := strconv.ParseFloat(box[3], 64)
				lines := map[string]bool{}
				for _, e := range es {
					if e.name != "text" || e.attr["class"] != "label" {
						continue
					}
					if y := e.attr["y"]; lines[y] {
						t.Errorf("%s: two names at %s", name, y)
					} else {
						lines[y] = true
					}
					long := 7.5 * float64(len([]rune(e.text)))
					from := e.num(t, "x")
					if e.attr["text-anchor"] == "middle" {
						from -= long / 2
					}
					if from < 0 || from+long > w+10 || e.num(t, "y") > ht {
						t.Errorf("%s: %q leaves its %v x %v picture", name, e.text, w, ht)
					}
				}
				if len(lines) != len(c.Elements) {
					t.Errorf("%s: %d names for %d elements", name, len(lines), len(c.Elements))
				}
				wires := with(es, "wire")
				if len(wires) < 2 || wires[0].num(t, "y2") < ht-wireRow || wires[0].num(t, "y1") > wireTop+wireBox {
					t.Errorf("%s: the wires do not lead from the first to the last", name)
				}
			}
		}
	}
}

// packetOf gathers a packet of an example.
func packetOf(t *testing.T, name string) *Packet {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	l, err := layout.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
	if err != nil {
		t.Fatal(err)
	}
	in := cost.Input{Heater: &h, Layout: &l, Parts: l.Cut(), Shop: cutting.Metric, Saw: cutting.Rules{Kerf: 0.003}}
	list, err := cost.Build(context.Background(), in)
	if err != nil {
		t.Fatal(err)
	}
	plans, err := cutting.Parts(context.Background(), l.Cut(), cutting.Metric, nil, in.Saw, nil)
	if err != nil {
		t.Fatal(err)
	}
	steps, err := buildplan.Build(&h, &l)
	if err != nil {
		t.Fatal(err)
	}
	p := &Packet{Name: name, Layout: &l, Plans: plans, List: &list, Steps: steps, Safety: advice.Safety(&e), Temperature: 15, Humidity: 0.6}
	if c, ok := wiring.Build(&h); ok {
		p.Circuit = &c
	}
	return p
}

// pages counts the pages of a PDF.
func pages(b []byte) int { return bytes.Count(b, []byte("/Type /Page\n")) }

// A packet is one PDF on either paper. A heater with a fan has one page more than without its wiring; a list of three times as many
// steps takes more pages, and no fewer.
func TestPacketPages(t *testing.T) {
	write := func(p *Packet, paper string) []byte {
		var b bytes.Buffer
		if err := PacketPDF(&b, p, units.System{Inches: paper == Letter}, paper); err != nil {
			t.Fatal(err)
		}
		if !bytes.HasPrefix(b.Bytes(), []byte("%PDF-")) {
			t.Fatalf("%.20q", b.Bytes())
		}
		return b.Bytes()
	}
	for _, paper := range []string{A4, Letter} {
		p := packetOf(t, "screen-box")
		n := pages(write(p, paper))
		if n < 12 {
			t.Errorf("%s: %d pages", paper, n)
		}
		p.Circuit = nil
		if got := pages(write(p, paper)); got != n-1 {
			t.Errorf("%s: %d pages without wiring, %d with it", paper, got, n)
		}
		p.Steps = append(append(p.Steps, p.Steps...), p.Steps...)
		if got := pages(write(p, paper)); got <= n {
			t.Errorf("%s: %d pages with three times the steps, %d before", paper, got, n)
		}
	}
}
