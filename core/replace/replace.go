// Package replace knows the work after a part is named: which parts are to be replaced, what each has to do and bear, what
// goes in its place, what else is looked at, the work in order, and what has to be ordered.
//
//	view := replace.Look(replace.About{Plan: plan, Condemned: condemned, Entries: entries, Table: table, Drawer: drawer}, "Q7 e")
package replace

import (
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/entry"
	"steptrace/core/exchange"
	"steptrace/core/mend"
)

// Entry is one thing noted of the replacing: a part that is to be replaced, what goes in its place, a step that is done, of
// what the board is. One of them is there.
type Entry struct {
	ID      string    `json:"id"`
	At      time.Time `json:"at"`
	Who     string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck  bool      `json:"struck,omitempty" jsonschema:"description=withdrawn\\, but kept"`
	Subject *Subject  `json:"subject,omitempty"`
	Chosen  *Chosen   `json:"chosen,omitempty"`
	Done    *Done     `json:"done,omitempty"`
	List    string    `json:"list,omitempty" jsonschema:"description=parts to be renewed\\, a line each: C101 47u 63v electrolytic; coupling\\, 24 V"`
	Tested  *Tested   `json:"tested,omitempty"`
	School  School    `json:"school,omitempty"`
	Board   Board     `json:"board,omitempty"`
	Worked  *Worked   `json:"worked,omitempty"`
}

// Worked is a sum that was worked out for the job, or one part held against another: what was asked, and the answer.
type Worked struct {
	Asked string `json:"asked"`
	Says  string `json:"says"`
}

// Subject is a part that is to be replaced: what was there, as a type or as one speaks of it ("47u 63v electrolytic"), and
// what it has to do ("coupling, 38 V"). A later one of the same part stands for an earlier one. Dropped: it stays in after all.
type Subject struct {
	Part    string `json:"part"`
	Stage   string `json:"stage,omitempty"`
	Was     string `json:"was,omitempty"`
	Duty    string `json:"duty,omitempty"`
	Dropped bool   `json:"dropped,omitempty"`
}

// Whence is where what goes in comes from.
type Whence string

// From the workshop's drawer, or to be ordered.
const (
	Drawer Whence = "drawer"
	Order  Whence = "order"
)

// Words implements exchange.Enumerated.
func (Whence) Words() []string { return exchange.WordsOf([]Whence{Drawer, Order}) }

// Chosen is what goes in the place of a part, and why, where the rules speak against it. A later one stands for an earlier one.
type Chosen struct {
	Part  string `json:"part"`
	New   string `json:"new"`
	From  Whence `json:"from"`
	Count int    `json:"count"`
	Price string `json:"price,omitempty"`
	Why   string `json:"why,omitempty"`
}

// Done says that a step of the work is done.
type Done struct {
	Step string `json:"step"`
	Text string `json:"text"`
	Note string `json:"note,omitempty"`
}

// Tested is what was measured of a part: of the one that was there, or of the new one. Given is as it is said: "31u 4 ohm",
// "leaks 20 uA at 24 V".
type Tested struct {
	Part  string `json:"part"`
	New   bool   `json:"new,omitempty"`
	Given string `json:"given"`
}

// School is of which of the trade's schools the work is: where good practitioners differ the person chooses.
type School string

// The schools: of what is renewed, of what kind goes in, of what insulates a power transistor from its heat sink, of what is done
// about a chip whose joints fail when it is hot.
const (
	AllOfAnAge School = "renew all of an age"
	WhatIsBad  School = "renew what tests bad"
	OfToday    School = "a better kind of today"
	AsItWas    School = "the kind that was there"
	Mica       School = "mica and paste"
	Pad        School = "a pad"
	TouchUp    School = "touch up a hot chip's joints"
	WholeBoard School = "change the board"
)

// schools are those that stand against one another, the usual first, with what speaks for each.
var schools = [][]struct {
	school School
	speaks string
}{
	{
		{AllOfAnAge, "the set comes apart once; what is as old as the one that failed fails next, and tests good until it is warm"},
		{WhatIsBad, "good old ones are often better than cheap new ones, and every joint that is left alone cannot be spoilt"},
	},
	{
		{OfToday, "film does not dry out, and has no polarity: a small electrolytic is well replaced by it"},
		{AsItWas, "the set sounds and behaves as its maker had it; series resistance that a stage counts on stays"},
	},
	{
		{Mica, "parts less heat from the sink than any pad, and bears more"},
		{Pad, "clean, no paste to dry out, and the next one in finds it in order"},
	},
	{
		{TouchUp, "costs an hour and no part, and holds for years where heat and flux reach every joint"},
		{WholeBoard, "joints under a chip that failed once fail again within months more often than not; a board can be warranted"},
	},
}

