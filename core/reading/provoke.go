package reading

import (
	"fmt"
	"slices"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/quantity"
)

// A fault that comes and goes is cornered by what moves it. A provocation is a
// reading of its own quantity: something was done at a block, and the fault
// came, went, or did not care. Its text is "tap comes at R14".

// Act is what was done.
type Act string

// What can be done to provoke a fault.
const (
	Tap    Act = "tap"
	Flex   Act = "flex"
	Cool   Act = "cool"
	Heat   Act = "heat"
	Wiggle Act = "wiggle"
	Work   Act = "work" // a control, through its travel
)

// What came of it.
const (
	Comes   quantity.Word = "comes"
	Goes    quantity.Word = "goes"
	Unmoved quantity.Word = "no change"
)

// Action is an act as it is offered: how it is told, and what to mind before it.
type Action struct {
	Act     Act    `json:"act"`
	Done    string `json:"done"` // "tapped"
	Caution string `json:"caution"`
	doing   string
	words   []string // by which it is typed
}

const byStick = "With an insulated stick, one hand, nothing else touching the set."

// Actions lists what can be done, in the order it is offered.
var Actions = []Action{
	{Tap, "tapped", byStick, "tapping", []string{"tap"}},
	{Flex, "flexed", byStick, "flexing", []string{"flex", "press"}},
	{Wiggle, "wiggled", byStick, "wiggling", []string{"wiggle"}},
	{
		Work,
		"worked through its travel",
		"Turn the volume down first: a dead spot can come back at full level.",
		"working",
		[]string{"work"},
	},
	{
		Cool,
		"cooled",
		"Away from hot glass, high voltage and open flames; the spray also shrinks cracked joints and leaves damp behind.",
		"cooling",
		[]string{"cool", "freeze"},
	},
	{
		Heat,
		"warmed",
		"Low and slow, away from electrolytic capacitors and plastic; no more than a hand bears.",
		"heating",
		[]string{"heat", "warm"},
	},
}

var outcomes = map[string]quantity.Word{"comes": Comes, "goes": Goes, "nothing": Unmoved, "none": Unmoved, "unmoved": Unmoved}

// takeProvocation reads "tap comes at R14".
func (b Bench) takeProvocation(r Reading) (Reading, error) {
	words := strings.Fields(strings.ReplaceAll(strings.ToLower(r.Text), ",", " "))
	example := mend.Errorf("say what was done and what came of it, for example: tap comes at R14; cool goes; wiggle nothing")
	if len(b.BlocksAt(r.Point)) == 0 {
		return r, &UnknownPoint{r.Point}
	}
	if len(words) < 2 {
		return r, example
	}
	i := slices.IndexFunc(Actions, func(a Action) bool { return slices.Contains(a.words, words[0]) })
	if i < 0 {
		return r, example
	}
	r.Act, r.Injected = Actions[i].Act, nil
	if words[1] == "no" && len(words) > 2 && words[2] == "change" {
		r.Word = Unmoved
		return r, nil
	}
	word, ok := outcomes[words[1]]
	if !ok {
		return r, example
	}
	r.Word = word
	return r, nil
}

// blocksAt lists the blocks that something done at a place is done to: the block
// of that name, or those that meet at a point.
func (b Bench) BlocksAt(name string) []int {
	for k := range b.Plan.Blocks() {
		if b.Plan.BlockName(k) == name {
			return []int{k}
		}
	}
	point, ok := b.Plan.PointIndex(name)
	if !ok {
		return nil
	}
	var out []int
	for i := range b.Plan.Stages {
		if s := &b.Plan.Stages[i]; s.From == point || s.To == point {
			out = append(out, i)
		}
	}
	return out
}

// done describes a provocation: "tapping R14 driver".
func (r *Reading) Done() string {
	for _, a := range Actions {
		if a.Act == r.Act {
			return a.doing + " " + r.Point
		}
	}
	return r.Point
}

// judgeProvocation: what moves the fault shows that it comes and goes.
func (b Bench) judgeProvocation(j *Judged) {
	if len(b.BlocksAt(j.Reading.Point)) == 0 {
		j.Note = "the sheet no longer has this"
		return
	}
	if j.Reading.Word == Unmoved {
		j.Note = fmt.Sprintf("%s changes nothing", j.Reading.Done())
		return
	}
	j.Verdict = Intermittent
	j.Note = fmt.Sprintf("%s makes the fault %s", j.Reading.Done(), map[quantity.Word]string{Comes: "come", Goes: "go"}[j.Reading.Word])
	if j.Reading.Act == Cool {
		j.Note += "; the spray moves a cracked joint as well: tap it too before concluding"
	}
}
