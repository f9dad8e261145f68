package web_test

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"gladember/app/web/webtest"
)

// ours are what the checker of the W3C does not know: attributes of htmx.
var ours = regexp.MustCompile(`Attribute “hx-[a-z:-]+” not allowed`)

// Every page is HTML as the W3C's own checker has it, but for the attributes of htmx. The checker comes with `make assets`
// and needs Java; without either this is skipped.
func TestPagesAreValidHTML(t *testing.T) {
	t.Parallel()
	const jar = "../../assets/node_modules/vnu-jar/build/dist/vnu.jar"
	java, err := exec.LookPath("java")
	if _, missing := os.Stat(jar); err != nil || missing != nil {
		if os.Getenv("GLADEMBER_ASSETS") != "" {
			t.Fatal("the checker of HTML needs Java and what `make assets` installs")
		}
		t.Skip("HTML NOT CHECKED: install Java and run `make assets` first")
	}
	base, _ := webtest.Workshop(t, true)
	dir := t.TempDir()
	args := []string{"-jar", jar, "--format", "json", "--exit-zero-always"}
	for i, path := range append([]string{"/h/3/box?part=absorber", "/h/3/switch?sky=snowy"}, everyPage...) {
		r, err := http.Get(base + path)
		if err != nil {
			t.Fatal(err)
		}
		b, err := io.ReadAll(r.Body)
		r.Body.Close()
		if err != nil || r.StatusCode != http.StatusOK {
			t.Fatal(path, r.Status, err)
		}
		name := filepath.Join(dir, fmt.Sprintf("%02d%s.html", i, strings.NewReplacer("/", "-", "?", "-", "=", "-").Replace(path)))
		if err := os.WriteFile(name, b, 0o600); err != nil {
			t.Fatal(err)
		}
		args = append(args, name)
	}
	cmd := exec.Command(java, args...)
	var said strings.Builder
	cmd.Stderr = &said
	if err := cmd.Run(); err != nil {
		t.Fatal(err, said.String())
	}
	var report struct {
		Messages []struct{ Type, URL, Message, Extract string }
	}
	if err := json.Unmarshal([]byte(said.String()), &report); err != nil {
		t.Fatal(err, said.String())
	}
	known := 0
	for _, m := range report.Messages {
		if ours.MatchString(m.Message) {
			known++
			continue
		}
		if m.Type == "error" {
			t.Errorf("%s: %s in %s", filepath.Base(m.URL), m.Message, m.Extract)
		}
	}
	if known == 0 {
		t.Error("the checker says nothing of the attributes of htmx: it did not look")
	}
}
