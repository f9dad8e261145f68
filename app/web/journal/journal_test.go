package journal_test

import (
	"bytes"
	"image"
	"image/jpeg"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"gladember/app/web/webtest"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// large writes a photo of 20 MB.
func large(t *testing.T) string {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 3000, 2000))
	r := rand.New(rand.NewPCG(13, 8))
	for i := range img.Pix {
		img.Pix[i] = byte(r.Uint32())
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, img, &jpeg.Options{Quality: 100}); err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(t.TempDir(), "large.jpg")
	if err := os.WriteFile(file, append(b.Bytes(), make([]byte, 20<<20-b.Len())...), 0o600); err != nil {
		t.Fatal(err)
	}
	return file
}

// By the phone: a note with a script in it is shown as text; a photo of 20 MB is taken in and shown small; a file that only calls itself
// a photo is refused in words and the note stays typed; a note that was removed is put back.
func TestNotesAndPhotos(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/journal", 390, 844)
	notes := func() int { return len(webtest.Must(s.Notes(t.Context(), 2))(t)) }
	add := func() { p.MustElementR("button", "Add note").MustClick() }
	text := func() string { return p.MustEval(`() => document.querySelector(".journal").textContent`).Str() }
	p.MustElement("#note").MustInput(`Lapped the seam. <script>document.title = "gone"</script>`)
	add()
	webtest.WaitFor(t, func() bool {
		return notes() == 1 && strings.Contains(text(), `<script>document.title = "gone"</script>`)
	})
	if p.MustInfo().Title == "gone" {
		t.Error("a note ran as a script")
	}
	fake := filepath.Join(t.TempDir(), "photo.jpg")
	if err := os.WriteFile(fake, []byte("<html><script>alert(1)</script>"), 0o600); err != nil {
		t.Fatal(err)
	}
	p.MustElement("#note").MustSelectAllText().MustInput("With a photo")
	p.MustElement(`input[type="file"]`).MustSetFiles(fake)
	add()
	webtest.WaitFor(t, func() bool { return strings.Contains(text(), "That file is no photo") })
	if got := p.MustElement("#note").MustProperty("value").Str(); got != "With a photo" || notes() != 1 {
		t.Errorf("the note became %q; %d notes", got, notes())
	}
	p.MustElement(`input[type="file"]`).MustSetFiles(large(t))
	add()
	webtest.WaitFor(t, func() bool { return notes() == 2 })
	webtest.WaitFor(t, func() bool {
		return p.MustEval(`() => { const i = document.querySelector(".note-entry " +
			"img"); return !!i && i.complete && i.naturalWidth === 1600; }`).Bool()
	})
	p.MustElement(`button[aria-label^="Remove the note"]`).MustClick()
	webtest.WaitFor(t, func() bool { return notes() == 1 && strings.Contains(text(), "The note is removed") })
	p.MustElementR("button", "Put it back").MustClick()
	webtest.WaitFor(t, func() bool { return notes() == 2 })
}
