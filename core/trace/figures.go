package trace

import (
	"math"

	"steptrace/core/quantity"
	"steptrace/core/reading"
)

// All figures that the reasoning goes by stand here, each with where it comes
// from or why it is what it is.

// Belief.

const (
	// misread is how often a reading is taken down wrongly: a slipped tip, the
	// wrong pin, a range misjudged. One in twenty is what hurried work by hand
	// comes to; careful work is better, and then a second reading is soon taken.
	misread = 0.05
	// sure is the belief in a stage from which on it may be condemned; where
	// nothing on the route would add to it, likely is enough.
	sure, likely = 0.995, 0.95
	// loading is how often a faulty block pulls down the point before it, so
	// that the block before seems weak: shorted inputs are a small share of
	// failures.
	loading = 0.05
	// pseudoJobs is how many jobs the general rates are worth against what this
	// workshop has found in the model itself.
	pseudoJobs = 4.0
	// lentJob is what a job of another workshop weighs against one of its own, lentMost what all of them weigh together at most: one job of
	// its own outweighs them, since sets lead other lives elsewhere, and others count otherwise (history_test.go has what that gains,
	// and that it costs nothing on average even where nothing is in common).
	lentJob, lentMost = 0.3, 1.0
	// weakSpot raises the rate of a block that the sheet calls a usual fault,
	// and fitting raises it once more where the complaint speaks of it.
	weakSpot, fitting = 3.0, 2.0
)

// kindRate is how often a kind of block fails against an amplifier stage.
// Contacts and moving parts lead, as in the base rates of MIL-HDBK-217F (relays,
// switches and connectors above small semiconductors, those above passive
// parts) and in what the trade tells; the ratios are rounded.
var kindRate = map[string]float64{
	"amplifier": 1, "mixer": 1, "oscillator": 1, "detector": 0.7, "filter": 0.5, "equaliser": 0.6, "transformer": 0.4, "control": 1.5,
	"switch":        2,
	"relay contact": 2.5, "connector": 1.5, "cable": 1, "joint": 1.5, "wire": 0.5, "feedback": 0.5, "speaker": 0.7, "head": 1,
	"aerial": 0.5,
}

// pasts are the kinds of block that something in a set's life makes likelier to
// fail, and how many times: damp and salt go for contacts, heat for electrolytics
// and the joints of hot parts, a fall for joints and plugs. Keys are those of the
// intake; the trade's experience in round figures.
var pasts = map[string]map[string]float64{
	"store":     {"switch": 2, "relay contact": 2, "connector": 1.5, "control": 2, "amplifier": 1.3, "rail": 1.5},
	"damp":      {"switch": 2, "relay contact": 2, "connector": 2, "joint": 2, "cable": 1.5, "transformer": 1.5},
	"sea air":   {"switch": 2.5, "relay contact": 2.5, "connector": 2.5, "joint": 1.5},
	"heat":      {"amplifier": 1.5, "rail": 1.5, "joint": 2},
	"switching": {"switch": 1.5, "relay contact": 1.5, "joint": 1.5, "rail": 1.5},
	"knock":     {"joint": 3, "connector": 2, "wire": 2, "cable": 2},
}

// cameBack raises the rate of a block that was repaired in an earlier job of this very set: what comes back has mostly
// the same trouble, or what caused it (practitioners' experience, reckoned cautiously: that block is the first to be
// looked at, and others are not out of the question).
const cameBack = 8.0

// workedOn raises the rate of a block that somebody worked on before: a wrong
// part, a part turned round, a joint beside it.
const workedOn = 3.0

// What a repair leaves (rounds.go). keptGood: a block shown good before it, and not
// touched, is at fault now where that reading was a misreading, one in twenty, or the
// work has harmed it, which is as rare. renewed: a block whose parts were renewed is at
// fault still where another of its parts is, or what was fitted is bad: one time in four
// as likely as one that nobody looked at.
const keptGood, renewed = 0.1, 0.25

// toldOf raises the rate of a block that the complaint points at by what is usual of such sets: it is
// meant in the first place, and in one case of four it was something else all the same.
const toldOf = 4.0

const (
	otherRate = 0.8
	railRate  = 1.2
	// controlRate: a line and its driver fail like a small amplifier stage.
	controlRate = 1.0
)

// shares are how a kind of block fails, by effect; each row sums to 1. After the
// failure-mode shares of MIL-HDBK-338B for the parts that make up such a block:
// semiconductors open, short or drift; contacts stay open or grow resistive and
// come and go; potentiometers grow noisy.
var shares = map[string][effects]float64{
	"amplifier": {dead: 0.42, weak: 0.2, strong: 0.03, distorting: 0.13, noisy: 0.08, humming: 0.05, offTune: 0.01, comesAndGoes: 0.08},
	"contact":   {dead: 0.45, weak: 0.17, distorting: 0.03, noisy: 0.08, humming: 0.01, offTune: 0.01, comesAndGoes: 0.25},
	"control":   {dead: 0.2, weak: 0.1, strong: 0.05, distorting: 0.03, noisy: 0.35, humming: 0.05, offTune: 0.02, comesAndGoes: 0.2},
	"tuned":     {dead: 0.35, weak: 0.25, strong: 0.02, distorting: 0.05, noisy: 0.05, humming: 0.03, offTune: 0.15, comesAndGoes: 0.1},
	"passive":   {dead: 0.45, weak: 0.3, strong: 0.03, distorting: 0.05, noisy: 0.03, humming: 0.03, offTune: 0.03, comesAndGoes: 0.08},
	"line":      {dead: 0.5, weak: 0.15, strong: 0.1, distorting: 0.03, noisy: 0.06, humming: 0.02, offTune: 0.04, comesAndGoes: 0.1},
	"rail":      {dead: 0.45, weak: 0.12, strong: 0.03, distorting: 0.08, noisy: 0.02, humming: 0.22, offTune: 0.02, comesAndGoes: 0.06},
}

