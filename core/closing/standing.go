package closing

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"steptrace/core/adjust"
	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// State is how a closing measurement stands.
type State string

// Nothing was read since the repair; it is right; it is not; it was read, and nobody has judged it; it is done without.
const (
	Open    State = "open"
	Fine    State = "right"
	Off     State = "off"
	Noted   State = "read"
	Without State = "without"
)

// Words implements exchange.Enumerated.
func (State) Words() []string { return exchange.WordsOf([]State{Open, Fine, Off, Noted, Without}) }

// Result is what came of a closing measurement, before the repair or after it. ID is its entry's; empty where it follows from
// what was noted elsewhere, which By tells.
type Result struct {
	ID      string     `json:"id"`
	At      *time.Time `json:"at" jsonschema:"nullable"`
	Text    string     `json:"text"`
	SI      float64    `json:"si"`
	Value   string     `json:"value"`
	Says    string     `json:"says"`
	Verdict Verdict    `json:"verdict"`
	By      string     `json:"by"`
}

// Cell is what is tried of a set with no probe: an entry against an exit in a mode. It is marked as the matrix is.
type Cell struct {
	Mode  string          `json:"mode"`
	Entry string          `json:"entry"`
	Exit  string          `json:"exit"`
	Words []quantity.Word `json:"words"`
}

// Standing is how a closing measurement stands in a job. Ribbon bounds what is right in the unit (SI) where there is one:
// one bound that is not there is null. Steps tells whether instruments can take it. Own: the sheet has it.
type Standing struct {
	Name       string        `json:"name"`
	Kind       string        `json:"kind"`
	Own        bool          `json:"own"`
	How        string        `json:"how"`
	Hint       string        `json:"hint"`
	Bounds     string        `json:"bounds"`
	Usual      bool          `json:"usual"` // the limits are those of the trade
	Unit       quantity.Unit `json:"unit"`
	Low        *float64      `json:"low" jsonschema:"nullable"`
	High       *float64      `json:"high" jsonschema:"nullable"`
	Conditions []string      `json:"conditions"`
	Note       string        `json:"note"`
	Cautions   []string      `json:"cautions"`
	Steps      bool          `json:"steps"`
	Example    string        `json:"example"` // of what is typed
	Works      bool          `json:"works"`   // judged by a word
	Cell       *Cell         `json:"cell" jsonschema:"nullable"`
	Before     *Result       `json:"before" jsonschema:"nullable"`
	After      *Result       `json:"after" jsonschema:"nullable"`
	Without    string        `json:"without"`
	State      State         `json:"state"`
	Doubt      string        `json:"doubt"` // what no longer is as it was
	// Written is it as the sheet has it, or would, to be changed; nil of what is marked as the matrix is.
	Written *sheet.Closing `json:"written" jsonschema:"nullable"`
}

// Now is what else a job has: when the set was repaired last (zero: never), what was tried with no probe, what was adjusted.
type Now struct {
	Repaired  time.Time
	Tried     []trace.Tried
	Adjusting []adjust.Entry
}

// Look tells how every closing measurement of a set stands, in the order in which they are made; behind them what was read
// of some that the sheet has no longer.
func Look(plan *sheet.Plan, entries []Entry, now Now) []Standing {
	items := Items(plan)
	out := make([]Standing, 0, len(items)+len(now.Tried))
	byHand := slices.IndexFunc(items, func(c sheet.PlanClosing) bool { return rank(c.Kind) > rank(sheet.ClosingOther) })
	for i := range items {
		if i == byHand {
			out = append(out, cells(now.Tried, entries, now.Repaired)...)
		}
		out = append(out, look(plan, &items[i], entries, now))
	}
	if byHand < 0 {
		out = append(out, cells(now.Tried, entries, now.Repaired)...)
	}
	for i := range entries {
		e := &entries[i]
		if e.Struck || slices.ContainsFunc(out, func(s Standing) bool { return s.Name == e.Item }) {
			continue
		}
		c := sheet.PlanClosing{Closing: &sheet.Closing{Name: e.Item, Kind: sheet.ClosingOther}, Low: math.Inf(-1), High: math.Inf(1)}
		s := look(plan, &c, entries, now)
		s.Doubt = "The sheet has this no longer."
		out = append(out, s)
	}
	return out
}

