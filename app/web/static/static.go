// Package static holds the built styles, scripts and fonts; assets/ has their sources.
package static

import "embed"

// Files are served below /static/.
//
//go:embed css js fonts licences
var Files embed.FS
