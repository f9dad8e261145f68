package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"gladember/core/design"
	"gladember/core/layout"
)

// command runs the program and returns what it prints.
func command(t *testing.T, in string, args ...string) (out, errs string, status int) {
	t.Helper()
	var o, e bytes.Buffer
	status = run(context.Background(), args, strings.NewReader(in), &o, &e)
	return o.String(), e.String(), status
}

// example is the JSON of a named heater.
func example(t *testing.T, name string) (text string, h design.Heater) {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	b, err := design.Encode(h)
	if err != nil {
		t.Fatal(err)
	}
	return string(b), h
}

// Every DXF is read back by ezdxf with the part's own outline, holes and layers, in millimeters and in inches.
func TestDXFReadBack(t *testing.T) {
	if err := exec.Command("/usr/bin/python3", "-c", "import ezdxf").Run(); err != nil {
		t.Skip("SKIPPED: python3-ezdxf is not installed, so no DXF is read back")
	}
	for _, name := range []string{"can-columns", "back-pass-plate", "screen-box"} {
		text, h := example(t, name)
		l, err := layout.Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		for in, scale := range map[string]float64{"mm": 1000, "in": 1 / 0.0254} {
			dir := t.TempDir()
			out, errs, status := command(t, text, "drawings", "-", "--out", dir, "--format", "dxf", "--units", in)
			if status != 0 {
				t.Fatal(errs)
			}
			var listed struct{ Files []struct{ File, Of string } }
			if err := json.Unmarshal([]byte(out), &listed); err != nil {
				t.Fatal(err)
			}
			files, _ := filepath.Glob(filepath.Join(dir, "*.dxf"))
			if len(files) != len(listed.Files) {
				t.Fatalf("%d files are there, %d are listed", len(files), len(listed.Files))
			}
			b, err := exec.Command("/usr/bin/python3", append([]string{"testdata/dxf.py"}, files...)...).Output()
			if err != nil {
				t.Fatal(err)
			}
			var read map[string]struct {
				Release  string
				Layers   []string
				Outlines []struct {
					Layer   string
					Closed  bool
					Corners [][2]float64
				}
				Holes []struct {
					Layer          string
					X, Y, Diameter float64
				}
			}
			if err := json.Unmarshal(b, &read); err != nil {
				t.Fatal(err)
			}
			near := func(a, b float64) bool { return math.Abs(a-b) < 1e-3 }
			found := 0
			for _, p := range l.Cut() {
				for file, d := range read {
					if !strings.HasPrefix(filepath.Base(file), p.Letter+"-") {
						continue
					}
					found++
					w, ht := p.Flat()
					if d.Release != "AC1009" || len(d.Outlines) != 1 || d.Outlines[0].Layer != "CUT" || !d.Outlines[0].Closed ||
						len(d.Outlines[0].Corners) != 4 || !near(d.Outlines[0].Corners[2][0], w*scale) ||
						!near(d.Outlines[0].Corners[2][1], ht*scale) {
						t.Fatalf("%s %s of %v x %v m is read as %+v", name, p.Name, w, ht, d)
					}
					if len(d.Holes) != len(p.Bores) {
						t.Fatalf("%s %s has %d holes, %d are read", name, p.Name, len(p.Bores), len(d.Holes))
					}
					for i, b := range p.Bores {
						x := d.Holes[i]
						if x.Layer != "DRILL" || !near(x.X, b.X*scale) || !near(x.Y, b.Y*scale) || !near(x.Diameter, b.Diameter*scale) {
							t.Errorf("%s %s: hole %+v is read as %+v", name, p.Name, b, x)
						}
					}
					if strings.Join(d.Layers, " ") == "" || !strings.Contains(strings.Join(d.Layers, " "), "MARK") {
						t.Errorf("layers %v", d.Layers)
					}
				}
			}
			if found < 8 {
				t.Errorf("%s: only %d parts were read back", name, found)
			}
		}
	}
}

