package training

import (
	"math"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/reference"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/trace"
	"steptrace/core/wave"
)

// What is aimed at can be shown to be read off, as in real work, instead of being taken down.

// Face is what an instrument shows: a trace over squares, or a figure. Volts and Seconds are those of one square; Trace runs over so many
// Across, in squares above the middle, of so many High. Moves says what it does while it is looked at.
type Face struct {
	Trace   []float64 `json:"trace"`
	Across  int       `json:"across"`
	High    int       `json:"high"`
	Volts   float64   `json:"volts"`
	Seconds float64   `json:"seconds"`
	Figure  string    `json:"figure"`
	Moves   string    `json:"moves"`
}

// Squares of a face, and how many samples its trace has.
const (
	squaresAcross = 10
	squaresHigh   = 8
	faceSamples   = 600
	facePeriods   = 2.0 // at least
)

// moves is what a trace does, by the word for it.
var moves = map[quantity.Word]string{
	quantity.CutsOut: "it goes away every now and then, and comes back", quantity.Hum: "it rides up and down, slowly",
	quantity.Crackle: "bursts run over it now and then",
}

// Face is what is shown where Answer would take it down. Errors can be mended by a person.
func (b *Bench) Face(c trace.Case, r Reads) (Face, error) {
	text, err := b.Answer(c, r)
	if err != nil {
		return Face{}, err
	}
	q, _, isLine := b.aimed(r)
	if _, isPoint := b.Plan.PointIndex(r.Point); q != sheet.AC || !isPoint && !isLine || c.Injected != nil && c.Injected.Touch {
		return Face{Figure: text, Trace: []float64{}}, nil
	}
	stand := b.under(c, r)
	seen, err := c.Take(r.Aim, text)
	return b.traced(c, stand, r.Point, moves[seen.Word]), err
}

// traced draws the signal at a point or a rail, without its DC.
func (b *Bench) traced(c trace.Case, stand standin.Stand, point, moves string) Face {
	hz := b.Good.Hz(point, stand)
	if site := (wave.Site{Mains: mains}); hz == 0 {
		in := reading.Reading{Point: point, Mode: c.Route.Mode, Injected: c.Injected, Instrument: c.Instrument}
		if due, unknown := reference.Due(c.Bench, in, &site); unknown == "" {
			hz = due.Hz
		}
	}
	if _, isLine := b.Plan.LineIndex(point); isLine || hz == 0 {
		hz = mains
	}
	out := Face{Across: squaresAcross, High: squaresHigh, Seconds: quantity.StepUp(facePeriods/hz/squaresAcross, 1, 2, 5), Moves: moves}
	rate := faceSamples / (squaresAcross * out.Seconds)
	x := b.Set.Waveform(point, stand, rate, 2*faceSamples, there)
	loading := reading.InstrumentFor(c.Instrument).Loading(b.Set.SourceOhms(point), hz)
	mean := 0.0
	for _, v := range x {
		mean += v / float64(len(x))
	}
	most := 0.0
	for i := range x {
		x[i] = (x[i] - mean) * loading
		most = math.Max(most, math.Abs(x[i]))
	}
	begins := 0 // where it rises through the middle
	for i := 1; i < faceSamples; i++ {
		if x[i-1] < 0 && x[i] >= 0 && x[min(i+faceSamples/100, len(x)-1)] > 0.1*most {
			begins = i
			break
		}
	}
	const leastSquare = 1e-3 // V: what a scope with its probe comes down to
	out.Volts = math.Max(quantity.StepUp(most/(0.45*squaresHigh), 1, 2, 5), leastSquare)
	for _, v := range x[begins : begins+faceSamples] {
		out.Trace = append(out.Trace, v/out.Volts)
	}
	return out
}

// Misread is a reading that was read off otherwise than it was.
type Misread struct {
	ID   string `json:"id"`
	Read string `json:"read"`
	Was  string `json:"was"`
}

// What one may be off by who reads a trace over squares, and a figure.
const offTrace, offFigure = 0.25, 0.03

// Misread tells whether what was read off a face is another than what was there: judged otherwise, or off by more than one is who reads
// squares.
func misread(c trace.Case, read, was reading.Reading) bool {
	a, b := c.Judge(read), c.Judge(was)
	if a.Verdict != b.Verdict {
		return true
	}
	if read.Word != quantity.NoWord || was.Word != quantity.NoWord {
		return read.Word != was.Word && !a.Verdict.Bad()
	}
	if read.Quantity == sheet.AC && a.LevelDBV != nil && b.LevelDBV != nil {
		return math.Abs(*a.LevelDBV-*b.LevelDBV) > quantity.DB(1+offTrace, 1)
	}
	return math.Abs(read.SI-was.SI) > offFigure*math.Abs(was.SI)
}

// ReadOff lays what was read off beside what was there, as it is typed; nil where they agree, or one of them cannot be read.
func ReadOff(c trace.Case, aim reading.Aim, read, was string) *Misread {
	a, err := c.Take(aim, read)
	if err != nil {
		return nil
	}
	if b, err := c.Take(aim, was); err == nil && misread(c, a, b) {
		return &Misread{Read: read, Was: was}
	}
	return nil
}
