package reading

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Verdict says what a reading means against what was expected.
type Verdict string

// Words implements exchange.Enumerated.
func (Verdict) Words() []string { return exchange.WordsOf(Verdicts) }

// The verdicts. Unjudged means that nothing is known to compare with.
const (
	Unjudged     Verdict = "unjudged"
	Within       Verdict = "within"
	Low          Verdict = "low"
	Partly       Verdict = "partly" // some of it comes, some does not
	High         Verdict = "high"
	Absent       Verdict = "absent"
	Distorted    Verdict = "distorted"
	Noisy        Verdict = "noisy"
	Hum          Verdict = "hum"
	OffFrequency Verdict = "off-frequency"
	Intermittent Verdict = "intermittent"
)

// Verdicts are all of them; a place that was not read has none.
var Verdicts = []Verdict{"", Unjudged, Within, Low, Partly, High, Absent, Distorted, Noisy, Hum, OffFrequency, Intermittent}

// Bad tells whether the verdict speaks of a fault.
func (v Verdict) Bad() bool { return v != "" && v != Within && v != Unjudged }

// Judged is a reading with its verdict. Levels are in dB against 1 V rms, as
// this instrument would show them; they are nil where there are none.
type Judged struct {
	Reading     Reading      `json:"reading"`
	Understood  string       `json:"understood"` // the reading as it was read: "174 mV"
	Verdict     Verdict      `json:"verdict"`
	Expected    string       `json:"expected"` // "200 mV"; empty where nothing is known
	Off         string       `json:"off"`      // "−17.2 dB"
	How         string       `json:"how"`      // in what way it was taken, where it is not the plain one
	Note        string       `json:"note"`     // why it is not judged, or what to mind
	Source      sheet.Source `json:"source"`   // of what was expected
	Twin        string       `json:"twin"`     // the point of the good channel that stood in, where the sheet is silent
	Superseded  bool         `json:"superseded"`
	Round       int          `json:"round"`   // how many rounds repairs had begun before it
	Earlier     bool         `json:"earlier"` // of a round before the last repair
	Was         string       `json:"was"`     // what was read there before the last repair
	LevelDBV    *float64     `json:"levelDBV" jsonschema:"nullable"`
	ExpectedDBV *float64     `json:"expectedDBV" jsonschema:"nullable"`
	OffDB       *float64     `json:"offDB" jsonschema:"nullable"`

	// How it is reasoned with; none of it goes over the wire.
	Route    *sheet.Route `json:"-"` // the route it was judged on; nil where none
	At, From int          `json:"-"` // positions on that route: of the point, of the injection
	Times    float64      `json:"-"` // how often it was read so in a row
	Before   *Judged      `json:"-"` // what was read there before, and otherwise
}

// Vague tells whether it is a number held against what is no more than usual of such sets.
func (j *Judged) Vague() bool { return j.Source == sheet.Usual && j.Reading.Word == quantity.NoWord }

// Says is the verdict in short: "low, −17.2 dB", "heard good".
func (j *Judged) Says() string {
	switch {
	case j.Verdict == Unjudged:
		return "not judged"
	case j.Off != "":
		return string(j.Verdict) + ", " + j.Off
	case j.Reading.Word == quantity.OK:
		return "found good"
	}
	return string(j.Verdict)
}

var wordVerdicts = map[quantity.Word]Verdict{
	quantity.OK: Within, quantity.Nothing: Absent, quantity.Weak: Low, quantity.Partly: Partly, quantity.Hum: Hum, quantity.Noisy: Noisy,
	quantity.Crackle: Noisy, quantity.Distorted: Distorted, quantity.CutsOut: Intermittent, quantity.Open: High, quantity.Warm: High,
	quantity.Cold: Within,
}

// Judge compares one reading with what a good set would show under the same
// conditions with the same instrument.
func (b Bench) Judge(r Reading) Judged {
	j := b.verdict(r)
	j.How = b.how(&r)
	if point, ok := b.Plan.PointIndex(r.Point); ok && r.Word == quantity.NoWord && r.Power != PowerOff {
		b.Instrument = r.Instrument
		if why := b.Refused(point, r.Mode); why != "" {
			j.Note = Joined(j.Note, "mind: "+why)
		}
	}
	return j
}

