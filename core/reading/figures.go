package reading

// All figures that a reading is judged by stand here, each with where it comes from.

// Verdicts.

const (
	// absentDB is how far below expectation (dB) a level counts as not there:
	// what leaks past a dead stage is commonly 40 dB down and more.
	absentDB = 40.0
	// absentShare is the share of an expected DC voltage below which it counts
	// as missing rather than low.
	absentShare = 0.05
	// sameHz is how far (as a fraction) a frequency fed in may be from the
	// sheet's for its levels still to hold; an equaliser changes 0.4 dB in that.
	sameHz = 0.05
)

const (
	// touchVolts is what a finger or a probe's tip brings into a point of some
	// ten kilohms, in volts rms: mains hum by the body's capacitance. It may well
	// be ten times more or less.
	touchVolts = 0.02
	// A touch is heard loud where it makes more than LoudDB of the usual level at
	// the exit; below FaintDB nothing may be heard on a good set.
	LoudDB, FaintDB = -10.0, -30.0
)

const (
	// WholeFuseOhms is the most a whole fuse reads: those of some tens of
	// milliamperes have a few ohms, all others less than one.
	WholeFuseOhms = 20.0
	// DeadShortOhms to ground is a short on any rail, whatever the sheet says.
	DeadShortOhms = 1.0
	// ShortGone is how many times its ohms, or those of a dead short, a rail reads at least
	// once a short on it is gone; where the sheet has its ohms they decide.
	ShortGone = 5.0
	// railOhmsShare is how far below the sheet's least resistance a rail may
	// read: meters drive different currents through the junctions on it.
	railOhmsShare = 0.5
)

// overload is from how many times a rail's stated load on its current is too much: the
// load is what the sheet has for the whole of it at work.
const overload = 1.25

// wholeGroundOhms is the most between a ground and the chassis: more drops tens
// of millivolts at the currents of a small stage.
const wholeGroundOhms = 1.0

// The legs of a transistor, in volts DC between them. A silicon junction that conducts has 0.55 to 0.75 V
// at small and 0.9 V at full current (Shockley's equation at the currents of such stages), a germanium one
// 0.2 to 0.4 V.
const (
	// noDrop is the most between base and emitter of a transistor that is not driven, or shorted there.
	noDrop = 0.2
	// openDrop is from where on a junction in the forward direction conducts nothing: it is open.
	openDrop = 1.1
	// noSpan is the most between collector and emitter of one that is saturated or shorted.
	noSpan = 0.3
	// atNothing is as much as counts as no voltage at an emitter.
	atNothing = 0.05
)
