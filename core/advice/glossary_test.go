package advice

import (
	"sort"
	"strings"
	"testing"

	"gladember/core/design"
)

// The words stand in the alphabet's order, once each, and are explained by sentences that do
// not lean on the word itself alone.
func TestGlossary(t *testing.T) {
	if !sort.SliceIsSorted(Glossary, func(i, j int) bool { return Glossary[i].Name < Glossary[j].Name }) {
		t.Error("the glossary is out of order")
	}
	seen := map[string]bool{}
	for _, w := range Glossary {
		if seen[w.Name] || !strings.HasSuffix(w.Plain, ".") || len(w.Plain) < 30 || strings.EqualFold(w.Name, w.Engineer) {
			t.Errorf("%+v", w)
		}
		seen[w.Name] = true
		for _, x := range w.Explains {
			if strings.Contains(x, ".") && design.FieldAt(x) == nil {
				t.Errorf("%s explains %s, which is no field", w.Name, x)
			}
			if e, ok := Explained(x); !ok || e.Name != w.Name {
				t.Errorf("%s is explained by %q first", x, e.Name)
			}
		}
	}
}