func look(plan *sheet.Plan, c *sheet.PlanClosing, entries []Entry, now Now) Standing {
	s := Standing{
		Name:       c.Name,
		Kind:       cmp.Or(c.Kind, sheet.ClosingOther),
		Own:        c.Source != sheet.Usual,
		How:        how(plan, c),
		Hint:       Hint(c),
		Example:    exampleOf(c),
		Written:    c.Closing,
		Bounds:     bounds(c),
		Usual:      c.Source == sheet.Usual && c.Limited(),
		Unit:       c.Unit,
		Conditions: slices.Clone(c.Conditions),
		Note:       c.Note,
		Cautions:   cautions(c),
		Steps:      len(Steps(plan, c)) > 0,
		Works:      c.Kind == sheet.ClosingWorks,
	}
	if s.Conditions == nil {
		s.Conditions = []string{}
	}
	if !math.IsInf(c.Low, 0) {
		s.Low = &c.Low
	}
	if !math.IsInf(c.High, 0) {
		s.High = &c.High
	}
	s.elsewhere(plan, c, now)
	for i := range entries {
		e := &entries[i]
		switch {
		case e.Struck || e.Item != c.Name:
		case e.Without != "":
			if !e.At.Before(now.Repaired) {
				s.Without, s.After = e.Without, nil
			}
		case e.At.Before(now.Repaired):
			s.Before = result(c, e)
		default:
			s.After, s.Without = result(c, e), ""
		}
	}
	s.stands()
	return s
}

// stands works out how it stands from what is there.
func (s *Standing) stands() {
	switch {
	case s.After == nil && s.Without != "":
		s.State = Without
	case s.After == nil:
		s.State = Open
	case s.After.Verdict == Right:
		s.State = Fine
	case s.After.Verdict.Off():
		s.State = Off
		if s.Before != nil && s.Before.Verdict == Right {
			s.Doubt = "It was right before the repair."
		}
	default:
		s.State = Noted
	}
}

// result is what an entry says.
func result(c *sheet.PlanClosing, e *Entry) *Result {
	r := &Result{ID: e.ID, At: &e.At, Text: e.Text, Value: e.Text, Says: e.Text, By: e.By}
	if f, err := Read(c, e.Text); err == nil { // else the sheet has it otherwise now
		r.SI, r.Value, r.Says, r.Verdict = f.SI, f.Value, f.Says, f.Verdict
	}
	return r
}

// elsewhere takes what was noted while adjusting: an offset that was set, watts that were read.
func (s *Standing) elsewhere(plan *sheet.Plan, c *sheet.PlanClosing, now Now) {
	adjusts := func(name string) bool {
		i, ok := plan.Adjustment(name)
		return ok && plan.Adjustments[i].Kind == "offset" && plan.Adjustments[i].From == c.At
	}
	for i := range now.Adjusting {
		e := &now.Adjusting[i]
		var text string
		switch {
		case e.Struck:
		case c.Kind == sheet.ClosingOffset && e.Read != nil && adjusts(e.Adjustment):
			text = e.Read.Text
		case c.Kind == sheet.ClosingIdle && e.Heat != nil:
			text = e.Heat.Watts
		}
		f, err := Read(c, text)
		if text == "" || err != nil {
			continue
		}
		r := &Result{At: &e.At, Text: text, SI: f.SI, Value: f.Value, Says: f.Says, Verdict: f.Verdict, By: "adjusting"}
		if e.At.Before(now.Repaired) {
			s.Before = r
		} else {
			s.After = r
		}
	}
}

// cells are the entries against the exits, in each mode.
func cells(tried []trace.Tried, entries []Entry, repaired time.Time) []Standing {
	out := make([]Standing, 0, len(tried))
	for _, t := range tried {
		s := Standing{
			Name:       t.Entry + " to " + t.Exit,
			Kind:       sheet.ClosingWorks,
			How:        fmt.Sprintf("With %s: listen or look at %s.", t.Entry, t.Exit),
			Hint:       markHint,
			Conditions: []string{},
			Cautions:   []string{},
			Works:      true,
			Cell:       &Cell{t.Mode, t.Entry, t.Exit, trace.MarkWords},
			Before:     marked(t.Was),
			After:      marked(t.Mark),
		}
		if t.Mode != "" {
			s.Name = t.Mode + ": " + s.Name
			s.How = fmt.Sprintf("Mode %s, with %s: listen or look at %s.", t.Mode, t.Entry, t.Exit)
		}
		for i := range entries {
			if e := &entries[i]; e.Item == s.Name && !e.Struck && !e.At.Before(repaired) {
				s.Without = e.Without
			}
		}
		s.stands()
		out = append(out, s)
	}
	return out
}

