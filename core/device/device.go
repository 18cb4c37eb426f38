// Package device knows registered and generic types of parts: their kind, ratings, gain, speed, case and the order of their
// legs. A table of common ones ships with the program (types.csv); a workshop adds rows to it and corrects them.
//
//	t, ok := device.Shipped().Find("c1815")
//
// The figures of the table are those that data sheets of several makers have in common. What is not certain is left out:
// zero, an empty text and an empty list say that nobody knows.
package device

import (
	"cmp"
	_ "embed"
	"encoding/csv"
	"fmt"
	"slices"
	"strings"
	"sync"
	"unicode"

	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/quantity"
)

// Kind is a sort of part that has types.
type Kind string

// The kinds of the table.
const (
	Transistor  Kind = "transistor"
	MOSFET      Kind = "mosfet"
	JFET        Kind = "jfet"
	Diode       Kind = "diode"
	Rectifier   Kind = "rectifier"
	Zener       Kind = "zener"
	Bridge      Kind = "bridge"
	OpAmp       Kind = "op-amp"
	Comparator  Kind = "comparator"
	Timer       Kind = "timer"
	Switch      Kind = "switch"
	Regulator   Kind = "regulator"
	Reference   Kind = "reference"
	Optocoupler Kind = "optocoupler"
	Tube        Kind = "tube"
	Module      Kind = "module"
)

// Kinds lists them.
var Kinds = []Kind{
	Transistor, MOSFET, JFET, Diode, Rectifier, Zener, Bridge, OpAmp, Comparator, Timer, Switch, Regulator, Reference, Optocoupler,
	Tube, Module,
}

// Words implements exchange.Enumerated.
func (Kind) Words() []string { return exchange.WordsOf(Kinds) }

// Row is a type as it stands in the table, every figure as text: what a workshop types, and what a CSV has in its columns.
type Row struct {
	Type        string `json:"type"`
	Kind        Kind   `json:"kind"`
	Polarity    string `json:"polarity,omitempty" jsonschema:"description=npn\\, pnp\\, n\\, p\\, positive\\, negative"`
	Material    string `json:"material,omitempty" jsonschema:"description=silicon or germanium"`
	Volts       string `json:"volts,omitempty" jsonschema:"description=the most that it bears; of a zener its voltage"`
	Amps        string `json:"amps,omitempty" jsonschema:"description=the most that it carries"`
	Watts       string `json:"watts,omitempty" jsonschema:"description=the most heat at 25 °C"`
	Heat        string `json:"heat,omitempty" jsonschema:"description=where those 25 °C are: air or case"`
	Gain        string `json:"gain,omitempty" jsonschema:"description=110-800; 40- where only the least is known"`
	At          string `json:"at,omitempty" jsonschema:"description=the current of that gain\\, or of a zener's voltage"`
	Frequency   string `json:"frequency,omitempty" jsonschema:"description=transition frequency"`
	Capacitance string `json:"capacitance,omitempty"`
	Speed       string `json:"speed,omitempty" jsonschema:"description=reverse recovery"`
	Drop        string `json:"drop,omitempty" jsonschema:"description=forward drop; of a regulator its output"`
	Threshold   string `json:"threshold,omitempty" jsonschema:"description=threshold or pinch-off\\, 2-4 V"`
	Case        string `json:"case,omitempty"`
	Legs        string `json:"legs,omitempty" jsonschema:"description=their order as the case is seen: E B C"`
	Pair        string `json:"pair,omitempty" jsonschema:"description=of the other polarity"`
	Note        string `json:"note,omitempty"`
}

// columns are a row's texts in the order of the table.
func (r *Row) columns() []*string {
	return []*string{
		&r.Type, (*string)(&r.Kind), &r.Polarity, &r.Material, &r.Volts, &r.Amps, &r.Watts, &r.Heat, &r.Gain, &r.At, &r.Frequency,
		&r.Capacitance, &r.Speed, &r.Drop, &r.Threshold, &r.Case, &r.Legs, &r.Pair, &r.Note,
	}
}

// Headings are the columns of the table, in order.
const Headings = "type,kind,polarity,material,volts,amps,watts,heat,gain,at,frequency,capacitance,speed,drop,threshold,case,legs,pair,note"

// Range is from the least to the most; zero where one of them is not known.
type Range struct {
	Least float64 `json:"least"`
	Most  float64 `json:"most"`
}

// Type is a row in numbers, SI units.
type Type struct {
	Row     Row
	Name    string
	Kind    Kind
	Volts   float64
	Amps    float64
	Watts   float64
	OfCase  bool // the watts are for a case held at 25 °C
	Gain    Range
	GainAt  float64
	Hz      float64
	Farads  float64
	Seconds float64
	Drop    float64
	Opens   Range // threshold or pinch-off, volts
	Case    *Case // nil: not known
	Legs    []string
	Own     bool // the workshop's
}

