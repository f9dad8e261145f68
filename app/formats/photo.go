package formats

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	_ "image/png" // photos may be such
	"io"
	"math"
	"sync"
	"time"

	"github.com/bep/imagemeta"
	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // photos may be such
)

// Bounds of a photo that is taken in, and of what is kept of it.
const (
	MostPhoto  = 25 << 20 // bytes
	mostPixels = 64e6
	plainMost  = 24e6 // of a format that is not JPEG, which takes more memory
	keptSide   = 1600 // px
	quality    = 82
	metaTime   = 2 * time.Second
)

// Photo is a picture as it is kept: turned upright, no larger than [keptSide], a JPEG without anything that the camera wrote into
// it, the place where it was taken with it.
type Photo struct {
	JPEG          []byte
	Width, Height int // px
}

// one keeps the memory of decoding bounded: one photo at a time.
var one sync.Mutex

// ReadPhoto takes a photo in. Its size is read before it is decoded, so that a small file that claims to be huge is refused. The
// error says what is wrong in words for the person.
func ReadPhoto(r io.Reader) (p Photo, err error) {
	b, err := io.ReadAll(io.LimitReader(r, MostPhoto+1))
	switch {
	case err != nil:
		return p, fmt.Errorf("the photo did not arrive whole (%w): send it again", err)
	case len(b) > MostPhoto:
		return p, fmt.Errorf("the photo is larger than %d MB: send a smaller one", MostPhoto>>20)
	case len(b) == 0:
		return p, errors.New("no photo was chosen")
	}
	c, kind, err := image.DecodeConfig(bytes.NewReader(b))
	if err != nil {
		return p, errors.New("that file is no photo that can be read: choose a JPEG, PNG or WebP")
	}
	most := mostPixels
	if kind != "jpeg" {
		most = plainMost
	}
	if n := float64(c.Width) * float64(c.Height); n > most || c.Width < 1 || c.Height < 1 {
		return p, fmt.Errorf("the photo has %.0f million pixels; at most %.0f million can be taken", n/1e6, most/1e6)
	}
	one.Lock()
	defer one.Unlock()
	img, _, err := image.Decode(bytes.NewReader(b))
	if err != nil {
		return p, errors.New("the photo is damaged: it cannot be read to its end")
	}
	small := turned(shrunk(img), orientation(b, kind))
	var out bytes.Buffer
	if err := jpeg.Encode(&out, small, &jpeg.Options{Quality: quality}); err != nil {
		return p, err
	}
	return Photo{out.Bytes(), small.Bounds().Dx(), small.Bounds().Dy()}, nil
}

// orientation is how the camera was held, 1 to 8 by EXIF; 1 where nothing says.
func orientation(b []byte, kind string) (o int) {
	o = 1
	format, ok := map[string]imagemeta.ImageFormat{"jpeg": imagemeta.JPEG, "png": imagemeta.PNG, "webp": imagemeta.WebP}[kind]
	if !ok {
		return o
	}
	_, err := imagemeta.Decode(imagemeta.Options{
		R: bytes.NewReader(b), ImageFormat: format, Sources: imagemeta.EXIF, Timeout: metaTime, Warnf: func(string, ...any) {},
		ShouldHandleTag: func(t imagemeta.TagInfo) bool { return t.Tag == "Orientation" },
		HandleTag: func(t imagemeta.TagInfo) error {
			if v, ok := t.Value.(uint16); ok && v >= 1 && v <= 8 {
				o = int(v)
			}
			return nil
		},
	})
	if err != nil { // a photo without readable marks is shown as it is
		return 1
	}
	return o
}

// shrunk is an image no larger than is kept, on white where it lets through.
func shrunk(img image.Image) *image.RGBA {
	b := img.Bounds()
	k := min(1, keptSide/max(float64(b.Dx()), float64(b.Dy())))
	w, h := max(1, int(math.Round(float64(b.Dx())*k))), max(1, int(math.Round(float64(b.Dy())*k)))
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(out, out.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.ApproxBiLinear.Scale(out, out.Bounds(), img, b, draw.Over, nil)
	return out
}

// turned is an image upright, by how the camera was held.
func turned(img *image.RGBA, o int) *image.RGBA {
	if o <= 1 || o > 8 {
		return img
	}
	w, h := img.Bounds().Dx(), img.Bounds().Dy()
	ow, oh := w, h
	if o >= 5 { // lies on its side
		ow, oh = h, w
	}
	out := image.NewRGBA(image.Rect(0, 0, ow, oh))
	for y := range oh {
		for x := range ow {
			sx, sy := x, y
			switch o {
			case 2:
				sx = w - 1 - x
			case 3:
				sx, sy = w-1-x, h-1-y
			case 4:
				sy = h - 1 - y
			case 5:
				sx, sy = y, x
			case 6:
				sx, sy = y, h-1-x
			case 7:
				sx, sy = w-1-y, h-1-x
			case 8:
				sx, sy = w-1-y, x
			}
			out.SetRGBA(x, y, img.RGBAAt(sx, sy))
		}
	}
	return out
}
