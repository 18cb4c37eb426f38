package pattern

import (
	"cmp"
	"slices"
	"strings"
	"unicode"
)

// Found is a pattern that words point at, with what they choose of its options. Score orders
// several.
type Found struct {
	Pattern *Pattern
	Chosen  Chosen
	Score   float64
}

// Nearest lists the patterns nearest to what somebody says a set is, the nearest first, at most so
// many. A word counts by how much of it is typed, more in a pattern's name than in the words beside
// it, and a name or phrase that is wholly there most; what many patterns have counts little.
func Nearest(text string, most int) []Found {
	typed := wordsOf(text)
	tells := make([]float64, len(typed))
	for i, w := range typed {
		tells[i] = rarity(w)
	}
	var out []Found
	for _, p := range all {
		score := 0.0
		for i, w := range typed {
			best := 0.0
			for k, phrase := range append([]string{p.Name}, p.Words...) {
				for _, have := range wordsOf(phrase) {
					x := alike(w, have, i == len(typed)-1)
					if k > 0 {
						x *= 0.8
					}
					best = max(best, x)
				}
			}
			score += best * tells[i]
		}
		for k, phrase := range append([]string{p.Name}, p.Words...) {
			if within(wordsOf(phrase), typed) {
				whole := float64(len(wordsOf(phrase)))
				if k > 0 {
					whole *= 0.9
				}
				score += whole
			}
		}
		if score > 0 {
			out = append(out, Found{p, p.choices(typed), score})
		}
	}
	slices.SortStableFunc(out, func(a, b Found) int { return cmp.Compare(b.Score, a.Score) })
	return out[:min(len(out), most)]
}

// Says tells whether a text is no more than a way to call the pattern, so that it names no set of its
// own: all of its words are words of the pattern, or their beginnings.
func (p *Pattern) Says(text string) bool {
	return !slices.ContainsFunc(wordsOf(text), func(w string) bool {
		return !slices.ContainsFunc(append([]string{p.Name}, p.Words...), func(phrase string) bool {
			return slices.ContainsFunc(wordsOf(phrase), func(have string) bool { return strings.HasPrefix(have, w) })
		})
	})
}

// Names tells whether words say some of a set's name itself, and not only what kind of set it is.
func Names(words, name string) bool {
	has := wordsOf(name)
	return slices.ContainsFunc(wordsOf(words), func(w string) bool {
		return slices.ContainsFunc(has, func(x string) bool { return strings.HasPrefix(x, w) }) &&
			!slices.ContainsFunc(all, func(p *Pattern) bool { return p.Says(w) })
	})
}

// alike is how much of a word is another: all of it, or the beginning while it is being typed.
func alike(typed, have string, last bool) float64 {
	switch {
	case typed == have:
		return 1
	case len(typed) >= 3 && strings.HasPrefix(have, typed), len(have) >= 3 && strings.HasPrefix(typed, have):
		return 0.7
	case last && strings.HasPrefix(have, typed):
		return 0.3
	}
	return 0
}

// rarity is how much a word tells: one in so many patterns.
func rarity(w string) float64 {
	n := 0
	for _, p := range all {
		if slices.ContainsFunc(append([]string{p.Name}, p.Words...), func(phrase string) bool {
			return slices.ContainsFunc(wordsOf(phrase), func(have string) bool { return alike(w, have, false) > 0 })
		}) {
			n++
		}
	}
	return 1 / float64(max(n, 1))
}

// within tells whether all words are among others.
func within(words, among []string) bool {
	return len(words) > 0 && !slices.ContainsFunc(words, func(w string) bool { return !slices.Contains(among, w) })
}

// choices are what words choose of the options: the choice itself, or one of the words for it.
func (p *Pattern) choices(typed []string) Chosen {
	out := Chosen{}
	for i := range p.Options {
		o := &p.Options[i]
		for _, choice := range o.Choices {
			for _, phrase := range o.words[choice] {
				if within(wordsOf(phrase), typed) {
					out[o.Key] = choice
				}
			}
		}
		if o.To > 0 { // "6 voice", "six voices": the number before what is asked
			for k, w := range typed[:max(len(typed)-1, 0)] {
				if slices.Contains(o.Choices, w) && alike(typed[k+1], strings.ToLower(o.Ask), false) > 0 {
					out[o.Key] = w
				}
			}
		}
	}
	return out
}

// filler are words that tell nothing of a set.
var filler = []string{"a", "an", "the", "with", "of", "and", "for", "in", "on", "or", "my", "old", "set", "no"}

func wordsOf(text string) []string {
	words := strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	return slices.DeleteFunc(words, func(w string) bool { return slices.Contains(filler, w) })
}
