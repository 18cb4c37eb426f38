package adjust

import (
	"math"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"steptrace/core/entry"
	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
)

// Entry is one thing noted of adjusting: that a condition is met, that the set warms up from now on, what was read, that an
// adjustment is left as it is, a setting of the set's own menu, what it idles at and how warm that makes it. One of them
// is there; but for the last two it is of an adjustment.
type Entry struct {
	ID         string    `json:"id"`
	At         time.Time `json:"at"`
	Who        string    `json:"who,omitempty"` // initials of who noted it; empty where that is not known
	Struck     bool      `json:"struck,omitempty" jsonschema:"description=withdrawn\\, but kept"`
	Adjustment string    `json:"adjustment,omitempty"`
	Tick       *Tick     `json:"tick,omitempty"`
	Warm       *Warm     `json:"warm,omitempty"`
	Read       *Read     `json:"read,omitempty"`
	Left       *Left     `json:"left,omitempty"`
	Setting    *Setting  `json:"setting,omitempty"`
	Heat       *Heat     `json:"heat,omitempty"`
}

// Tick says that a condition of an adjustment is met, or is not any more.
type Tick struct {
	Condition string `json:"condition"`
	Off       bool   `json:"off,omitempty"`
}

// Warm says that the set has been on, and left as it has to be, from now on.
type Warm struct{}

// Read is what was read at an adjustment, as typed, in SI units, with where the control stood where that was said. A word
// (good, bad) is one by eye or ear.
type Read struct {
	Text     string        `json:"text"`
	SI       float64       `json:"si"`
	Unit     quantity.Unit `json:"unit,omitempty"`
	Position string        `json:"position,omitempty" jsonschema:"description=of the control: 40 %\\, 10:30\\, 3 turns"`
	Place    float64       `json:"place,omitempty" jsonschema:"description=that as a share of its travel"`
	By       string        `json:"by,omitempty" jsonschema:"description=the instrument that took it"`
}

// Left says that an adjustment is left as it was read last, and why where that is not what is sought.
type Left struct {
	Why string `json:"why,omitempty"`
}

// How a value of a menu came to be.
type How string

// As it was found, what it was changed to, put back to what was found.
const (
	AsFound How = "found"
	Changed How = "changed"
	PutBack How = "back"
)

// Words implements exchange.Enumerated.
func (How) Words() []string { return exchange.WordsOf([]How{AsFound, Changed, PutBack}) }

// Setting is a value of the set's own menu. Of is the input or resolution that it holds for, where they differ.
type Setting struct {
	Item  string `json:"item"`
	Of    string `json:"of,omitempty"`
	Value string `json:"value"`
	How   How    `json:"how"`
}

// Heat is what the set takes while it idles, and how warm it gets, as typed: watts from the mains, the temperatures inside
// and of the room, of the warmest room it may have to stand in, and what is allowed inside; the transformer's losses,
// where they are known.
type Heat struct {
	Watts   string `json:"watts"`
	Inside  string `json:"inside,omitempty"`
	Room    string `json:"room,omitempty"`
	Warmest string `json:"warmest,omitempty"`
	Allowed string `json:"allowed,omitempty"`
	Iron    string `json:"iron,omitempty"`
	Copper  string `json:"copper,omitempty"`
}

// Head implements entry.Entry.
func (e *Entry) Head() entry.Head { return entry.Head{ID: &e.ID, At: &e.At, Who: &e.Who} }

// Withdrawn implements entry.Withdrawable.
func (e *Entry) Withdrawn() bool { return e.Struck }

// Withdraw implements entry.Withdrawable.
func (e *Entry) Withdraw(time.Time, string) { e.Struck = true }

const maxText = 300

// Fits tells whether an entry can be noted now, after those before it: it is of something that the sheet has, what is left
// was read, what is changed in a menu was written down. What was noted before stands, whatever was struck out or changed in
// the sheet since. Errors can be mended by a person.
func (e *Entry) Fits(plan *sheet.Plan, before []Entry) error {
	switch {
	case e.Warm != nil || e.Heat != nil:
		return nil
	case e.Setting != nil:
		return e.Setting.fits(before)
	}
	i, ok := plan.Adjustment(e.Adjustment)
	if !ok {
		return mend.Errorf("the sheet has no adjustment called %q", e.Adjustment)
	}
	a := &plan.Adjustments[i]
	switch {
	case e.Tick != nil && !slices.Contains(a.Conditions, e.Tick.Condition):
		return mend.Errorf("%q is no condition of %s", e.Tick.Condition, e.Adjustment)
	case e.Left != nil:
		last, ok := lastRead(before, a.Name)
		judged := a.Sought == sheet.ByEye || a.Sought == sheet.ByEar || a.Kind == sheet.MenuSetting
		switch {
		case !ok && !judged:
			return mend.Errorf("nothing was read of %s yet: read it, then leave it", a.Name)
		case ok && verdictOf(a, last).off() && strings.TrimSpace(e.Left.Why) == "":
			return mend.Errorf(
				"%s was last read as %s, which is %s: turn it, or say why it is left so",
				a.Name,
				last.Text,
				verdictOf(a, last),
			)
		}
	}
	return nil
}