// Long: what a reading is compared with, the first that is known.
func (b Bench) verdict(r Reading) Judged {
	j := Judged{Reading: r, Understood: r.Understood(), Verdict: Unjudged}
	if r.Quantity == sheet.Provocation {
		b.judgeProvocation(&j)
		return j
	}
	what, point, ok := b.spotOf(r.Point)
	switch {
	case !ok:
		j.Note = "the sheet no longer has this point"
		return j
	case r.Power == PowerOff && r.Word == quantity.NoWord && r.Quantity != sheet.Resistance && r.Quantity != sheet.TrackVolts:
		j.Note = "the set was off"
		return j
	case what == onTrack, what == onPart && r.Word == quantity.NoWord:
		j.Note = "counts towards where the short is"
		return j
	case what == onPart:
		j.Verdict = wordVerdicts[r.Word]
		return j
	case what == atFuse:
		j.judgeFuse()
		return j
	case what == atRail:
		i, _ := b.Plan.RailIndex(r.Point)
		j.judgeRail(&b.Plan.Rails[i])
		return j
	case what == atControl:
		i, _ := b.Plan.LineIndex(r.Point)
		j.judgeControl(&b.Plan.Controls[i-len(b.Plan.Rails)])
		return j
	}
	b.place(&j, point)
	if r.Injected != nil && r.Injected.Touch {
		b.judgeTouch(&j)
		return j
	}
	e, ok := b.Plan.Expect(point, r.Quantity, r.Mode)
	switch {
	case (r.Quantity == sheet.Resistance || r.Quantity == sheet.Temperature) && r.Word != quantity.NoWord && !ok:
		j.Note = fmt.Sprintf("the sheet gives no %s here", r.Quantity)
		return j
	case r.Word != quantity.NoWord:
		j.Verdict = wordVerdicts[r.Word]
		if ok && !r.Quantity.OfSignal() {
			j.Expected = e.Text()
		}
		return j
	case r.Quantity == sheet.AC:
		b.judgeLevel(&j, point)
		return j
	}
	if !ok {
		j.Note = fmt.Sprintf("the sheet gives no %s here", r.Quantity)
		return j
	}
	nominal := e.Value.SI
	if r.Quantity == sheet.DC {
		// A probe on a high resistance pulls the voltage down.
		nominal *= InstrumentFor(r.Instrument).Loading(b.Plan.Points[point].SourceOhms, 0)
	}
	j.compare(nominal, e.Value.Unit, e.Tolerance, e.Source)
	switch {
	case r.Quantity == sheet.Distortion:
		j.Expected = "at most " + j.Expected
		if j.Verdict.Bad() {
			j.Verdict = Distorted
		}
	case r.Quantity == sheet.Frequency && j.Verdict.Bad():
		j.Verdict = OffFrequency
	}
	return j
}

// place finds the route on which a reading speaks: the one being traced where
// it passes the point in the reading's mode, otherwise any that does.
func (b Bench) place(j *Judged, point int) {
	try := func(r *sheet.Route) bool {
		at, ok := r.At(point)
		if !ok || r.Mode != j.Reading.Mode {
			return false
		}
		from := 0
		if in := j.Reading.Injected; in != nil {
			k, ok := b.Plan.PointIndex(in.At)
			if !ok {
				return false
			}
			if from, ok = r.At(k); !ok || from > at {
				return false
			}
		}
		j.Route, j.At, j.From = r, at, from
		return true
	}
	if try(b.Route) {
		return
	}
	for i := range b.Plan.Routes {
		if try(&b.Plan.Routes[i]) {
			return
		}
	}
}

// judgeFuse judges the continuity of a fuse.
func (j *Judged) judgeFuse() {
	j.Expected = "below " + quantity.Value{SI: WholeFuseOhms, Unit: quantity.Ohm}.Short(2)
	switch {
	case j.Reading.Word == quantity.Open:
		j.Verdict = Absent
	case j.Reading.Word != quantity.NoWord:
		j.Verdict = wordVerdicts[j.Reading.Word]
	case j.Reading.SI <= WholeFuseOhms:
		j.Verdict = Within
	default:
		j.Verdict = Absent
	}
}