// shows is how likely each effect of a block in the way makes each verdict. What
// is missing to 1 is spread over the verdicts that are not listed.
var shows = [effects]map[reading.Verdict]float64{
	dead:         {reading.Absent: 0.85, reading.Low: 0.1, reading.Noisy: 0.02},
	weak:         {reading.Low: 0.88, reading.Absent: 0.05, reading.Noisy: 0.03, reading.Distorted: 0.02},
	strong:       {reading.High: 0.85, reading.Distorted: 0.1},
	distorting:   {reading.Distorted: 0.8, reading.Low: 0.1, reading.High: 0.03, reading.Noisy: 0.03},
	noisy:        {reading.Noisy: 0.85, reading.Low: 0.05, reading.Intermittent: 0.04},
	humming:      {reading.Hum: 0.85, reading.Low: 0.05, reading.Distorted: 0.05},
	offTune:      {reading.OffFrequency: 0.75, reading.Low: 0.12, reading.Absent: 0.05, reading.Distorted: 0.03},
	comesAndGoes: {reading.Intermittent: 0.4, reading.Within: 0.3, reading.Absent: 0.15, reading.Low: 0.08, reading.Noisy: 0.05},
}

// mistaken is what a reading that was taken down wrongly says where all is well:
// mostly that nothing is there, or too little.
var mistaken = map[reading.Verdict]float64{
	reading.Absent:       0.45,
	reading.Low:          0.3,
	reading.High:         0.08,
	reading.Noisy:        0.05,
	reading.Distorted:    0.04,
	reading.Hum:          0.04,
	reading.OffFrequency: 0.02,
	reading.Intermittent: 0.02,
}

// overlooked is how often a reading that was taken down wrongly says that all is
// well where it is not; otherwise it shows the wrong fault.
const overlooked = 0.8

// usualHides is how often a block that is weak or too strong leaves a level within what is usual of
// such sets: a fault of x dB stays inside a band of 28 dB from 1 − x/28 of all places in it, and from
// none beyond that; the mean over faults of 6 to 30 dB.
const usualHides = 0.36

// hints is how many times likelier, or less likely, a kind of block makes a fault that shows so, against all blocks whose
// fault makes the same verdict: bias clips one side, a supply that is low both; hum at the mains comes in at a
// broken screen or ground, at twice that through a reservoir; a stage without its decoupling swings, a
// contact crackles. The trade's experience in round figures. A kind that is not listed makes it as often as any.
var hints = map[quantity.Detail]map[string]float64{
	quantity.ClippedTop:    oneSided,
	quantity.ClippedBottom: oneSided,
	quantity.ClippedBoth:   {"rail": 3, "line": 1.2, "control": 1.2, "passive": 0.4, "contact": 0.2},
	quantity.Crossover:     {"amplifier": 1.6, "control": 0.4, "passive": 0.1, "tuned": 0.1, "contact": 0.1},
	quantity.HumMains:      {"contact": 3, "passive": 1.5, "rail": 0.6},
	quantity.HumDouble:     {"rail": 1.4, "amplifier": 0.6, "passive": 0.3, "contact": 0.15},
	quantity.Oscillation:   {"amplifier": 2, "tuned": 1.2, "rail": 0.8, "passive": 0.5, "control": 0.4, "contact": 0.2},
	quantity.Hiss:          {"amplifier": 1.6, "control": 0.6, "contact": 0.5, "passive": 0.4, "rail": 0.3},
	quantity.Crackling:     {"contact": 2, "control": 2, "amplifier": 0.7, "rail": 0.5},
	quantity.SlowEdges:     {"passive": 1.5, "contact": 1.3, "rail": 0.3},
	quantity.Ringing:       {"passive": 1.5, "tuned": 1.5, "contact": 0.5, "rail": 0.2},
	quantity.Tilt:          {"passive": 1.3, "amplifier": 1.2, "contact": 0.3, "rail": 0.3},
	quantity.SyncClipped:   {"amplifier": 1.4, "control": 1.2, "passive": 0.6, "contact": 0.2},
	quantity.Crushed:       {"amplifier": 1.4, "control": 1.2, "rail": 1.2, "passive": 0.4, "contact": 0.2},
	quantity.LowsMissing:   {"passive": 1.4, "amplifier": 1.2, "contact": 0.5, "rail": 0.2},
	quantity.HighsMissing:  {"passive": 1.4, "tuned": 1.4, "contact": 0.8, "rail": 0.2},
}

