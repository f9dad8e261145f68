package drawing

import (
	"fmt"
	"html/template"
	"strings"

	"github.com/boombuler/barcode/qr"
)

// quiet is the white that a reader wants around the code, modules.
const quiet = 4

// QR draws a text as a code that a phone's camera reads, black on white in either theme.
func QR(text string) (template.HTML, error) {
	code, err := qr.Encode(text, qr.M, qr.Auto)
	if err != nil {
		return "", err
	}
	n := code.Bounds().Dx()
	var s svg
	s.open("qr", "A code for the phone's camera that opens the workshop", float64(n+2*quiet), float64(n+2*quiet))
	s.rect("qr-paper", 0, 0, float64(n+2*quiet), float64(n+2*quiet))
	var d strings.Builder
	for y := range n {
		for x := range n {
			if r, _, _, _ := code.At(x, y).RGBA(); r == 0 {
				fmt.Fprintf(&d, "M%d %dh1v1h-1z", x+quiet, y+quiet)
			}
		}
	}
	s.path("qr-ink", d.String())
	return s.close(), nil
}

// QRText is the same in half blocks for a terminal.
func QRText(text string) (string, error) {
	code, err := qr.Encode(text, qr.M, qr.Auto)
	if err != nil {
		return "", err
	}
	n := code.Bounds().Dx()
	dark := func(x, y int) bool {
		if x < 0 || y < 0 || x >= n || y >= n {
			return false
		}
		r, _, _, _ := code.At(x, y).RGBA()
		return r == 0
	}
	var b strings.Builder
	for y := -2; y < n+2; y += 2 {
		for x := -2; x < n+2; x++ {
			b.WriteString(map[[2]bool]string{{true, true}: " ", {true, false}: "▄", {false, true}: "▀",
				{false, false}: "█"}[[2]bool{dark(x, y), dark(x, y+1)}])
		}
		b.WriteByte('\n')
	}
	return b.String(), nil
}
