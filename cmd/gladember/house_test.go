package main

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
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
		case dep == "net/http", dep == "database/sql", dep == "html/template", strings.HasPrefix(dep, "gladember/app"), strings.HasPrefix(dep, "github.com/"):
			t.Errorf("core depends on %s", dep)
		}
	}
}

// The committed assets are what the sources build. Without node 20.19 or the
// packages this is skipped: `make assets` installs them.
func TestAssetsAreBuiltFromTheirSources(t *testing.T) {
	if _, err := os.Stat("../../assets/node_modules"); err != nil {
		t.Skip("ASSETS NOT CHECKED: run `make assets` first, with node 20.19 or newer")
	}
	dir := t.TempDir()
	cmd := exec.Command("node", "build.mjs", dir, filepath.Join(dir, "towns.tsv.gz"))
	cmd.Dir = "../../assets"
	if out, err := cmd.CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	for name, at := range map[string]string{
		"css/gladember.css": "web/static", "js/gladember.js": "web/static", "js/htmx.min.js": "web/static", "js/uplot.min.js": "web/static",
		"towns.tsv.gz": "towns",
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