// Says is how sure the figures of a type are.
func (t *Type) Says() string {
	if t.Own {
		return "the workshop's own data"
	}
	return "common data, check the maker's sheet before fitting"
}

// Darlington tells whether it is two in one.
func (t *Type) Darlington() bool { return strings.Contains(t.Row.Note, "Darlington") }

// Problem is what is wrong with a row: its line in the table, its column.
type Problem struct {
	Line   int    `json:"line"`
	Column string `json:"column"`
	Text   string `json:"text"`
}

func (p *Problem) Error() string {
	if p.Line == 0 {
		return fmt.Sprintf("%s: %s", p.Column, p.Text)
	}
	return fmt.Sprintf("line %d, %s: %s", p.Line, p.Column, p.Text)
}

// Mendable implements mend.Error.
func (*Problem) Mendable() {}

// Limits of what is typed.
const (
	maxRows = 20000
	maxText = 200
	maxLegs = 64
)

// Read reads a row into numbers. The error is a *Problem.
func (r Row) Read() (Type, error) {
	for _, cell := range r.columns() {
		*cell = strings.Join(strings.Fields(*cell), " ")
		if len(*cell) > maxText {
			return Type{}, &Problem{Column: "type", Text: "a cell of more than 200 characters: shorten it"}
		}
	}
	t := Type{Row: r, Name: r.Type, Kind: r.Kind}
	if key(r.Type) == "" {
		return t, &Problem{Column: "type", Text: "name the type, for example 2N3904"}
	}
	if !slices.Contains(Kinds, r.Kind) {
		return t, &Problem{Column: "kind", Text: fmt.Sprintf("%q is no kind of part: use %s", r.Kind, strings.Join(r.Kind.Words(), ", "))}
	}
	for _, x := range []struct {
		column, text string
		unit         quantity.Unit
		to           *float64
	}{
		{"volts", r.Volts, quantity.Volt, &t.Volts}, {"amps", r.Amps, quantity.Ampere, &t.Amps},
		{"watts", r.Watts, quantity.Watt, &t.Watts},
		{"at", r.At, quantity.Ampere, &t.GainAt}, {"frequency", r.Frequency, quantity.Hertz, &t.Hz},
		{"capacitance", r.Capacitance, quantity.Farad, &t.Farads}, {"speed", r.Speed, quantity.Second, &t.Seconds},
		{"drop", r.Drop, quantity.Volt, &t.Drop},
	} {
		if x.text == "" {
			continue
		}
		v, err := quantity.ParseAs(x.text, x.unit)
		if err != nil {
			return t, &Problem{Column: x.column, Text: err.Error()}
		}
		if *x.to = v.SI; v.SI <= 0 {
			return t, &Problem{Column: x.column, Text: "a rating is above zero; leave it empty where it is not known"}
		}
	}
	for _, x := range []struct {
		column, text string
		unit         quantity.Unit
		to           *Range
	}{{"gain", r.Gain, quantity.None, &t.Gain}, {"threshold", r.Threshold, quantity.Volt, &t.Opens}} {
		var err error
		if *x.to, err = span(x.text, x.unit); err != nil {
			return t, &Problem{Column: x.column, Text: err.Error()}
		}
	}
	return t, t.words()
}

// words reads what is told in words: where the heat goes, the case, the legs.
func (t *Type) words() error {
	r := &t.Row
	switch r.Heat {
	case "", "air", "case":
		t.OfCase = r.Heat == "case"
	default:
		return &Problem{Column: "heat", Text: fmt.Sprintf("%q is not where the 25 °C are: write air or case", r.Heat)}
	}
	if (r.Heat == "") != (r.Watts == "") {
		return &Problem{Column: "heat", Text: "watts are told with where they hold: air (standing free) or case (bolted to a sink)"}
	}
	for _, x := range []struct {
		column, text string
		known        []string
	}{{"polarity", r.Polarity, polarities[t.Kind]}, {"material", r.Material, []string{"silicon", "germanium"}}} {
		if x.text != "" && !slices.Contains(x.known, x.text) {
			if len(x.known) == 0 {
				return &Problem{Column: x.column, Text: fmt.Sprintf("a %s has no %s: leave it empty", t.Kind, x.column)}
			}
			return &Problem{Column: x.column, Text: fmt.Sprintf("%q is no %s: use %s", x.text, x.column, strings.Join(x.known, " or "))}
		}
	}
	if r.Case != "" {
		if t.Case = CaseOf(r.Case); t.Case == nil {
			return &Problem{Column: "case", Text: fmt.Sprintf("the case %q is not known: use %s, or leave it empty", r.Case, caseList())}
		}
	}
	t.Legs = strings.Fields(r.Legs)
	switch n := len(t.Legs); {
	case n == 0:
		return nil
	case n > maxLegs:
		return &Problem{Column: "legs", Text: "more legs than a part has"}
	case t.Case != nil && t.Case.Legs > 0 && n != t.Case.Legs:
		return &Problem{Column: "legs", Text: fmt.Sprintf("a %s has %d legs, not %d", t.Case.Name, t.Case.Legs, n)}
	}
	if want := legsOf[t.Kind]; len(want) > 0 && len(t.Legs) == len(want) {
		have := slices.Sorted(slices.Values(t.Legs))
		if sorted := slices.Sorted(slices.Values(want)); !slices.Equal(have, sorted) {
			return &Problem{
				Column: "legs",
				Text:   fmt.Sprintf("the legs of a %s are %s, each once: not %s", t.Kind, strings.Join(want, ", "), r.Legs),
			}
		}
	}
	return nil
}

