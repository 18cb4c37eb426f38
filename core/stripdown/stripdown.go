// Package stripdown knows how a set came apart, and how it goes together again.
//
// A step is one thing undone, written in one short line:
//
//	s, err := stripdown.Read(stripdown.Screws, "4 M3×8 black, rear cover, lower two longer, washers")
package stripdown

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/entry"
	"steptrace/core/exchange"
	"steptrace/core/mend"
)

// Undone is what was undone.
type Undone string

// Words implements exchange.Enumerated.
func (Undone) Words() []string {
	return exchange.WordsOf([]Undone{Screws, Plug, Wires, Clips, Board, Part, Renew})
}

// The kinds of step, each with the key that begins it.
const (
	Screws Undone = "screws" // any fastener
	Plug   Undone = "plug"
	Wires  Undone = "wires"
	Clips  Undone = "clips"
	Board  Undone = "board" // or what is soldered to the chassis
	Part   Undone = "part"  // cover, knob, bracket: taken off, nothing to count but itself
	Renew  Undone = "renew" // paste, pads, seals: not used again
)

// Sort describes a kind of step to the person who enters it.
type Sort struct {
	Kind Undone `json:"kind"`
	Key  string `json:"key"`
	Name string `json:"name"`
	Hint string `json:"hint"`
}

// Sorts are the kinds of step in the order they are offered.
func Sorts() []Sort {
	return []Sort{
		{Screws, "s", "Screws", "4 M3×8 black, rear cover, lower two longer"},
		{Plug, "c", "Plug", "P4 6 way, main board to front board"},
		{Wires, "w", "Wires", "2 red, tag 7, J3-2 to P5-1"},
		{Clips, "k", "Clips", "2 plastic, front left, break easily"},
		{Board, "b", "Board", "power board, soldered to chassis at 3 places, tilt to lift"},
		{Part, "p", "Part", "volume knob, pulls off"},
		{Renew, "r", "To renew", "heat paste, Q11 to Q16"},
	}
}

