// Package training makes sets to practise on: a set with something wrong with it, as its owner tells of it; what the bench
// shows of it; and what working on it came to, beside the best that could have been done.
//
//	c, err := training.Draw(ctx, training.Wish{Level: training.First, Seed: 7}, sources)
//	set, err := c.Set(repaired, …)
//
// All of it is computed: what a set shows from its sheet and its faults (core/standin), what its owner says from that, and the
// best plan by the program's own reasoning (core/trace, core/planning).
package training

import (
	"slices"

	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/standin"
)

// Level is how hard a case is.
type Level string

// The levels. First steps: one fault that is there all the time, in a set of few blocks, told in full. Usual: any one fault. Long:
// one in a set of many blocks, or one that comes and goes, told in part. Hard: two faults, or an error in the manual.
const (
	First Level = "first steps"
	Usual Level = "usual"
	Long  Level = "long"
	Hard  Level = "hard"
)

// Levels lists them, the easiest first.
var Levels = []Level{First, Usual, Long, Hard}

// Words implements exchange.Enumerated.
func (Level) Words() []string { return exchange.WordsOf(Levels) }

// Advice is how much the program says while one practises.
type Advice string

// Hidden: nothing, as at a bench without Step Trace. Asked: once for each time that it is asked, at a price. Shown: all the time.
const (
	Hidden Advice = "hidden"
	Asked  Advice = "asked"
	Always Advice = "shown"
)

// Words implements exchange.Enumerated.
func (Advice) Words() []string { return exchange.WordsOf([]Advice{Hidden, Asked, Always}) }

// Fault is one thing that is wrong with the set of a case.
type Fault = standin.Fault

// Case is a set to practise on. Worn are parts that anybody would find off who measured them, and of which nothing is noticed.
// Manual is the sheet that comes with it; True, where that has an error, the set as it is. Seed draws the tolerances of the set.
type Case struct {
	Level  Level        `json:"level"`
	Kind   Kind         `json:"kind,omitempty"` // of fault
	From   string       `json:"from"`           // what it was made from, in words
	Seed   uint64       `json:"seed"`
	Advice Advice       `json:"advice"`
	Lesson int          `json:"lesson,omitempty"` // of the course, that it was drawn for
	Faults []Fault      `json:"faults"`
	Worn   []Fault      `json:"worn,omitempty"`  // parts that are off, and not why it came
	Error  string       `json:"error,omitempty"` // of the manual, in words
	Manual *sheet.Sheet `json:"manual"`
	True   *sheet.Sheet `json:"true,omitempty"`
	Told   Told         `json:"told"`
	Best   []Path       `json:"best"` // where the program's own proposals lead, fault by fault
}

// Plan is the set as it is, worked out.
func (c *Case) Plan() (*sheet.Plan, error) {
	s := c.Manual
	if c.True != nil {
		s = c.True
	}
	plan, problems := s.Plan()
	if sheet.Blocked(problems) {
		return nil, mend.Errorf("the set of this case cannot be worked out: %s", problems[0].Message)
	}
	return plan, nil
}

// Set is the set with what is still wrong with it and what is worn, and a good one of the same tolerances.
func (c *Case) Set(plan *sheet.Plan, left []Fault) (set, good *standin.Set, err error) {
	return c.set(plan, slices.Concat(left, c.Worn))
}

// After is the set after what was done to it, as Set gives it: a fuse that had opened stays so until it is renewed with what opened it
// gone, or bridged.
func (c *Case) After(plan *sheet.Plan, repairs []repair.Entry) (set, good *standin.Set, err error) {
	set, good, err = c.set(plan, slices.Concat(c.Left(repairs), cured(c.Worn, repairs)))
	if err != nil {
		return nil, nil, err
	}
	for _, f := range Fuses(plan) {
		gone, err := c.gone(plan, f.Name, repairs)
		if err != nil {
			return nil, nil, err
		}
		if gone {
			set.Blow(f.Name)
		}
	}
	return set, good, nil
}

func (c *Case) set(plan *sheet.Plan, wrong []Fault) (set, good *standin.Set, err error) {
	if set, err = standin.New(plan, wrong...); err != nil {
		return nil, nil, err
	}
	if good, err = standin.New(plan); err != nil {
		return nil, nil, err
	}
	set.Spread(c.Seed)
	good.Spread(c.Seed)
	return set, good, nil
}