// markHint is what is said of an entry at an exit.
const markHint = "ok, weak, partly, none or cuts out"

// MarkOf is the mark that is typed at a cell: one of the matrix, or good. Errors can be mended by a person.
func MarkOf(text string) (quantity.Word, error) {
	word := quantity.Word(strings.ToLower(strings.TrimSpace(text)))
	switch {
	case word == good:
		return quantity.OK, nil
	case slices.Contains(trace.MarkWords, word):
		return word, nil
	}
	return quantity.NoWord, mend.Errorf("say %s", markHint)
}

func marked(w quantity.Word) *Result {
	switch w {
	case quantity.NoWord:
		return nil
	case quantity.OK:
		return &Result{Text: string(w), Value: "good", Says: "good", Verdict: Right, By: "tried"}
	}
	return &Result{Text: string(w), Value: string(w), Says: string(w), Verdict: Bad, By: "tried"}
}

// bounds writes between which values it is right.
func bounds(c *sheet.PlanClosing) string {
	v := func(x float64) string { return quantity.Rounded(x, c.Unit) }
	switch {
	case !c.Limited():
		return ""
	case math.IsInf(c.Low, 0):
		return v(c.High) + " at most"
	case math.IsInf(c.High, 0):
		return v(c.Low) + " at least"
	case c.Low == -c.High:
		return "within ±" + v(c.High)
	}
	return v(c.Low) + " to " + v(c.High)
}

// how says how it is measured, in a sentence or two.
//
// Long: a case for each kind.
func how(plan *sheet.Plan, c *sheet.PlanClosing) string {
	at, from := cmp.Or(c.At, "the exit"), cmp.Or(c.From, "the entry")
	level := cmp.Or(c.Closing.Level, "the level that the sheet has there")
	if _, volts, ok := entryOf(plan, c); ok {
		level = quantity.Rounded(volts*below(c), quantity.Volt)
	}
	tones := make([]string, len(c.Hz))
	for i, hz := range c.Hz {
		tones[i] = quantity.Rounded(hz, quantity.Hertz)
	}
	tone := "1 kHz"
	if len(tones) > 0 {
		tone = strings.Join(tones, ", ")
	}
	load := ""
	if c.Ohms > 0 {
		load = ", with " + quantity.Rounded(c.Ohms, quantity.Ohm) + " across it,"
	}
	switch c.Kind {
	case sheet.ClosingPower:
		return fmt.Sprintf("Feed %s into %s and raise it until %s%s just begins to flatten; a little back, and read the volts there.",
			tone, from, at, load)
	case sheet.ClosingResponse:
		return fmt.Sprintf("Feed %s into %s, at %s: read %s each time.", level, from, tone, at)
	case sheet.ClosingDistortion:
		return fmt.Sprintf("Feed %s at %s into %s: read distortion and noise at %s.", level, tone, from, at)
	case sheet.ClosingSeparation:
		return fmt.Sprintf(
			"Feed %s into the entry of %s alone: read %s, then %s.",
			cmp.Or(c.Closing.Level, tone),
			at,
			at,
			cmp.Or(c.Other, "the other channel"),
		)
	case sheet.ClosingHum:
		if _, _, ok := entryOf(plan, c); ok {
			return fmt.Sprintf("Nothing fed in, its entry closed: read what is left at %s.", at)
		}
		return fmt.Sprintf("No signal: read what is left at %s.", at)
	case sheet.ClosingOffset:
		return fmt.Sprintf("No signal, warmed up: read the DC at %s.", at)
	case sheet.ClosingIdle:
		return "No signal, warmed up: read what it takes from the mains."
	case sheet.ClosingEarth:
		return "Unplugged: read from the earth pin of its plug to metal that can be touched."
	case sheet.ClosingInsulation:
		return "Unplugged, its switch on: read both pins of its plug together against all metal that can be touched."
	case sheet.ClosingWorks:
		return "Try it: " + c.Name + "."
	}
	if c.At != "" {
		return fmt.Sprintf("Read %s at %s.", c.Name, c.At)
	}
	return "Read it: " + c.Name + "."
}

