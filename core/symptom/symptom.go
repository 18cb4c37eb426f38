// Package symptom knows what a set shows by itself: what is seen on its screen, heard from it, what
// lights and blinks. Each points at kinds of block with a likelihood.
//
// The table symptoms.csv holds them. Share is how many of ten faults of such a block, with one of the
// effects named, show it: the trade's experience in round figures, for sets of the usual build.
package symptom

import (
	_ "embed"
	"encoding/csv"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"steptrace/core/entry"
	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/sheet"
)

// Sense is how it is noticed.
type Sense string

// The senses.
const (
	Seen  Sense = "seen"  // on the screen
	Heard Sense = "heard" // from the loudspeaker or the set itself
	Lit   Sense = "lit"   // by lamps and displays
)

// Senses lists them, in the order they are offered.
var Senses = []Sense{Seen, Heard, Lit}

// Words implements exchange.Enumerated.
func (Sense) Words() []string { return exchange.WordsOf(Senses) }

// When is under which circumstances it is noticed.
type When string

// The circumstances.
const (
	Cold   When = "cold"
	Warm   When = "warm"
	Knock  When = "knock"
	Turned When = "turned" // while a control is turned
	Source When = "source" // with one source only
)

// Whens lists them, in the order they are offered.
var Whens = []When{Cold, Warm, Knock, Turned, Source}

// Words implements exchange.Enumerated.
func (When) Words() []string { return exchange.WordsOf(Whens) }

var whenSays = map[When]string{
	Cold: "while cold", Warm: "once warm", Knock: "after a knock", Turned: "while a control is turned", Source: "with one source only",
}

// Says tells it in words.
func (w When) Says() string { return whenSays[w] }

// Effects are how a block misbehaves, in the table's words, in the order of a Row; core/trace has the same.
var Effects = [...]string{"dead", "weak", "strong", "distorted", "noisy", "hum", "off-frequency", "cuts out"}

// Symptom is one thing that can be noticed.
type Symptom struct {
	Key   string   `json:"key"`
	Sense Sense    `json:"sense"`
	Name  string   `json:"name"`
	Shows string   `json:"shows"` // the frequency, or what that means by itself
	Look  []string `json:"look"`  // what else to look at

	points []pointer
}

// pointer is at which blocks a symptom points: those that a term fits, with some effects.
type pointer struct {
	of    []string
	by    [len(Effects)]bool
	share float64
}

//go:embed symptoms.csv
var table []byte

// All are the symptoms of the table.
var All = read(table)

func read(data []byte) []Symptom {
	rows, err := csv.NewReader(strings.NewReader(string(data))).ReadAll()
	if err != nil {
		panic(fmt.Sprintf("symptoms.csv: %v", err)) // it is built in, and read by every test
	}
	var out []Symptom
	for i, r := range rows[1:] {
		if r[1] != "" {
			out = append(out, Symptom{Sense: Sense(r[0]), Key: r[1], Name: r[2], Shows: r[3], Look: sheet.ListOf(r[4])})
		}
		p := pointer{of: sheet.ListOf(strings.ToLower(r[5]))}
		share, err := strconv.ParseFloat(r[7], 64)
		if err != nil || share <= 0 || share > 1 || len(p.of) == 0 {
			panic(fmt.Sprintf("symptoms.csv, row %d: points at nothing, or as often as %q", i+2, r[7]))
		}
		p.share = share
		for _, effect := range sheet.ListOf(r[6]) {
			at := slices.Index(Effects[:], effect)
			if at < 0 && effect != "any" {
				panic(fmt.Sprintf("symptoms.csv, row %d: %q is no effect", i+2, effect))
			}
			for k := range p.by {
				p.by[k] = p.by[k] || k == at || effect == "any"
			}
		}
		last := &out[len(out)-1]
		last.points = append(last.points, p)
	}
	return out
}

// Of finds a symptom by its key.
func Of(key string) (*Symptom, bool) {
	i := slices.IndexFunc(All, func(s Symptom) bool { return s.Key == key })
	if i < 0 {
		return nil, false
	}
	return &All[i], true
}

// Noticed is a symptom as it was noticed. Count is how often a lamp blinks before it pauses, where it does.
type Noticed struct {
	Key   string `json:"key"`
	Count int    `json:"count,omitempty"`
	When  []When `json:"when,omitempty"`
}

// Says tells what was noticed: "one bright line, flat, once warm".
func (n Noticed) Says() string {
	s, ok := Of(n.Key)
	if !ok {
		return n.Key
	}
	out := s.Name
	if n.Count > 0 {
		out = fmt.Sprintf("a lamp blinks %d times", n.Count)
	}
	for _, w := range n.When {
		out += ", " + w.Says()
	}
	return out
}

// Entry is a symptom noted in a job.
type Entry struct {
	ID     string    `json:"id"`
	At     time.Time `json:"at"`
	Who    string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck bool      `json:"struck,omitempty" jsonschema:"description=withdrawn\\, but kept"`
	Noticed
}

const maxCount = 99 // blinks that somebody counts

// Head implements entry.Entry.
func (e *Entry) Head() entry.Head { return entry.Head{ID: &e.ID, At: &e.At, Who: &e.Who} }

// Withdraw implements entry.Withdrawable.
func (e *Entry) Withdraw(time.Time, string) { e.Struck = true }

// Withdrawn implements entry.Withdrawable.
func (e *Entry) Withdrawn() bool { return e.Struck }

// Check checks an entry as it came from outside. Errors can be mended by a person.
func (e *Entry) Check() error {
	s, ok := Of(e.Key)
	switch {
	case !ok:
		return mend.Errorf("%q is nothing that is noticed of a set", e.Key)
	case e.Count < 0 || e.Count > maxCount:
		return mend.Errorf("%d is no count of blinks: 1 to %d, or 0 where nobody counted", e.Count, maxCount)
	case e.Count > 0 && s.Sense != Lit:
		return mend.Errorf("only lamps are counted")
	}
	for i, w := range e.When {
		if !slices.Contains(Whens, w) || slices.Contains(e.When[:i], w) {
			return mend.Errorf("%q is no circumstance, or is there twice: use %s", w, strings.Join(w.Words(), ", "))
		}
	}
	return nil
}
