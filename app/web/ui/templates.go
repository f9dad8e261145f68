package ui

import (
	"bytes"
	"fmt"
	"html/template"
	"io/fs"
	"regexp"

	"gladember/app/drawing"
)

// Pair carries two values into a template that takes one.
type Pair struct{ First, Second any }

// Parse puts the templates of the frame, of pages and of stations together. They may use asset, which gives the address
// of a built file; part, which fills the template of a name, and gives nothing if there is none; and pair.
func Parse(asset func(string) (string, error), all ...fs.FS) (*template.Template, error) {
	t := template.New("")
	t.Funcs(template.FuncMap{
		"asset": asset,
		"defs":  drawing.Defs,
		"pair":  func(a, b any) Pair { return Pair{a, b} },
		"tied":  tied,
		"part": func(name string, data any) (template.HTML, error) {
			x := t.Lookup(name)
			if x == nil {
				return "", nil
			}
			var b bytes.Buffer
			if err := x.Execute(&b, data); err != nil {
				return "", err
			}
			return template.HTML(b.String()), nil //nolint:gosec // filled by html/template
		},
	})
	for _, files := range append([]fs.FS{Templates}, all...) {
		if _, err := t.ParseFS(files, "*.html"); err != nil {
			return nil, fmt.Errorf("templates: %w", err)
		}
	}
	return t, nil
}

// figureUnit is a figure with the unit that follows it.
var figureUnit = regexp.MustCompile(`(\d) (°C|°F|K|%|W|kWh|BTU|m²|m³/h|cfm|mm|cm|m|in|ft|Pa|L|h)\b|(\d) (%)`)

// tied keeps a unit on the line of its figure, where a text may break anywhere.
func tied(text string) string {
	return figureUnit.ReplaceAllString(text, "$1$3\u00a0$2$4")
}