// judgeRail judges what was read of a rail: volts, ripple (peak to peak; the
// sheet gives the most), its frequency, or ohms to ground (the sheet gives the
// least).
//
// Long: what a rail can show, the gravest first.
func (j *Judged) judgeRail(rail *sheet.PlanRail) {
	r := &j.Reading
	unknown := "the sheet gives no value for this"
	switch {
	case r.Quantity == rail.Reads() && rail.Up == sheet.WithStart && r.Power == PowerStandby:
		j.Note = "this rail comes up only when the set is told to start"
		if r.Word == quantity.Nothing || r.Word == quantity.NoWord && math.Abs(r.SI) < absentShare*math.Abs(rail.Volts) {
			j.Verdict = Within
		}
	case r.Word == quantity.Open:
		j.Verdict = Within // nothing pulls it down
	case r.Word != quantity.NoWord:
		j.Verdict = wordVerdicts[r.Word]
	case r.Quantity == sheet.Current && rail.LoadA > 0:
		j.Expected = "at most " + quantity.Rounded(rail.LoadA, quantity.Ampere)
		if j.Verdict = Within; r.SI > overload*rail.LoadA {
			j.Verdict, j.Off = High, fmt.Sprintf("×%.3g", r.SI/rail.LoadA)
		}
	case rail.Alternates && (r.Quantity == sheet.AC || r.Quantity == sheet.DC):
		j.judgeAlternating(rail)
	case r.Quantity == sheet.DC:
		j.compare(rail.Volts, quantity.Volt, rail.Tolerance, rail.Source)
	case r.Quantity == sheet.Frequency && rail.RippleHz > 0:
		j.compare(rail.RippleHz, quantity.Hertz, quantity.Tolerance{Low: sameHz, High: sameHz, Unit: quantity.Ratio}, sheet.FromManual)
		if j.Verdict.Bad() {
			j.Verdict = OffFrequency
		}
	case r.Quantity == sheet.AC:
		pp := r.RippleV()
		most, from := rail.MostRipple()
		j.Expected, j.Source = MostRipple(rail), from
		if j.Verdict = Within; pp > most {
			j.Verdict = Hum
			j.Off = fmt.Sprintf("×%.3g", pp/most)
		}
	case r.Quantity == sheet.Resistance && (rail.Ohms > 0 || r.SI < DeadShortOhms):
		if rail.Ohms > 0 {
			j.Expected = "at least " + quantity.Rounded(rail.Ohms, quantity.Ohm)
		}
		if j.Verdict = Within; r.SI < max(DeadShortOhms, railOhmsShare*rail.Ohms) {
			j.Verdict = Low
		}
	default:
		j.Note = unknown
	}
}

// judgeControl judges what was read of a control: its volts as it stands or
// while it is worked, or the ohms of a ground.
func (j *Judged) judgeControl(control *sheet.PlanControl) {
	r := &j.Reading
	switch {
	case r.Word != quantity.NoWord:
		j.Verdict = wordVerdicts[r.Word]
	case r.Quantity == sheet.Resistance:
		j.Expected = "at most " + quantity.Rounded(wholeGroundOhms, quantity.Ohm)
		if j.Verdict = Within; r.SI > wholeGroundOhms {
			j.Verdict = High
		}
	case r.Worked && !control.Moves:
		j.Note = "the sheet does not say what it becomes when it is worked"
	case r.Worked:
		j.compare(control.Worked, quantity.Volt, control.WorkedTolerance, control.Source)
	default:
		j.compare(control.Volts, quantity.Volt, control.Tolerance, control.Source)
	}
}

// judgeAlternating judges the volts of a rail that alternates, in rms of a sine.
func (j *Judged) judgeAlternating(rail *sheet.PlanRail) {
	r := j.Reading
	rms, err := quantity.Sine.Convert(r.SI, r.Form, quantity.RMS)
	if r.Quantity == sheet.DC || err != nil {
		j.Note = "this rail alternates: read it in AC volts"
		return
	}
	j.Reading.SI = rms
	j.compare(rail.Volts, quantity.Volt, rail.Tolerance, rail.Source)
	j.Reading, j.Expected = r, strings.Replace(j.Expected, quantity.Rounded(rail.Volts, quantity.Volt), rail.Due(), 1)
}

// MostRipple tells the most ripple that a good set has on a rail: "at most 40 mVpp", "usually at most 21 Vpp".
func MostRipple(rail *sheet.PlanRail) string {
	most, from := rail.MostRipple()
	text := "at most " + quantity.Value{SI: most, Unit: quantity.Volt, Form: quantity.PeakPeak}.Short(3)
	if from == sheet.Usual {
		return "usually " + text
	}
	return text
}

// RippleV is a rail's AC reading in volts peak to peak. Ripple is near a
// sawtooth, whose crest is a triangle's.
func (r *Reading) RippleV() float64 {
	pp, err := quantity.Triangle.Convert(r.SI, r.Form, quantity.PeakPeak)
	if err != nil {
		return 0
	}
	return pp
}

