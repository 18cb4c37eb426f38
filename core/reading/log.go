package reading

import (
	"fmt"
	"strings"

	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Key tells readings apart that do not replace each other: what was read where, and
// under which conditions.
type Key struct {
	Point    string
	Quantity sheet.Quantity
	Mode     string
	Injected Injection
	Without  string
	Worked   bool
}

// KeyOf gives the key of a reading.
func KeyOf(r *Reading) Key {
	k := Key{Worked: r.Worked, Point: r.Point, Quantity: r.Quantity, Mode: r.Mode, Without: strings.Join(r.Without, "\x00")}
	if r.Injected != nil {
		k.Injected = *r.Injected
	}
	return k
}

// Told describes a reading: "RV3 wiper reads 31 mV, low, −16.2 dB".
// With it stands in what way it was taken, where that is not the plain one.
func (j *Judged) Told() string {
	text := ""
	switch {
	case j.Reading.Act != "":
		return j.Note
	case j.Reading.Word != quantity.NoWord:
		text = fmt.Sprintf("%s was found %q", j.Reading.Point, j.Reading.Understood())
	case j.Twin != "":
		text = fmt.Sprintf("%s reads %s, %s against its twin %s", j.Reading.Point, j.Understood, j.Says(), j.Twin)
	default:
		text = fmt.Sprintf("%s reads %s, %s", j.Reading.Point, j.Understood, j.Says())
	}
	if j.How != "" {
		text += " (" + j.How + ")"
	}
	return text
}

// JudgeAll judges readings in the order they were taken, and counts which of them agree in a row.
// Known are verdicts that stand already, by position, with none where a reading is to be judged;
// nil for none at all.
func (b Bench) JudgeAll(readings []Reading, known []Judged) []Judged {
	judged := known
	if judged == nil {
		judged = make([]Judged, len(readings))
	}
	for i, r := range readings {
		if judged[i].Verdict == "" {
			judged[i] = b.Judge(r)
		}
	}
	for i := range judged {
		b.standIn(&judged[i], judged)
	}
	latest := map[Key]int{}
	for i, r := range readings {
		if r.Struck || r.Quantity == sheet.Provocation {
			continue // each provocation counts for itself
		}
		k := KeyOf(&r)
		judged[i].Times = 1
		if before, ok := latest[k]; ok {
			old := &judged[before]
			if old.Superseded = true; old.Verdict.Bad() == judged[i].Verdict.Bad() {
				judged[i].Times += old.Times
			} else {
				judged[i].Before = old // one reading does not yet undo another
			}
		}
		latest[k] = i
	}
	b.withLegs(judged)
	return judged
}

// Evidence picks what speaks of the signal and counts: the latest of each place and condition, not
// struck out.
func Evidence(judged []Judged) []*Judged {
	var out []*Judged
	for i := range judged {
		if j := &judged[i]; j.Counts() && j.Verdict != Unjudged && j.Route != nil && j.Reading.Quantity.OfSignal() {
			out = append(out, j)
		}
	}
	return out
}

// Counts tells whether a reading stands: neither struck out nor taken again since.
func (j *Judged) Counts() bool { return !j.Reading.Struck && !j.Superseded }
