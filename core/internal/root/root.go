// Package root finds where a function of one number is zero.
package root

// rounds bounds a search; false position ends within some ten.
const rounds = 100

// Between returns where a function crosses zero between two points at which it
// has opposite signs, by false position with the Illinois step: a side that is
// kept twice in a row has its value halved (Dowell & Jarratt, BIT 11, 1971). f
// returns the function's value at x and whether that is near enough; width is
// how far apart the two points still are. The search ends with f's word, its
// error, or after a hundred rounds with the last point tried.
func Between(lo, flo, hi, fhi float64, f func(x, width float64) (y float64, enough bool, err error)) (x float64, err error) {
	kept := 0
	for range rounds {
		x = hi - fhi*(hi-lo)/(fhi-flo)
		y, enough, err := f(x, hi-lo)
		if err != nil || enough {
			return x, err
		}
		if (y > 0) == (flo > 0) {
			lo, flo = x, y
			if kept > 0 {
				fhi /= 2
			}
			kept = 1
		} else {
			hi, fhi = x, y
			if kept < 0 {
				flo /= 2
			}
			kept = -1
		}
	}
	return x, nil
}

// Bisect halves the bracket of a bound some rounds long: low says whether a point lies under it. It is for functions of which only the
// side is known, or which are too steep for false position.
func Bisect(lo, hi float64, rounds int, low func(mid float64) bool) (below, above float64) {
	for range rounds {
		if mid := (lo + hi) / 2; low(mid) {
			lo = mid
		} else {
			hi = mid
		}
	}
	return lo, hi
}
