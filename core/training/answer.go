package training

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/reference"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/trace"
	"steptrace/core/wave"
)

// Bench is the set of a case on a bench: as it is now, a good one to know what is noticed by, and how it stands.
type Bench struct {
	Plan      *sheet.Plan
	Set, Good *standin.Set
	Stand     standin.Stand
}

// Reads is what a reading is taken of besides the aim: with what lifted, or swapped for good; with the control worked.
type Reads struct {
	reading.Aim
	Without []string
	Worked  bool
}

// under is how the set stands for what is traced.
func (b *Bench) under(c trace.Case, r Reads) standin.Stand {
	stand := b.Stand
	stand.On, stand.Mode, stand.Fed, stand.Good = c.Power != reading.PowerOff, c.Route.Mode, nil, r.Without
	if in := c.Injected; in != nil && !in.Touch {
		stand.Fed = &standin.Feed{At: in.At, RMS: in.Level, Hz: in.Hz}
	} else if len(c.Route.Points) > 0 && !b.Plan.Points[c.Route.Points[0]].Source {
		stand.Fed = &standin.Feed{At: b.Plan.Points[c.Route.Points[0]].Name}
	}
	return stand
}

// Answer is what the bench gives for a reading, as it is typed. Errors can be mended by a person (mend.Error).
func (b *Bench) Answer(c trace.Case, r Reads) (string, error) {
	c.Plan = b.Plan
	if route, ok := b.Plan.Route(c.Route.Key); ok {
		c.Route = route
	}
	stand := b.under(c, r)
	q, line, isLine := b.aimed(r)
	if text, ok := b.shorted(c, r.Point); ok {
		return text, nil
	}
	if r.Point == "" {
		return "", mend.Errorf("aim at something first: a point, a rail or a control")
	}
	if !isLine && !b.has(r.Point) {
		return "", mend.Errorf("the set that is practised on has nothing called %.60s. Choose another place", r.Point)
	}
	switch {
	case c.Injected != nil && c.Injected.Touch:
		return b.touched(c, stand, r.Point)
	case len(b.Plan.FuseRails(r.Point)) > 0 && b.Set.Blown(r.Point):
		return string(quantity.Open), nil
	case len(b.Plan.FuseRails(r.Point)) > 0:
		return "0.1 ohm", nil
	case isLine && q == sheet.DC:
		return volts(b.lineVolts(line, stand, r), ""), nil
	case isLine && q == sheet.AC:
		return b.ripple(r.Point, line, stand), nil
	case isLine && q == sheet.Current:
		return fmt.Sprintf("%.*g A", figures, b.Set.Draws(r.Point, stand, 0)), nil
	}
	return b.atPoint(c, stand, r.Point, q)
}

// atPoint is what is read at a point or a node.
func (b *Bench) atPoint(c trace.Case, stand standin.Stand, point string, q sheet.Quantity) (string, error) {
	switch q {
	case sheet.AC:
		return b.level(c, stand, point), nil
	case sheet.DC:
		return volts(b.Set.Volts(point, stand), " dc"), nil
	case sheet.Frequency:
		return b.frequency(stand, point)
	case sheet.Resistance:
		if stand.On {
			return "", mend.Errorf("ohms are read with the set off")
		}
		return quantity.Value{SI: b.Set.Ohms(point, stand), Unit: quantity.Ohm}.Short(figures), nil
	}
	return b.asStated(c, stand, point, q)
}

// aimed is what is read where it is aimed, as the place has it where nothing was said; and which line that is, if it is one.
func (b *Bench) aimed(r Reads) (q sheet.Quantity, line int, isLine bool) {
	line, isLine = b.Plan.LineIndex(r.Point)
	switch {
	case r.Quantity != "":
		return r.Quantity, line, isLine
	case isLine:
		return b.Plan.LineReads(line), line, true
	}
	return sheet.AC, line, false
}

// has tells whether there is a point, a node or a fuse of a name.
func (b *Bench) has(name string) bool {
	_, point := b.Plan.PointIndex(name)
	return point || b.Plan.InCircuit(name) || len(b.Plan.FuseRails(name)) > 0
}

