// Package entry knows what everything noted in a job has in common. What a job consists of
// is a log of entries of several kinds; package job declares them.
package entry

import (
	"slices"
	"strings"
	"time"
)

// Head is what the log goes by. ID is made by the sender, so that what is sent twice is
// kept once; At is when it was noted, Who by whom: their initials, empty where that is not known.
type Head struct {
	ID  *string
	At  *time.Time
	Who *string
}

// MaxWho is how many characters initials have at most.
const MaxWho = 12

// Entry is one thing noted in a job: a pointer to a struct whose JSON is what is kept and
// exchanged.
type Entry interface{ Head() Head }

// Withdrawable entries can be struck out; they stay in the record.
type Withdrawable interface {
	Entry
	Withdrawn() bool
	// Withdraw strikes it out. A second time changes no more than the reason.
	Withdraw(at time.Time, reason string)
}

// Laden entries bring a file along, which is kept beside them and fetched when it is asked
// for.
type Laden interface {
	Entry
	File() *[]byte
}

// Restated entries tell by what a second sending of the same is known, where that is not
// all of what they hold: some of it may follow from how the job stood.
type Restated interface {
	Entry
	Restates() string
}

// Counts tells whether an entry stands: it was not struck out.
func Counts(e Entry) bool {
	w, ok := e.(Withdrawable)
	return !ok || !w.Withdrawn()
}

// Joined puts what is there together.
func Joined(with string, parts ...string) string {
	return strings.Join(slices.DeleteFunc(parts, func(s string) bool { return strings.TrimSpace(s) == "" }), with)
}
