package report

import (
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/circuit"
	"steptrace/core/entry"
	"steptrace/core/mend"
	"steptrace/core/money"
	"steptrace/core/repair"
	"steptrace/core/shop"
)

// Entry is a section of the report as a person wants it: its text in the place of what is made of the record. Without a text
// that stands again. Left out: the section is not in the report.
type Entry struct {
	ID      string    `json:"id"`
	At      time.Time `json:"at"`
	Who     string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck  bool      `json:"struck,omitempty" jsonschema:"description=withdrawn\\, but kept"`
	Section string    `json:"section"`
	Text    string    `json:"text,omitempty"`
	LeftOut bool      `json:"leftOut,omitempty"`
}

// Head implements entry.Entry.
func (e *Entry) Head() entry.Head { return entry.Head{ID: &e.ID, At: &e.At, Who: &e.Who} }

// Withdrawn implements entry.Withdrawable.
func (e *Entry) Withdrawn() bool { return e.Struck }

// Withdraw implements entry.Withdrawable.
func (e *Entry) Withdraw(time.Time, string) { e.Struck = true }

// Ends tells whether it is noted of a finished job too: the report is written when the work is done.
func (e *Entry) Ends() bool { return true }

// Facts are what the record says of a repair. Finished is zero while it is on the bench.
type Facts struct {
	Complaint string
	Finished  time.Time
	Outcome   string
	Failures  []Failure
	Repairs   []repair.Repair
	Adjusted  []string // what was set anew, each with its value
	Soak      *Soak
	Shown     int // what was shown right after the repair
	Checks    int // closing measurements that are right
	Figures   []Figure
	Left      []string // what was noticed, and not done
	NotDone   string   // why it was not repaired at all
	Worked    time.Duration
	Parts     []Priced
}

// Priced is a part that went in, how many of it, and what was typed of its price each.
type Priced struct {
	Part  string
	Count int
	Price string
}

// Failure is a part that had failed, or a place without one; What it had, as it was noted.
type Failure struct {
	Stage string
	Part  string
	Kind  circuit.Kind
	What  string
}

// Soak is how the long run went: for how many seconds, into or by what, and whether nothing went beyond its limits.
type Soak struct {
	Seconds float64
	Note    string
	Fine    bool
	Says    string
}

// Figure is something that was measured before and after; either may be empty. Means says what it is to somebody who knows
// nothing of electronics.
type Figure struct {
	Name    string `json:"name"`
	Means   string `json:"means"`
	Before  string `json:"before"`
	After   string `json:"after"`
	Allowed string `json:"allowed"`
}

// Section is a part of the report. Text is what stands in it, paragraphs with empty lines between (of pictures their ids, with
// blanks between); Made what the record makes of it. A section without a text is not printed.
type Section struct {
	Key     string `json:"key"`
	Title   string `json:"title"`
	Hint    string `json:"hint"`
	Text    string `json:"text"`
	Made    string `json:"made"`
	Edited  bool   `json:"edited"`
	LeftOut bool   `json:"leftOut"`
}

// Report is what is printed for an owner.
type Report struct {
	Sections []Section `json:"sections"`
	Figures  []Figure  `json:"figures"`
}

// SoakPlot names the drawing of the long run among the pictures.
const SoakPlot = "soak"

// The sections, in their order.
const (
	Told     = "told"
	Wrong    = "wrong"
	Done     = "done"
	Proved   = "proved"
	Figured  = "figures"
	Pictures = "pictures"
	Care     = "care"
	Left     = "left"
	Cost     = "cost"
	Warranty = "warranty"
)

var sections = []struct{ key, title, hint string }{
	{Told, "What you told us", ""},
	{Wrong, "What was wrong", "in words that need no knowledge of electronics"},
	{Done, "What was done", ""},
	{Proved, "How it was tried", ""},
	{Figured, "Measured before and after", "a line above the figures"},
	{Pictures, "Pictures", ""},
	{Care, "What to look after", "let it breathe; leave the small controls inside alone"},
	{Left, "Noticed, and left as it is", ""},
	{Cost, "What it costs", "work 1.5 h, parts 12.40 €"},
	{Warranty, "Warranty", ""},
}