// compare judges a number against a nominal in the same unit.
func (j *Judged) compare(nominal float64, unit quantity.Unit, t quantity.Tolerance, from sheet.Source) {
	j.Expected, j.Source = quantity.Rounded(nominal, unit), from
	if unit == quantity.Hertz {
		j.Expected = quantity.Frequency(nominal)
	}
	x := j.Reading.SI
	low, high := t.Bounds(nominal)
	if from == sheet.Usual {
		j.Expected = "usually " + sheet.Between(low, high, quantity.Unstated, unit)
	}
	defer j.vaguely()
	toward := x
	if nominal < 0 { // −11 V is low where −12 V is due
		toward, low, high = -x, -high, -low
	}
	switch {
	case toward >= low && toward <= high:
		j.Verdict = Within
	case toward > high:
		j.Verdict = High
	case nominal != 0 && toward < absentShare*math.Abs(nominal) && toward > -absentShare*math.Abs(nominal) &&
		(j.Reading.Quantity == sheet.DC || j.Reading.Quantity.OfSignal() || j.Reading.Quantity == sheet.Current):
		j.Verdict = Absent
	default:
		j.Verdict = Low
	}
	if nominal == 0 {
		j.Off = quantity.Value{SI: x, Unit: unit}.Short(2)
		return
	}
	j.Off = quantity.SignedPercent((x - nominal) / math.Abs(nominal))
	if nominal < 0 {
		j.Off = quantity.SignedPercent((nominal - x) / math.Abs(nominal))
	}
}

func (b Bench) judgeLevel(j *Judged, point int) {
	r := &j.Reading
	if j.Route == nil {
		b.judgeOffRoute(j, point)
		return
	}
	if b.opensLoop(j) {
		j.Note = "with the loop open the sheet's levels do not hold: say ok, weak, none or distorted"
		return
	}
	level := j.Route.Levels[j.At]
	shape := level.Shape
	rms, err := r.rms(shape)
	if err != nil {
		j.Note = err.Error()
		return
	}
	if rms > 0 {
		j.LevelDBV = exchange.Finite(quantity.DB(rms, 1))
	}
	expected, note, ok := b.expectLevel(j, InstrumentFor(r.Instrument), b.Plan.Points[point].SourceOhms)
	j.Note = note
	if !ok {
		return
	}
	j.judgeAgainst(expected, level)
}

// expectLevel is the level (dB against 1 V rms) that the instrument would show
// on a good set under the reading's conditions; or why there is none.
func (b Bench) expectLevel(j *Judged, in Instrument, sourceOhms float64) (dbv float64, note string, ok bool) {
	route := j.Route
	level := route.Levels[j.At]
	if !level.Known {
		return 0, "the sheet gives no level here, nor gains to work it out", false
	}
	dbv = level.DBV
	hz := level.Hz
	if inj := j.Reading.Injected; inj != nil {
		start := route.Levels[j.From]
		if inj.Hz > 0 && start.Hz > 0 && math.Abs(inj.Hz/start.Hz-1) > sameHz {
			return 0, fmt.Sprintf(
				"the sheet's levels hold for %s fed in, not %s",
				quantity.Frequency(start.Hz),
				quantity.Frequency(inj.Hz),
			), false
		}
		if inj.Level > 0 {
			if dbv, ok = b.Plan.Drive(route, j.From, quantity.DB(inj.Level, 1), j.At); !ok {
				return 0, "the sheet does not say what that level should become here", false
			}
		}
	}
	return in.shows(dbv, hz, level.Shape, sourceOhms)
}

// judgeOffRoute judges a level at a point that no route passes, a test pin: by what is
// printed there, whatever is fed in elsewhere.
func (b Bench) judgeOffRoute(j *Judged, point int) {
	r := &j.Reading
	level, ok := b.Plan.LevelOff(point, r.Mode)
	switch {
	case r.Injected != nil:
		j.Note = fmt.Sprintf("what is fed in at %s does not come past here", r.Injected.At)
		return
	case !ok:
		j.Note = "no route passes this point in this mode, and the sheet gives no level here"
		return
	}
	rms, err := r.rms(level.Shape)
	if err != nil {
		j.Note = err.Error()
		return
	}
	if rms > 0 {
		j.LevelDBV = exchange.Finite(quantity.DB(rms, 1))
	}
	expected, note, ok := InstrumentFor(r.Instrument).shows(level.DBV, level.Hz, level.Shape, b.Plan.Points[point].SourceOhms)
	if j.Note = note; ok {
		j.judgeAgainst(expected, level)
	}
}

// opensLoop tells whether a reading was taken with the feedback around its point
// lifted, so that the sheet's levels do not hold.
func (b Bench) opensLoop(j *Judged) bool {
	for _, l := range b.Plan.Loops {
		if slices.Contains(j.Reading.Without, b.Plan.Stages[l.Feedback].Name) &&
			slices.ContainsFunc(j.Route.Stages[j.From:j.At], func(s int) bool { return slices.Contains(l.Inside, s) }) {
			return true
		}
	}
	return false
}