// figures is how many of them an instrument gives.
const figures = 4

func volts(x float64, behind string) string {
	return fmt.Sprintf("%.*g V%s", figures, x, behind)
}

// lineVolts is what stands on a rail or a control, which may be worked meanwhile.
func (b *Bench) lineVolts(line int, stand standin.Stand, r Reads) float64 {
	x := b.Set.Volts(r.Point, stand)
	if k := line - len(b.Plan.Rails); r.Worked && k >= 0 && b.Plan.Controls[k].Moves {
		was := b.Good.Volts(r.Point, stand)
		if math.Abs(x-was) < 0.1*math.Max(math.Abs(was), 1) { // it moves where nothing is wrong with it
			return b.Plan.Controls[k].Worked
		}
	}
	return x
}

// ripple is what is on a rail beside its volts, peak to peak; of one that alternates its volts rms.
func (b *Bench) ripple(name string, line int, stand standin.Stand) string {
	const rate, n = 20e3, 4000
	ch := wave.Channel{Unit: "V", Samples: b.Set.Waveform(name, stand, rate, n, 0)}
	f := ch.Measure(rate, wave.Site{Mains: mains})
	key, form := "pp", quantity.PeakPeak
	if line < len(b.Plan.Rails) && b.Plan.Rails[line].Alternates {
		key, form = "ac", quantity.RMS
	}
	x, _ := f.Find(key)
	return quantity.Value{SI: x.Value, Unit: quantity.Volt, Form: form}.Short(figures)
}

// A glance lasts for longer than what cuts out takes to do so once; of a signal that is too fast for that, for longer than hum takes to
// be seen, with fewer samples in a period. Their number is no whole one, so that each falls elsewhere in it.
const (
	glanceSeconds = 0.55
	glanceHum     = 0.07
	glancePeriods = 26.0
	glanceSamples = 13_000.0
	glanceUnknown = 1e3 // Hz, where nothing is due

	finest, coarsest = 31.7, 11.7 // samples a period
)

// glance is how a signal of a frequency (Hz) is looked at: the rate, and how many samples.
func glance(hz float64) (rate float64, n int) {
	if hz <= 0 {
		hz = glanceUnknown
	}
	rate = hz * max(min(glanceSamples/(glanceHum*hz), finest), coarsest)
	return rate, int(max(min(glanceSeconds*rate, glanceSamples), glancePeriods*finest))
}

// level is what a scope makes of the signal at a point: its level, or what is wrong with it.
func (b *Bench) level(c trace.Case, stand standin.Stand, point string) string {
	site := wave.Site{Mains: mains}
	in := reading.Reading{Point: point, Mode: c.Route.Mode, Injected: c.Injected, Instrument: c.Instrument}
	due, unknown := reference.Due(c.Bench, in, &site)
	hz := due.Hz
	if unknown != "" {
		hz = b.Good.Hz(point, stand)
	}
	rate, n := glance(hz)
	ch := wave.Channel{Unit: "V", Samples: b.Set.Waveform(point, stand, rate, n, 0)}
	if unknown != "" || b.opened(stand) { // the sheet's levels do not hold with a loop opened
		return b.seen(&ch, stand, point, rate)
	}
	loading := reading.InstrumentFor(c.Instrument).Loading(b.Set.SourceOhms(point), b.Set.Hz(point, stand))
	for i := range ch.Samples {
		ch.Samples[i] *= loading
	}
	level := fmt.Sprintf("%.6g Vrms", ch.RMS())
	if !b.Set.Touches(point, stand) { // there is nothing to be found
		return level
	}
	if word := b.envelope(c, stand, point, hz); word != quantity.NoWord {
		return string(word)
	}
	ref, err := due.Reference(rate)
	if err != nil {
		return level
	}
	compared, ok := wave.Compare(&ch, rate, &ref, site)
	if !ok || len(compared.Defects) == 0 {
		return level
	}
	switch first := compared.Defects[0]; {
	case first.Reading != "":
		return first.Reading
	case first.Kind != wave.WrongFrequency:
		return level
	}
	f := ch.Measure(rate, site)
	return f.Reading(&compared)
}

