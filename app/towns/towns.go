// Package towns is a list of the world's towns of over 1,000 people with their position, elevation and time zone, from
// GeoNames (https://www.geonames.org, CC BY 4.0).
package towns

import (
	"bytes"
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

// Label is the town as one picks it: Boise, Idaho, US.
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

// List is the towns, the largest first.
type List struct {
	towns  []Town
	folded []string // names as searched
	others []string // what else they are called, each after a comma
}

// Load unpacks the list, once.
var Load = sync.OnceValues(func() (*List, error) {
	z, err := gzip.NewReader(bytes.NewReader(packed))
	if err != nil {
		return nil, err
	}
	text, err := io.ReadAll(z)
	if err != nil {
		return nil, err
	}
	lines := strings.Split(strings.TrimSuffix(string(text), "\n"), "\n")
	zones, regions := strings.Split(lines[0], "\t"), strings.Split(lines[1], "\t")
	g := &List{towns: make([]Town, 0, len(lines)), folded: make([]string, 0, len(lines))}
	for i, l := range lines[2:] {
		f := strings.Split(l, "\t")
		if len(f) != 8 {
			return nil, fmt.Errorf("the town list is damaged at line %d", i+3)
		}
		var n [5]float64
		for k, column := range []int{2, 3, 4, 5, 7} {
			if n[k], err = strconv.ParseFloat(f[column], 64); err != nil {
				return nil, fmt.Errorf("the town list is damaged at line %d: %w", i+3, err)
			}
		}
		g.towns = append(g.towns, Town{
			Index: i, Name: f[0], Region: regions[int(n[4])], Country: f[1], Latitude: n[0], Longitude: n[1], Elevation: n[2],
			Zone: zones[int(n[3])],
		})
		g.folded = append(g.folded, fold(f[0]))
		other := ""
		if f[6] != "" {
			other = "," + fold(f[6])
		}
		g.others = append(g.others, other)
	}
	return g, nil
})

// fold strips accents and case, so that Zurich finds Zürich.
func fold(s string) string {
	t, _, err := transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), s)
	if err != nil {
		t = s
	}
	return strings.ToLower(t)
}

// Find returns up to n towns for what was typed: names that begin with it first, larger before smaller. A region or
// country after a comma narrows: "Aarau, CH", "Paris, Texas".
func (g *List) Find(typed string, n int) (out []Town) {
	q, within, _ := strings.Cut(fold(strings.TrimSpace(typed)), ",")
	q = strings.TrimSpace(q)
	if len([]rune(q)) < 2 {
		return nil
	}
	var inner []Town
	for i, name := range g.folded {
		starts := strings.HasPrefix(name, q)
		if !starts && (len(inner) == n || !strings.Contains(name, " "+q) && !strings.Contains(g.others[i], ","+q)) {
			continue
		}
		if !g.towns[i].in(within) {
			continue
		}
		if !starts {
			inner = append(inner, g.towns[i])
			continue
		}
		if out = append(out, g.towns[i]); len(out) == n {
			return out
		}
	}
	return append(out, inner[:min(len(inner), n-len(out))]...)
}

// in says whether a town lies in a region or country, or both, as typed and folded.
func (t *Town) in(within string) bool {
	for _, part := range strings.Split(within, ",") {
		if part = strings.TrimSpace(part); part != "" && !strings.HasPrefix(fold(t.Region), part) &&
			!strings.HasPrefix(strings.ToLower(t.Country), part) {
			return false
		}
	}
	return true
}

// Near returns the town nearest to a position.
func (g *List) Near(lat, lon float64) Town {
	best, at := math.Inf(1), 0
	c := math.Cos(lat * math.Pi / 180)
	for i := range g.towns {
		dl := math.Mod(g.towns[i].Longitude-lon+540, 360) - 180
		if d := (g.towns[i].Latitude-lat)*(g.towns[i].Latitude-lat) + dl*dl*c*c; d < best {
			best, at = d, i
		}
	}
	return g.towns[at]
}

// At returns the town of an index.
func (g *List) At(i int) (Town, bool) {
	if i < 0 || i >= len(g.towns) {
		return Town{}, false
	}
	return g.towns[i], true
}
