package worth

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"steptrace/core/entry"
	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/money"
)

// Entry is one thing noted of whether a job is worth doing: what speaks against it, what a board or another set would cost, an
// estimate that was given, the owner's answer, what was decided. One of them is there.
type Entry struct {
	ID       string    `json:"id"`
	At       time.Time `json:"at"`
	Who      string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck   bool      `json:"struck,omitempty" jsonschema:"description=withdrawn\\, but kept"`
	Seen     *Seen     `json:"seen,omitempty"`
	Offer    *Offer    `json:"offer,omitempty"`
	Estimate *Estimate `json:"estimate,omitempty"`
	Answer   *Answer   `json:"answer,omitempty"`
	Decision *Decision `json:"decision,omitempty"`
}

// Seen is something that was seen and speaks against a repair (Hindrances), or that it is not so after all.
type Seen struct {
	Key string `json:"key"`
	Not bool   `json:"not,omitempty"`
}

// Offer is what a board, or another set, would cost. Minutes are those it takes to change; 0: what is usual. Without a price it
// is not to be had, or not thought of any more.
type Offer struct {
	What    Choice `json:"what"`
	Name    string `json:"name,omitempty"`
	Price   string `json:"price,omitempty"`
	Minutes int    `json:"minutes,omitempty"`
}

// Estimate is what an owner was told: between which amounts, until which day that holds (as 2026-12-03), on what it depends.
type Estimate struct {
	Low   string `json:"low"`
	High  string `json:"high"`
	Until string `json:"until,omitempty"`
	Text  string `json:"text,omitempty"`
}

// Answer is the owner's: whether to go on, and up to which amount; empty: no limit was named.
type Answer struct {
	GoOn bool   `json:"goOn"`
	Most string `json:"most,omitempty"`
	Note string `json:"note,omitempty"`
}

// Decision is what was decided, and why.
type Decision struct {
	Choice Choice `json:"choice"`
	Why    string `json:"why"`
}

// Choice is something that can be done with a set.
type Choice string

// What can be done.
const (
	Repair  Choice = "repair"
	Board   Choice = "board"
	Another Choice = "another"
	Ask     Choice = "ask"
	Leave   Choice = "leave"
)

// Words implements exchange.Enumerated.
func (Choice) Words() []string {
	return exchange.WordsOf([]Choice{"", Repair, Board, Another, Ask, Leave})
}

// names of the choices, as one decides.
var names = map[Choice]string{
	Repair: "Repair the part", Board: "Change the board", Another: "Another set", Ask: "Ask the owner", Leave: "Not worth it",
}

// Name is what a choice is called.
func (c Choice) Name() string { return names[c] }

// Head implements entry.Entry.
func (e *Entry) Head() entry.Head { return entry.Head{ID: &e.ID, At: &e.At, Who: &e.Who} }

// Withdrawn implements entry.Withdrawable.
func (e *Entry) Withdrawn() bool { return e.Struck }

// Withdraw implements entry.Withdrawable.
func (e *Entry) Withdraw(time.Time, string) { e.Struck = true }

const maxText = 1000 // characters of what a person writes

// Take checks an entry. Errors can be mended by a person.
func Take(e *Entry) error {
	n := 0
	for _, there := range []bool{e.Seen != nil, e.Offer != nil, e.Estimate != nil, e.Answer != nil, e.Decision != nil} {
		if there {
			n++
		}
	}
	if n != 1 {
		return mend.Errorf("an entry of whether it is worth it is of one kind: seen, offer, estimate, answer or decision")
	}
	switch {
	case e.Seen != nil:
		if !slices.ContainsFunc(Hindrances(), func(h Hindrance) bool { return h.Key == e.Seen.Key }) {
			return mend.Errorf("%q is nothing that is asked for", e.Seen.Key)
		}
		return nil
	case e.Offer != nil:
		return e.Offer.check()
	case e.Estimate != nil:
		return e.Estimate.check()
	case e.Answer != nil:
		return cmp.Or(amounts(e.Answer.Most), mend.Text("note", e.Answer.Note, maxText))
	}
	if e.Decision.Choice.Name() == "" {
		return mend.Errorf("%q is nothing that can be decided", e.Decision.Choice)
	}
	if strings.TrimSpace(e.Decision.Why) == "" {
		return mend.Errorf("the reason is empty: write a few words, for whoever asks later")
	}
	return mend.Text("reason", e.Decision.Why, maxText)
}

func (o *Offer) check() error {
	if o.What != Board && o.What != Another {
		return mend.Errorf("what is offered is a board, or another set")
	}
	if o.Minutes < 0 || o.Minutes > mostMinutes {
		return mend.Errorf("changing it takes 0 to %d minutes", mostMinutes)
	}
	return cmp.Or(amounts(o.Price), mend.Text("name", o.Name, maxText))
}

const mostMinutes = 6000

func (e *Estimate) check() error {
	if e.Low == "" || e.High == "" {
		return mend.Errorf("an estimate has two amounts, from and to")
	}
	if err := amounts(e.Low, e.High); err != nil {
		return err
	}
	low, _ := money.Read(e.Low)
	high, _ := money.Read(e.High)
	if low > high {
		return mend.Errorf("an estimate goes from the lower amount to the higher one")
	}
	return cmp.Or(mend.Day(e.Until), mend.Text("estimate", e.Text, maxText))
}

// amounts checks those that are there.
func amounts(texts ...string) error {
	for _, t := range texts {
		if t == "" {
			continue
		}
		if _, err := money.Read(t); err != nil {
			return err
		}
	}
	return nil
}

// Says tells an entry in words.
func (e *Entry) Says() string {
	switch {
	case e.Seen != nil:
		name := e.Seen.Key
		for _, h := range Hindrances() {
			if h.Key == name {
				name = h.Name
			}
		}
		if e.Seen.Not {
			return "not so: " + name
		}
		return name
	case e.Offer != nil && e.Offer.Price == "":
		return entry.Joined(" ", e.Offer.What.offered(), e.Offer.Name) + ": not to be had"
	case e.Offer != nil:
		return entry.Joined(" ", e.Offer.What.offered(), e.Offer.Name) + " would cost " + e.Offer.Price
	case e.Estimate != nil:
		return entry.Joined(", ", "estimate given: "+e.Estimate.Low+" to "+e.Estimate.High, until(e.Estimate.Until), e.Estimate.Text)
	case e.Answer != nil && e.Answer.GoOn:
		most := ""
		if e.Answer.Most != "" {
			most = "up to " + e.Answer.Most
		}
		return entry.Joined(", ", "the owner says: go on", most, e.Answer.Note)
	case e.Answer != nil:
		return entry.Joined(", ", "the owner says: do not go on", e.Answer.Note)
	}
	return "decided: " + e.Decision.Choice.Name() + ", " + e.Decision.Why
}

func (c Choice) offered() string {
	if c == Board {
		return "a board"
	}
	return "another set"
}

func until(day string) string {
	if day == "" {
		return ""
	}
	return "holds until " + day
}
