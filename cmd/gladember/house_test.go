package main

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
)

// core computes and knows nothing of wires, files of a database, or pages.
func TestCoreKnowsNoInterface(t *testing.T) {
	out, err := exec.Command("go", "list", "-deps", "gladember/core/...").Output()
	if err != nil {
		t.Fatal(err)
	}
	for _, dep := range strings.Fields(string(out)) {
		switch {
		case strings.HasPrefix(dep, "github.com/hashicorp/golang-lru/v2"): // a cache
		case dep == "net/http", dep == "database/sql", dep == "html/template", strings.HasPrefix(dep, "gladember/app"),
			strings.HasPrefix(dep, "github.com/"):
			t.Errorf("core depends on %s", dep)
		}
	}
}

// The committed assets are what the sources build. Without node 20.19 or the
// packages this is skipped: `make assets` installs them.
func TestAssetsAreBuiltFromTheirSources(t *testing.T) {
	if _, err := os.Stat("../../assets/node_modules"); err != nil {
		if os.Getenv("GLADEMBER_ASSETS") != "" {
			t.Fatal("the packages that assets are built from are missing: `make assets` installs them")
		}
		t.Skip("ASSETS NOT CHECKED: run `make assets` first, with node 20.19 or newer")
	}
	dir := t.TempDir()
	cmd := exec.Command("node", "build.mjs", dir, filepath.Join(dir, "towns.tsv.gz"), filepath.Join(dir, "inked"),
		filepath.Join(dir, "zips.tsv.gz"))
	cmd.Dir = "../../assets"
	if out, err := cmd.CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	for name, at := range map[string]string{
		"css/gladember.css": "web/static", "js/gladember.js": "web/static", "js/htmx.min.js": "web/static", "js/uplot.min.js": "web/static",
		"towns.tsv.gz": "towns", "zips.tsv.gz": "towns",
	} {
		want, err := os.ReadFile(filepath.Join(dir, name))
		if err != nil {
			t.Fatal(err)
		}
		got, err := os.ReadFile(filepath.Join("../../app", at, name))
		if err != nil || !bytes.Equal(got, want) {
			t.Errorf("%s differs from what its sources build; run `make assets` and commit", name)
		}
	}
}

// color is a color written out, in a style.
var color = regexp.MustCompile(`#[0-9a-fA-F]{3,8}\b|\brgba?\(`)

// No line is over 140 columns, and colors are set in one file.
func TestHouse(t *testing.T) {
	const tab, widest = 4, 140
	err := filepath.WalkDir("../..", func(path string, d os.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() && (d.Name() == "node_modules" || d.Name() == "testdata" || d.Name() == ".git" ||
			d.Name() == "js" && strings.Contains(path, "static")) {
			return filepath.SkipDir
		}
		switch filepath.Ext(path) {
		case ".go", ".html", ".scss", ".mjs", ".js":
		default:
			return nil
		}
		b, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		for i, line := range strings.Split(string(b), "\n") {
			if n := len([]rune(strings.ReplaceAll(line, "\t", strings.Repeat(" ", tab)))); n > widest {
				t.Errorf("%s:%d has %d columns", path, i+1, n)
			}
			if filepath.Ext(path) == ".scss" && filepath.Base(path) != "_sheet.scss" && color.MatchString(line) {
				t.Errorf("%s:%d sets a color, which belongs in _sheet.scss", path, i+1)
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}