const maxText = 4000 // characters of a section: thirty lines

// Take checks an entry. Errors can be mended by a person.
func Take(e *Entry) error {
	known := slices.ContainsFunc(sections, func(s struct{ key, title, hint string }) bool { return s.key == e.Section })
	switch {
	case !known:
		return mend.Errorf("%q is no section of the report", e.Section)
	case utf8.RuneCountInString(e.Text) > maxText || !utf8.ValidString(e.Text):
		return mend.Errorf("a section has at most %d characters, and can be read", maxText)
	}
	return nil
}

// Make makes the report of facts, with what a person has written in the place of it.
func Make(f *Facts, s *shop.Settings, entries []Entry) Report {
	made := map[string]string{
		Told: f.told(), Wrong: f.wrong(), Done: f.done(), Proved: f.proved(), Care: f.care(), Left: strings.Join(sentences(f.Left), "\n\n"),
		Warranty: f.warranty(s), Cost: f.cost(s), Pictures: f.pictures(),
	}
	out := Report{Figures: f.Figures}
	if out.Figures == nil {
		out.Figures = []Figure{}
	}
	for _, x := range sections {
		sec := Section{Key: x.key, Title: x.title, Hint: x.hint, Made: made[x.key], Text: made[x.key]}
		sec.LeftOut = x.key == Cost // until somebody wants it: what the record reckons is no bill
		for i := range entries {
			if e := &entries[i]; e.Section == x.key && !e.Struck {
				sec.LeftOut, sec.Edited = e.LeftOut, e.Text != ""
				sec.Text = e.Text
				if !sec.Edited {
					sec.Text = sec.Made
				}
			}
		}
		out.Sections = append(out.Sections, sec)
	}
	return out
}

func (f *Facts) told() string {
	return "“" + strings.Trim(strings.TrimSpace(f.Complaint), "“”\"") + "”"
}

func sentences(all []string) []string {
	out := make([]string, len(all))
	for i, text := range all {
		out[i] = mend.Sentence(text)
	}
	return out
}

// wrong tells what had failed, each in a sentence; where nothing is noted of parts, what was said at the end.
func (f *Facts) wrong() string {
	var out []string
	for _, x := range f.Failures {
		at := ""
		if x.Stage != "" {
			at = fmt.Sprintf("In the section called “%s” ", x.Stage)
		}
		switch {
		case x.Part == "":
			out = append(out, mend.Sentence(strings.TrimSpace(at+"the cause was found")))
		default:
			t := thingOf(x.Part, x.Kind)
			what := t.name + " (" + x.Part + ")"
			if t.does != "" {
				what += ", " + t.does + ","
			}
			out = append(out, mend.Sentence(at+what+" "+troubleOf(x.What)))
		}
	}
	if len(out) == 0 && f.Outcome != "" && f.NotDone == "" {
		return mend.Sentence(f.Outcome)
	}
	return strings.Join(out, " ")
}

// didWords are what was done, to a person who was not there.
var didWords = map[repair.Did]string{
	repair.Replaced: "renewed", repair.Resoldered: "soldered anew", repair.Cleaned: "cleaned", repair.Mended: "its copper track mended",
	repair.Adjusted: "set anew", repair.PutRight: "its wiring put right", repair.Modified: "changed for the better",
}

func (f *Facts) done() string {
	var out []string
	if f.NotDone != "" {
		out = append(out, mend.Sentence("It was not repaired: "+f.NotDone))
	}
	for i := range f.Repairs {
		r := &f.Repairs[i]
		var failed, other []string
		for _, p := range r.Parts {
			text := p.Name
			if p.Fitted != "" {
				text += " (" + p.Fitted + ")"
			}
			if p.Found == repair.Precaution {
				other = append(other, text)
			} else {
				failed = append(failed, text)
			}
		}
		word := didWords[r.Did]
		where := r.Where
		if where == "" {
			where = r.Stage
		}
		switch {
		case len(failed) > 0:
			out = append(out, mend.Sentence(strings.Join(failed, ", ")+": "+word))
		case len(other) == 0 && where != "":
			out = append(out, mend.Sentence(where+": "+word))
		}
		if len(other) > 0 {
			out = append(out, mend.Sentence(strings.Join(other, ", ")+": "+word+" as a precaution, since it ages alike"))
		}
	}
	if len(f.Adjusted) > 0 {
		out = append(out, mend.Sentence("Set anew: "+strings.Join(f.Adjusted, "; ")))
	}
	return strings.Join(out, " ")
}

