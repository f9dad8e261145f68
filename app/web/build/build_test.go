package build_test

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"gladember/app/web/webtest"
	"gladember/core/design"
	"gladember/core/layout"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// diagonal is the diagonal of a heater's frame, m.
func diagonal(t *testing.T, h design.Heater) float64 {
	t.Helper()
	l, err := layout.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	return l.Diagonal
}

// mm writes a length as it is typed.
func mm(v float64) string { return fmt.Sprintf("%.1f mm", 1000*v) }

// By the phone: a gate is not passed unsigned; a diagonal 6 mm off is judged and said in words; measured again it passes; the next
// step is shown. A length that is none keeps its text. A script in a reason is shown as text.
func TestGateIsJudged(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/build?step=frame", 390, 844)
	done := func(step string) bool {
		for _, x := range webtest.Must(s.Steps(t.Context(), 2))(t) {
			if x.Step == step {
				return true
			}
		}
		return false
	}
	press := func() {
		p.MustElementR(".step-card button", "^Done$").MustClick()
	}
	said := func(want string) {
		t.Helper()
		webtest.WaitFor(t, func() bool {
			return strings.Contains(p.MustEval(`() => document.querySelector(".step-card").textContent`).Str(), want)
		})
	}
	press()
	said("Sign every line and enter every measurement first")
	if done("frame") {
		t.Fatal("an empty gate was passed")
	}
	l := diagonal(t, webtest.StateOf(t, s, 2).Document)
	p.MustElement("#m-0").MustInput(mm(l + 0.003))
	p.MustElement("#m-1").MustInput(mm(l - 0.003))
	press()
	said("The diagonals differ by 6 mm")
	p.MustElement("#m-1").MustSelectAllText().MustInput("long")
	press()
	said(`"long" is not a length`)
	p.MustElement("#m-0").MustSelectAllText().MustInput(mm(l))
	p.MustElement("#m-1").MustSelectAllText().MustInput(mm(l + 0.001))
	press()
	said("It waits for: Bore the holes of the ports")
	p.MustElement(`input[name="skip"]`).MustInput(`<script>document.title="gone"</script>`)
	press()
	webtest.WaitFor(t, func() bool { return done("frame") })
	p.MustNavigate(base + "/h/2/build?step=frame").MustWaitLoad()
	said(`<script>document.title="gone"</script>`)
	if p.MustInfo().Title == "gone" {
		t.Error("a reason ran as a script")
	}
	p.MustElementR("button", "Not done yet").MustClick()
	webtest.WaitFor(t, func() bool { return !done("frame") })
}

// A gap that was measured at the screens' edges is taken by the prediction as measured, and undo takes it back.
func TestGapMovesThePrediction(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/build?step=seal", 1280, 900)
	before := webtest.StateOf(t, s, 2).Document.Absorber.Screens.Bypass
	p.MustElement("#gap").MustInput("8 mm")
	p.MustElementR("button", "Use in the prediction").MustClick()
	webtest.WaitFor(t, func() bool {
		d := webtest.StateOf(t, s, 2).Document
		return d.Absorber.Screens.Bypass != before && d.Entry(design.ScreensBypass).Origin == design.Measured
	})
	webtest.WaitFor(t, func() bool {
		return strings.Contains(p.MustEval(`() => document.querySelector("#notice").textContent`).Str(), "as measured")
	})
	p.MustElementR("button", "^undo$").MustClick()
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 2).Document.Absorber.Screens.Bypass == before })
}

// What is measured at a step takes the place of the estimate, as measured; what is no length or out of bounds is refused in words and
// stays typed.
func TestMeasuredAtAStep(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/build?step=insulate", 390, 844)
	use := func(typed string) {
		p.MustElement("#built").MustSelectAllText().MustInput(typed)
		p.MustElementR("button", "Use in the prediction").MustClick()
	}
	for _, typed := range []string{"thick", "9 m"} {
		use(typed)
		webtest.WaitFor(t, func() bool {
			return p.MustEval(`() => [...document.querySelectorAll(".gap .field-error")].map(e => e.textContent).join()`).Str() != "" &&
				p.MustEval(`() => document.querySelector("#built").value`).Str() == typed
		})
	}
	use("10 mm")
	webtest.WaitFor(t, func() bool {
		d := webtest.StateOf(t, s, 3).Document
		return d.Box.EdgeFoam == 0.010 && d.Entry(design.BoxEdgeFoam).Origin == design.Measured
	})
}

// The list of what careless work costs comes as a job, the dearest first, and the step then carries its figure.
func TestWorkmanshipList(t *testing.T) {
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/build", 1280, 900)
	p.MustElementR("button", "Compute the list").MustClick()
	webtest.WaitFor(t, func() bool {
		es, err := p.Elements("#worked tbody tr")
		return err == nil && len(es) >= 4
	})
	p.MustNavigate(base + "/h/3/build?step=paint").MustWaitLoad()
	if text := p.MustElement(".step-card").MustText(); !strings.Contains(text, "Thin paint") {
		t.Errorf("the step says %q", text)
	}
}

