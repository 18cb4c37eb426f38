package worth

import "steptrace/core/past"

// All figures that an estimate goes by before a workshop has its own stand here. Minutes are those of an ordinary bench, by what
// practitioners tell of their days; a workshop's own jobs outweigh them soon (draw.go).

// Usual minutes of what does not depend on the block at fault.
const (
	takeIn     = 10.0 // intake, the complaint tried, made safe
	openUp     = 12.0 // to open it, photographs of wires
	untold     = 45.0 // to find the block where no sheet says how to
	showRight  = 10.0 // what was wrong is tried again
	perAdjust  = 8.0  // an adjustment
	perClosing = 1.5  // a closing measurement
	mostClose  = 30.0 // of all of them
	closeUp    = 12.0 // to put it together again
	tidyUp     = 10.0 // to look after a soak, and to hand it back
	nextPart   = 6.0  // each further part
)

// work is what a kind of block takes usually: minutes to the part inside it and to renew that, and of which classes the part is,
// in shares that sum to 1.
type work struct {
	inside, replace float64
	parts           []share
}

type share struct {
	class past.Class
	of    float64
}

// works are those of the kinds of block. Shares go by what fails in such blocks (MIL-HDBK-338B, failure shares of parts; the trade).
var works = map[string]work{
	"amplifier":     {25, 18, []share{{past.Small, 0.6}, {past.Strong, 0.22}, {past.Chip, 0.18}}},
	"mixer":         {25, 18, []share{{past.Small, 0.5}, {past.Chip, 0.35}, {past.Wound, 0.15}}},
	"oscillator":    {25, 18, []share{{past.Small, 0.6}, {past.Chip, 0.25}, {past.Wound, 0.15}}},
	"detector":      {20, 15, []share{{past.Small, 0.75}, {past.Chip, 0.25}}},
	"filter":        {20, 18, []share{{past.Small, 0.7}, {past.Wound, 0.3}}},
	"equaliser":     {22, 15, []share{{past.Small, 0.8}, {past.Chip, 0.2}}},
	"control":       {8, 20, []share{{past.Solder, 0.55}, {past.Moving, 0.45}}},
	"switch":        {8, 18, []share{{past.Solder, 0.6}, {past.Moving, 0.4}}},
	"relay contact": {8, 18, []share{{past.Moving, 0.75}, {past.Solder, 0.25}}},
	"connector":     {5, 10, []share{{past.Solder, 0.8}, {past.Moving, 0.2}}},
	"cable":         {5, 12, []share{{past.Solder, 0.7}, {past.Moving, 0.3}}},
	"joint":         {5, 8, []share{{past.Solder, 1}}},
	"wire":          {5, 8, []share{{past.Solder, 1}}},
	"transformer":   {10, 30, []share{{past.Wound, 1}}},
	"speaker":       {5, 20, []share{{past.Wound, 1}}},
	"head":          {10, 35, []share{{past.Wound, 0.7}, {past.Solder, 0.3}}},
	"aerial":        {5, 12, []share{{past.Solder, 0.7}, {past.Moving, 0.3}}},
	"rail":          {20, 20, []share{{past.Small, 0.45}, {past.Strong, 0.45}, {past.Wound, 0.1}}},
	"line":          {18, 15, []share{{past.Small, 0.6}, {past.Moving, 0.2}, {past.Chip, 0.2}}},
}

// anyWork is that of a block of which nothing is known.
var anyWork = work{20, 18, []share{{past.Small, 0.55}, {past.Strong, 0.15}, {past.Chip, 0.15}, {past.Moving, 0.15}}}

func workOf(kind string) work {
	if w, ok := works[kind]; ok {
		return w
	}
	return anyWork
}

// bought is what a class of part costs usually, in hours of work, and how often it can be had at all.
type bought struct{ hours, had float64 }

var classes = map[past.Class]bought{
	past.Solder: {0, 1},
	past.Small:  {0.03, 0.98},
	past.Strong: {0.12, 0.93},
	past.Chip:   {0.25, 0.8},
	past.Moving: {0.2, 0.85},
	past.Wound:  {0.9, 0.55},
}

// How far times and prices are from what is usual, as standard deviations of their logarithms: of a whole job, of a step beside
// that, of a price.
var stepSpread = map[past.Step]float64{
	past.Prepare: 0.4, past.Trace: 0.65, past.Inside: 0.7, past.Replace: 0.5, past.Prove: 0.45,
}

const (
	jobSpread   = 0.3
	priceSpread = 0.7
	// second is how often a second fault hides behind the first, and again is what finding that takes against the first.
	second, again = 0.15, 0.8
	// pseudoJobs is how many of its own jobs the usual figures are worth to a workshop.
	pseudoJobs = 3.0
	// pseudoEnds is the same of its chances.
	pseudoEnds = 12.0
)

// Chances before anything speaks against it.
const (
	foundPart, foundNamed, foundSheet, foundUsual, foundNothing = 0.98, 0.95, 0.9, 0.82, 0.7
	// fleeting is what an intermittent fault leaves of the chance that it is found.
	fleeting = 0.85
	// kept is how often a repair holds through its warranty.
	kept = 0.93
	// cameBack is what that leaves in a set that was repaired for the same before.
	cameBack = 0.8
	// boardHits is how often a board has the fault that was traced to it, and nothing beside it that would take the next one along.
	boardHits = 0.93
	// another is how often another used set works for as long.
	another = 0.85
	// chosenHad is how often what was chosen to be ordered comes.
	chosenHad = 0.97
)

// When something is told: few is from when on what can go wrong is, likely when it is said to be so; a suspect below worthAWord is not; a
// part is surely had from surelyHad on.
const few, likely, worthAWord, surelyHad = 0.1, 0.5, 0.02, 0.9

// holds is for how many days an estimate is given.
const holds = 14

// usualBoard is how long it takes to change a board, in minutes.
const usualBoard = 40.0

// Hindrance is something that was seen and speaks against a repair: what it leaves of the chances that the fault is found, that
// the part can be had, and that it lasts.
type Hindrance struct {
	Key   string  `json:"key"`
	Name  string  `json:"name"`
	Found float64 `json:"found"`
	Had   float64 `json:"had"`
	Lasts float64 `json:"lasts"`
}

// Hindrances are those that are asked for: the trade's experience in round figures.
func Hindrances() []Hindrance {
	return []Hindrance{
		{"charred", "a board is charred", 0.9, 1, 0.55},
		{"leaked", "fluid has leaked under chips", 0.85, 1, 0.6},
		{"flooded", "it was wet inside", 0.85, 1, 0.6},
		{"cracked", "a board is cracked", 0.9, 1, 0.8},
		{"special", "it needs a part made for it alone", 1, 0.45, 1},
		{"missing", "parts are missing", 0.8, 0.8, 0.95},
		{"botched", "somebody worked on it and left it worse", 0.85, 1, 0.85},
		{"nothad", "the part is not to be had: asked for", 1, 0.05, 1},
	}
}