// SVG drawings are files of their own, with the figures of the holes from the datum edges; wrong flags write nothing.
func TestDrawingsAsSVG(t *testing.T) {
	text, h := example(t, "can-columns")
	dir := t.TempDir()
	if _, errs, status := command(t, text, "drawings", "-", "--out", dir); status != 0 {
		t.Fatal(errs)
	}
	l, _ := layout.Build(&h)
	for _, p := range l.Cut() {
		if p.Name != "header board" {
			continue
		}
		b, err := os.ReadFile(filepath.Join(dir, p.Letter+"-header-board.svg"))
		if err != nil {
			t.Fatal(err)
		}
		svg := string(b)
		if !strings.HasPrefix(svg, `<svg xmlns="http://www.w3.org/2000/svg"`) || strings.Count(svg, `class="bore"`) != len(p.Bores) ||
			strings.Count(svg, `class="datum"`) != 2 || !strings.Contains(svg, ">1,052<") {
			t.Errorf("the header board is drawn as %.400s", svg)
		}
	}
	for _, bad := range [][]string{{"--format", "png"}, {"--units", "ft"}, nil} {
		args := append([]string{"drawings", "-"}, bad...)
		into := filepath.Join(t.TempDir(), "new")
		if bad != nil {
			args = append(args, "--out", into)
		}
		out, errs, status := command(t, text, args...)
		if _, err := os.Stat(into); status != 2 || out != "" || strings.Count(errs, "\n") != 1 || err == nil {
			t.Errorf("%v: status %d, output %q, message %q", bad, status, out, errs)
		}
	}
}

// The ruler of a template page, drawn by poppler at 254 dots to the inch, measures 100 mm, or 4 in; texts can be selected,
// and the fonts are embedded. Source of the measure: the picture itself.
func TestPDFTemplateIsTrueToScale(t *testing.T) {
	for _, tool := range []string{"pdftoppm", "pdftotext", "pdffonts"} {
		if _, err := exec.LookPath(tool); err != nil {
			t.Skip("SKIPPED: poppler-utils is not installed, so no PDF is looked at")
		}
	}
	text, _ := example(t, "can-columns")
	for _, x := range []struct {
		paper, in string
		long      float64
	}{{"a4", "mm", 100}, {"letter", "in", 101.6}} {
		dir := t.TempDir()
		_, errs, status := command(t, text, "drawings", "-", "--out", dir, "--format", "pdf", "--paper", x.paper, "--units", x.in)
		if status != 0 {
			t.Fatal(errs)
		}
		file := filepath.Join(dir, "drawings.pdf")
		words, err := exec.Command("pdftotext", "-layout", file, "-").Output()
		if err != nil {
			t.Fatal(err)
		}
		pages := strings.Split(string(words), "\f")
		at := 0
		for i, p := range pages {
			if strings.Contains(p, "header board: true size, column 1") {
				at = i + 1
			}
		}
		if at == 0 || !strings.Contains(string(words), "bottom board, 1 ×") || !strings.Contains(pages[at-1], "This line measures") {
			t.Fatalf("%d pages, template at %d: %.300s", len(pages), at, words)
		}
		fonts, err := exec.Command("pdffonts", file).Output()
		if err != nil {
			t.Fatal(err)
		}
		for _, line := range strings.Split(strings.TrimSpace(string(fonts)), "\n")[2:] {
			if f := strings.Fields(line); f[len(f)-5] != "yes" { // name type encoding emb sub uni object ID
				t.Errorf("a font is not embedded: %s", line)
			}
		}
		n := strconv.Itoa(at)
		picture := filepath.Join(dir, "page")
		if err := exec.Command("pdftoppm", "-gray", "-r", "254", "-f", n, "-l", n, "-singlefile", file, picture).Run(); err != nil {
			t.Fatal(err)
		}
		got := longestLine(t, picture+".pgm") / 10
		t.Logf("%s: the ruler measures %.2f mm", x.paper, got)
		if math.Abs(got-x.long) > 0.3 {
			t.Errorf("%s: the ruler measures %.2f mm, not %v", x.paper, got, x.long)
		}
	}
}

