package replace

import (
	"regexp"
	"strconv"
	"strings"

	"steptrace/core/mend"
)

// Check checks something that is put into the drawer, and puts its texts in order. None of it is left: a count of 0.
func (k *Kept) Check() error {
	k.What, k.Place, k.Price = tidy(k.What), tidy(k.Place), tidy(k.Price)
	if k.Count < 0 || k.Count > mostPieces {
		return mend.Errorf("%d pieces of %s cannot be", k.Count, k.What)
	}
	return texts(needed("part that lies in the drawer", k.What), text(k.Place), text(k.Price))
}

const (
	mostPieces = 100_000
	// mostLines bounds what goes into the drawer at once.
	mostLines = 5000
)

func tidy(s string) string { return strings.Join(strings.Fields(s), " ") }

var counted = regexp.MustCompile(`^(\d{1,6})\s*[x×]?\s+(\S.*)$`)

// between are what parts a line; a comma within a figure (2,2u) does not.
var between = regexp.MustCompile(`;|\t|,(?:\s|$)`)

// DrawerLines reads what goes into the drawer, a line each: how many, what, where it lies, its price, with commas,
// semicolons or tabs between ("12 BC547B, box 3, 0.08").
func DrawerLines(typed string) ([]Kept, error) {
	var out []Kept
	for i, line := range strings.Split(typed, "\n") {
		if line = strings.TrimSpace(line); line == "" || line[0] == '#' {
			continue
		}
		if len(out) == mostLines {
			return nil, mend.Errorf("more than 5,000 lines: put them in by parts")
		}
		cell := between.Split(line, -1)
		m := counted.FindStringSubmatch(strings.TrimSpace(cell[0]))
		if m == nil || len(cell) > 3 {
			return nil, mend.Errorf("line %d, %q: how many, what, where, price, for example 12 BC547B, box 3, 0.08", i+1, line)
		}
		k := Kept{What: m[2]}
		k.Count, _ = strconv.Atoi(m[1]) // digits, few enough
		for n, to := range []*string{&k.Place, &k.Price} {
			if n+1 < len(cell) {
				*to = cell[n+1]
			}
		}
		if err := k.Check(); err != nil {
			return nil, mend.Errorf("line %d: %v", i+1, err)
		}
		out = append(out, k)
	}
	return out, nil
}
