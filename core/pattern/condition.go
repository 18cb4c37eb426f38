package pattern

import (
	"fmt"
	"slices"
	"strings"
)

// condition says when a row is there: "relay=yes & sources!=one|two". All of its terms have to hold.
type condition []term

type term struct {
	key   string
	not   bool
	anyOf []string
}

// conditionOf reads a condition; an empty one always holds.
func conditionOf(text string) (condition, error) {
	var out condition
	if strings.TrimSpace(text) == "" {
		return nil, nil
	}
	for _, part := range strings.Split(text, "&") {
		key, values, ok := strings.Cut(part, "=")
		if !ok {
			return nil, fmt.Errorf("%q is no condition: write option=choice", part)
		}
		key, not := strings.CutSuffix(strings.TrimSpace(key), "!")
		t := term{key: strings.TrimSpace(key), not: not}
		for _, v := range strings.Split(values, "|") {
			t.anyOf = append(t.anyOf, strings.TrimSpace(v))
		}
		out = append(out, t)
	}
	return out, nil
}

func (c condition) holds(chosen Chosen) bool {
	return !slices.ContainsFunc(c, func(t term) bool { return slices.Contains(t.anyOf, chosen[t.key]) == t.not })
}
