package formats

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"strings"
	"testing"
)

// corners is an image w by h px whose upper left quarter is white and whose rest is black.
func corners(w, h int) image.Image {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.RGBA{0, 0, 0, 255}
			if x < w/2 && y < h/2 {
				c = color.RGBA{255, 255, 255, 255}
			}
			img.SetRGBA(x, y, c)
		}
	}
	return img
}

// withExif is a JPEG that says how the camera was held and where, by EXIF.
func withExif(t *testing.T, img image.Image, orientation uint16) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := jpeg.Encode(&b, img, nil); err != nil {
		t.Fatal(err)
	}
	le := binary.LittleEndian
	tiff := append([]byte("II*\x00"), le.AppendUint32(nil, 8)...)
	tiff = le.AppendUint16(tiff, 2)
	entry := func(tag, kind uint16, n, v uint32) {
		tiff = le.AppendUint32(le.AppendUint32(le.AppendUint16(le.AppendUint16(tiff, tag), kind), n), v)
	}
	entry(0x0112, 3, 1, uint32(orientation))
	entry(0x8825, 4, 1, 38) // where the position would stand
	tiff = le.AppendUint32(tiff, 0)
	tiff = append(tiff, []byte("GPSPOSITION47.1N")...)
	app := append([]byte("Exif\x00\x00"), tiff...)
	head := append([]byte{0xff, 0xd8, 0xff, 0xe1}, binary.BigEndian.AppendUint16(nil, uint16(len(app)+2))...)
	return append(append(head, app...), b.Bytes()[2:]...)
}

// A photo is turned upright for every way of holding the camera, kept no larger than its bound, and nothing that the camera wrote is
// left in it.
func TestPhotoIsTurnedAndStripped(t *testing.T) {
	where := map[uint16][2]float64{1: {0.25, 0.25}, 2: {0.75, 0.25}, 3: {0.75, 0.75}, 4: {0.25, 0.75}, 5: {0.25, 0.25}, 6: {0.75, 0.25},
		7: {0.75, 0.75}, 8: {0.25, 0.75}}
	for o, at := range where {
		p, err := ReadPhoto(bytes.NewReader(withExif(t, corners(400, 200), o)))
		if err != nil {
			t.Fatal(o, err)
		}
		if bytes.Contains(p.JPEG, []byte("GPS")) || bytes.Contains(p.JPEG, []byte("Exif")) {
			t.Errorf("%d: the camera's marks are kept", o)
		}
		if wide := p.Width > p.Height; wide != (o < 5) {
			t.Errorf("%d: %d x %d", o, p.Width, p.Height)
		}
		img, err := jpeg.Decode(bytes.NewReader(p.JPEG))
		if err != nil {
			t.Fatal(err)
		}
		for _, q := range where {
			r, _, _, _ := img.At(int(q[0]*float64(p.Width)), int(q[1]*float64(p.Height))).RGBA()
			if white := r > 0x8000; white != (q == at) {
				t.Errorf("%d: white at %v is %v", o, q, white)
			}
		}
	}
	p, err := ReadPhoto(bytes.NewReader(withExif(t, corners(4000, 2000), 1)))
	if err != nil || p.Width != keptSide || p.Height != keptSide/2 {
		t.Errorf("%d x %d, %v", p.Width, p.Height, err)
	}
}

// What is no photo, is cut off, is empty, too large or claims to be huge is refused in words; a large one within the bound is taken.
func TestPhotoRefusals(t *testing.T) {
	if testing.Short() {
		t.Skip("large pictures: it runs without the race detector")
	}
	good := withExif(t, corners(300, 200), 1)
	var huge bytes.Buffer
	if err := png.Encode(&huge, image.NewGray(image.Rect(0, 0, 9000, 9000))); err != nil {
		t.Fatal(err)
	}
	for want, b := range map[string][]byte{"is no photo": []byte("<svg onload=alert(1)>"), "no photo was chosen": nil,
		"damaged":        good[:len(good)/2],
		"million pixels": huge.Bytes(), "larger than": append(bytes.Clone(good), make([]byte, MostPhoto)...)} {
		if _, err := ReadPhoto(bytes.NewReader(b)); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("want %q, got %v", want, err)
		}
	}
	noise := image.NewRGBA(image.Rect(0, 0, 3200, 2400))
	r := rand.New(rand.NewPCG(1, 2))
	for i := range noise.Pix {
		noise.Pix[i] = byte(r.Uint32())
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, noise, &jpeg.Options{Quality: 100}); err != nil {
		t.Fatal(err)
	}
	large := append(b.Bytes(), make([]byte, max(0, 20<<20-b.Len()))...) // 20 MB, as some phones send
	if p, err := ReadPhoto(bytes.NewReader(large)); err != nil || len(p.JPEG) > 3<<20 {
		t.Errorf("a photo of %d MB: %v, %d bytes kept", len(large)>>20, err, len(p.JPEG))
	}
}

// Bytes by chance never panic, and what is taken is a JPEG within the bound.
func FuzzPhoto(f *testing.F) {
	var b bytes.Buffer
	if err := jpeg.Encode(&b, corners(8, 8), nil); err != nil {
		f.Fatal(err)
	}
	f.Add(b.Bytes())
	f.Add([]byte("\x89PNG\r\n\x1a\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		p, err := ReadPhoto(bytes.NewReader(data))
		if err == nil && (p.Width > keptSide || p.Height > keptSide || len(p.JPEG) == 0) {
			t.Errorf("%d x %d", p.Width, p.Height)
		}
	})
}