// polarities are those of a kind; legsOf its legs, where every type of it has the same.
var (
	polarities = map[Kind][]string{
		Transistor: {"npn", "pnp"}, MOSFET: {"n", "p"}, JFET: {"n", "p"}, Regulator: {"positive", "negative"},
	}
	legsOf = map[Kind][]string{
		Transistor: {"E", "B", "C"}, MOSFET: {"G", "D", "S"}, JFET: {"G", "D", "S"},
		Diode: {"A", "K"}, Rectifier: {"A", "K"}, Zener: {"A", "K"}, Reference: {"REF", "A", "K"},
	}
)

// span reads "110-800", "40-" (at least), "-8 V" (at most), "2 V".
func span(text string, unit quantity.Unit) (Range, error) {
	if text == "" {
		return Range{}, nil
	}
	low, high, both := strings.Cut(text, "-")
	if !both {
		high = low
	}
	var out Range
	for _, x := range []struct {
		text string
		to   *float64
	}{{low, &out.Least}, {high, &out.Most}} {
		if x.text = strings.TrimSpace(x.text); x.text == "" {
			continue
		}
		v, err := quantity.ParseAs(x.text, unit)
		if err != nil {
			return out, err
		}
		*x.to = v.SI
	}
	if out.Least < 0 || out.Most < 0 || out.Most > 0 && out.Least > out.Most || out == (Range{}) {
		return out, mend.Errorf("%q is no range: write 110-800, or 40- where only the least is known", text)
	}
	return out, nil
}

// Table is a list of types that can be looked up.
type Table struct {
	types []Type
	keys  []string // of their names, as they are looked up
	at    map[string]int
}

//go:embed types.csv
var shipped string

// Shipped is the table that comes with the program.
var Shipped = sync.OnceValue(func() *Table {
	rows, problems := ReadRows(shipped)
	if len(problems) > 0 {
		panic("device: types.csv: " + problems[0].Error())
	}
	return new(Table).with(rows, false)
})

// With is the table with the workshop's own rows: a row of the name of another stands for that one.
func (t *Table) With(own []Row) *Table { return t.with(own, true) }

func (t *Table) with(rows []Row, own bool) *Table {
	out := &Table{types: slices.Clone(t.types), keys: slices.Clone(t.keys), at: map[string]int{}}
	for i, k := range out.keys {
		out.at[k] = i
	}
	for _, r := range rows {
		x, err := r.Read()
		if err != nil {
			continue // it was checked when it came in
		}
		x.Own = own
		k := key(x.Name)
		if i, ok := out.at[k]; ok {
			out.types[i] = x
			continue
		}
		out.at[k] = len(out.types)
		out.types, out.keys = append(out.types, x), append(out.keys, k)
	}
	return out
}

// Types lists all of them, in the order of the table.
func (t *Table) Types() []Type { return t.types }

