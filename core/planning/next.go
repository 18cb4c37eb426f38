package planning

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// Span is a piece of a sentence; what the eye should catch is marked.
type Span struct {
	Text string `json:"text"`
	Mark string `json:"mark"`
}

// Fact is a labelled line under the sentence.
type Fact struct {
	Label string `json:"label"`
	Text  string `json:"text"`
}

// Probe is a proposal: where to probe next, with what, and why.
type Probe struct {
	Point    string         `json:"point"`
	At       int            `json:"at"` // position on the route
	Quantity sheet.Quantity `json:"quantity"`
	Purpose  string         `json:"purpose"`
	Sentence []Span         `json:"sentence"`
	Facts    []Fact         `json:"facts"`
	Minutes  float64        `json:"minutes"`
	Without  []string       `json:"without"` // what to lift for it
	Worked   bool           `json:"worked"`  // the control is worked for it
	Bits     float64        `json:"bits"`    // of information to expect of it
	// How the bench has to stand for it.
	Route    string             `json:"route"` // its key
	Injected *reading.Injection `json:"injected" jsonschema:"nullable"`
}

// refusedCuts lists the points that part the suspects and are left out only for what the instrument
// bears, and why.
func (t *Situation) RefusedCuts() []string {
	var out []string
	for at := t.Suspects[0] + 1; at <= t.Suspects[len(t.Suspects)-1]; at++ {
		if why := t.Refused(t.Route.Points[at], t.Route.Mode); why != "" && t.Route.Levels[at].Known {
			out = append(out, t.PointName(at)+": "+why+".")
		}
	}
	return out
}

func minutes(m float64) string {
	text := strconv.FormatFloat(math.Round(m*2)/2, 'f', -1, 64)
	if text == "1" {
		return "1 minute"
	}
	return text + " minutes"
}

// propose writes out a reading to take.
func (t *Situation) Propose(r *Access, purpose, why string) *Probe {
	point := &t.Plan.Points[r.Point()]
	level := r.Route.Levels[r.At]
	p := &Probe{
		Point:    point.Name,
		At:       -1,
		Quantity: r.read(),
		Purpose:  purpose,
		Minutes:  point.Minutes + ProbeMinutes + t.lighterMinutes(r.Route, r.At),
		Without:  []string{},
		Route:    r.Route.Key,
	}
	if at, ok := t.Route.At(r.Point()); ok {
		p.At = at
	}
	if r.Now {
		p.Injected = t.Injected
	} else if r.From == 0 {
		p.Injected = t.Entry(r.Route)
	} else {
		p.Injected = &reading.Injection{At: t.Plan.Points[r.Route.Points[r.From]].Name}
	}
	p.Sentence = t.before(r)
	say := func(text, mark string) { p.Sentence = append(p.Sentence, Span{text, mark}) }
	verb := "probe "
	if purpose == "again" {
		verb = "read "
	}
	if len(p.Sentence) == 0 {
		verb = mend.Capital(verb)
	}
	say(verb, "")
	say(point.Name, "point")
	if purpose == "again" {
		say(" again", "")
	}
	switch dbv := t.expectOf(r); {
	case r.read() != sheet.AC:
		say(fmt.Sprintf(" for its %s", r.Quantity), "")
		if e, ok := t.Plan.Expect(r.Point(), r.Quantity, r.Route.Mode); ok {
			say(" and expect ", "")
			say(e.Text(), "value")
		}
	case r.Lifted != sheet.None:
		say(" and say whether the signal is there", "")
		p.Without = []string{t.Plan.Stages[r.Lifted].Name}
	case dbv != nil:
		say(" and expect ", "")
		say(t.levelText(r, *dbv), "value")
		if level.Hz > 0 {
			say(" at "+quantity.Frequency(level.Hz), "")
		}
		p.Facts = t.facts(r, point, level, *dbv)
		if _, twin, ok := t.TwinLevel(r.Route, r.At, t.Judged); ok {
			p.Facts = append(p.Facts, Fact{"Expected", "as its twin " + twin + " reads; the sheet is silent here"})
		}
	default:
		say(" and say what is there", "")
	}
	say(".", "")
	if needs := t.needs(r); needs != "" {
		p.Facts = append(p.Facts, Fact{"Needs", needs})
	}
	p.Facts = append(p.Facts, Fact{"Why here", why})
	// What can hurt stands before how to do it.
	mind := reading.Joined(point.Hazard, t.Refused(r.Point(), r.Route.Mode), t.disturbed(r.Route, r.At))
	if r.Lifted != sheet.None {
		mind = reading.Joined(
			"without its feedback the gain is far higher, and an output stage may run away: lower the signal, take the loudspeaker off, "+
				"and keep it short",
			mind,
		)
	}
	if mind != "" {
		p.Facts = slices.Insert(p.Facts, 0, Fact{"Mind", mind})
	}
	return p
}

// before says what has to be changed before a reading; it begins the sentence.
func (t *Situation) before(r *Access) []Span {
	var out []Span
	add := func(first, then string, spans ...Span) {
		if len(out) == 0 {
			out = append(out, Span{first, ""})
		} else {
			out = append(out, Span{then, ""})
		}
		out = append(append(out, spans...), Span{", ", ""})
	}
	now, to := t.standing(), t.feedOf(r)
	switch {
	case to.mode != now.mode && to.mode != "":
		add("Switch to ", "", Span{to.mode, "point"})
	case to.mode != t.Route.Mode && to.mode != "":
		add("Still in ", "", Span{to.mode, "point"})
	}
	if to.point != now.point && to.point != byItself {
		name := Span{t.Plan.Points[to.point].Name, "point"}
		if l := r.Route.Levels[r.From]; l.Known {
			add("Feed ", "feed ", Span{l.Nominal(), "value"}, Span{" in at ", ""}, name)
		} else {
			add("Feed a signal in at ", "feed a signal in at ", name)
		}
	}
	if r.Lifted != sheet.None {
		add("Open the loop at ", "open the loop at ", Span{t.Plan.Stages[r.Lifted].Name, "point"})
	}
	return out
}

