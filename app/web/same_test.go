package web_test

import (
	"html"
	"regexp"
	"strings"
	"testing"
)

// Figures as they stand at the foot of a page, in its lists of figures, and in the tables of two columns that name them.
var figured = []*regexp.Regexp{
	regexp.MustCompile(`(?s)<span class="lbl">([^<]+)</span>\s*<span class="val[^"]*">([^<]*<small>[^<]*)</small>`),
	regexp.MustCompile(`(?s)<dt>([^<]+)</dt>\s*<dd[^>]*>\s*(?:<button[^>]*>)?\s*([^<]*(?:<small>[^<]*)?)`),
}

// One figure is one number: on every page and part of a page of five heaters what has the same name has the same value.
func TestSameNameSameValue(t *testing.T) {
	t.Parallel()
	ids, read := americanPages(t)
	for _, id := range ids {
		values, pages := map[string]map[string]string{}, map[string]int{}
		for path, page := range read[id] {
			for _, pattern := range figured {
				for _, m := range pattern.FindAllStringSubmatch(page, -1) {
					name := strings.TrimSpace(html.UnescapeString(m[1]))
					value := strings.TrimSpace(blanks.ReplaceAllString(strings.ReplaceAll(html.UnescapeString(m[2]), "<small>", " "), " "))
					if value == "" {
						continue
					}
					if values[name] == nil {
						values[name] = map[string]string{}
					}
					values[name][value] = path
					pages[name]++
				}
			}
		}
		shared := 0
		for name, vs := range values {
			if len(vs) > 1 {
				t.Errorf("heater %d: %s is %v", id, name, vs)
			}
			if pages[name] > 1 {
				shared++
			}
		}
		t.Logf("heater %d: %d figures, %d of them on several pages", id, len(values), shared)
		if shared < 5 {
			t.Errorf("heater %d: only %d figures stand on several pages: %v", id, shared, pages)
		}
	}
}
