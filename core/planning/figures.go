package planning

// The minutes that reading costs, each with where it comes from.

const (
	// TouchMinutes is what a touch costs besides reaching its point: nothing has to be set.
	TouchMinutes = 0.3
	// probeMinutes is what a probe costs besides reaching its point: placing
	// the tip, setting the instrument, reading, writing down.
	ProbeMinutes = 1.0
)

// A probe changes what it measures where it takes more than a tenth of the level, and at
// tuned circuits and radio frequencies, where its few picofarads detune: then it costs a
// lighter probe or loose coupling, and a second look at how much it shifts.
const (
	lightLoad     = 0.9
	tunedHz       = 1e6
	detuneMinutes = 2.0
)

// Minutes that a change of the bench takes, once. Round figures of an ordinary
// workshop; a sheet's minutes say what is special about a point.
const (
	FeedMinutes = 1.5 // moving the generator to another point
	ModeMinutes = 0.5 // switching the set to another mode
	OpenMinutes = 5.0 // opening the set
	LiftMinutes = 6.0 // lifting a part or putting it back: off, discharge, solder, live again
)
