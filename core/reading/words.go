package reading

import (
	"fmt"
	"slices"
	"strings"
)

// Joined puts what is said of something into one line.
func Joined(parts ...string) string {
	parts = slices.DeleteFunc(slices.Clone(parts), func(p string) bool { return p == "" })
	return strings.Join(parts, "; ")
}

// Listed writes names as a choice: "A", "A or B", "one of 5 from A to E".
func Listed(names []string) string {
	if n := len(names); n > 3 {
		return fmt.Sprintf("one of %d from %s to %s", n, names[0], names[n-1])
	}
	return strings.Join(names, " or ")
}
