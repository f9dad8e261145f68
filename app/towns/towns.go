// Package towns is a list of the world's towns of over 1,000 people with their position, elevation and time zone, from
// GeoNames (https://www.geonames.org, CC BY 4.0).
package towns

import (
	"bytes"
	"cmp"
	"compress/gzip"
	_ "embed" // for the list
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"sync"
	"unicode"

	"golang.org/x/text/currency"
	"golang.org/x/text/language"
	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
)

//go:embed towns.tsv.gz
var packed []byte

// Town is a town of the list.
type Town struct {
	Index     int
	Name      string
	Region    string // state, province or canton
	Country   string // ISO 3166 code
	Latitude  float64
	Longitude float64
	Elevation float64
	Zone      string
}

// Label is the town as one picks it: Duluth, Minnesota, US.
func (t Town) Label() string {
	if t.Region == "" || fold(t.Region) == fold(t.Name) {
		return t.Name + ", " + t.Country
	}
	return t.Name + ", " + t.Region + ", " + t.Country
}

// Customary says whether people there build in inches and heat by degrees Fahrenheit.
func (t Town) Customary() bool { return t.Country == "US" || t.Country == "PR" }

// monthFirst are the countries in which dates are written with the month first. Source: the short dates of Unicode CLDR, recalled
// from memory.
var monthFirst = []string{"US", "PR", "GU", "AS", "VI", "MP", "FM", "MH", "PW", "PH", "BZ"}

// MonthFirst says whether people there write the month before the day.
func (t Town) MonthFirst() bool { return slices.Contains(monthFirst, t.Country) }

// Currency is the sign of the country's money; empty where it is not known.
func (t Town) Currency() string {
	r, err := language.ParseRegion(t.Country)
	if err != nil {
		return ""
	}
	u, ok := currency.FromRegion(r)
	if !ok {
		return ""
	}
	return fmt.Sprint(currency.NarrowSymbol(u))
}

// List is the towns, the largest first. It is kept as text, half as large as it would be as values: a workshop holds it all day.
type List struct {
	text           string // a line a town, as packed
	lines          []uint32
	zones, regions []string
	places         [][2]float32 // latitude and longitude
	folded         string       // of each town its name as searched, a zero and what else it is called, each after a comma
	names          []uint32     // where each begins in folded, and where the last one ends
}

// columns of a line: name, country, latitude, longitude, elevation, zone's number, other names, region's number.
const columns = 8

// Load unpacks the list, once.
var Load = sync.OnceValues(func() (*List, error) {
	z, err := gzip.NewReader(bytes.NewReader(packed))
	if err != nil {
		return nil, err
	}
	var text strings.Builder
	if _, err := io.Copy(&text, z); err != nil {
		return nil, err
	}
	g := &List{text: text.String()}
	head := func() []string {
		line, rest, _ := strings.Cut(g.text, "\n")
		g.text = rest
		return strings.Split(line, "\t")
	}
	g.zones, g.regions = head(), head()
	n := strings.Count(g.text, "\n")
	g.lines, g.names, g.places = make([]uint32, 0, n), make([]uint32, 0, n+1), make([][2]float32, 0, n)
	var folded strings.Builder
	folded.Grow(len(g.text) / 2)
	plain := newFolder()
	at := 0
	for line := range strings.Lines(g.text) {
		var f [columns]string
		if !g.split(strings.TrimSuffix(line, "\n"), &f) {
			return nil, fmt.Errorf("the town list is damaged at line %d", len(g.lines)+3)
		}
		g.lines = append(g.lines, uint32(at))
		at += len(line)
		lat, err1 := strconv.ParseFloat(f[2], 32)
		lon, err2 := strconv.ParseFloat(f[3], 32)
		if err := cmp.Or(err1, err2); err != nil {
			return nil, fmt.Errorf("the town list is damaged at line %d: %w", len(g.lines)+2, err)
		}
		g.places = append(g.places, [2]float32{float32(lat), float32(lon)})
		g.names = append(g.names, uint32(folded.Len()))
		folded.WriteString(plain.fold(f[0]))
		folded.WriteByte(0)
		if f[6] != "" {
			folded.WriteString("," + plain.fold(f[6]))
		}
	}
	g.names = append(g.names, uint32(folded.Len()))
	g.folded = strings.Clone(folded.String())
	return g, nil
})

