package store

import (
	"bytes"
	"compress/flate"
	"encoding/binary"
	"fmt"
	"io"
	"math"
	"time"

	"gladember/core/measure"
)

// OutlineStep is the length of a bucket of an [Outline].
const OutlineStep = 10 * time.Minute

// Outline is a log in few figures: of every ten minutes with readings the least and the greatest value of each quantity, so that a
// chart of years is drawn without a million readings and loses no peak. It is in order of time.
type Outline []Bucket

// Bucket is one step of an outline, in which the Lo and Hi of a quantity are NaN where it was not measured.
type Bucket struct {
	At     int64 // ms, of its beginning
	Lo, Hi [len(measure.Quantities)]float32
}

// Add takes a reading in, which is not earlier than the last one's bucket.
func (o *Outline) Add(s *measure.Sample) {
	const step = int64(OutlineStep / time.Millisecond)
	at := floorDiv(s.At.UnixMilli(), step) * step
	if n := len(*o); n == 0 || (*o)[n-1].At != at {
		b := Bucket{At: at}
		for q := range b.Lo {
			b.Lo[q], b.Hi[q] = float32(math.NaN()), float32(math.NaN())
		}
		*o = append(*o, b)
	}
	b := &(*o)[len(*o)-1]
	for q := range b.Lo {
		v := float32(*measure.Quantities[q].Of(s))
		if v != v {
			continue
		}
		if !(b.Lo[q] <= v) {
			b.Lo[q] = v
		}
		if !(b.Hi[q] >= v) {
			b.Hi[q] = v
		}
	}
}

// encode packs an outline: all times, then quantity by quantity.
func (o Outline) encode() ([]byte, error) {
	var out bytes.Buffer
	w := writers.Get().(*flate.Writer)
	defer writers.Put(w)
	w.Reset(&out)
	raw := binary.AppendUvarint(nil, uint64(len(o)))
	last := int64(0)
	for i := range o {
		raw = binary.AppendVarint(raw, o[i].At-last)
		last = o[i].At
	}
	for q := range len(measure.Quantities) {
		for i := range o {
			raw = binary.LittleEndian.AppendUint32(raw, math.Float32bits(o[i].Lo[q]))
			raw = binary.LittleEndian.AppendUint32(raw, math.Float32bits(o[i].Hi[q]))
		}
	}
	if _, err := w.Write(raw); err != nil {
		return nil, err
	}
	err := w.Close()
	return out.Bytes(), err
}

// mostOutline bounds what an outline unpacks to, bytes: half a century.
const mostOutline = 128 << 20

// errOutline is returned for an outline that cannot be read; it is then made anew.
var errOutline = fmt.Errorf("the outline of a log is damaged")

func decodeOutline(block []byte) (Outline, error) {
	raw, err := io.ReadAll(io.LimitReader(flate.NewReader(bytes.NewReader(block)), mostOutline))
	if err != nil {
		return nil, errOutline
	}
	r := bytes.NewReader(raw)
	n, err := binary.ReadUvarint(r)
	if err != nil || n > uint64(len(raw)) {
		return nil, errOutline
	}
	o := make(Outline, n)
	last := int64(0)
	for i := range o {
		d, err := binary.ReadVarint(r)
		if err != nil {
			return nil, errOutline
		}
		last += d
		o[i].At = last
	}
	rest := raw[len(raw)-r.Len():]
	if len(rest) != len(o)*len(measure.Quantities)*8 {
		return nil, errOutline
	}
	for q := range len(measure.Quantities) {
		for i := range o {
			o[i].Lo[q] = math.Float32frombits(binary.LittleEndian.Uint32(rest))
			o[i].Hi[q] = math.Float32frombits(binary.LittleEndian.Uint32(rest[4:]))
			rest = rest[8:]
		}
	}
	return o, nil
}
