package formats

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"gladember/core/measure"
	"gladember/core/units"
)

func read(t *testing.T, text string) ([]measure.Sample, []Reject, *Table) {
	t.Helper()
	tb, err := Open(strings.NewReader(text))
	if err != nil {
		t.Fatalf("%q: %v", text, err)
	}
	s, bad, err := tb.Read(tb.Guess, time.FixedZone("", 3600), units.System{})
	if err != nil {
		t.Fatalf("%q: %v (%+v)", text, err, tb.Guess)
	}
	return s, bad, tb
}

// The same two readings in every dialect a logger or a person writes.
func TestDialects(t *testing.T) {
	for name, text := range map[string]string{
		"plain":         "time,inlet,outlet,outdoor\n2026-02-10 12:00:00,18.5,41.0,-2.5\n2026-02-10 12:00:30,18.5,41.5,-2.5\n",
		"no heading":    "2026-02-10 12:00,18.5,41.0,-2.5\n2026-02-10 12:00:30,18.5,41.5,-2.5\n",
		"decimal comma": "Zeit;Inlet °C;Outlet °C;Outdoor °C\n10.02.2026 12:00:00;18,5;41,0;-2,5\n10.02.2026 12:00:30;18,5;41,5;-2,5\n",
		"tabs, marks": "\xef\xbb\xbfTimestamp\tRoom\tHot " +
			"air\tOutside\r\n2026-02-10T12:00:00+01:00\t18.5\t41\t-2.5\r\n2026-02-10T12:00:30+01:00\t18.5\t41.5\t-2.5\r\n",
		"Fahrenheit":    "Date,Return (F),Supply (F),Ambient (F)\n2/10/2026 12:00:00,65.3,105.8,27.5\n2/13/2026 12:00:30,65.3,106.7,27.5\n",
		"date and time": "Date,Time,In C,Out C,Outside C\n2026-02-10,12:00:00,18.5,41.0,-2.5\n2026-02-10,12:00:30,18.5,41.5,-2.5\n",
		"a preamble": "Logger 7\nSerial 0012\n\"time\",\"inlet\",\"outlet\",\"outdoor\"\n2026-02-10 " +
			"12:00:00,18.5,41.0,-2.5\n2026-02-10 12:00:30,18.5,41.5,-2.5\n",
		"latin-1": "time;inlet \xb0C;outlet \xb0C;outdoor \xb0C\n10.02.2026 12:00;18,5;41,0;-2,5\n10.02.2026 12:01;18,5;41,5;-2,5\n",
		"epoch":   "time,inlet,outlet,outdoor\n1770721200,18.5,41.0,-2.5\n1770721230,18.5,41.5,-2.5\n",
	} {
		s, bad, tb := read(t, text)
		if len(s) != 2 || len(bad) != 0 {
			t.Errorf("%s: %d readings, rejects %v, guess %+v", name, len(s), bad, tb.Guess)
			continue
		}
		if math.Abs(s[0].Inlet-18.5) > 1e-9 || math.Abs(s[1].Outlet-41.5) > 1e-9 || math.Abs(s[0].Outdoor+2.5) > 1e-9 {
			t.Errorf("%s: %+v, guess %+v", name, s, tb.Guess)
		}
		if got := s[0].At.UTC().Format("2006-01-02 15:04"); got != "2026-02-10 11:00" {
			t.Errorf("%s: first reading at %s", name, got)
		}
	}
}

func TestColumnsAreKnownByTheirNames(t *testing.T) {
	_, _, tb := read(t, "time,outdoor,duct speed m/s,out of box,sun W/m2,from room\n2026-02-10 12:00,1,2.5,40,800,18\n2026-02-10 "+
		"12:01,1,2.5,40,800,18\n")
	for c, want := range map[Channel]int{Time: 0, Outdoor: 1, Speed: 2, Outlet: 3, Sun: 4, Inlet: 5} {
		if got := tb.Guess.Index(c); got != want {
			t.Errorf("%s is read from column %d, want %d", c, got, want)
		}
	}
}