// ReadRows reads a table: a row of headings, of which type and kind have to be there, then a row a type. Nothing of a table
// with problems should be taken.
func ReadRows(text string) (rows []Row, problems []*Problem) {
	if err := exchange.Table([]byte(text)); err != nil {
		return nil, []*Problem{{Line: 1, Column: "table", Text: err.Error()}}
	}
	r := csv.NewReader(strings.NewReader(strings.TrimPrefix(text, "\ufeff")))
	r.FieldsPerRecord, r.LazyQuotes, r.TrimLeadingSpace = -1, false, true
	first, _, _ := strings.Cut(text, "\n")
	for _, comma := range []rune{';', '\t'} {
		if strings.Count(first, string(comma)) > strings.Count(first, string(r.Comma)) {
			r.Comma = comma
		}
	}
	records, err := r.ReadAll()
	if err != nil {
		return nil, []*Problem{{Line: 1, Column: "table", Text: "it is no table that can be read: " + err.Error()}}
	}
	if len(records) > maxRows+1 {
		return nil, []*Problem{{Line: maxRows, Column: "table", Text: "it has more than 20,000 rows: divide it"}}
	}
	if len(records) == 0 {
		return nil, []*Problem{{Line: 1, Column: "table", Text: "it is empty: begin with a row of headings, " + Headings}}
	}
	known, names := strings.Split(Headings, ","), make([]string, len(records[0]))
	for i, h := range records[0] {
		names[i] = strings.ToLower(strings.TrimSpace(h))
		if names[i] != "" && !slices.Contains(known, names[i]) {
			return nil, []*Problem{{Line: 1, Column: names[i], Text: "this column is not known: use " + Headings}}
		}
	}
	if !slices.Contains(names, "type") || !slices.Contains(names, "kind") {
		return nil, []*Problem{{Line: 1, Column: "type", Text: "a table of types has a column type and a column kind"}}
	}
	seen := map[string]int{}
	for n, record := range records[1:] {
		var row Row
		cells := row.columns()
		for i, text := range record {
			if i < len(names) && names[i] != "" {
				*cells[slices.Index(known, names[i])] = exchange.Plain(strings.TrimSpace(text))
			} else if strings.TrimSpace(text) != "" {
				text := "a cell stands beyond the last heading: is a comma missing, or one too many?"
				problems = append(problems, &Problem{n + 2, "table", text})
			}
		}
		if _, err := row.Read(); err != nil {
			p := *err.(*Problem)
			p.Line = n + 2
			problems = append(problems, &p)
			continue
		}
		if before, twice := seen[key(row.Type)]; twice {
			problems = append(problems, &Problem{n + 2, "type", fmt.Sprintf("%s stands in line %d already", row.Type, before)})
		}
		seen[key(row.Type)] = n + 2
		rows = append(rows, row)
	}
	return rows, problems
}

// WriteRows writes a table that ReadRows reads.
func WriteRows(rows []Row) string {
	var b strings.Builder
	w := csv.NewWriter(&b)
	_ = w.Write(strings.Split(Headings, ",")) // a Builder takes everything
	for i := range rows {
		var record []string
		for _, cell := range rows[i].columns() {
			record = append(record, exchange.Cell(*cell))
		}
		_ = w.Write(record)
	}
	w.Flush()
	return b.String()
}

// key is a name as it is looked up: without what people leave out.
func key(name string) string {
	var b strings.Builder
	for _, c := range strings.ToUpper(name) {
		if unicode.IsLetter(c) || unicode.IsDigit(c) {
			b.WriteRune(c)
		}
	}
	return b.String()
}

// Find looks a type up as people write it: in any case, without blanks and hyphens, without the 2S of the Japanese numbers
// ("c1815"), and chips with a maker's letters before and a package's behind ("LM7805CT"). Rest is what of the name stands
// beyond the type that was found, and what it means is not known: a gain group, a package.
func (t *Table) Find(name string) (found *Type, rest string, ok bool) {
	k := key(name)
	for _, try := range []string{k, "2S" + k} {
		if i, ok := t.at[try]; ok {
			return &t.types[i], "", true
		}
	}
	digit := strings.IndexFunc(k, unicode.IsDigit)
	if digit < 0 {
		return nil, "", false
	}
	// From behind, letter by letter; from before, all letters of a maker's at once, of types that begin with a digit.
	for cut := 0; cut <= 3 && cut < len(k)-digit; cut++ {
		rest = k[len(k)-cut:]
		if strings.ContainsFunc(rest, unicode.IsDigit) {
			break
		}
		for _, try := range []string{k[:len(k)-cut], "2S" + k[:len(k)-cut], k[digit : len(k)-cut]} {
			if i, ok := t.at[try]; ok && (try != k[digit:len(k)-cut] || chip(t.types[i].Kind) || digit == 0) {
				return &t.types[i], rest, true
			}
		}
	}
	return nil, "", false
}

// chip tells whether makers put letters of their own before the number of a kind.
func chip(k Kind) bool {
	return slices.Contains([]Kind{OpAmp, Comparator, Timer, Switch, Regulator, Reference}, k)
}

// Begun tells whether a text is the beginning of a type's name.
func (t *Table) Begun(name string) bool {
	k := key(name)
	return slices.ContainsFunc(t.keys, func(n string) bool { return strings.HasPrefix(n, k) })
}

// Near lists types whose names begin as a text does, or are nearest to it: for "did you mean". At most so many.
func (t *Table) Near(name string, most int) []*Type {
	k := key(name)
	var out []*Type
	for length := len(k); length >= 2 && len(out) == 0; length-- {
		for i, n := range t.keys {
			if strings.HasPrefix(n, k[:length]) || strings.HasPrefix(n, "2S"+k[:length]) {
				out = append(out, &t.types[i])
			}
		}
	}
	slices.SortStableFunc(out, func(a, b *Type) int { return cmp.Compare(len(a.Name), len(b.Name)) })
	return out[:min(len(out), most)]
}
