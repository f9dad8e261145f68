package advice

import (
	"fmt"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// A row is called uneven where its poorest branch gets less than this of an
// even share. Common practice, no source.
const unevenRow = 0.9

// widestHeader is that which is offered, m.
const widestHeader = 0.6

// rowUneven: headers that do not share the air out, and boxes that resist it
// unlike each other.
// The shares come from the manifold (package airflow) and from what each branch
// resists at its own temperature. Tried are orifices or dampers, headers of the
// next bores, and drawing the air off at the other end, which evens a U-shaped
// manifold out.
func rowUneven(e *assessment) []Finding {
	h := &e.Heater
	bs := e.Running.Branches
	even := collector.Evenness(bs)
	if len(bs) < 2 || even >= unevenRow {
		return nil
	}
	// The branch with the least air, and the share of the one with the most.
	worst, most := 0, 0.0
	for i, b := range bs {
		if b.Share < bs[worst].Share {
			worst = i
		}
		most = max(most, b.Share)
	}
	f := Finding{ID: "uneven-row", Severity: Loss, Topic: Airflow, Title: "Airflow is uneven between the boxes",
		Finding: say("Branch %v gets %v of an even share, the one with the most air %v.", word(fmt.Sprint(worst+1)),
			q(units.Share, even), q(units.Share, most)),
		Evidence: say("Headers of %v carry %v, and its speed changes the pressure from branch to branch. The branch with the least air "+
			"has an outlet temperature of %v.", q(units.Bore, h.Array.Header), q(units.Flow, e.Running.Volume),
			q(units.Temperature, bs[worst].Outlet))}
	evenness := func(r *collector.Result) Value { return q(units.Share, collector.Evenness(r.Branches)) }
	var options []option
	if h.Array.Balance == "none" {
		options = append(options, option{[]design.Change{design.Set(design.ArrayBalance, "orifices")}, func(r collector.Result) Text {
			return say("Balance the branches with orifices or dampers: the one with the least air then gets %v.", evenness(&r))
		}})
	}
	if h.Array.Header > 0 {
		for _, bore := range bores {
			if bore > h.Array.Header+0.004 && bore <= widestHeader {
				options = append(options, option{[]design.Change{design.Set(design.ArrayHeader, bore)}, func(r collector.Result) Text {
					return say("Use headers of %v: the branch with the least air then gets %v.", q(units.Bore, bore), evenness(&r))
				}})
			}
		}
		other, words := "far-end", "Take the air out at the far end of the row"
		if h.Array.Return == "far-end" {
			other, words = "same-end", "Take the air out at the inlet's end of the row"
		}
		options = append(options, option{[]design.Change{design.Set(design.ArrayReturn, other)}, func(r collector.Result) Text {
			return say("%v: the branch with the least air then gets %v.", word(words), evenness(&r))
		}})
	}
	if o, r, ok := best(e, 0.002, options); ok {
		return f.with(e, o, r)
	}
	// A row stays uneven where its boxes would give no more heat if it were
	// not.
	f.Severity = Note
	f.Remedy = say("Leave it: wider headers, orifices or a reverse return would give hardly more heat.")
	return []Finding{f}
}

// nextBox tells what one more box of a row, or one more group, would add
// through the year.
// It is the marginal heat: less than a present box gives, since the same need
// is left for more boxes. Where fan and ducts were not chosen by the builder
// they grow with the row.
func nextBox(x *year) []Finding {
	a := x.h.Array
	if a.Boxes < 2 || x.h.Indoors() {
		return nil
	}
	// Rows in groups grow by a whole group.
	more, what := a.Boxes+1, "box"
	if a.Join == "groups" {
		more, what = a.Boxes+a.Group, "group"
	}
	h, err := design.Apply(*x.h, units.System{}, design.Set(design.ArrayBoxes, more))
	if err != nil {
		return nil
	}
	r, err := x.y.Run(&h)
	if err != nil {
		return nil
	}
	gain := r.Year.Net() - x.r.Year.Net()
	each := x.r.Year.Net() / float64(a.Boxes) * float64(more-a.Boxes)
	return []Finding{{ID: "year-next-box", Severity: Note, Topic: Yield, Title: fmt.Sprintf("One more %s", what), YearGain: gain,
		HasYear: true,
		Finding: say("One more %v would add %v of useful heat a year, less the fan's electricity; the present ones give %v each.",
			word(what), q(units.Energy, gain), q(units.Energy, each)),
		Evidence: say("The year was computed again with %v boxes; ducts and fan follow the size where you have not chosen them.",
			word(fmt.Sprint(more))),
		Remedy: say("Compare it with the cost: each further box adds less useful heat.")}}
}