// does says what is done for a reading, in a few words.
func (t *Situation) does(r *Access) string {
	text := ""
	for _, s := range t.before(r) {
		text += s.Text
	}
	return mend.Capital(text + "probe " + t.Plan.Points[r.Point()].Name)
}

// needs says what a reading takes besides the probe.
func (t *Situation) needs(r *Access) string {
	var out []string
	if outside := t.outside(); !t.opened(outside) && (!outside[r.Point()] || r.From > 0 && !r.Now) {
		out = append(out, fmt.Sprintf("the set open, about %s once", minutes(OpenMinutes)))
	}
	if now, to := t.standing().point, t.feedOf(r).point; to != byItself && to != now {
		out = append(out, "the generator moved")
	}
	if r.Lifted != sheet.None {
		out = append(out, fmt.Sprintf("the set off and discharged while %s is lifted, then live again", t.Plan.Stages[r.Lifted].Name))
	}
	return strings.Join(out, "; ")
}

// levelText writes the level that a reading shows on a good set, by what it is known from.
func (t *Situation) levelText(r *Access, dbv float64) string {
	level := r.Route.Levels[r.At]
	if _, _, ok := t.TwinLevel(r.Route, r.At, t.Judged); ok {
		level.Source = sheet.FromGood
	}
	return level.TextAt(dbv)
}

// expectOf is the level that a reading shows on a good set; nil where nothing is known.
func (t *Situation) expectOf(r *Access) *float64 {
	if dbv, _, ok := t.TwinLevel(r.Route, r.At, t.Judged); ok {
		return exchange.Finite(dbv)
	}
	level := r.Route.Levels[r.At]
	switch {
	case !level.Known:
		return nil
	case r.Now:
		dbv, _ := t.ExpectNow(r.At)
		return dbv
	}
	return exchange.Finite(level.DBV)
}

// partsText says how a check parts the blocks.
func (t *Situation) partsText(c *check) string {
	good, bad := t.leaves(c.probe.splits)
	what := fmt.Sprintf("%d suspects", len(t.blocks()))
	if here := len(t.Suspects); here < len(t.blocks()) {
		what += fmt.Sprintf(" that this route needs, %d of them on it", here)
	}
	return fmt.Sprintf("splits the %s: bad leaves %d, good %d", what, len(bad), len(good))
}

func (t *Situation) facts(r *Access, point *sheet.PlanPoint, level sheet.Level, dbv float64) []Fact {
	var out []Fact
	switch {
	case point.Drawing != "" && point.Note != "":
		out = append(out, Fact{"On the drawing", "point " + point.Drawing + ", " + point.Note})
	case point.Drawing != "":
		out = append(out, Fact{"On the drawing", "point " + point.Drawing})
	case point.Note != "":
		out = append(out, Fact{"Which is", point.Note})
	}
	if w := waveform(level); w != "" {
		out = append(out, Fact{"Waveform", w})
	}
	if level.Known && level.Source != sheet.Usual && t.byWord() {
		out = append(out, Fact{"Now measure", "so far it was said in words, and a word does not tell half a level from all of it"})
	}
	out = append(out, Fact{"With", setUp(reading.InstrumentFor(t.Instrument), level, dbv)})
	set := level.Settings
	if set == "" {
		set = t.Plan.Sheet.Settings
	}
	if t.Power == reading.PowerOff {
		set = reading.Joined("the set is off: switch it on first", set)
	}
	if t.feedOf(r).point == byItself && t.standing().point != byItself {
		set = reading.Joined("feed nothing in", set)
	}
	if set != "" {
		out = append(out, Fact{"Set", set})
	}
	return out
}

// byWord tells whether the last that was read of the signal was a word, where a figure could have been.
func (t *Situation) byWord() bool {
	for i := range slices.Backward(t.Judged) {
		if r := &t.Judged[i].Reading; !r.Struck && r.Quantity == sheet.AC && (r.Injected == nil || !r.Injected.Touch) {
			return r.Word != quantity.NoWord
		}
	}
	return false
}

// waveform describes what is not a plain sine, or has a picture.
func waveform(level sheet.Level) string {
	text := ""
	if level.Shape != "" && level.Shape != quantity.Sine {
		text = string(level.Shape)
	}
	if level.Picture != "" {
		text = strings.TrimPrefix(text+", picture "+level.Picture, ", ")
	}
	return text
}

// setUp proposes how to set the instrument: about six divisions high, two
// periods wide, in steps of 1, 2 and 5.
func setUp(in reading.Instrument, level sheet.Level, dbv float64) string {
	if level.Hz > in.MaxHz {
		return fmt.Sprintf("a scope; a %s cannot be trusted at %s", in.Name, quantity.Frequency(level.Hz))
	}
	if !in.Scope {
		return in.Name + ", AC volts"
	}
	pp, err := level.Shape.Convert(quantity.Times(dbv), quantity.RMS, quantity.PeakPeak)
	if err != nil {
		pp = 2 * math.Sqrt2 * quantity.Times(dbv)
	}
	text := fmt.Sprintf("%s, AC, %s", in.Name, quantity.Value{SI: quantity.StepUp(pp/6, 1, 2, 5), Unit: quantity.Volt}.Short(1))
	if level.Hz > 0 {
		text += fmt.Sprintf(" and %s", quantity.Value{SI: quantity.StepUp(2/level.Hz/10, 1, 2, 5), Unit: quantity.Second}.Short(1))
	}
	return text + " a division"
}