func TestBadFilesSayWhatIsWrong(t *testing.T) {
	r := rand.New(rand.NewPCG(23, 24))
	noise := make([]byte, 4096)
	for i := range noise {
		noise[i] = byte(r.Uint32())
	}
	for name, text := range map[string]string{"empty": "", "blank": " \n \n", "noise": string(noise),
		"prose": "The sun shone.\nIt was warm.\n", "heading only": "time,inlet,outlet\n"} {
		tb, err := Open(strings.NewReader(text))
		if err == nil {
			_, _, err = tb.Read(tb.Guess, time.UTC, units.System{})
		}
		if err == nil || len(err.Error()) < 20 {
			t.Errorf("%s: error %v", name, err)
		}
	}
	s, bad, _ := read(t, "time,inlet,outlet\n2026-02-10 12:00,18,40\nlater,18,40\n2026-02-10 12:02,--,40\n2026-02-10 12:03,18,41\n")
	if len(s) != 2 || len(bad) != 2 || bad[0].Line != 3 || bad[1].Line != 4 {
		t.Errorf("%d readings, rejects %+v", len(s), bad)
	}
	// Lines are counted as an editor counts them, blank ones and notes before the table too.
	_, bad, _ = read(t, "logger 7\n\ntime,inlet,outlet\n\n2026-02-10 12:00,18,40\n\n\nlater,18,40\n2026-02-10 12:02,18,41\n")
	if len(bad) != 1 || bad[0].Line != 8 {
		t.Errorf("rejects %+v, wanted line 8", bad)
	}
}

// What no probe can have read is left out with its line: the value alone where inlet and outlet stand.
func TestFaultCodes(t *testing.T) {
	for _, code := range []string{"-999", "9999", "1e308", "-127"} {
		s, bad, _ := read(t, "time,inlet,outlet,outdoor\n2026-02-10 12:00,18,40,"+code+"\n2026-02-10 12:01,"+code+
			",40,3\n2026-02-10 12:02,18,40,3\n")
		if len(s) != 2 || !math.IsNaN(s[0].Outdoor) || s[1].Outdoor != 3 {
			t.Errorf("%s: %+v", code, s)
		}
		if len(bad) != 2 || !bad[0].Kept || bad[0].Line != 2 || bad[1].Kept || bad[1].Line != 3 || len(bad[0].Reason) > 90 ||
			!strings.Contains(bad[0].Reason, "outdoor") {
			t.Errorf("%s: %+v", code, bad)
		}
	}
	tb, err := Open(strings.NewReader("time,inlet,outlet,outdoor\n2026-02-10 12:00,18,40,-999\n"))
	if err != nil {
		t.Fatal(err)
	}
	if _, bad, _ := tb.Read(tb.Guess, time.UTC, units.System{Fahrenheit: true}); len(bad) != 1 || !strings.Contains(bad[0].Reason,
		"-94 to 140 °F") {
		t.Errorf("in Fahrenheit: %+v", bad)
	}
}

// Short words are looked for by themselves.
func TestHeadings(t *testing.T) {
	tb, err := Open(strings.NewReader("Index,Line,Time,T_in (C),T out,Ambient\n1,7,2026-02-10 12:00,18,40,3\n2,7,2026-02-10 " +
		"12:01,18,41,3\n"))
	if err != nil {
		t.Fatal(err)
	}
	if want := []Channel{Ignore, Ignore, Time, Inlet, Outlet, Outdoor}; !slices.Equal(tb.Guess.Columns, want) {
		t.Errorf("%q, wanted %q", tb.Guess.Columns, want)
	}
}

func FuzzOpen(f *testing.F) {
	for _, s := range []string{"time,inlet,outlet\n2026-02-10 12:00,18,40\n", "a;b\n1,5;2\n", "\xff\xfe1\x00,\x002\x00", "\"", ",,\n,,"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		tb, err := Open(strings.NewReader(s))
		if err != nil {
			return
		}
		defer tb.Close()
		samples, _, err := tb.Read(tb.Guess, time.UTC, units.System{})
		if err != nil {
			return
		}
		for _, x := range samples {
			if math.IsNaN(x.Inlet) || math.Abs(x.Outlet) > 300 || x.At.Year() < 1990 {
				t.Fatalf("%q gave %+v", s, x)
			}
		}
	})
}

func ExampleOpen() {
	t, _ := Open(strings.NewReader("time;inlet;outlet\n10.02.2026 12:00;18,5;41,0\n"))
	s, _, _ := t.Read(t.Guess, time.UTC, units.System{})
	fmt.Println(s[0].At.Format(time.DateTime), s[0].Outlet)
	// Output: 2026-02-10 12:00:00 41
}