// cautions are what is minded before it is measured.
func cautions(c *sheet.PlanClosing) []string {
	switch c.Kind {
	case sheet.ClosingPower:
		return []string{"Full power: a dummy load that bears it, no loudspeaker, no ear near one; heat sinks get hot within a minute."}
	case sheet.ClosingEarth, sheet.ClosingInsulation:
		return []string{
			"Unplugged, its reservoirs discharged. An insulation tester gives hundreds of volts: hands off while it tests, and " +
				"discharge what it charged. Take off what that would hurt.",
			"How much is right, and who may test it, local codes say.",
			safety.Deferral,
		}
	}
	return []string{}
}

// Step is one reading that instruments take: what the generator feeds in and where (V rms, Hz; zero: nothing, it is silent),
// where is read, and whether DC is.
type Step struct {
	From  string
	Volts float64
	Hz    float64
	At    string
	DC    bool
}

// Steps are the readings that instruments can take for a closing measurement, one place after the other with nothing moved
// by hand; none where a person has to look, or to move something.
func Steps(plan *sheet.Plan, c *sheet.PlanClosing) []Step {
	if _, ok := plan.PointIndex(c.At); !ok {
		return nil
	}
	from, volts, ok := entryOf(plan, c)
	if !ok { // a set that makes its own signal is not silenced by instruments
		return nil
	}
	switch c.Kind {
	case sheet.ClosingOffset:
		return []Step{{From: from, At: c.At, DC: true}}
	case sheet.ClosingHum:
		return []Step{{From: from, At: c.At}}
	case sheet.ClosingResponse:
		volts *= below(c)
		var out []Step
		for _, hz := range c.Hz {
			out = append(out, Step{From: from, Volts: volts, Hz: hz, At: c.At})
		}
		return out
	}
	return nil
}

// below is by how much less than the sheet's level a response is fed in, where nobody says its level: full power at the ends
// of the band is what loads and tweeters do not bear.
func below(c *sheet.PlanClosing) float64 {
	const less = -10.0 // dB
	if c.Kind != sheet.ClosingResponse || c.Level > 0 {
		return 1
	}
	return quantity.Times(less)
}

// entryOf is where the tone of a closing measurement goes in, and its level (V rms); false where that is not known, or
// nothing that is heard goes in.
func entryOf(plan *sheet.Plan, c *sheet.PlanClosing) (from string, volts float64, ok bool) {
	at, there := plan.PointIndex(c.At)
	for i := range plan.Routes {
		r := &plan.Routes[i]
		_, on := r.At(at)
		first := &plan.Points[r.Points[0]]
		if !there || !on || !fed(plan, r) || c.From != "" && first.Name != c.From || c.Mode != "" && r.Mode != c.Mode {
			continue
		}
		switch {
		case c.Level > 0:
			return first.Name, c.Level, true
		case r.Levels[0].Known:
			return first.Name, quantity.Times(r.Levels[0].DBV), true
		}
	}
	return "", 0, false
}

// Wrong says in a few words what is not as it should be, and what is allowed.
func (s *Standing) Wrong() string {
	text := s.Name + ": " + s.After.Says
	if s.Bounds != "" && s.After.Verdict != Bad {
		text += ", " + s.Bounds
	}
	return text
}

// Tell says how far the closing measurements are, in a sentence; open and off are how many are not made, and not right.
func Tell(all []Standing) (says string, open, off int) {
	var wrong []string
	unjudged := 0
	for i := range all {
		switch s := &all[i]; s.State {
		case Open:
			open++
		case Off:
			off++
			wrong = append(wrong, s.Wrong())
		case Noted:
			unjudged++
		}
	}
	switch {
	case len(all) == 0:
		return "The sheet gives nothing to measure. Write what is tried on such a set.", 0, 0
	case off > 0:
		says = fmt.Sprintf("%d not as it should be: %s.", off, strings.Join(wrong, "; "))
	case open == 0 && unjudged == 0:
		return "All is as it should be.", 0, 0
	case open == 0:
		return fmt.Sprintf("All is read; of %d nobody has said yet whether it is good.", unjudged), 0, 0
	}
	if open > 0 {
		says = strings.TrimSpace(fmt.Sprintf("%s %d of %d still open.", says, open, len(all)))
	}
	return says, open, off
}