// opened tells whether feedback is lifted.
func (b *Bench) opened(stand standin.Stand) bool {
	return slices.ContainsFunc(b.Plan.Loops, func(l sheet.Loop) bool {
		return slices.Contains(stand.Good, b.Plan.Stages[l.Feedback].Name)
	})
}

// What the level of a carrier does is seen with a slow sweep: so many looks over the time of a glance, each of so many samples.
const (
	envelopeLooks   = 50
	envelopeSamples = 200
	carrierHz       = 100e3
	swings, goes    = 0.3, 0.05 // of its greatest: what is below it is seen to swing, or to go
)

// envelope is what is seen of a carrier's level over a longer time, where something of its way is wrong; no word where it stands still.
func (b *Bench) envelope(c trace.Case, stand standin.Stand, point string, hz float64) quantity.Word {
	if hz < carrierHz || !b.Set.Concerns(c.Route, stand) {
		return quantity.NoWord
	}
	least, most := math.Inf(1), 0.0
	for k := range envelopeLooks {
		at := there + glanceSeconds*float64(k)/envelopeLooks
		look := wave.Channel{Samples: b.Set.Waveform(point, stand, finest*hz, envelopeSamples, at)}
		least, most = min(least, look.RMS()), max(most, look.RMS())
	}
	switch {
	case rms(b.Good, point, stand) > most*quantity.Times(faintDB): // what is left may be noise
		return quantity.NoWord
	case least < goes*most:
		return quantity.CutsOut
	case least < (1-swings)*most:
		return quantity.Hum
	}
	return quantity.NoWord
}

// words are those for what is noticed where nothing is known to compare with.
var words = map[As]quantity.Word{
	Fine: quantity.OK, Silent: quantity.Nothing, Faint: quantity.Weak, Distorted: quantity.Distorted, Humming: quantity.Hum,
	Noisy: quantity.Noisy, Crackling: quantity.Crackle, Breaking: quantity.CutsOut,
}

// seen is what somebody makes of a waveform who knows such sets, where the manual is silent: a word, or else its level.
func (b *Bench) seen(ch *wave.Channel, stand standin.Stand, point string, rate float64) string {
	good := wave.Channel{Unit: "V", Samples: b.Good.Waveform(point, stand, rate, len(ch.Samples), 0)}
	as := levels(ch.RMS(), good.RMS())
	if as != Silent {
		as = compared(ch, &good, rate)
	}
	if w, ok := words[as]; ok {
		return string(w)
	}
	f := ch.Measure(rate, wave.Site{Mains: mains})
	return f.Reading(nil)
}

// frequency is what a counter shows.
func (b *Bench) frequency(stand standin.Stand, point string) (string, error) {
	hz := b.Set.Hz(point, stand)
	if hz == 0 {
		return "", mend.Errorf("nothing that repeats is there, so that no frequency can be read. Read the level: it says none")
	}
	return fmt.Sprintf("%.7g Hz", hz), nil
}

// touched is what is heard at an exit while a point is touched.
func (b *Bench) touched(c trace.Case, stand standin.Stand, heard string) (string, error) {
	from, okFrom := b.Plan.PointIndex(c.Injected.At)
	to, okTo := b.Plan.PointIndex(heard)
	first, on := c.Route.At(from)
	last, along := c.Route.At(to)
	if !okFrom || !okTo || !on || !along || last < first {
		return "", mend.Errorf("what is touched at %s is not heard at %s: choose a route that passes both", c.Injected.At, heard)
	}
	// What is left of a touch is what is left of any signal that clips nowhere: of one as it should be there.
	stand.Fed = &standin.Feed{At: c.Injected.At}
	if !c.Route.Levels[first].Known {
		stand.Fed.RMS = touchRMS
	}
	left := quantity.DB(rms(b.Set, heard, stand), rms(b.Good, heard, stand))
	louder, known := c.TouchLeft(c.Route, first, last)
	switch {
	case left < -silentDB, known && louder+left < reading.FaintDB:
		return string(quantity.Nothing), nil
	case left < -faintDB, known && louder+left < reading.LoudDB:
		return string(quantity.Weak), nil
	}
	return string(quantity.Hum), nil
}