// Words implements exchange.Enumerated.
func (School) Words() []string {
	var all []School
	for _, group := range schools {
		for _, s := range group {
			all = append(all, s.school)
		}
	}
	return exchange.WordsOf(all)
}

// groupOf is which schools one stands against; -1 where it is none.
func groupOf(s School) int {
	for i, group := range schools {
		for _, x := range group {
			if x.school == s {
				return i
			}
		}
	}
	return -1
}

// Board is of what kind a board is.
type Board string

// The boards, by what they bear.
const (
	Phenolic   Board = "phenolic, one side"
	Glass      Board = "glass, plated through"
	Multilayer Board = "multilayer, ground planes"
	Surface    Board = "surface mount"
	Fine       Board = "fine pitch"
	Balls      Board = "balls under a chip"
	Weak       Board = "old or lifted tracks"
	Chassis    Board = "tags, no board"
)

// Boards lists them, in the order they are offered.
var Boards = []Board{Phenolic, Glass, Multilayer, Surface, Fine, Balls, Weak, Chassis}

// Words implements exchange.Enumerated.
func (Board) Words() []string { return exchange.WordsOf(Boards) }

const (
	maxText  = 200
	maxCount = 1000
)

// Take checks an entry.
//
// Long: a case for each sort of it.
//
// Errors can be mended by a person.
func Take(e *Entry) error {
	count := 0
	said := []bool{e.Subject != nil, e.Chosen != nil, e.Done != nil, e.Board != "", e.List != "", e.Tested != nil, e.School != "",
		e.Worked != nil}
	for _, there := range said {
		if there {
			count++
		}
	}
	if count != 1 {
		return mend.Errorf("an entry is a part or a list of parts to be replaced, what goes in, a step that is done, a test, a school, " +
			"a sum, or of what the board is")
	}
	switch {
	case e.Subject != nil:
		s := e.Subject
		if _, err := DutyOf(s.Duty); err != nil {
			return err
		}
		return texts(needed("part", s.Part), text(s.Stage), text(s.Was))
	case e.Chosen != nil:
		c := e.Chosen
		switch {
		case c.From != Drawer && c.From != Order:
			return mend.Errorf("what goes in comes from the drawer, or is to be ordered: not %q", c.From)
		case c.Count < 1 || c.Count > maxCount:
			return mend.Errorf("%d pieces cannot be: 1 to %d", c.Count, maxCount)
		}
		return texts(needed("part", c.Part), needed("part that goes in", c.New), text(c.Price), text(c.Why))
	case e.List != "":
		_, err := listed(e.List)
		return err
	case e.Tested != nil:
		if _, err := readTest(e.Tested.Given); err != nil {
			return err
		}
		return texts(needed("part", e.Tested.Part), needed("measured", e.Tested.Given))
	case e.School != "":
		if groupOf(e.School) < 0 {
			return mend.Errorf("%q is no school: use %s", e.School, strings.Join(e.School.Words(), "; "))
		}
		return nil
	case e.Worked != nil:
		return texts(needed("sum", e.Worked.Asked), needed("answer", e.Worked.Says))
	case e.Done != nil:
		return texts(needed("step", e.Done.Step), needed("step", e.Done.Text), text(e.Done.Note))
	}
	if !slices.Contains(Boards, e.Board) {
		return mend.Errorf("%q is no kind of board: use %s", e.Board, strings.Join(e.Board.Words(), "; "))
	}
	return nil
}

func text(s string) error {
	if utf8.RuneCountInString(s) > maxText || !utf8.ValidString(s) {
		return mend.Errorf("a text of more than %d characters, or none that can be read", maxText)
	}
	return nil
}

func needed(what, s string) error {
	if strings.TrimSpace(s) == "" {
		return mend.Errorf("name the %s", what)
	}
	return text(s)
}

func texts(errs ...error) error {
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return nil
}

// Head implements entry.Entry.
func (e *Entry) Head() entry.Head { return entry.Head{ID: &e.ID, At: &e.At, Who: &e.Who} }

// Withdrawn implements entry.Withdrawable.
func (e *Entry) Withdrawn() bool { return e.Struck }

// Withdraw implements entry.Withdrawable.
func (e *Entry) Withdraw(time.Time, string) { e.Struck = true }