// longestLine is the longest dark run in the last 26 mm of a gray picture, where a page's ruler is, in dots.
func longestLine(t *testing.T, file string) (most float64) {
	t.Helper()
	b, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	var w, h, white int
	if _, err := fmt.Sscanf(string(b[:40]), "P5\n%d %d\n%d\n", &w, &h, &white); err != nil {
		t.Fatal(err)
	}
	pixels := b[len(b)-w*h:]
	for y := h - 260; y < h; y++ { // the last 26 mm
		run := 0.0
		for x := range w {
			if pixels[y*w+x] > 160 {
				run = 0
				continue
			}
			run++
			most = max(most, run)
		}
	}
	return most
}

// Lists that cannot be cut end with status 2, one line, and nothing on standard output.
func TestBadCuttingLists(t *testing.T) {
	part := `"parts":[{"name":"p","length_mm":10,"count":1}]`
	for name, list := range map[string]string{
		"negative":        `{"stock":[{"name":"a","length_mm":-1}],` + part + `}`,
		"zero":            `{"stock":[{"name":"a","length_mm":0}],` + part + `}`,
		"too large":       `{"stock":[{"name":"a","length_mm":1e308}],` + part + `}`,
		"a million":       `{"stock":[{"name":"a","length_mm":1000}],"parts":[{"name":"p","length_mm":10,"count":1000000}]}`,
		"longer than all": `{"stock":[{"name":"a","length_mm":1000}],"parts":[{"name":"p","length_mm":1001,"count":1}]}`,
		"two of a name":   `{"stock":[{"name":"a","length_mm":100},{"name":"a","length_mm":100}],` + part + `}`,
		"parts of a name": `{"stock":[{"name":"a","length_mm":100}],"parts":[{"name":"p","length_mm":1,"count":1},` +
			`{"name":"p","length_mm":2,"count":1}]}`,
		"text as length":  `{"stock":[{"name":"a","length_mm":"x"}],` + part + `}`,
		"a list":          `[]`,
		"nothing":         ``,
		"no parts":        `{"stock":[{"name":"a","length_mm":100}]}`,
		"unknown key":     `{"stocks":[]}`,
		"half a part":     `{"stock":[{"name":"a","length_mm":100}],"parts":[{"name":"p","length_mm":1,"count":0.5}]}`,
		"kerf below zero": `{"kerf_mm":-3,"stock":[{"name":"a","length_mm":100}],` + part + `}`,
		"panel too large": `{"sheets":[{"name":"s","width_mm":100,"height_mm":100}],` +
			`"panels":[{"name":"p","width_mm":101,"height_mm":1,"count":1}]}`,
		"infinite by name": `{"stock":[{"name":"a","length_mm":Infinity}],` + part + `}`,
	} {
		out, errs, status := command(t, list, "cut", "-")
		if status != 2 || out != "" || strings.Count(errs, "\n") != 1 || !strings.HasPrefix(errs, "gladember: ") {
			t.Errorf("%s: status %d, output %q, message %q", name, status, out, errs)
		}
	}
}

// The published instance and a sheet by the command: the keys scripts read.
func TestCutCommand(t *testing.T) {
	list := `{"kerf_mm":3,"stock":[{"name":"board","length_mm":2400,"count":null,"price":5}],
		"parts":[{"name":"side","length_mm":1500,"count":2},{"name":"top","length_mm":800,"count":2}],
		"sheets":[{"name":"ply","width_mm":1220,"height_mm":2440,"price":40}],
		"panels":[{"name":"back","width_mm":600,"height_mm":1200,"count":4,"rotate":true}]}`
	out, errs, status := command(t, list, "cut", "-")
	if status != 0 {
		t.Fatal(errs)
	}
	var r cutResult
	if err := json.Unmarshal([]byte(out), &r); err != nil {
		t.Fatal(err)
	}
	if r.BarsUsed != 2 || r.LowerBound != 2 || r.SheetsUsed != 1 || !r.Proven || r.Cost != 50 || len(r.Bars[0].Pieces) != 2 ||
		r.Bars[0].Pieces[1].At != 1503 || r.Bars[0].Offcut != 94 || len(r.Sheets[0].Pieces) != 4 {
		t.Errorf("the plan is %s", out)
	}
}