// A step that slips changes the plan and the calendar file, which an independent parser reads back: python3-icalendar.
func TestSlipMovesTheCalendar(t *testing.T) {
	if err := exec.Command("/usr/bin/python3", "-c", "import icalendar").Run(); err != nil {
		t.Skip("python3-icalendar is not installed")
	}
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/build", 1280, 900)
	events := func() []string {
		text := p.MustEval(`async () => (await fetch(document.querySelector('a[href$="plan.ics"]').href)).text()`).Str()
		file := filepath.Join(t.TempDir(), "plan.ics")
		if err := os.WriteFile(file, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
		out, err := exec.Command("/usr/bin/python3", "-c", `
import icalendar, sys
for e in icalendar.Calendar.from_ical(open(sys.argv[1], "rb").read()).walk("VEVENT"):
    a, b = e.decoded("dtstart"), e.decoded("dtend")
    assert a < b and a.tzinfo is not None
    print(a.isoformat(), e["summary"])`, file).CombinedOutput()
		if err != nil {
			t.Fatalf("%v: %s", err, out)
		}
		return strings.Split(strings.TrimSpace(string(out)), "\n")
	}
	before := events()
	if len(before) < 8 {
		t.Fatalf("%v", before)
	}
	p.MustElementR("button", "Skip the next evening").MustClick()
	first := p.MustElement(".strip-of-evenings b").MustText()
	webtest.WaitFor(t, func() bool {
		return p.MustEval(`() => document.querySelector(".strip-of-evenings b").textContent`).Str() != first || events()[0] != before[0]
	})
	if after := events(); after[0] <= before[0] || len(after) < len(before)-1 {
		t.Errorf("from %v to %v", before[0], after[0])
	}
}

// From a new version to the first evening, on the phone: the version is made, days by daylight are chosen, the first step is signed
// and measured. Rain on the day of the painting moves it to another day, in the plan and in the calendar file; a second touch on
// "rain" takes it back.
func TestFromVersionToFirstEvening(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/box", 390, 844)
	hand := webtest.NewHand(t, p)
	first := webtest.StateOf(t, s, 2).Version
	webtest.Field(p, `form[action$="/branch"] button`)
	wait := p.MustWaitNavigation()
	p.MustElement(`form[action$="/branch"] button`).MustClick()
	wait()
	if webtest.StateOf(t, s, 2).Version == first {
		t.Fatal("no new version was made")
	}
	p.MustNavigate(base + "/h/2/build").MustWaitLoad()
	calm := func() { webtest.WaitFor(t, func() bool { return !p.MustHas(".htmx-request") }) }
	webtest.Field(p, "#f-workshop-bench-days").MustSelect("every day")
	calm()
	hand.TypeIn("#f-workshop-bench-from_h", "11")
	p.MustElement("#f-workshop-bench-from_h").MustBlur()
	webtest.WaitFor(t, func() bool {
		b := webtest.StateOf(t, s, 2).Document.Workshop.Bench
		return b.Days == "every" && b.From == 11
	})
	calm()
	// The first evening's work: the holes of the ports.
	for _, e := range p.MustElements(".gate .look input") {
		e.MustClick()
	}
	for _, row := range p.MustElements(".gate .measure") {
		want := strings.TrimPrefix(row.MustElement(".soft-text").MustText(), "should be ")
		row.MustElement("input").MustInput(strings.ReplaceAll(want, "\u00a0", " "))
	}
	p.MustElementR(".step-card button", "^Done$").MustClick()
	webtest.WaitFor(t, func() bool {
		steps := webtest.Must(s.Steps(t.Context(), 2))(t)
		return len(steps) == 1 && steps[0].Step == "bore"
	})
	calm()
	// Rain on the day on which the absorber was to be painted.
	day := func() string {
		return p.MustEval(`() => [...document.querySelectorAll(".strip-of-evenings li")]
			.filter(e => e.textContent.includes("Paint the absorber")).map(e => e.querySelector("b").textContent).join("|")`).Str()
	}
	event := func() string {
		return p.MustEval(`async () => (await (await fetch(document.querySelector('a[href$="plan.ics"]').href)).text())
			.split("BEGIN:VEVENT").filter(e => e.includes("SUMMARY:Paint the " +
				"absorber")).map(e => /DTSTART:(\S+)/.exec(e)[1]).join("|")`).Str()
	}
	was, at := day(), event()
	if was == "" || at == "" {
		t.Fatalf("painting is planned on %q, in the calendar %q", was, at)
	}
	rain := func(day string) {
		p.MustEval(`(day) => [...document.querySelectorAll(".strip-of-evenings li")]
			.find(e => e.querySelector("b").textContent === day).querySelector(".skies button").click()`, day)
	}
	rain(was)
	webtest.WaitFor(t, func() bool { return day() != was })
	calm()
	if now := event(); now <= at {
		t.Errorf("the calendar has the painting at %s, before the rain at %s", now, at)
	}
	rain(was)
	webtest.WaitFor(t, func() bool { return day() == was && event() == at })
}
