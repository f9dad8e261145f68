package towns

import (
	"bufio"
	"bytes"
	"cmp"
	"compress/gzip"
	_ "embed" // for the codes
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
)

//go:embed zips.tsv.gz
var packedZIPs []byte

// zip is a postal code of the United States with the middle of its area.
type zip struct {
	code     uint32
	lat, lon float32
}

// zips are the postal codes in order, unpacked once, when the first is asked for.
var zips = sync.OnceValues(func() ([]zip, error) {
	z, err := gzip.NewReader(bytes.NewReader(packedZIPs))
	if err != nil {
		return nil, err
	}
	var out []zip
	lines := bufio.NewScanner(z)
	for lines.Scan() {
		f := strings.Split(lines.Text(), "\t")
		if len(f) != 3 {
			return nil, fmt.Errorf("the list of postal codes is damaged at line %d", len(out)+1)
		}
		code, err1 := strconv.ParseUint(f[0], 10, 32)
		lat, err2 := strconv.ParseFloat(f[1], 32)
		lon, err3 := strconv.ParseFloat(f[2], 32)
		if err := cmp.Or(err1, err2, err3); err != nil {
			return nil, fmt.Errorf("the list of postal codes is damaged at line %d: %w", len(out)+1, err)
		}
		out = append(out, zip{uint32(code), float32(lat), float32(lon)})
	}
	return out, lines.Err()
})

// postal is five digits, or nine, with a town, state or country before or behind them.
var postal = regexp.MustCompile(`^(?:(.*\pL.*?)[,\s]+)?([0-9]{5})(?:-[0-9]{4})?(?:[,\s]+(.*\pL.*))?$`)

// coded returns the middle of the postal code that was typed. Other countries have codes of five digits too: one that stands alone is
// read as American only for an American reader, and else where a state or the country stands beside it.
func coded(typed string, american bool) (lat, lon float64, ok bool) {
	m := postal.FindStringSubmatch(strings.TrimSpace(typed))
	if m == nil || !american && !isAmerican(m[1]+","+m[3]) {
		return 0, 0, false
	}
	list, err := zips()
	if err != nil {
		return 0, 0, false
	}
	code, _ := strconv.ParseUint(m[2], 10, 32)
	i, ok := slices.BinarySearchFunc(list, uint32(code), func(z zip, code uint32) int { return cmp.Compare(z.code, code) })
	if !ok {
		return 0, 0, false
	}
	return float64(list[i].lat), float64(list[i].lon), true
}

// isAmerican says whether words name the United States or one of their states.
func isAmerican(words string) bool {
	for _, part := range strings.FieldsFunc(fold(words), func(r rune) bool { return r == ',' || r == ' ' }) {
		if _, state := states["US"][part]; state || part == "us" || countries[part] == "us" {
			return true
		}
	}
	for _, name := range states["US"] {
		if strings.Contains(fold(words), name) {
			return true
		}
	}
	return false
}
