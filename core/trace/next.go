package trace

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"steptrace/core/exchange"
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

// refusedCut tells whether a point that parts the suspects is left out only for
// what the instrument bears; the reasons then say which.
func (f *finder) refusedCut() bool {
	found := false
	for at := f.suspects[0] + 1; at <= f.suspects[len(f.suspects)-1]; at++ {
		if why := f.Refused(f.Route.Points[at], f.Route.Mode); why != "" && f.Route.Levels[at].Known {
			f.out.Reasons = append(f.out.Reasons, f.PointName(at)+": "+why+".")
			found = true
		}
	}
	return found
}

func minutes(m float64) string {
	text := strconv.FormatFloat(math.Round(m*2)/2, 'f', -1, 64)
	if text == "1" {
		return "1 minute"
	}
	return text + " minutes"
}

// propose writes out a reading to take.
func (f *finder) propose(r *access, purpose, why string) *Probe {
	point := &f.Plan.Points[r.point()]
	level := r.route.Levels[r.at]
	p := &Probe{
		Point:    point.Name,
		At:       -1,
		Quantity: r.read(),
		Purpose:  purpose,
		Minutes:  point.Minutes + probeMinutes + f.lighterMinutes(r.route, r.at),
		Without:  []string{},
		Route:    r.route.Key,
	}
	if at, ok := f.Route.At(r.point()); ok {
		p.At = at
	}
	if r.now {
		p.Injected = f.Injected
	} else if r.from == 0 {
		p.Injected = f.Entry(r.route)
	} else {
		p.Injected = &reading.Injection{At: f.Plan.Points[r.route.Points[r.from]].Name}
	}
	p.Sentence = f.before(r)
	say := func(text, mark string) { p.Sentence = append(p.Sentence, Span{text, mark}) }
	verb := "probe "
	if purpose == "again" {
		verb = "read "
	}
	if len(p.Sentence) == 0 {
		verb = capital(verb)
	}
	say(verb, "")
	say(point.Name, "point")
	if purpose == "again" {
		say(" again", "")
	}
	switch dbv := f.expectOf(r); {
	case r.read() != sheet.AC:
		say(fmt.Sprintf(" for its %s", r.quantity), "")
		if e, ok := f.Plan.Expect(r.point(), r.quantity, r.route.Mode); ok {
			say(" and expect ", "")
			say(e.Text(), "value")
		}
	case r.lifted != noStage:
		say(" and say whether the signal is there", "")
		p.Without = []string{f.Plan.Stages[r.lifted].Name}
	case dbv != nil:
		say(" and expect ", "")
		say(sheet.LevelText(*dbv, level.Form, level.Shape), "value")
		if level.Hz > 0 {
			say(" at "+quantity.Frequency(level.Hz), "")
		}
		p.Facts = f.facts(r, point, level, *dbv)
		if _, twin, ok := f.TwinLevel(r.route, r.at, f.judged); ok {
			p.Facts = append(p.Facts, Fact{"Expected", "as its twin " + twin + " reads; the sheet is silent here"})
		}
	default:
		say(" and say what is there", "")
	}
	say(".", "")
	if needs := f.needs(r); needs != "" {
		p.Facts = append(p.Facts, Fact{"Needs", needs})
	}
	p.Facts = append(p.Facts, Fact{"Why here", why})
	// What can hurt stands before how to do it.
	mind := reading.Joined(point.Hazard, f.Refused(r.point(), r.route.Mode), f.disturbed(r.route, r.at))
	if r.lifted != noStage {
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
func (f *finder) before(r *access) []Span {
	var out []Span
	add := func(first, then string, spans ...Span) {
		if len(out) == 0 {
			out = append(out, Span{first, ""})
		} else {
			out = append(out, Span{then, ""})
		}
		out = append(append(out, spans...), Span{", ", ""})
	}
	now, to := f.standing(), f.feedOf(r)
	switch {
	case to.mode != now.mode && to.mode != "":
		add("Switch to ", "", Span{to.mode, "point"})
	case to.mode != f.Route.Mode && to.mode != "":
		add("Still in ", "", Span{to.mode, "point"})
	}
	if to.point != now.point && to.point != byItself {
		name := Span{f.Plan.Points[to.point].Name, "point"}
		if l := r.route.Levels[r.from]; l.Known {
			add("Feed ", "feed ", Span{l.Text(), "value"}, Span{" in at ", ""}, name)
		} else {
			add("Feed a signal in at ", "feed a signal in at ", name)
		}
	}
	if r.lifted != noStage {
		add("Open the loop at ", "open the loop at ", Span{f.Plan.Stages[r.lifted].Name, "point"})
	}
	return out
}

// does says what is done for a reading, in a few words.
func (f *finder) does(r *access) string {
	text := ""
	for _, s := range f.before(r) {
		text += s.Text
	}
	return capital(text + "probe " + f.Plan.Points[r.point()].Name)
}

// needs says what a reading takes besides the probe.
func (f *finder) needs(r *access) string {
	var out []string
	if outside := f.outside(); !f.opened(outside) && (!outside[r.point()] || r.from > 0 && !r.now) {
		out = append(out, fmt.Sprintf("the set open, about %s once", minutes(openMinutes)))
	}
	if now, to := f.standing().point, f.feedOf(r).point; to != byItself && to != now {
		out = append(out, "the generator moved")
	}
	if r.lifted != noStage {
		out = append(out, fmt.Sprintf("the set off and discharged while %s is lifted, then live again", f.Plan.Stages[r.lifted].Name))
	}
	return strings.Join(out, "; ")
}

// expectOf is the level that a reading shows on a good set; nil where nothing is known.
func (f *finder) expectOf(r *access) *float64 {
	if r.now && r.route.Levels[r.at].Known {
		dbv, _ := f.ExpectNow(r.at)
		return dbv
	}
	if l := r.route.Levels[r.at]; l.Known {
		return exchange.Finite(l.DBV)
	}
	if dbv, _, ok := f.TwinLevel(r.route, r.at, f.judged); ok {
		return exchange.Finite(dbv)
	}
	return nil
}

// comparable tells whether something is known to compare a level with.
func (f *finder) comparable(r *sheet.Route, at int) bool {
	if r.Levels[at].Known {
		return true
	}
	_, _, ok := f.TwinLevel(r, at, f.judged)
	return ok
}

// partsText says how a check parts the suspects.
func (f *finder) partsText(c *check) string {
	good, bad := f.leaves(c.probe.splits)
	return fmt.Sprintf("splits the %d suspects: bad leaves %d, good %d", len(f.suspects), len(bad), len(good))
}

func (f *finder) facts(r *access, point *sheet.PlanPoint, level sheet.Level, dbv float64) []Fact {
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
	out = append(out, Fact{"With", setUp(reading.InstrumentFor(f.Instrument), level, dbv)})
	set := level.Settings
	if set == "" {
		set = f.Plan.Sheet.Settings
	}
	if f.Power == reading.PowerOff {
		set = reading.Joined("the set is off: switch it on first", set)
	}
	if f.feedOf(r).point == byItself && f.standing().point != byItself {
		set = reading.Joined("feed nothing in", set)
	}
	if set != "" {
		out = append(out, Fact{"Set", set})
	}
	return out
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
	text := fmt.Sprintf("%s, AC, %s", in.Name, quantity.Value{SI: stepUp(pp / 6), Unit: quantity.Volt}.Short(1))
	if level.Hz > 0 {
		text += fmt.Sprintf(" and %s", quantity.Value{SI: stepUp(2 / level.Hz / 10), Unit: quantity.Second}.Short(1))
	}
	return text + " a division"
}

// stepUp is the smallest 1, 2 or 5 times a power of ten that is not below x.
func stepUp(x float64) float64 {
	base := math.Pow(10, math.Floor(math.Log10(x)))
	for _, m := range []float64{1, 2, 5} {
		if m*base >= x*(1-1e-9) {
			return m * base
		}
	}
	return 10 * base
}
