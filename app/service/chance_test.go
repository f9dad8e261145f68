//go:build unix

package service

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"reflect"
	"runtime/debug"
	"strings"
	"testing"
	"time"

	"gladember/app/drawing"
	"gladember/core/advice"
	"gladember/core/buildplan"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/cost"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/season"
	"gladember/core/simulate"
	"gladember/core/units"
)

// byChance is a document drawn from the fields as they are declared: some of those that apply, each with a choice of its
// list or a number of its bounds, every fourth of them a bound itself. Changes that the rules of a heater refuse are left out.
func byChance(r *rand.Rand) design.Heater {
	h := design.New()
	change := func(path string, v any) {
		if next, err := design.Apply(h, units.System{}, design.Change{Path: path, Value: v}); err == nil {
			h = next
		}
	}
	// A place, or there is no weather for a year.
	change(design.PlaceLatitude.Path, -45+110*r.Float64())
	change(design.PlaceLongitude.Path, -180+360*r.Float64())
	families := design.AbsorberFamily.Choices()
	change(design.AbsorberFamily.Path, families[r.IntN(len(families))].ID)
	for range 3 + r.IntN(30) {
		f := design.Fields[r.IntN(len(design.Fields))]
		if !f.Applies(&h) || f.Rows != nil || f.Text {
			continue
		}
		switch {
		case f.Bool:
			change(f.Path, r.IntN(2) == 1)
		case f.Choices != nil:
			all := f.Choices()
			change(f.Path, all[r.IntN(len(all))].ID)
		default:
			v := f.Min + (f.Max-f.Min)*r.Float64()
			switch r.IntN(4) {
			case 0:
				v = []float64{f.Min, f.Max}[r.IntN(2)]
			case 1, 2: // near to what it is
				v = f.Number(&h) * math.Exp(r.NormFloat64()/2)
			}
			if f.Whole {
				v = math.Round(v)
			}
			change(f.Path, max(f.Min, min(f.Max, v)))
		}
	}
	return h
}

// notANumber finds the first figure in a value that is no number.
func notANumber(v reflect.Value, path string) string {
	switch v.Kind() {
	case reflect.Float64:
		if math.IsNaN(v.Float()) {
			return path
		}
	case reflect.Struct:
		for i := range v.NumField() {
			if bad := notANumber(v.Field(i), path+"."+v.Type().Field(i).Name); bad != "" {
				return bad
			}
		}
	case reflect.Slice, reflect.Array:
		for i := range v.Len() {
			if bad := notANumber(v.Index(i), fmt.Sprintf("%s[%d]", path, i)); bad != "" {
				return bad
			}
		}
	}
	return ""
}

// A stage is a computation that a document goes through; what it returns is looked through for figures that are none.
type stage struct {
	name string
	// every is how many documents there are to one that goes through it.
	every int
	run   func(c *chanced) (any, error)
}

// chanced is what stages of one document share.
type chanced struct {
	h design.Heater
	e collector.Evaluation
	l layout.Layout
	// fits says that its parts fit together.
	fits  bool
	input cost.Input
	list  cost.List
}

