package ui

import (
	"bytes"
	"fmt"
	"html/template"
	"io/fs"

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