// Take checks an entry and works out what was typed. Errors can be mended by a person.
func Take(plan *sheet.Plan, e *Entry) error {
	there := 0
	for _, is := range []bool{e.Tick != nil, e.Warm != nil, e.Read != nil, e.Left != nil, e.Setting != nil, e.Heat != nil} {
		if is {
			there++
		}
	}
	if there != 1 {
		return mend.Errorf(
			"an entry of adjusting is one thing: a condition, a warm-up, a reading, that it is left so, a setting, or watts",
		)
	}
	for _, text := range e.texts() {
		if utf8.RuneCountInString(text) > maxText || !utf8.ValidString(text) {
			return mend.Errorf("what is noted of adjusting has at most %d characters, and can be read", maxText)
		}
	}
	switch {
	case e.Setting != nil:
		return e.Setting.take()
	case e.Heat != nil:
		_, err := e.Heat.figures()
		return err
	case e.Read != nil:
		if i, ok := plan.Adjustment(e.Adjustment); ok { // else the sheet had it when it was noted
			return e.Read.take(&plan.Adjustments[i])
		}
	}
	return nil
}

func (e *Entry) texts() []string {
	out := []string{e.Adjustment}
	switch {
	case e.Tick != nil:
		out = append(out, e.Tick.Condition)
	case e.Read != nil:
		out = append(out, e.Read.Text, e.Read.Position, e.Read.By)
	case e.Left != nil:
		out = append(out, e.Left.Why)
	case e.Setting != nil:
		out = append(out, e.Setting.Item, e.Setting.Of, e.Setting.Value)
	case e.Heat != nil:
		h := e.Heat
		out = append(out, h.Watts, h.Inside, h.Room, h.Warmest, h.Allowed, h.Iron, h.Copper)
	}
	return out
}

// take works out a reading: in the unit of what is sought; a current as the volts that it makes across the resistor it is
// read at.
func (r *Read) take(a *sheet.PlanAdjustment) error {
	if r.Unit != quantity.None {
		return r.stands()
	}
	r.SI, r.Place = 0, 0
	if strings.TrimSpace(r.Position) != "" {
		place, err := PlaceOf(r.Position, a.Turns)
		if err != nil {
			return err
		}
		r.Place = place
	}
	word := strings.ToLower(strings.TrimSpace(r.Text))
	if a.Sought == sheet.ByEye || a.Sought == sheet.ByEar {
		if word != "good" && word != "bad" {
			return mend.Errorf("%s is judged %s: write good, or bad", a.Name, a.Sought)
		}
		return nil
	}
	v, err := valueOf(a, r.Text)
	r.SI, r.Unit = v.SI, v.Unit
	return err
}

// valueOf reads what is typed at an adjustment, in the unit that it is sought in.
func valueOf(a *sheet.PlanAdjustment, text string) (quantity.Value, error) {
	unit := quantity.Volt
	if a.Sought == sheet.SoughtValue {
		unit = a.Target.Unit
	} else if a.Quantity != "" {
		unit = a.Quantity.Unit()
	}
	v, err := quantity.Parse(text, unit)
	switch {
	case err != nil:
	case v.Unit == quantity.Ampere && unit == quantity.Volt && a.Ohms > 0:
		v = quantity.Value{SI: v.SI * a.Ohms, Unit: quantity.Volt, Form: quantity.DC}
	case v.Unit == quantity.Volt && unit == quantity.Ampere && a.Ohms > 0:
		v = quantity.Value{SI: v.SI / a.Ohms, Unit: quantity.Ampere}
	case a.Sought == sheet.SoughtValue && v.Unit != unit:
		err = mend.Errorf("%s is set to %s: %s is %s", a.Name, a.Adjustment.Target, text, v.Unit.Name())
	case (a.Sought == sheet.SoughtLeast || a.Sought == sheet.SoughtMost) && v.Unit == quantity.Decibel:
		v = quantity.Value{SI: quantity.Times(v.SI), Unit: quantity.Decibel} // as a ratio, which a search goes by
	}
	return v, err
}