var stages = []stage{
	{"rate", 1, func(c *chanced) (any, error) {
		d, err := collector.Describe(&c.h)
		if err != nil {
			return nil, err
		}
		at := collector.ConditionsAt(&c.h, collector.WinterNoon(&c.h))
		still, err := d.FanOff(at, collector.Tuning{}, nil)
		if err != nil {
			return nil, err
		}
		r, err := d.Rate(at, collector.Tuning{}, nil)
		return []collector.Result{r, still}, err
	}},
	{"evaluate", 5, func(c *chanced) (any, error) {
		var err error
		at := collector.WinterNoon(&c.h)
		c.e, err = collector.Evaluate(&c.h, collector.ConditionsAt(&c.h, at), true)
		return c.e, err
	}},
	{"advise", 10, func(c *chanced) (any, error) {
		for _, f := range advice.Evaluate(&c.e) {
			for _, text := range []advice.Text{f.Finding, f.Evidence, f.Remedy} {
				if s := text.In(units.System{}); strings.Contains(s, "NaN") || strings.Contains(s, "Inf") || strings.Contains(s, "%!") {
					return nil, fmt.Errorf("%s says %q", f.ID, s)
				}
			}
		}
		return nil, nil
	}},
	{"parts", 1, func(c *chanced) (any, error) {
		var err error
		c.l, err = layout.Build(&c.h)
		c.fits = err == nil // parts that do not fit together are told, and are no failure
		return c.l, nil
	}},
	{"steps", 1, func(c *chanced) (any, error) {
		if !c.fits {
			return nil, nil
		}
		return buildplan.Build(&c.h, &c.l)
	}},
	{"buy", 10, func(c *chanced) (any, error) {
		if !c.fits {
			return nil, nil
		}
		c.input = Input(&c.h, &c.l, c.l.Cut(), units.System{})
		var err error
		c.list, err = cost.Build(context.Background(), c.input)
		return c.list, err
	}},
	{"drawings", 5, func(c *chanced) (any, error) {
		if !c.fits {
			return nil, nil
		}
		sc := drawing.Scene{Heater: &c.h, Layout: &c.l, Eval: &c.e}
		for _, svg := range []string{string(sc.Front(300)), string(sc.Section()), string(sc.EnergyBar(400)), string(sc.AirPath(400)),
			string(drawing.Exploded(&c.l, func(string) string { return "" }, nil, 500))} {
			if strings.Contains(svg, "NaN") || strings.Contains(svg, "Inf") {
				return nil, fmt.Errorf("a drawing holds what is no number: %.300s", svg)
			}
		}
		return nil, nil
	}},
	{"packet", 50, func(c *chanced) (any, error) {
		if !c.fits || len(c.list.Lines) == 0 {
			return nil, nil
		}
		p, err := Packet(context.Background(), &c.e, &c.l, &c.list, &c.input)
		if err != nil {
			return nil, err
		}
		var b bytes.Buffer
		return nil, drawing.PacketPDF(&b, p, units.System{Inches: true}, "letter")
	}},
	{"day", 20, func(c *chanced) (any, error) {
		w := simulate.DesignDay(&c.h, simulate.Clear)
		d, err := simulate.Run(&c.h, collector.WinterNoon(&c.h), w)
		if err == simulate.ErrSun {
			return nil, nil
		}
		return d.Heat, err
	}},
	{"season", 50, func(c *chanced) (any, error) {
		y, err := climate.Build(&c.h)
		if err != nil {
			return nil, err
		}
		r, err := season.Run(&c.h, y)
		if err != nil {
			if strings.Contains(err.Error(), "the sun hardly reaches") {
				return nil, nil
			}
			return nil, err
		}
		return r.Year, nil
	}},
}

// slowest is how long a stage may take, by the processor: ten seconds of two cores, on which what takes long is computed.
const slowest = 2 * 10 * time.Second

// Documents drawn by chance from the fields go through every computation without a panic, without a figure that is none and
// within ten seconds each: 320 of them, every one rated, laid out and built, the slower stages for a part of them; 50,000
// with GLADEMBER_LONG.
func TestDocumentsByChance(t *testing.T) {
	n := 320
	if testing.Short() {
		n = 100
	}
	if os.Getenv("GLADEMBER_LONG") != "" {
		n = 50000
	}
	// GLADEMBER_PART=0/2 and 1/2 share the documents between two processes.
	part, parts := 0, 1
	if share := os.Getenv("GLADEMBER_PART"); share != "" {
		if _, err := fmt.Sscanf(share, "%d/%d", &part, &parts); err != nil || parts < 1 {
			t.Fatalf("GLADEMBER_PART=%q is no part like 0/2", share)
		}
	}
	r := rand.New(rand.NewPCG(25, 1))
	ran, took := map[string]int{}, map[string]time.Duration{}
	for i := range n {
		c := &chanced{h: byChance(r)}
		if i/1000%parts != part { // another process runs these
			continue
		}
		if ps := design.Validate(&c.h); len(ps) > 0 {
			t.Fatalf("document %d is not valid though every change was accepted: %v", i, &ps[0])
		}
		for _, s := range stages {
			if i%s.every != 0 {
				continue
			}
			began := cpuTime()
			err := func() (err error) {
				defer func() {
					if p := recover(); p != nil {
						err = fmt.Errorf("panic: %v\n%s", p, debug.Stack())
					}
				}()
				v, err := s.run(c)
				if err == nil && v != nil {
					if bad := notANumber(reflect.ValueOf(v), ""); bad != "" {
						err = fmt.Errorf("%s is no number", bad)
					}
				}
				return err
			}()
			spent := cpuTime() - began
			ran[s.name]++
			took[s.name] += spent
			if spent > slowest {
				err = fmt.Errorf("it took %v", spent)
			}
			if err != nil {
				b, _ := design.Encode(c.h)
				name := fmt.Sprintf("%s/chance-%s-%d.json", os.TempDir(), s.name, i)
				if os.Getenv("GLADEMBER_KEEP") != "" {
					_ = os.WriteFile(name, b, 0o600)
				}
				t.Errorf("document %d, a %s, %s: %v", i, c.h.Absorber.Family, s.name, err)
				break
			}
		}
	}
	for _, s := range stages {
		t.Logf("%s: %d documents, %v each", s.name, ran[s.name],
			(took[s.name] / time.Duration(max(1, ran[s.name]))).Round(time.Microsecond))
	}
}
