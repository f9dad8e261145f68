package web

import (
	"bytes"
	"compress/gzip"
	"embed"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"
	"sync"
	"unicode"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
)

//go:embed static
var static embed.FS

// Town is a place of the GeoNames list (CC BY 4.0).
type Town struct {
	Index     int
	Name      string
	Country   string
	Latitude  float64
	Longitude float64
	Elevation float64
	Zone      string
}

// Label is the town as one picks it.
func (t Town) Label() string { return t.Name + ", " + t.Country }

// PlaceVals is what a touch on the town sends to a heater, as JSON.
func (t Town) PlaceVals() (string, error) {
	b, err := json.Marshal(map[string]string{"town_id": strconv.Itoa(t.Index), "station": "place"})
	return string(b), err
}

type gazetteer struct {
	towns  []Town
	folded []string // names as searched
	others []string // what else they are called, each after a comma
}

// loadTowns reads the list once, when the first search asks for it.
var loadTowns = sync.OnceValues(func() (*gazetteer, error) {
	raw, err := static.ReadFile("static/data/towns.tsv.gz")
	if err != nil {
		return nil, err
	}
	z, err := gzip.NewReader(bytes.NewReader(raw))
	if err != nil {
		return nil, err
	}
	text, err := io.ReadAll(z)
	if err != nil {
		return nil, err
	}
	lines := strings.Split(strings.TrimSuffix(string(text), "\n"), "\n")
	zones := strings.Split(lines[0], "\t")
	g := &gazetteer{towns: make([]Town, 0, len(lines)), folded: make([]string, 0, len(lines))}
	for i, l := range lines[1:] {
		f := strings.Split(l, "\t")
		if len(f) != 7 {
			return nil, fmt.Errorf("the town list is damaged at line %d", i+2)
		}
		var n [4]float64
		for k := range n {
			if n[k], err = strconv.ParseFloat(f[2+k], 64); err != nil {
				return nil, fmt.Errorf("the town list is damaged at line %d: %w", i+2, err)
			}
		}
		g.towns = append(g.towns, Town{i, f[0], f[1], n[0], n[1], n[2], zones[int(n[3])]})
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

// find returns up to n towns for what was typed: names that begin with it
// first, larger before smaller. "Aarau, CH" narrows by country.
func (g *gazetteer) find(typed string, n int) (out []Town) {
	q, country, _ := strings.Cut(fold(strings.TrimSpace(typed)), ",")
	q, country = strings.TrimSpace(q), strings.TrimSpace(country)
	if len([]rune(q)) < 2 {
		return nil
	}
	var inner []Town
	for i, name := range g.folded {
		if country != "" && !strings.HasPrefix(strings.ToLower(g.towns[i].Country), country) {
			continue
		}
		switch {
		case strings.HasPrefix(name, q):
			if out = append(out, g.towns[i]); len(out) == n {
				return out
			}
		case len(inner) < n && (strings.Contains(name, " "+q) || strings.Contains(g.others[i], ","+q)):
			inner = append(inner, g.towns[i])
		}
	}
	for _, t := range inner {
		if len(out) < n {
			out = append(out, t)
		}
	}
	return out
}

// near returns the town nearest to a position.
func (g *gazetteer) near(lat, lon float64) Town {
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
