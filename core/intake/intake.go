// Package intake knows what is asked when a set comes in: its life so far, what
// it does and no longer does, and which usual faults of the model the complaint
// points at.
package intake

import (
	"bytes"
	"cmp"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"steptrace/core/entry"
	"steptrace/core/mend"
	"steptrace/core/money"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

// Field is one thing that is asked.
type Field struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	Hint string `json:"hint"`
}

// Fields are asked in this order: the set's life, the look of it, and what it
// does when it is first switched on.
func Fields() []Field {
	return []Field{
		{"age", "Age, and how it was used", "40 years, daily until last winter"},
		{"repairs", "Earlier repairs, own attempts", "new belt 2019; owner swapped a fuse"},
		{"look", "First look", "dust, one foot missing, nothing burnt"},
		{"lights", "Lights up", "dial and meter lamps"},
		{"sounds", "Clicks, hums, smells", "relay clicks after 4 s, faint hum"},
		{"works", "What still works", "left channel, headphones"},
	}
}

// Whose are asked of whose a set is, what came with it, and what was agreed. Of a finished job they stay with the workshop.
func Whose() []Field {
	return []Field{
		{OwnerField, "Owner", "name"},
		{ContactField, "How to reach them", "telephone, mail"},
		{SerialField, "Serial number", "from the plate"},
		{WithItField, "What came with it", "remote, mains cable, cover"},
		{PromisedField, "Promised for", "a day: 2026-12-12"},
		{PlaceField, "Where it stands", "shelf, compartment"},
		{LimitField, "Ask before it costs more than", "an amount"},
		{ValueField, "What it is worth to its owner", "an amount"},
		{FetchedField, "Fetched on", "the day it went home"},
	}
}

// The fields that are known by what they hold: whose a set is and which, days, amounts of money.
const (
	OwnerField    = "owner"
	ContactField  = "contact"
	SerialField   = "serial"
	WithItField   = "accessories"
	PromisedField = "promised"
	LimitField    = "limit"
	ValueField    = "value"
	PlaceField    = "place"
	FetchedField  = "fetched"
)

// Ends tells whether it is noted of a finished job too: whose it is may change until it is fetched.
func (n *Note) Ends() bool {
	return slices.ContainsFunc(Whose(), func(f Field) bool { return f.Key == n.Field })
}

// Private tells whether a field names the owner, which an exported job may leave out.
func Private(field string) bool { return field == OwnerField || field == ContactField }

// Owned tells whether the fields name an owner.
func Owned(texts map[string]string) bool { return texts[OwnerField] != "" || texts[ContactField] != "" }

// Past is something in a set's life, and where it points.
type Past struct {
	Key    string `json:"key"`
	Name   string `json:"name"`
	Points string `json:"points"` // at which parts, in words
}

// Pasts are the usual ones. What they point at is the trade's experience.
func Pasts() []Past {
	return []Past{
		{"store", "years in store", "electrolytics that have lost their film, switch contacts, rubber and grease gone hard"},
		{"damp", "damp", "corroded joints and contacts, leakage across boards, transformer and coil windings"},
		{"sea air", "sea air", "plugs, switches and relay contacts, green copper, screws that shear"},
		{"heat", "heat", "electrolytics near hot parts, resistors drifted up, cracked joints of power parts"},
		{"switching", "daily switching", "joints of heavy parts, relays, the mains switch, surge-stressed rectifiers"},
		{"repair", "earlier repair", "the parts that were fitted: type, value, legs, polarity; joints beside them"},
		{"tinkering", "tinkering", "wires moved, trimmers turned, wrong fuses, screws missing: compare with the sheet first"},
		{"knock", "fall or knock", "cracked boards and heavy parts' joints, loose plugs, glass"},
	}
}

// maxText is how much may be written in a field, in characters.
const maxText = 2000

// PastField is the field that holds the keys of Pasts, with ; between.
const PastField = "past"

