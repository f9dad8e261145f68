package towns

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// states are the postal codes of the regions that people write behind a town's name, by country. Sources: USPS Publication 28,
// Canada Post and Australia Post (recalled from memory).
var states = map[string]map[string]string{
	"US": {"al": "alabama", "ak": "alaska", "az": "arizona", "ar": "arkansas", "ca": "california", "co": "colorado", "ct": "connecticut",
		"de": "delaware", "dc": "washington, d.c.", "fl": "florida", "ga": "georgia", "hi": "hawaii", "id": "idaho", "il": "illinois",
		"in": "indiana", "ia": "iowa", "ks": "kansas", "ky": "kentucky", "la": "louisiana", "me": "maine", "md": "maryland",
		"ma": "massachusetts", "mi": "michigan", "mn": "minnesota", "ms": "mississippi", "mo": "missouri", "mt": "montana",
		"ne": "nebraska", "nv": "nevada", "nh": "new hampshire", "nj": "new jersey", "nm": "new mexico", "ny": "new york",
		"nc": "north carolina", "nd": "north dakota", "oh": "ohio", "ok": "oklahoma", "or": "oregon", "pa": "pennsylvania",
		"ri": "rhode island", "sc": "south carolina", "sd": "south dakota", "tn": "tennessee", "tx": "texas", "ut": "utah",
		"vt": "vermont", "va": "virginia", "wa": "washington", "wv": "west virginia", "wi": "wisconsin", "wy": "wyoming"},
	"CA": {"ab": "alberta", "bc": "british columbia", "mb": "manitoba", "nb": "new brunswick", "nl": "newfoundland and labrador",
		"ns": "nova scotia", "nt": "northwest territories", "nu": "nunavut", "on": "ontario", "pe": "prince edward island", "qc": "quebec",
		"sk": "saskatchewan", "yt": "yukon"},
	"AU": {"nsw": "new south wales", "vic": "victoria", "qld": "queensland", "tas": "tasmania", "act": "australian capital territory"},
}

// countries are what people call countries beside their code.
var countries = map[string]string{"usa": "us", "u.s.a.": "us", "united states": "us", "america": "us", "canada": "ca", "uk": "gb",
	"united kingdom": "gb", "england": "gb", "scotland": "gb", "wales": "gb", "ireland": "ie", "australia": "au", "new zealand": "nz",
	"germany": "de", "austria": "at", "switzerland": "ch", "france": "fr", "italy": "it", "spain": "es", "norway": "no", "sweden": "se"}

// in says whether a town lies in what was typed behind its name: regions by name or postal code, and countries; folded, with commas
// between.
func (t *Town) in(within string) bool {
	region, country := fold(t.Region), strings.ToLower(t.Country)
	for _, part := range strings.Split(within, ",") {
		part = strings.TrimSpace(part)
		code, coded := states[t.Country][part]
		switch {
		case part == "", part == country, countries[part] == country, coded && code == region:
		case len(part) > 2 && strings.HasPrefix(region, part):
		default:
			return false
		}
	}
	return true
}

// pair is a position as people type it: two numbers, each with a point of the compass or without.
var pair = regexp.MustCompile(`^\s*([-+]?[0-9]+(?:\.[0-9]+)?)\s*°?\s*([NSns])?\s*[,;\s]\s*` +
	`([-+]?[0-9]+(?:\.[0-9]+)?)\s*°?\s*([EWew])?\s*$`)

// position reads coordinates such as "46.79, -92.10" or "46.79 N, 92.10 W".
func position(typed string) (lat, lon float64, ok bool) {
	m := pair.FindStringSubmatch(typed)
	if m == nil {
		return 0, 0, false
	}
	lat, _ = strconv.ParseFloat(m[1], 64)
	lon, _ = strconv.ParseFloat(m[3], 64)
	if strings.EqualFold(m[2], "s") {
		lat = -lat
	}
	if strings.EqualFold(m[4], "w") {
		lon = -lon
	}
	return lat, lon, math.Abs(lat) <= 90 && math.Abs(lon) <= 180
}

// Unresolved is the error of a text that names no single town.
type Unresolved struct {
	Typed string
	// Towns are those that it may mean; none where it means none.
	Towns []Town
}

// Error says what to enter.
func (u *Unresolved) Error() string {
	if len(u.Towns) == 0 {
		return fmt.Sprintf("no town of over 1,000 people is called %q; enter a larger town nearby, or "+
			"coordinates like 46.79, -92.10", u.Typed)
	}
	var names []string
	for _, t := range u.Towns {
		names = append(names, t.Label())
	}
	last := len(names) - 1
	if last == 0 {
		return fmt.Sprintf("%q may mean %s; pick it from the list", u.Typed, names[0])
	}
	return fmt.Sprintf("%q may mean %s or %s; pick one from the list", u.Typed, strings.Join(names[:last], ", "), names[last])
}

// mostNamed is how many towns an [Unresolved] names.
const mostNamed = 4

// inTown is how near to a town the middle of a postal code lies that is called by the town's name, degrees.
const inTown = 0.1

// Resolve returns the one town that a text names, as it was typed without picking from a list: "Duluth, MN", "Duluth Minnesota", a
// name that only one town of that region or country has, or, of several, one that is far larger than the next. Coordinates give the
// nearest town moved there, and so does an American postal code far from any town; see [List.Find] for whom it is one. Else the error
// is an [*Unresolved].
func (g *List) Resolve(typed string, american bool) (Town, error) {
	typed = strings.TrimSpace(typed)
	lat, lon, placed := position(typed)
	if !placed {
		var ok bool
		if lat, lon, ok = coded(typed, american); ok {
			t := g.Near(lat, lon)
			if math.Hypot(t.Latitude-lat, (t.Longitude-lon)*math.Cos(lat*math.Pi/180)) < inTown {
				return t, nil
			}
			placed = true
		}
	}
	if placed {
		t := g.Near(lat, lon)
		t.Name, t.Latitude, t.Longitude, t.Index = "near "+t.Name, lat, lon, -1
		return t, nil
	}
	const looked = 50
	found := g.Find(typed, looked, american)
	name, _, _ := strings.Cut(fold(typed), ",")
	exact := slices.DeleteFunc(slices.Clone(found), func(t Town) bool {
		own := fold(t.Name)
		return own != strings.TrimSpace(name) && !strings.HasPrefix(strings.TrimSpace(name), own+" ")
	})
	switch {
	case len(exact) == 1:
		return exact[0], nil
	case len(exact) == 0 && len(found) == 1:
		return found[0], nil
	case len(exact) > 0:
		found = exact
	}
	return Town{}, &Unresolved{typed, found[:min(len(found), mostNamed)]}
}