var oneSided = map[string]float64{"amplifier": 1.4, "passive": 0.7, "tuned": 0.5, "control": 0.5, "contact": 0.2}

// A signal that clips far below the supply that its stage has (a share of its volts) does so for want of bias, or for that
// supply is not what it should be; one that clips near it has its supply, and too much of itself: so many times likelier.
const (
	farBelow, nearSupply = 0.75, 0.9
	supplyLow, supplyHas = 2.0, 0.4
)

// wholeWay is how likely a set with several ways shows nothing of one that is
// bad: the other carries on.
const wholeWay = 0.3

// shifts is how likely each effect of a stage puts the DC voltage or the
// resistance at its own points out of tolerance; of a rail likewise. Open and
// shorted semiconductors and coupling capacitors nearly always do, noise and
// mistuning hardly ever: the trade's experience in round figures.
var shifts = [effects]float64{
	dead:         0.75,
	weak:         0.5,
	strong:       0.3,
	distorting:   0.75,
	noisy:        0.2,
	humming:      0.15,
	offTune:      0.1,
	comesAndGoes: 0.15,
}

// coupled is the share of that at the points of a neighbouring stage.
const coupled = 0.3

// Provocations.

// reaction is how likely a provocation moves an intermittent fault of the block
// it is done to.
type reaction map[reading.Act]float64

// reactions by what the block is made of: joints and contacts answer to being
// moved, semiconductors and capacitors to heat and cold. The trade's experience
// in round figures; no standard gives any.
var reactions = map[bool]reaction{
	true: {
		reading.Tap:    0.6,
		reading.Flex:   0.6,
		reading.Wiggle: 0.6,
		reading.Work:   0.6,
		reading.Cool:   0.25,
		reading.Heat:   0.25,
	}, // contacts
	false: {reading.Tap: 0.4, reading.Flex: 0.4, reading.Wiggle: 0.3, reading.Work: 0.2, reading.Cool: 0.45, reading.Heat: 0.45},
}

const (
	// travels is how likely moving a block moves a fault in the one beside it:
	// a board shakes as a whole. Heat and cold stay where they are put.
	travels, drifts = 0.15, 0.06
	// chance is how often an intermittent fault comes or goes just then.
	chance = 0.03
	// steadyMoves is how often a fault that does not come and go by itself seems
	// to answer to a provocation.
	steadyMoves = 0.02
)

// stillLikely is the share of the likeliest block's belief down to which a block
// that only good readings of a fleeting fault speak against stays among the suspects.
const stillLikely = 0.02

// Condemning.

const (
	// enough is how often the same reading is asked for.
	enough = 3.0
	// nearly is the share of a stage's belief from which on a supply or control of it that
	// nobody has read is named beside it.
	nearly = 0.2
	// worthAsking is the belief in another block from which on a reading against
	// it is worth the walk: a quarter of what may remain in all.
	worthAsking = (1 - sure) / 4
)

// Errors of the manual.

const (
	// swappedNear and swappedFar are how often two given labels are exchanged:
	// neighbours on a route and twins by far the most. valueWrong is how often a
	// given value is off by a clean factor. The trade's experience in round
	// figures: a manual of some hundred labels and values has one or two slips.
	swappedNear, swappedFar, valueWrong = 1.0 / 200, 1.0 / 2000, 1.0 / 1000
	// cleanWithin is how near (dB) to a clean factor a level has to be. The six
	// windows below what is due cover an eighth of the 60 dB over which misread
	// levels lie: hitting one makes the factor some six times as likely.
	cleanWithin, cleanHit = 0.6, 6.0
	// elsewhereShare is how often a fault shows in none of the readings: it comes
	// and goes, or lies outside of the sheet.
	elsewhereShare = 0.05
	// manualOdds is from where on an error of the manual is offered.
	manualOdds = 20.0
	// toldApart is by how much (dB) the levels of two points differ of which a reading tells which it was.
	toldApart = 5.0
	// farOff is from how far (dB) on a level needs no closer look: wider than any
	// tolerance of a sheet with the load of an instrument on top.
	farOff = 20.0
	// mostErrors is how many are looked at: each weighs all readings anew.
	mostErrors = 12
)

// slips are the factors by which values are printed too high or too low, and what
// each is like.
var slips = []struct {
	factor    float64
	high, low string
}{
	{math.Sqrt2, "peak printed for rms", "rms printed for peak"},
	{2, "peak to peak printed for peak", "peak printed for peak to peak"},
	{2 * math.Sqrt2, "peak to peak printed for rms", "rms printed for peak to peak"},
	{10, "a slip of the decimal point", "a slip of the decimal point"},
	{100, "a slip of the decimal point by two places", "a slip of the decimal point by two places"},
	{1000, "milli printed for micro", "micro printed for milli"},
}

// worthAnother is how many times likelier the stages of another route have to be at fault before that is
// traced first: routes of a sheet stand in the order of what the set is for.
const worthAnother = 1.5
