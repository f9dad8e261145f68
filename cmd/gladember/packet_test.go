package main

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"gladember/core/buildplan"
	"gladember/core/design"
	"gladember/core/layout"
)

// The packet of three heaters: under 5 MB, its text can be selected (pdftotext of poppler), every step and every part that is cut is in
// it, all fonts are embedded (pdffonts), and no page is empty.
func TestPacketOfThreeHeaters(t *testing.T) {
	if _, err := exec.LookPath("pdftotext"); err != nil {
		t.Skip("pdftotext is not installed")
	}
	for _, name := range []string{"screen-box", "can-columns", "window-panel"} {
		text, h := example(t, name)
		file := filepath.Join(t.TempDir(), "packet.pdf")
		if out, errs, status := command(t, text, "packet", "-", "--out", file, "--paper", "letter", "--units", "in"); status != 0 {
			t.Fatalf("%s: %s %s", name, out, errs)
		}
		info, err := os.Stat(file)
		if err != nil || info.Size() > 5<<20 {
			t.Fatalf("%s: %v, %v", name, info, err)
		}
		raw, err := exec.Command("pdftotext", "-layout", file, "-").Output()
		if err != nil {
			t.Fatal(err)
		}
		pages := strings.Split(strings.TrimSuffix(string(raw), "\f"), "\f")
		for i, p := range pages {
			if len(strings.Fields(p)) < 3 {
				t.Errorf("%s: page %d says %q", name, i+1, p)
			}
		}
		l, err := layout.Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		steps, err := buildplan.Build(&h, &l)
		if err != nil {
			t.Fatal(err)
		}
		all := strings.Join(strings.Fields(string(raw)), " ")
		for _, s := range steps {
			if !strings.Contains(all, s.Title) {
				t.Errorf("%s: the step %q is missing", name, s.Title)
			}
		}
		for _, p := range l.Cut() {
			if !strings.Contains(all, p.Letter+" "+p.Name) && p.Form != layout.Whole {
				t.Errorf("%s: %s %s is missing", name, p.Letter, p.Name)
			}
		}
		fonts, err := exec.Command("pdffonts", file).Output()
		if err != nil {
			t.Fatal(err)
		}
		for _, line := range strings.Split(strings.TrimSpace(string(fonts)), "\n")[2:] {
			if f := strings.Fields(line); f[len(f)-5] != "yes" {
				t.Errorf("%s: a font is not embedded: %s", name, line)
			}
		}
	}
}

// The commands of buying and building print what scripts read, for every example; wrong flags end with status 2, one line, and nothing
// on standard output.
func TestBuyAndStepsCommands(t *testing.T) {
	for _, name := range design.ExampleNames() {
		text, _ := example(t, name)
		for _, c := range []struct{ command, key string }{{"buy", "lines"}, {"steps", "steps"}} {
			out, errs, status := command(t, text, c.command, "-")
			var r map[string]json.RawMessage
			if status != 0 || json.Unmarshal([]byte(out), &r) != nil || len(r[c.key]) < 3 {
				t.Errorf("%s %s: %d %s %.80s", c.command, name, status, errs, out)
			}
		}
	}
	text, _ := example(t, "screen-box")
	for _, args := range [][]string{{"buy", "-", "--times", "0"}, {"buy", "-", "--units", "furlong"}, {"buy", "-", "--stock",
		"nowhere.json"},
		{"steps", "-", "--shop", "400"}, {"steps", "-", "--humidity", "7"}, {"packet", "-"}, {"packet", "-", "--out", "x.pdf", "--paper",
			"a5"},
		{"packet", "-", "--out", "/nowhere/x.pdf"}} {
		out, errs, status := command(t, text, args...)
		if status != 2 || out != "" || strings.Count(strings.TrimSpace(errs), "\n") != 0 || errs == "" {
			t.Errorf("%v: %d %q %q", args, status, out, errs)
		}
	}
	bad := filepath.Join(t.TempDir(), "stock.json")
	for _, stock := range []string{`{"things":[{"kind":"moon","count":1}]}`, `{"prices":[{"what":"x","price":-1}]}`, `[`} {
		if err := os.WriteFile(bad, []byte(stock), 0o600); err != nil {
			t.Fatal(err)
		}
		if out, errs, status := command(t, text, "buy", "-", "--stock", bad); status != 2 || out != "" || errs == "" {
			t.Errorf("%s: %d %q %q", stock, status, out, errs)
		}
	}
}
