package training

import (
	"fmt"
	"math/rand/v2"
	"slices"

	"steptrace/core/circuit"
	"steptrace/core/exchange"
	"steptrace/core/inside"
	"steptrace/core/mend"
)

// Quick ones take two minutes: one question, some choices, one of them right, and why. Each is made from its kind and a seed, so that
// the same one comes again, and is checked before it is asked: what the others would show differs by more than a meter is off.

// QuickKind is a kind of quick one.
type QuickKind string

// The kinds.
const (
	WhichPart   QuickKind = "which part"
	WhichStage  QuickKind = "which stage"
	WhatIsLeft  QuickKind = "what is left"
	WhichSupply QuickKind = "what is weak"
	WhatIsIt    QuickKind = "what is it"
	WhatFits    QuickKind = "what fits"
)

// QuickKinds lists them.
var QuickKinds = []QuickKind{WhichPart, WhichStage, WhatIsLeft, WhichSupply, WhatIsIt, WhatFits}

// Words implements exchange.Enumerated.
func (QuickKind) Words() []string { return exchange.WordsOf(QuickKinds) }

// Fact is a line of what is known: what is due, and what was read.
type Fact struct {
	Name  string `json:"name"`
	Due   string `json:"due"`
	Reads string `json:"reads"`
	Off   bool   `json:"off"`
}

// Trace is a place's waveform on a good set and on this one, in volts, evenly spaced over so many seconds.
type Trace struct {
	Name    string    `json:"name"`
	Seconds float64   `json:"seconds"`
	Good    []float64 `json:"good"`
	Is      []float64 `json:"is"`
}

// Drawn is a circuit with what is due at its nodes, and what was read.
type Drawn struct {
	Stage  string         `json:"stage"`
	Figure circuit.Figure `json:"figure"`
	Nodes  []inside.Node  `json:"nodes"`
	Parts  []inside.Part  `json:"parts"`
}

// Quick is a quick one as it is asked.
type Quick struct {
	Kind    QuickKind `json:"kind"`
	Seed    uint32    `json:"seed"`
	Ask     string    `json:"ask"`
	Facts   []Fact    `json:"facts"`
	Traces  []Trace   `json:"traces"`
	Circuit *Drawn    `json:"circuit" jsonschema:"nullable"`
	Choices []string  `json:"choices"`
	about   string    // which kind of fault it is of, for what comes again
	right   int
	why     []string
}

// Solved is the answer to one: which choice, why, and what it was about.
type Solved struct {
	Right int      `json:"right"`
	Why   []string `json:"why"`
	About string   `json:"about"`
}

// Solved gives it.
func (q *Quick) Solved() Solved { return Solved{q.right, q.why, q.about} }

// mostChoices is how many there are to choose from.
const mostChoices = 4

// makers make a quick one of each kind; false where what was drawn has no one right answer.
var makers = map[QuickKind]func(q *Quick, rng *rand.Rand) bool{
	WhichPart: (*Quick).whichPart, WhichStage: (*Quick).whichStage, WhatIsLeft: (*Quick).whatIsLeft, WhichSupply: (*Quick).whichSupply,
	WhatIsIt: (*Quick).whatIsIt, WhatFits: (*Quick).whatFits,
}

// MakeQuick makes the quick one of a kind and a seed. Errors can be mended by a person (mend.Error).
func MakeQuick(kind QuickKind, seed uint32) (*Quick, error) {
	do, ok := makers[kind]
	if !ok {
		return nil, mend.Errorf("%q is no kind of quick one", kind)
	}
	rng := rand.New(rand.NewPCG(uint64(seed), 0x9c1))
	for range mostTries {
		q := &Quick{Kind: kind, Seed: seed, Facts: []Fact{}, Traces: []Trace{}}
		if do(q, rng) {
			return q, nil
		}
	}
	return nil, mend.Errorf("nothing with one right answer was drawn: ask for another")
}

// choose lays the choices out in an order that is drawn; the first is right.
func (q *Quick) choose(rng *rand.Rand, choices ...string) bool {
	right := choices[0]
	slices.Sort(choices)
	if choices = slices.Compact(choices); len(choices) < mostChoices {
		return false
	}
	choices = slices.DeleteFunc(choices, func(c string) bool { return c == right })
	rng.Shuffle(len(choices), func(a, b int) { choices[a], choices[b] = choices[b], choices[a] })
	choices = append(choices[:mostChoices-1], right)
	rng.Shuffle(len(choices), func(a, b int) { choices[a], choices[b] = choices[b], choices[a] })
	q.Choices, q.right = choices, slices.Index(choices, right)
	return true
}

func pick[T any](rng *rand.Rand, list []T) T { return list[rng.IntN(len(list))] }

func because(format string, args ...any) string { return mend.Sentence(fmt.Sprintf(format, args...)) }
