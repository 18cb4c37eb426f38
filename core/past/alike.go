package past

import (
	"strings"
	"unicode"
)

// Key is a name as models are compared by: its letters and digits, small, without what stands between.
func Key(name string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsNumber(r) {
			return unicode.ToLower(r)
		}
		return -1
	}, name)
}

// Alike tells whether two names may be one model, spelt otherwise: the same letters and digits, or the same digits and one letter
// added, left out or mistaken. Other digits are another model. Names of three letters and less are too short to tell.
func Alike(a, b string) bool {
	x, y := Key(a), Key(b)
	if x == "" || y == "" {
		return false
	}
	if x == y {
		return true
	}
	digits := func(s string) string {
		return strings.Map(func(r rune) rune {
			if unicode.IsNumber(r) {
				return r
			}
			return -1
		}, s)
	}
	const short = 4
	if digits(x) != digits(y) || min(len(x), len(y)) < short {
		return false
	}
	return oneApart([]rune(x), []rune(y))
}

// oneApart tells whether two texts are one insertion, deletion or exchange apart (Levenshtein distance 1).
func oneApart(x, y []rune) bool {
	if len(x) > len(y) {
		x, y = y, x
	}
	if len(y)-len(x) > 1 {
		return false
	}
	i := 0
	for i < len(x) && x[i] == y[i] {
		i++
	}
	rest := x[i:]
	if len(x) == len(y) {
		rest = x[min(i+1, len(x)):]
	}
	return string(rest) == string(y[i+1:])
}