// stands checks a reading that was worked out by an earlier revision of the sheet: its text still reads as the value beside
// it, or as the volts of that current.
func (r *Read) stands() error {
	v, err := quantity.Parse(r.Text, r.Unit)
	if err == nil && r.Unit == quantity.Decibel {
		v.SI = quantity.Times(v.SI)
	}
	if err == nil && v.Unit == r.Unit && math.Abs(v.SI-r.SI) > 1e-9*math.Abs(r.SI) || !(r.Place >= 0 && r.Place <= 1) {
		err = mend.Errorf("%q does not read as the value %g beside it", r.Text, r.SI)
	}
	return err
}

func lastRead(entries []Entry, name string) (*Read, bool) {
	for i := len(entries) - 1; i >= 0; i-- {
		if e := &entries[i]; e.Read != nil && !e.Struck && e.Adjustment == name {
			return e.Read, true
		}
	}
	return nil, false
}

func (s *Setting) take() error {
	switch {
	case strings.TrimSpace(s.Item) == "" || strings.TrimSpace(s.Value) == "":
		return mend.Errorf("a setting has an item of the menu and a value: sub-contrast, 14")
	case !slices.Contains([]How{AsFound, Changed, PutBack}, s.How):
		return mend.Errorf("a value of a menu is found, changed or back")
	}
	return nil
}

// fits lets a value be changed only after it was written down, and put back only to what it was.
func (s *Setting) fits(before []Entry) error {
	found, ok := foundValue(before, s.Item, s.Of)
	switch {
	case s.How == AsFound && ok:
		return mend.Errorf("%s was found at %s already", s.Item, found)
	case s.How != AsFound && !ok:
		return mend.Errorf("write down what %s stands at before it is changed: nobody finds it again otherwise", s.Item)
	case s.How == PutBack && s.Value != found:
		return mend.Errorf("%s was found at %s: put it back to that, or say that it is changed", s.Item, found)
	}
	return nil
}

func foundValue(entries []Entry, item, of string) (string, bool) {
	for i := range entries {
		if s := entries[i].Setting; s != nil && !entries[i].Struck && s.How == AsFound && s.Item == item && s.Of == of {
			return s.Value, true
		}
	}
	return "", false
}

// Kept is a value of the menu as it was found and as it is now. Moved: it has to be put back, or is meant so.
type Kept struct {
	Item  string `json:"item"`
	Of    string `json:"of"`
	Found string `json:"found"`
	Now   string `json:"now"`
	Moved bool   `json:"moved"`
}

// Menu lists the values of the set's own menu that were written down, in order.
func Menu(entries []Entry) []Kept {
	out := []Kept{}
	for i := range entries {
		s := entries[i].Setting
		if s == nil || entries[i].Struck {
			continue
		}
		k := slices.IndexFunc(out, func(x Kept) bool { return x.Item == s.Item && x.Of == s.Of })
		switch {
		case k < 0 && s.How == AsFound:
			out = append(out, Kept{Item: s.Item, Of: s.Of, Found: s.Value, Now: s.Value})
		case k >= 0:
			out[k].Now = s.Value
			out[k].Moved = out[k].Now != out[k].Found
		}
	}
	return out
}

// ReadMenu reads what stands in a menu as it is typed or pasted: an item and its value with = or a colon between, one a
// line or with ; between; a line that ends in a colon says what input or resolution the next ones hold for.
func ReadMenu(text string) ([]Setting, error) {
	const most = 500
	var out []Setting
	of := ""
	for _, line := range strings.FieldsFunc(text, func(r rune) bool { return r == '\n' || r == ';' }) {
		line = strings.TrimSpace(line)
		if line == "" {
			continue
		}
		if head, ok := strings.CutSuffix(line, ":"); ok {
			of = strings.TrimSpace(head)
			continue
		}
		at := strings.LastIndexAny(line, "=:\t")
		if at < 0 {
			at = strings.LastIndexByte(line, ' ')
		}
		if at <= 0 || strings.TrimSpace(line[at+1:]) == "" {
			return nil, mend.Errorf("%q has no value: write an item and its value, as in sub-contrast = 14", line)
		}
		out = append(out, Setting{Item: strings.TrimSpace(line[:at]), Of: of, Value: strings.TrimSpace(line[at+1:]), How: AsFound})
		if len(out) > most {
			return nil, mend.Errorf("more than %d values at once", most)
		}
	}
	if len(out) == 0 {
		return nil, mend.Errorf("write an item of the menu and its value, as in sub-contrast = 14")
	}
	return out, nil
}