// touchRMS is what a signal is taken for where the sheet has no level for it (V).
const touchRMS = 1e-3

// rms is the level of the signal at a point (V), looked at so that no sample falls where others do in a period.
func rms(s *standin.Set, at string, stand standin.Stand) float64 {
	const n = 1600
	rate, _ := glance(s.Hz(at, stand))
	ch := wave.Channel{Samples: s.Waveform(at, stand, rate, n, there)}
	return math.Max(ch.RMS(), 1e-9)
}

// acts are what is done to a place to have the fault come or go, by their first words.
func actOf(text string) (word string, ok bool) {
	word, _, _ = strings.Cut(strings.ToLower(strings.TrimSpace(text)), " ")
	return word, slices.Contains([]string{"tap", "flex", "press", "wiggle", "work", "cool", "freeze", "heat", "warm"}, word)
}

// Provoke is what comes of something done to a place: "tap comes". What is wrong has to be told for it, as only the set knows it.
func (b *Bench) Provoke(c trace.Case, place, act string, left []Fault) (string, error) {
	word, ok := actOf(act)
	if !ok {
		return "", mend.Errorf("say what is done: tap, flex, wiggle, work, cool or heat")
	}
	blocks := c.BlocksAt(place)
	if len(blocks) == 0 {
		return "", &reading.UnknownPoint{Name: place}
	}
	out := "no change"
	for _, f := range left {
		here := slices.ContainsFunc(blocks, func(k int) bool { return c.Plan.BlockName(k) == f.Block })
		switch {
		case !here:
		case f.When == standin.Moved && slices.Contains([]string{"tap", "flex", "press", "wiggle"}, word):
			out = "comes"
		case f.When == standin.Warm && (word == "cool" || word == "freeze") && b.Stand.Warm:
			out = "goes"
		case f.When == standin.Warm && (word == "heat" || word == "warm") && !b.Stand.Warm:
			out = "comes"
		}
	}
	return word + " " + out, nil
}

// Try is what is noticed at an exit, in a mode and from an entry, with what stands in for a while: the word that the matrix takes.
func (b *Bench) Try(mode, entry, exit string, without []string) (quantity.Word, error) {
	for _, c := range cells(b.Plan) {
		if c.mode == mode && c.entry == entry && c.exit == exit {
			stand := b.Stand
			stand.Good = without
			return c.tried(b.Set, b.Good, b.Plan, stand).Mark(), nil
		}
	}
	return quantity.NoWord, mend.Errorf("nothing leads from %s to %s here", entry, exit)
}

// What is left on a reservoir that has no bleeder falls through what leaks, with this time constant (s); and what a meter finds once it was
// emptied through a resistor (V).
const (
	leaksAway = 1800.0
	emptied   = 0.2
)

// Residual is what is left on a reservoir so many minutes after it was switched off, as it is typed: what its bleeder leaves, or once it
// was measured before, next to nothing, as whoever measures it empties it then. Ok is false where there is none of that name.
func Residual(plan *sheet.Plan, name string, minutes float64, before bool) (text string, ok bool) {
	i := slices.IndexFunc(plan.Reservoirs, func(r sheet.PlanReservoir) bool { return r.Name == name })
	if i < 0 {
		return "", false
	}
	r := &plan.Reservoirs[i]
	left, tau := emptied, leaksAway
	if r.BleederOhms > 0 {
		tau = r.BleederOhms * r.Farads
	}
	if !before {
		left = math.Max(r.Volts*math.Exp(-60*minutes/tau), emptied)
	}
	return fmt.Sprintf("%.3g V", left), true
}