// split takes a line apart, and says whether it has its columns.
func (g *List) split(line string, f *[columns]string) bool {
	for i := range columns - 1 {
		var ok bool
		if f[i], line, ok = strings.Cut(line, "\t"); !ok {
			return false
		}
	}
	f[columns-1] = line
	return !strings.Contains(line, "\t")
}

// town reads a town; its number must be one of the list.
func (g *List) town(i int) Town {
	line, _, _ := strings.Cut(g.text[g.lines[i]:], "\n")
	var f [columns]string
	g.split(line, &f)
	number := func(column int) float64 {
		v, _ := strconv.ParseFloat(f[column], 64)
		return v
	}
	named := func(list []string, column int) string {
		if k := int(number(column)); k >= 0 && k < len(list) {
			return list[k]
		}
		return ""
	}
	return Town{Index: i, Name: f[0], Region: named(g.regions, 7), Country: f[1], Latitude: number(2), Longitude: number(3),
		Elevation: number(4), Zone: named(g.zones, 5)}
}

// folder strips accents and case, so that Zurich finds Zürich. It serves one at a time.
type folder struct{ transform.Transformer }

func newFolder() folder {
	return folder{transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC)}
}

func (f folder) fold(s string) string {
	if !strings.ContainsFunc(s, func(r rune) bool { return r > unicode.MaxASCII }) {
		return strings.ToLower(s)
	}
	t, _, err := transform.String(f, s)
	if err != nil {
		t = s
	}
	return strings.ToLower(t)
}

// fold folds a single word.
func fold(s string) string { return newFolder().fold(s) }

// Find returns up to n towns for what was typed: names that begin with it first, larger before smaller. A region, its postal code or a
// country behind it narrows: "Aarau, CH", "Paris, Texas", "Duluth MN". A postal code finds the nearest town; five digits alone are
// one for an American reader.
func (g *List) Find(typed string, n int, american bool) (out []Town) {
	if lat, lon, ok := coded(typed, american); ok && n > 0 {
		return []Town{g.Near(lat, lon)}
	}
	folded := fold(strings.TrimSpace(typed))
	q, within, narrowed := strings.Cut(folded, ",")
	if out = g.find(strings.TrimSpace(q), within, n); len(out) > 0 || narrowed {
		return out
	}
	// Without a comma the last words may be the region.
	words := strings.Fields(folded)
	for k := 1; k <= 2 && k < len(words) && len(out) == 0; k++ {
		at := len(words) - k
		out = g.find(strings.Join(words[:at], " "), strings.Join(words[at:], " "), n)
	}
	return out
}

// find is [List.Find] with the name and what narrows it, folded.
func (g *List) find(q, within string, n int) (out []Town) {
	if len([]rune(q)) < 2 {
		return nil
	}
	var inner []Town
	word, other := " "+q, ","+q
	for i := range g.lines {
		name, others, _ := strings.Cut(g.folded[g.names[i]:g.names[i+1]], "\x00")
		starts := strings.HasPrefix(name, q)
		if !starts && (len(inner) == n || !strings.Contains(name, word) && !strings.Contains(others, other)) {
			continue
		}
		t := g.town(i)
		if !t.in(within) {
			continue
		}
		if !starts {
			inner = append(inner, t)
			continue
		}
		if out = append(out, t); len(out) == n {
			return out
		}
	}
	return append(out, inner[:min(len(inner), n-len(out))]...)
}

// Near returns the town nearest to a position.
func (g *List) Near(lat, lon float64) Town {
	best, at := math.Inf(1), 0
	c := math.Cos(lat * math.Pi / 180)
	for i, p := range g.places {
		dl := math.Mod(float64(p[1])-lon+540, 360) - 180
		north := float64(p[0]) - lat
		if d := north*north + dl*dl*c*c; d < best {
			best, at = d, i
		}
	}
	return g.town(at)
}

// At returns the town of an index.
func (g *List) At(i int) (Town, bool) {
	if i < 0 || i >= len(g.lines) {
		return Town{}, false
	}
	return g.town(i), true
}
