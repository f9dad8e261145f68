package drawing

import "html/template"

// Defs are the gradients and patterns that drawings refer to; a page holds them once, before its drawings.
func Defs() template.HTML {
	return `<svg class="defs" width="0" height="0" aria-hidden="true" focusable="false"><defs>` +
		`<linearGradient id="warming" x1="0" y1="1" x2="0" y2="0">` +
		`<stop class="stop-cold" offset="0"/><stop class="stop-hot" offset="1"/></linearGradient>` +
		`<linearGradient id="along" x1="0" x2="1" y1="0" y2="0">` +
		`<stop class="stop-cold-line" offset="0"/><stop class="stop-hot-line" offset="1"/></linearGradient>` +
		`<pattern id="mesh" width="4" height="4" patternUnits="userSpaceOnUse"><path class="mesh" d="M0 0H4M0 0V4"/></pattern>` +
		`<pattern id="grain" width="7" height="7" patternUnits="userSpaceOnUse"><path class="grain" d="M0 7L7 0"/></pattern>` +
		`<pattern id="foamdots" width="6" height="6" patternUnits="userSpaceOnUse">` +
		`<circle class="foamdot" cx="1.5" cy="1.5" r="0.8"/><circle class="foamdot" cx="4.5" cy="4.5" r="0.8"/></pattern>` +
		`<pattern id="unseen" width="8" height="8" patternUnits="userSpaceOnUse"><path class="grain" d="M0 8L8 0"/></pattern>` +
		`</defs></svg>`
}