func (f *Facts) proved() string {
	var out []string
	if f.Shown > 0 {
		out = append(out, "After the repair it was measured again where it had been wrong, and was right.")
	}
	if s := f.Soak; s != nil {
		text := fmt.Sprintf("It ran for %s", hours(s.Seconds))
		if s.Note != "" {
			text += ", " + s.Note
		}
		if s.Fine {
			text += ", while its temperatures were watched: all stayed within what is allowed"
		} else {
			text += ": " + s.Says
		}
		out = append(out, mend.Sentence(text))
	}
	switch {
	case f.Checks == 1:
		out = append(out, "One more check was made before it left the bench, and was right.")
	case f.Checks > 1:
		out = append(out, fmt.Sprintf("%d checks were made before it left the bench, and were right.", f.Checks))
	}
	return strings.Join(out, " ")
}

// hours writes a time as one speaks of it.
func hours(seconds float64) string {
	minutes := int(seconds/60 + 0.5)
	const hour = 60
	switch h, m := minutes/hour, minutes%hour; {
	case h == 0:
		return fmt.Sprintf("%d minutes", m)
	case m == 0 && h == 1:
		return "an hour"
	case m == 0:
		return fmt.Sprintf("%d hours", h)
	case h == 1:
		return fmt.Sprintf("an hour and %d minutes", m)
	default:
		return fmt.Sprintf("%d hours and %d minutes", h, m)
	}
}

func (f *Facts) care() string {
	var out []string
	if len(f.Adjusted) > 0 {
		out = append(out, "The small controls inside are set by instruments: leave them alone.")
	}
	if f.Soak != nil {
		out = append(out, "Let it breathe: nothing on its vents, and room around it.")
	}
	return strings.Join(out, " ")
}

// cost reckons what it costs: the work that was noted, in quarters of an hour that have begun, and the parts whose price is known.
// Without the price of an hour nothing is reckoned.
func (f *Facts) cost(s *shop.Settings) string {
	rate, err := money.Read(s.Rate)
	if err != nil || f.Worked <= 0 {
		return ""
	}
	const quarter, perHour = 15 * time.Minute, 4
	quarters := int64((f.Worked + quarter - 1) / quarter)
	work := rate * money.Amount(quarters) / perHour
	total := work
	text := fmt.Sprintf("Work: %g h at %s an hour, %s", float64(quarters)/perHour, rate.Text(s.Currency), work.Text(s.Currency))
	var parts, unpriced []string
	for _, p := range f.Parts {
		price, err := money.Read(p.Price)
		if err != nil {
			unpriced = append(unpriced, p.Part)
			continue
		}
		price *= money.Amount(p.Count)
		total += price
		parts = append(parts, p.Part+" "+price.Text(s.Currency))
	}
	if len(parts) > 0 {
		text += ". Parts: " + strings.Join(parts, ", ")
	}
	text += ". Together " + total.Text(s.Currency)
	if len(unpriced) > 0 {
		text += ", without " + strings.Join(unpriced, ", ")
	}
	return mend.Sentence(text)
}

// pictures are those that are in it until somebody chooses others: the drawing of the long run.
func (f *Facts) pictures() string {
	if f.Soak == nil {
		return ""
	}
	return SoakPlot
}

func (f *Facts) warranty(s *shop.Settings) string {
	if s.Months == 0 || s.Warranty == "" || f.NotDone != "" {
		return ""
	}
	text := fmt.Sprintf("%d months", s.Months)
	if s.Months == 1 {
		text = "One month"
	}
	if until, ok := s.Until(f.Finished); ok && !f.Finished.IsZero() {
		text += ", until " + until.Format("2 January 2006")
	}
	return mend.Sentence(text + ", " + s.Warranty)
}
