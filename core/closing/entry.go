package closing

import (
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/entry"
	"steptrace/core/mend"
)

// Entry is one thing noted at a closing measurement: what was read or found, as typed, and by which instrument; or that it
// is done without, and why.
type Entry struct {
	ID      string    `json:"id"`
	At      time.Time `json:"at"`
	Who     string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck  bool      `json:"struck,omitempty" jsonschema:"description=withdrawn\\, but kept"`
	Item    string    `json:"item" jsonschema:"description=the closing measurement's name"`
	Text    string    `json:"text,omitempty" jsonschema:"description=as typed: 20.1 V; good; bad: crackles"`
	By      string    `json:"by,omitempty" jsonschema:"description=the instrument that took it"`
	Without string    `json:"without,omitempty" jsonschema:"description=why it is not made"`
}

// Head implements entry.Entry.
func (e *Entry) Head() entry.Head { return entry.Head{ID: &e.ID, At: &e.At, Who: &e.Who} }

// Withdrawn implements entry.Withdrawable.
func (e *Entry) Withdrawn() bool { return e.Struck }

// Withdraw implements entry.Withdrawable.
func (e *Entry) Withdraw(time.Time, string) { e.Struck = true }

const maxText = 300 // characters of each text

// Take checks an entry. What its text says is a matter of the item, which a later revision of the sheet may not have any
// more. Errors can be mended by a person.
func Take(e *Entry) error {
	for _, text := range []string{e.Item, e.Text, e.By, e.Without} {
		if utf8.RuneCountInString(text) > maxText || !utf8.ValidString(text) {
			return mend.Errorf("what is noted of a closing measurement has at most %d characters, and can be read", maxText)
		}
	}
	switch said, without := strings.TrimSpace(e.Text) != "", strings.TrimSpace(e.Without) != ""; {
	case strings.TrimSpace(e.Item) == "":
		return mend.Errorf("it does not say which closing measurement it is of")
	case said == without:
		return mend.Errorf("an entry is what was read, or why it is done without")
	}
	return nil
}
