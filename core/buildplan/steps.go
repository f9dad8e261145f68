package buildplan

import (
	"fmt"
	"slices"

	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// Step is one thing to do.
type Step struct {
	// ID stays the same between designs; Title says what is done.
	ID, Title string
	// Parts are the letters of the parts that it takes, and On those that are there already
	// and that it works on.
	Parts, On []string
	// After are the steps that must be done before.
	After []string
	// Do says how it is done, a sentence each; Jig is what makes it easy to do right.
	Do  []units.Text
	Jig units.Text
	// Tools are what to have ready.
	Tools []string
	// Gate is what must hold at its end; nil for none.
	Gate *Gate
	// Minutes is how long it takes one who has done such things before; Helpers is how many
	// hands more it wants.
	Minutes float64
	Helpers int
	// Cure is what must dry afterwards; nil for nothing.
	Cure *Cure
	// Outdoors says that it is done outdoors, and Sunny that it wants a sunny day; Dry that
	// it must not rain.
	Outdoors, Sunny, Dry bool
	// Cautions are what can hurt at it.
	Cautions []units.Text
	// Faults are the slips of workmanship that happen here, see [Faults].
	Faults []string
}

// Weather says in a word what weather it wants; empty for any.
func (s *Step) Weather() string {
	switch {
	case s.Sunny:
		return "a sunny day"
	case s.Dry:
		return "dry weather"
	}
	return ""
}

// part is a letter with what decides its step.
type part struct {
	letter, step string
	count        int
}

// planner gathers the steps of one heater.
type planner struct {
	h     *design.Heater
	l     *layout.Layout
	parts []layout.Part
	steps []Step
	rest  []part // not taken yet
}

// Build returns the steps of a laid-out heater in their order. The error names a part that
// no step takes.
func Build(h *design.Heater, l *layout.Layout) ([]Step, error) {
	p := &planner{h: h, l: l, parts: l.Cut()}
	for _, x := range p.parts {
		if x.There {
			continue
		}
		if x.Kind.Step == "" {
			return nil, fmt.Errorf("no step of building takes %s, %s", x.Letter, x.Name)
		}
		p.rest = append(p.rest, part{x.Letter, x.Kind.Step, x.Count})
	}
	if h.Indoors() {
		p.indoors()
	} else {
		p.box()
		p.mount()
		p.start()
	}
	p.settle()
	return p.steps, nil
}

// settle takes out what waits for a step that this heater does not have.
func (p *planner) settle() {
	has := map[string]bool{}
	for _, s := range p.steps {
		has[s.ID] = true
	}
	for i := range p.steps {
		s := &p.steps[i]
		s.After = slices.DeleteFunc(s.After, func(id string) bool { return !has[id] })
		if s.Gate != nil && !has[s.Gate.Hides] {
			s.Gate.Hides = ""
		}
	}
}

// take gives a step its parts, and says how many pieces they are.
func (p *planner) take(s *Step) (pieces int) {
	p.rest = slices.DeleteFunc(p.rest, func(x part) bool {
		if x.step != s.ID {
			return false
		}
		s.Parts, pieces = append(s.Parts, x.letter), pieces+x.count
		return true
	})
	return pieces
}

// add appends a step with its parts; one that would take none though it should is left out.
// Each piece adds so many minutes.
func (p *planner) add(s Step, each float64, needsParts bool) {
	n := p.take(&s)
	if needsParts && n == 0 {
		return
	}
	s.Minutes += each * float64(n)
	if len(p.steps) > 0 && s.After == nil {
		s.After = []string{p.steps[len(p.steps)-1].ID}
	}
	p.steps = append(p.steps, s)
}

// letters are those of the parts of some kinds.
func (p *planner) letters(kinds ...*layout.PartKind) (out []string) {
	for _, x := range p.parts {
		if slices.Contains(kinds, x.Kind) && !slices.Contains(out, x.Letter) {
			out = append(out, x.Letter)
		}
	}
	return out
}

// Times of handwork, min. Common practice, no source; a beginner takes twice as long.
const (
	perHole    = 12.0
	perJoint   = 8.0
	perBoard   = 10.0
	perScreen  = 12.0
	perSheet   = 20.0
	perCan     = 1.2
	perPipe    = 10.0
	perPane    = 30.0
	perMeter   = 3.0 // of seam
	perOpening = 60.0
)

// say is a sentence without figures.
func say(format string, values ...units.Value) units.Text { return units.Say(format, values...) }

// says are several.
func says(formats ...string) (out []units.Text) {
	for _, f := range formats {
		out = append(out, units.Say(f))
	}
	return out
}

// boxes is how many boxes are built.
func (p *planner) boxes() float64 { return max(1, float64(p.h.Array.Boxes)) }

// Hours is the work of steps together, h.
func Hours(steps []Step) (h float64) {
	for _, s := range steps {
		h += s.Minutes / 60
	}
	return h
}
