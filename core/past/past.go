// Package past knows what finished jobs teach: of a model and of a kind of set, what failed, after which complaint, in how many
// minutes, what it was mistaken for, what came back. It knows the file in which a workshop lends that to another.
//
//	page := past.Of(jobs, past.About{Set: "Tavrin SA-22"})
package past

import (
	"slices"

	"steptrace/core/exchange"
)

// Step is a step of the work, as far as its time goes.
type Step string

// The steps, in their order.
const (
	Prepare Step = "prepare" // intake, made safe, opened
	Trace   Step = "trace"   // to the block at fault
	Inside  Step = "inside"  // to the part
	Replace Step = "replace" // what goes in, the iron
	Prove   Step = "prove"   // shown repaired, adjusted, measured, closed
)

// Steps lists them.
var Steps = [...]Step{Prepare, Trace, Inside, Replace, Prove}

// done is what a step is called once it is done.
var done = map[Step]string{
	Prepare: "taken in, opened", Trace: "traced", Inside: "inside", Replace: "renewed", Prove: "proved",
}

// Done is what a step is called once it is done.
func (s Step) Done() string { return done[s] }

// Words implements exchange.Enumerated.
func (Step) Words() []string { return exchange.WordsOf(Steps[:]) }

// Minutes are those of the steps.
type Minutes map[Step]float64

// Sum is all of them.
func (m Minutes) Sum() float64 {
	out := 0.0
	for _, s := range Steps { // in one order, so that the sum is the same each time
		out += m[s]
	}
	return out
}

// Job is a finished job, as it is remembered: nothing of its owner is in it. Set is the model with its maker, Kind that of the
// set. Work is how long each step took, Usual what is usual for it in such a set with what it was. Mistaken are the blocks that
// were repaired or condemned before, and were not it. Back: the set had come back with it. GaveUp: it was not repaired.
type Job struct {
	Set       string   `json:"set"`
	Kind      string   `json:"kind"`
	Finished  string   `json:"finished" jsonschema:"description=the day\\, as 2026-12-03"`
	Complaint string   `json:"complaint"`
	Was       string   `json:"was" jsonschema:"description=in the technician's words"`
	Ends      []End    `json:"ends"`
	Work      Minutes  `json:"work" jsonschema:"description=minutes by step: prepare\\, trace\\, inside\\, replace\\, prove"`
	Usual     Minutes  `json:"usual"`
	Mistaken  []string `json:"mistaken"`
	Prices    []Price  `json:"prices"`
	Back      bool     `json:"back,omitempty"`
	GaveUp    bool     `json:"gaveUp,omitempty"`
}

// End is where a job had its fault: the block and its kind (a stage's, "rail" or "line"), the part with what it had; the part is
// empty where none had failed.
type End struct {
	Block string `json:"block"`
	Kind  string `json:"kind"`
	Part  string `json:"part,omitempty"`
	What  string `json:"what,omitempty"`
}

// Price is what a part of a class did cost, in hours of work: so it is the same in every currency.
type Price struct {
	Class Class   `json:"class"`
	Hours float64 `json:"hours"`
}

// Class is a sort of part, as far as price and supply go.
type Class string

// The classes.
const (
	Solder Class = "solder" // a joint, a track, a contact that is cleaned: no part
	Small  Class = "small part"
	Strong Class = "power part"
	Chip   Class = "chip"
	Moving Class = "relay, switch, control or plug"
	Wound  Class = "transformer, coil or loudspeaker"
)

// Classes lists those that are bought.
var Classes = []Class{Small, Strong, Chip, Moving, Wound}

// Words implements exchange.Enumerated.
func (Class) Words() []string { return exchange.WordsOf(append([]Class{Solder}, Classes...)) }

// Blocks are those in which a job had its fault, each once.
func (j *Job) Blocks() []string {
	var out []string
	for _, e := range j.Ends {
		if e.Block != "" && !slices.Contains(out, e.Block) {
			out = append(out, e.Block)
		}
	}
	return out
}