// Check tells whether a field may hold a text. Errors are those a person can mend (mend.Error).
func Check(field, text string) error {
	known := field == PastField || slices.ContainsFunc(append(Fields(), Whose()...), func(f Field) bool { return f.Key == field })
	switch {
	case !known:
		return mend.Errorf("%q is not asked at intake", field)
	case !utf8.ValidString(text):
		return mend.Errorf("this is not readable text")
	case utf8.RuneCountInString(text) > maxText:
		return mend.Errorf("longer than %d characters: shorten it", maxText)
	}
	switch {
	case strings.TrimSpace(text) == "":
	case field == PromisedField || field == FetchedField:
		if _, err := time.Parse(time.DateOnly, strings.TrimSpace(text)); err != nil {
			return mend.Errorf("%q is no day: write it as 2026-12-12", text)
		}
	case field == LimitField || field == ValueField:
		_, err := money.Read(text)
		return err
	case field == PastField:
		for _, key := range sheet.ListOf(text) {
			if !slices.ContainsFunc(Pasts(), func(p Past) bool { return p.Key == key }) {
				return mend.Errorf("%q is not among what a set may have behind it", key)
			}
		}
	}
	return nil
}

// Note is a field of the intake as it was written down.
type Note struct {
	ID    string    `json:"id,omitempty"`
	Field string    `json:"field"`
	Text  string    `json:"text"`
	At    time.Time `json:"at"`
	Who   string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
}

// Head implements entry.Entry.
func (n *Note) Head() entry.Head { return entry.Head{ID: &n.ID, At: &n.At, Who: &n.Who} }

// Notes are all that was noted when a set came in, in order.
type Notes []Note

// Nameless are the notes without those that name the owner.
func (n Notes) Nameless() Notes {
	return slices.DeleteFunc(slices.Clone(n), func(x Note) bool { return Private(x.Field) })
}

// Texts are the fields as they stand: a later note replaces an earlier one.
func (n Notes) Texts() map[string]string {
	out := map[string]string{}
	for i := range n {
		out[n[i].Field] = n[i].Text
	}
	return out
}

// Last is what was noted of a field last, and when; a zero time where nothing was.
func (n Notes) Last(field string) (text string, at time.Time) {
	for i := range n {
		if n[i].Field == field {
			text, at = n[i].Text, n[i].At
		}
	}
	return text, at
}