// Step is one thing undone. Count is how many there are. The rest of the line
// is What it is, Where, and what to Mind. From and To are the ends of a wire or
// plug; Tag is what is written on its flag.
type Step struct {
	ID       string     `json:"id"`
	Kind     Undone     `json:"kind"`
	Text     string     `json:"text"` // as typed
	Count    int        `json:"count"`
	What     string     `json:"what"`
	Where    string     `json:"where,omitempty"`
	Mind     string     `json:"mind,omitempty"`
	Washers  bool       `json:"washers,omitempty"`
	Lock     bool       `json:"lock,omitempty"` // thread lock
	Tag      string     `json:"tag,omitempty"`
	Colour   string     `json:"colour,omitempty"`
	From     string     `json:"from,omitempty"`
	To       string     `json:"to,omitempty"`
	Pictures []string   `json:"pictures,omitempty" jsonschema:"description=ids of its pictures\\, which name it themselves"`
	Taken    time.Time  `json:"taken"`
	Who      string     `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck   *time.Time `json:"struck,omitempty"`
}

// Limits on a step; a set has some hundred screws at most.
const (
	maxCount = 500
	maxLine  = 300
)

// colours are the words by which a wire's colour is told, as on resistors
// (IEC 60062) and a few more in use.
var colours = []string{
	"black",
	"brown",
	"red",
	"orange",
	"yellow",
	"green",
	"blue",
	"violet",
	"purple",
	"grey",
	"gray",
	"white",
	"pink",
	"turquoise",
	"clear",
	"bare",
	"screened",
}

// Read reads the line of a step: a number in front is how many, then what it
// is, and behind commas where, from what to what, a tag, and what to mind.
// Errors are those a person can mend (mend.Error).
func Read(kind Undone, text string) (Step, error) {
	if !slices.ContainsFunc(Sorts(), func(s Sort) bool { return s.Kind == kind }) {
		return Step{}, mend.Errorf("%q is not a kind of step", kind)
	}
	line := strings.Join(strings.Fields(text), " ")
	switch {
	case line == "":
		return Step{}, mend.Errorf("%s", "write what was undone, for example: "+hint(kind))
	case utf8.RuneCountInString(line) > maxLine || !utf8.ValidString(line):
		return Step{}, mend.Errorf("a step is one line of at most %d characters: make two of it", maxLine)
	}
	s := Step{Kind: kind, Text: text, Count: 1}
	first, rest, more := strings.Cut(line, " ")
	if n, err := strconv.Atoi(strings.TrimSuffix(strings.TrimSuffix(first, "×"), "x")); err == nil {
		if n < 1 || n > maxCount {
			return Step{}, mend.Errorf("%d of them cannot be counted back in: 1 to %d", n, maxCount)
		}
		if !more {
			return Step{}, mend.Errorf("%d of what? For example: %s", n, hint(kind))
		}
		s.Count, line = n, rest
	}
	for i, part := range strings.Split(line, ",") {
		s.part(i, strings.TrimSpace(part))
	}
	return s, nil
}

func hint(kind Undone) string {
	for _, s := range Sorts() {
		if s.Kind == kind {
			return s.Hint
		}
	}
	return ""
}

// part takes one part of the line between commas.
func (s *Step) part(i int, text string) {
	lower := strings.ToLower(text)
	electrical := s.Kind == Wires || s.Kind == Plug
	switch {
	case text == "":
	case i == 0:
		s.What = text
		if s.Kind == Wires {
			for _, w := range strings.FieldsFunc(lower, func(r rune) bool { return r == ' ' || r == '/' || r == '-' }) {
				if slices.Contains(colours, w) {
					s.Colour = strings.Trim(s.Colour+"/"+w, "/")
				}
			}
		}
	case lower == "washer" || lower == "washers":
		s.Washers = true
	case lower == "thread lock" || lower == "threadlock" || lower == "locked":
		s.Lock = true
	case strings.HasPrefix(lower, "tag "):
		s.Tag = strings.TrimSpace(text[len("tag "):])
	case electrical && s.From == "" && strings.Contains(text, " to "):
		s.From, s.To, _ = strings.Cut(text, " to ")
	case s.Where == "" && !electrical:
		s.Where = text
	default:
		s.Mind = strings.TrimPrefix(s.Mind+", "+text, ", ")
	}
}

// Says writes the step as one line: "4 × M3×8 black, rear cover".
func (s *Step) Says() string {
	out := s.What
	if s.Count > 1 {
		out = fmt.Sprintf("%d × %s", s.Count, s.What)
	}
	for _, part := range []string{s.Where, tagged(s.Tag), ends(s.From, s.To)} {
		if part != "" {
			out += ", " + part
		}
	}
	if s.Washers {
		out += ", with washers"
	}
	if s.Lock {
		out += ", thread lock"
	}
	return out
}

func tagged(tag string) string {
	if tag == "" {
		return ""
	}
	return "tag " + tag
}

func ends(from, to string) string {
	if from == "" {
		return ""
	}
	return from + " to " + to
}

// Return says how many of a step went back in. The last one of a step counts.
type Return struct {
	ID    string    `json:"id,omitempty"`
	Step  string    `json:"step"`
	Count int       `json:"count"`
	At    time.Time `json:"at"`
	Who   string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
}

// Back is a step on the way back together.
type Back struct {
	Step  Step   `json:"step"`
	Says  string `json:"says"`
	In    int    `json:"in"` // how many went back
	Done  bool   `json:"done"`
	Touch bool   `json:"touched"` // it was ticked, be it short
}

// Tally counts one sort of thing out and in.
type Tally struct {
	Kind Undone `json:"kind"`
	What string `json:"what"`
	Out  int    `json:"out"`
	In   int    `json:"in"`
	Over int    `json:"over"`
}

// Assembly is the strip-down backwards, with what is left over.
type Assembly struct {
	Steps   []Back   `json:"steps"`
	Tallies []Tally  `json:"tallies"`
	Over    []string `json:"over"` // what is left over, and where it belongs
	Says    string   `json:"says"`
}

// Reassemble turns the steps around and counts out against in. Steps struck out
// do not count.
func Reassemble(steps []Step, returns []Return) Assembly {
	in := map[string]int{}
	touched := map[string]bool{}
	for _, r := range returns {
		in[r.Step], touched[r.Step] = r.Count, true
	}
	a := Assembly{Steps: []Back{}, Tallies: []Tally{}, Over: []string{}}
	open := 0
	for i := len(steps) - 1; i >= 0; i-- {
		s := steps[i]
		if s.Struck != nil {
			continue
		}
		n := min(in[s.ID], s.Count)
		b := Back{Step: s, Says: s.Says(), In: n, Done: n == s.Count, Touch: touched[s.ID]}
		a.Steps = append(a.Steps, b)
		a.tally(&s, n)
		if !b.Done {
			open++
			if b.Touch && n > 0 {
				a.Over = append(a.Over, fmt.Sprintf("%d × %s, from %s", s.Count-n, s.What, orWord(s.Where, "step "+strconv.Itoa(i+1))))
			}
		}
	}
	a.say(open)
	return a
}

func orWord(text, instead string) string {
	if text == "" {
		return instead
	}
	return text
}

func (a *Assembly) tally(s *Step, in int) {
	key := func(t Tally) bool { return t.Kind == s.Kind && strings.EqualFold(t.What, s.What) }
	i := slices.IndexFunc(a.Tallies, key)
	if i < 0 {
		i = len(a.Tallies)
		a.Tallies = append(a.Tallies, Tally{Kind: s.Kind, What: s.What})
	}
	t := &a.Tallies[i]
	t.Out += s.Count
	t.In += in
	t.Over = t.Out - t.In
}

func (a *Assembly) say(open int) {
	switch {
	case len(a.Steps) == 0:
		a.Says = "Nothing was taken apart."
	case open == 0:
		a.Says = "All is back in, and nothing is left over."
	case len(a.Over) > 0 && open == len(a.Over):
		a.Says = "Everything was put back, but there is something left over: " + strings.Join(a.Over, "; ") + "."
	case len(a.Over) > 0:
		a.Says = fmt.Sprintf("Steps to go: %d. Left over so far: %s.", open-len(a.Over), strings.Join(a.Over, "; "))
	default:
		a.Says = fmt.Sprintf("Steps to go: %d of %d.", open, len(a.Steps))
	}
}

// Head implements entry.Entry.
func (s *Step) Head() entry.Head { return entry.Head{ID: &s.ID, At: &s.Taken, Who: &s.Who} }

// Withdrawn implements entry.Withdrawable.
func (s *Step) Withdrawn() bool { return s.Struck != nil }

// Withdraw implements entry.Withdrawable.
func (s *Step) Withdraw(at time.Time, _ string) {
	if s.Struck == nil {
		s.Struck = &at
	}
}

// Head implements entry.Entry.
func (r *Return) Head() entry.Head { return entry.Head{ID: &r.ID, At: &r.At, Who: &r.Who} }

// Reread works out anew what follows from the line of a step. Errors are those a person can mend (mend.Error).
func (s *Step) Reread() error {
	again, err := Read(s.Kind, s.Text)
	again.ID, again.Taken, again.Struck = s.ID, s.Taken, s.Struck
	*s = again
	return err
}

// Restates implements entry.Restated: the line says all.
func (s *Step) Restates() string { return string(s.Kind) + "/" + s.Text }