// UnmarshalJSON reads a list of notes, or an object of texts by field, as older files have it.
func (n *Notes) UnmarshalJSON(data []byte) error {
	var texts map[string]string
	if json.Unmarshal(data, &texts) == nil {
		*n = nil
		for _, field := range slices.Sorted(maps.Keys(texts)) {
			*n = append(*n, Note{Field: field, Text: texts[field]})
		}
		return nil
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	return d.Decode((*[]Note)(n))
}

// Ends is how the finished jobs of a model ended: in which stages, of how many jobs that
// ended in one.
type Ends struct {
	Of     int
	Stages []End
	// Lent are blocks in which jobs of other workshops ended, with in how many of LentOf.
	Lent   map[string]int
	LentOf int
}

// End is a stage, or a rail, in which so many of them ended, with the first of these and what
// it was. A job that had two faults ended in both.
type End struct {
	Stage   string
	Times   int
	Job     int
	Outcome string
}

// Offer is a usual fault to check first. Times of Of earlier jobs of this model
// it was that, and Lent of those that other workshops lent. Point is where its check is made; empty where the sheet has none.
type Offer struct {
	Stage string `json:"stage"`
	What  string `json:"what"`
	Check string `json:"check"`
	Point string `json:"point"`
	Fits  bool   `json:"fits"` // the complaint speaks of it
	Times int    `json:"times"`
	Of    int    `json:"of"`
	Lent  int    `json:"lent"`
	Says  string `json:"says"`
}

// Offers lists the usual faults of a model, those first that fit what is told
// and then those that were found most often. Told is the complaint with all
// that was noted. Stages that the sheet does not list but that earlier jobs
// ended in are offered too.
func Offers(p *sheet.Plan, told string, earlier Ends) []Offer {
	out := []Offer{}
	for _, w := range p.Sheet.WeakSpots {
		out = append(out, Offer{Stage: w.Stage, What: w.What, Check: w.Check, Fits: fits(w.Symptom, told), Of: earlier.Of})
	}
	listed := len(out)
	for _, e := range earlier.Stages {
		known := false
		for i := range out[:listed] {
			if out[i].Stage == e.Stage {
				out[i].Times, known = e.Times, true
			}
		}
		if !known {
			out = append(
				out,
				Offer{
					Stage: e.Stage,
					What:  fmt.Sprintf("job %d: %s", e.Job, e.Outcome),
					Fits:  fits(e.Outcome, told),
					Times: e.Times,
					Of:    earlier.Of,
				},
			)
		}
	}
	for _, block := range slices.Sorted(maps.Keys(earlier.Lent)) {
		n := earlier.Lent[block]
		k := slices.IndexFunc(out, func(o Offer) bool { return p.NowOf(o.Stage) == p.NowOf(block) })
		if k < 0 {
			out = append(out, Offer{Stage: block, What: "found in other workshops", Of: earlier.Of, Lent: n})
		} else if k >= 0 {
			out[k].Lent = n
		}
	}
	slices.SortStableFunc(out, func(a, b Offer) int {
		if a.Fits != b.Fits {
			if a.Fits {
				return -1
			}
			return 1
		}
		return cmp.Or(b.Times-a.Times, b.Lent-a.Lent)
	})
	for i := range out {
		out[i].Point = pointOf(p, out[i].Stage)
		out[i].Says = record(out[i].Times, out[i].Of)
		if n := out[i].Lent; n > 0 {
			out[i].Says += fmt.Sprintf("; in %d of %d that other workshops lent", n, earlier.LentOf)
		}
	}
	return out
}

// Listed are those of them that the sheet has, with their record.
func Listed(p *sheet.Plan, earlier Ends) []Offer {
	return slices.DeleteFunc(Offers(p, "", earlier), func(o Offer) bool {
		return !slices.ContainsFunc(p.Sheet.WeakSpots, func(w sheet.WeakSpot) bool { return w.Stage == o.Stage && w.What == o.What })
	})
}

// History is what the reasoning takes from the story of a set: how often jobs of
// its model ended where, which usual faults fit, what the set went through, and
// which blocks the note of earlier repairs names.
//
// Told is the complaint with all that was noted.
func History(p *sheet.Plan, told string, notes map[string]string, offers []Offer) trace.History {
	h := trace.History{
		Found:  map[string]int{},
		Lent:   map[string]int{},
		Fits:   map[string]bool{},
		Past:   sheet.ListOf(notes[PastField]),
		Worked: map[string]bool{},
		Told:   map[string]string{},
	}
	for _, c := range p.Sheet.Complaints {
		if says, ok := fitting(c.Says, told); ok {
			for _, block := range c.PointsAt {
				h.Told[block] = says
			}
		}
	}
	for _, o := range offers {
		stage := p.NowOf(o.Stage)
		h.Lent[stage] = max(h.Lent[stage], o.Lent)
		h.Found[stage], h.Fits[stage] = max(h.Found[stage], o.Times), h.Fits[stage] || o.Fits
	}
	mended := words(notes["repairs"])
	names := make([]string, 0, len(p.Stages)+len(p.Rails))
	for i := range p.Stages {
		names = append(names, p.Stages[i].Name)
	}
	for i := range p.Rails {
		names = append(names, p.Rails[i].Name)
	}
	for _, name := range names {
		// By a part in its name: "Q204 make-up" by Q204, and not by make.
		h.Worked[name] = slices.ContainsFunc(words(name), func(w string) bool {
			return len(w) > 1 && unicode.IsLetter(rune(w[0])) && strings.ContainsAny(w, "0123456789") && slices.Contains(mended, w)
		})
	}
	return h
}

// Earlier is an earlier job of this very set, and what it says now. Under: the warranty on its repair has not ended.
type Earlier struct {
	Number   int        `json:"number"`
	BySerial bool       `json:"bySerial"` // it is found by its serial number, else by its owner
	Finished *time.Time `json:"finished" jsonschema:"nullable"`
	Outcome  string     `json:"outcome"`
	Stages   []string   `json:"stages"` // that were repaired
	Under    bool       `json:"under"`
	Says     string     `json:"says"`
}

// CameBack tells of an earlier job, as one says it; until is the last day of its warranty, zero where there is none.
func CameBack(e *Earlier, until, now time.Time) {
	by := "by its owner"
	if e.BySerial {
		by = "by its serial number"
	}
	e.Says = fmt.Sprintf("It was here before, %s: No. %d", by, e.Number)
	if e.Finished == nil {
		e.Says += ", which is on the bench still."
		return
	}
	e.Says += ", finished on " + e.Finished.Local().Format("2 January 2006")
	if e.Outcome != "" {
		e.Says += ": " + strings.TrimSuffix(e.Outcome, ".")
	}
	e.Says += "."
	if len(e.Stages) > 0 {
		e.Says += " That repair is the first suspect: " + strings.Join(e.Stages, ", ") + "."
	}
	switch {
	case until.IsZero():
	case now.Before(until.AddDate(0, 0, 1)):
		e.Under = true
		e.Says += " Warranty on it until " + until.Format("2 January 2006") + "."
	default:
		e.Says += " Its warranty ended on " + until.Format("2 January 2006") + "."
	}
}

// Return takes into the history what was repaired in earlier jobs of this very set.
func Return(h *trace.History, p *sheet.Plan, earlier []Earlier) {
	if h.Back == nil {
		h.Back = map[string]string{}
	}
	for _, e := range earlier {
		for _, stage := range e.Stages {
			if now := p.NowOf(stage); h.Back[now] == "" {
				h.Back[now] = fmt.Sprintf("repaired here before, No. %d", e.Number)
			}
		}
	}
}

// record says how often it was that.
func record(times, of int) string {
	switch {
	case of == 0:
		return "no earlier job of this model here"
	case times == 0:
		return fmt.Sprintf("in none of %d earlier jobs here", of)
	}
	return fmt.Sprintf("it was that in %d of %d earlier jobs here", times, of)
}

// pointOf is where a stage or rail is read: behind the stage.
func pointOf(p *sheet.Plan, name string) string {
	if _, ok := p.RailIndex(name); ok {
		return name
	}
	for i := range p.Stages {
		if p.Stages[i].Name == name && p.Stages[i].To >= 0 {
			return p.Points[p.Stages[i].To].Name
		}
	}
	return ""
}

// stem is how much of a word has to agree: crackle, crackles and crackling are
// one symptom.
const stem = 5

// fits tells whether one of the ways a symptom is told has all its words, or
// forms of them, in what was told.
func fits(symptom, told string) bool {
	_, ok := fitting(symptom, told)
	return ok
}

// fitting is the first of the ways that does.
func fitting(symptom, told string) (string, bool) {
	heard := words(told)
	for _, way := range sheet.ListOf(symptom) {
		need := words(way)
		if len(need) == 0 {
			continue
		}
		if !slices.ContainsFunc(
			need,
			func(w string) bool { return !slices.ContainsFunc(heard, func(h string) bool { return same(w, h) }) },
		) {
			return way, true
		}
	}
	return "", false
}

func same(a, b string) bool {
	if len(a) < stem || len(b) < stem {
		return a == b
	}
	return a[:stem] == b[:stem]
}

// filler are words that tell nothing of a fault.
var filler = []string{
	"the",
	"and",
	"a",
	"an",
	"is",
	"it",
	"of",
	"in",
	"on",
	"at",
	"to",
	"or",
	"when",
	"after",
	"with",
	"very",
	"from",
	"has",
	"but",
	"only",
}

func words(text string) []string {
	return slices.DeleteFunc(
		strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }),
		func(w string) bool { return slices.Contains(filler, w) },
	)
}
