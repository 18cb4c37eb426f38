package trace

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/sheet"
)

// The matrix is what can be tried with no probe at all: every entry of the set
// against every exit, in every mode. Each cell is tried once and marked; a mark
// is a reading of the word that was heard or seen at the exit.

// MarkWords are what a cell can be marked with.
var MarkWords = []quantity.Word{quantity.OK, quantity.Weak, quantity.Partly, quantity.Nothing, quantity.CutsOut}

// Trial is one entry against one exit. Clears lists the suspects that are
// cleared if it works; Leaves those that are left if nothing arrives; Partly
// those that are left if it works but wrongly. Bits is how much trying it is
// expected to tell.
type Trial struct {
	Exit    string        `json:"exit"`
	There   bool          `json:"there"` // a route runs from the entry to this exit
	Mark    quantity.Word `json:"mark"`
	Was     quantity.Word `json:"was"`     // marked before the last repair
	Reading string        `json:"reading"` // its id
	Clears  []string      `json:"clears"`
	Leaves  []string      `json:"leaves"`
	Partly  []string      `json:"partly"`
	Bits    float64       `json:"bits"`
}

// Row is an entry in a mode, as it is or with stages swapped for good ones.
// Cells stand in the order of the exits.
type Row struct {
	Mode    string   `json:"mode"`
	Entry   string   `json:"entry"`
	Without []string `json:"without"`
	Cells   []Trial  `json:"cells"`
}

// Exit is where something can be heard or seen.
type Exit struct {
	Name string `json:"name"`
	Note string `json:"note"`
}

// Suspected is a block that is left, and whether it is a rail.
type Suspected struct {
	Name string `json:"name"`
	Rail bool   `json:"rail"`
}

// Best is the cell to try next, and why.
type Best struct {
	Row      int    `json:"row"`
	Cell     int    `json:"cell"`
	Sentence string `json:"sentence"`
	Why      string `json:"why"`
}

// Matrix is the whole of it. Clash says why nothing is left, where that is so.
type Matrix struct {
	Entries []Exit      `json:"entries"`
	Exits   []Exit      `json:"exits"`
	Rows    []Row       `json:"rows"`
	Left    []Suspected `json:"left"`
	Blocks  int         `json:"blocks"` // on any route
	Best    *Best       `json:"best" jsonschema:"nullable"`
	Clash   []string    `json:"clash"` // where nothing is left
}

// InMatrix tells whether a reading is the mark of a cell, and of which entry:
// a word at the end of a route, with the sheet's own signal at its beginning, or with what begins
// there by itself.
func (c Case) InMatrix(r *reading.Reading) (entry string, ok bool) {
	if r.Word == quantity.NoWord {
		return "", false
	}
	for i := range c.Plan.Routes {
		route := &c.Plan.Routes[i]
		first, last := &c.Plan.Points[route.Points[0]], &c.Plan.Points[route.Points[len(route.Points)-1]]
		if route.Mode != r.Mode || last.Name != r.Point {
			continue
		}
		switch in := r.Injected; {
		case first.Source && in == nil:
			return c.Plan.EntryName(route), true
		case in != nil && in.At == first.Name && in.Level == 0 && in.Hz == 0:
			return first.Name, true
		}
	}
	return "", false
}

// MarksOf lists the ids of the marks that stand in the cell of a reading, but
// for the reading itself.
func (c Case) MarksOf(cell *reading.Reading, readings []reading.Reading) []string {
	var out []string
	entry, _ := c.InMatrix(cell)
	for i := range readings {
		r := &readings[i]
		at, ok := c.InMatrix(r)
		if ok && !r.Struck && r.Round == c.Round && r.ID != cell.ID && at == entry && r.Point == cell.Point && r.Mode == cell.Mode &&
			slices.Equal(r.Without, cell.Without) {
			out = append(out, r.ID)
		}
	}
	return out
}

// Matrix lays out what can be tried and what the readings leave. Swaps are
// further rows to lay out: lists of stages that a known good unit stands in for.
func (c Case) Matrix(readings []reading.Reading, swaps [][]string) Matrix {
	f := newFinder(c, c.OfRound(readings))
	left := f.narrow(f.evidence)
	m := Matrix{Entries: []Exit{}, Exits: []Exit{}, Rows: []Row{}, Left: []Suspected{}, Clash: []string{}}
	on := c.onRoutes()
	for k := range left {
		left[k] = left[k] && on[k]
		if on[k] {
			m.Blocks++
		}
		if left[k] {
			m.Left = append(m.Left, Suspected{c.Plan.BlockName(k), k >= len(c.Plan.Stages) && k < len(c.Plan.Stages)+len(c.Plan.Rails)})
		}
	}
	m.rows(c.Plan, swapsOf(swaps, f.evidence))
	for i := range m.Rows {
		row := &m.Rows[i]
		for k := range row.Cells {
			f.fill(row, &row.Cells[k], left)
		}
	}
	for _, j := range f.evidence {
		if entry, ok := c.InMatrix(&j.Reading); ok {
			m.mark(j, entry)
		}
	}
	for i := range readings { // as it was before a repair, the last time counts
		r := &readings[i]
		if entry, ok := c.InMatrix(r); ok && !r.Struck && r.Round < c.Round {
			m.was(r, entry)
		}
	}
	m.choose()
	if !slices.Contains(left, true) && len(f.evidence) > 0 {
		m.Clash = f.clash(on)
	}
	return m
}

// Tried is a cell of the matrix as it was marked before the last repair, and since; no word where it was not.
type Tried struct {
	Mode, Entry, Exit string
	Was, Mark         quantity.Word
}

// Tried lists every cell of the set as it is, with no stage swapped, in the order of the matrix. Nothing is reasoned of it. A
// level that was read at an exit as it should be is a mark too.
func (c Case) Tried(readings []reading.Reading) []Tried {
	var m Matrix
	m.rows(c.Plan, [][]string{{}})
	for i := range readings {
		r := readings[i]
		entry, ok := c.InMatrix(&r)
		if !ok {
			entry, ok = c.levelAtExit(&r)
			r.Word = quantity.OK
		}
		switch {
		case !ok || r.Struck || len(r.Without) > 0:
		case r.Round < c.Round:
			m.was(&r, entry)
		default:
			m.mark(&reading.Judged{Reading: r}, entry)
		}
	}
	var out []Tried
	for _, row := range m.Rows {
		for _, cell := range row.Cells {
			if cell.There {
				out = append(out, Tried{row.Mode, row.Entry, cell.Exit, cell.Was, cell.Mark})
			}
		}
	}
	return out
}

// levelAtExit tells whether a reading is a level at an exit, as it should be, of which one entry alone can be the cause.
func (c Case) levelAtExit(r *reading.Reading) (entry string, ok bool) {
	if r.Word != quantity.NoWord || r.Quantity != sheet.AC {
		return "", false
	}
	for i := range c.Plan.Routes {
		route := &c.Plan.Routes[i]
		last := c.Plan.Points[route.Points[len(route.Points)-1]].Name
		if last != r.Point || route.Mode != r.Mode || r.Injected != nil && r.Injected.At != c.Plan.EntryName(route) {
			continue
		}
		if name := c.Plan.EntryName(route); entry != "" && entry != name {
			return "", false
		}
		entry = c.Plan.EntryName(route)
	}
	return entry, entry != "" && c.Judge(*r).Verdict == reading.Within
}

// onRoutes tells which blocks any route depends on.
func (c Case) onRoutes() []bool {
	on := make([]bool, c.Plan.Blocks())
	for i := range c.Plan.Routes {
		r := &c.Plan.Routes[i]
		for k, yes := range c.Plan.Paths(r.Mode, r.Points[0], r.Points[len(r.Points)-1], nil).Any {
			on[k] = on[k] || yes
		}
	}
	return on
}

// swapsOf adds the swaps that were tried already to those asked for; none stands first.
func swapsOf(swaps [][]string, evidence []*reading.Judged) [][]string {
	out := [][]string{{}}
	add := func(without []string) {
		if !slices.ContainsFunc(out, func(o []string) bool { return slices.Equal(o, without) }) {
			out = append(out, without)
		}
	}
	for _, j := range evidence {
		add(append([]string{}, j.Reading.Without...))
	}
	for _, s := range swaps {
		add(append([]string{}, s...))
	}
	return out
}

// rows lays the entries of every mode out against all exits.
func (m *Matrix) rows(p *sheet.Plan, swaps [][]string) {
	place := func(list *[]Exit, at int) int {
		i := slices.IndexFunc(*list, func(e Exit) bool { return e.Name == p.Points[at].Name })
		if i < 0 {
			*list = append(*list, Exit{p.Points[at].Name, p.Points[at].Note})
			i = len(*list) - 1
		}
		return i
	}
	heard := p.Heard()
	for i := range heard {
		r := &heard[i]
		m.enter(p, r)
		place(&m.Exits, r.Points[len(r.Points)-1])
	}
	for _, without := range swaps {
		for i := range heard {
			r := &heard[i]
			entry := p.EntryName(r)
			k := slices.IndexFunc(m.Rows, func(x Row) bool {
				return x.Mode == r.Mode && x.Entry == entry && slices.Equal(x.Without, without)
			})
			if k < 0 {
				k = len(m.Rows)
				row := Row{Mode: r.Mode, Entry: entry, Without: without, Cells: make([]Trial, len(m.Exits))}
				for e := range row.Cells {
					row.Cells[e] = Trial{Exit: m.Exits[e].Name, Clears: []string{}, Leaves: []string{}, Partly: []string{}}
				}
				m.Rows = append(m.Rows, row)
			}
			m.Rows[k].Cells[place(&m.Exits, r.Points[len(r.Points)-1])].There = true
		}
	}
}

// enter lists the entry of a route, once.
func (m *Matrix) enter(p *sheet.Plan, r *sheet.Route) {
	name := p.EntryName(r)
	if slices.ContainsFunc(m.Entries, func(e Exit) bool { return e.Name == name }) {
		return
	}
	e := Exit{name, p.Points[r.Points[0]].Note}
	if p.Points[r.Points[0]].Source {
		e.Note = "begins by itself"
	}
	m.Entries = append(m.Entries, e)
}

// fill works out what each answer in a cell would leave of the suspects. The
// three answers are taken as likely as the suspects that allow them; a block on
// every way may show either as nothing or as partly.
func (f *finder) fill(row *Row, cell *Trial, left []bool) {
	if !cell.There {
		return
	}
	from, _ := f.Plan.EntryIndex(row.Entry)
	to, _ := f.Plan.PointIndex(cell.Exit)
	w := f.Plan.Paths(row.Mode, from, to, row.Without)
	total, works, nothing := 0.0, 0.0, 0.0
	for k, yes := range left {
		if !yes {
			continue
		}
		total++
		name := f.Plan.BlockTitle(k)
		if !w.Any[k] {
			works++
			continue
		}
		cell.Clears = append(cell.Clears, name)
		cell.Partly = append(cell.Partly, name)
		if w.Every[k] {
			nothing++
			cell.Leaves = append(cell.Leaves, name)
		}
	}
	for _, n := range []float64{works, nothing, total - works - nothing} {
		if n > 0 {
			cell.Bits -= n / total * math.Log2(n/total)
		}
	}
}

// mark writes a mark into its cell.
func (m *Matrix) mark(j *reading.Judged, entry string) {
	if cell := m.cell(&j.Reading, entry); cell != nil {
		cell.Mark, cell.Reading = j.Reading.Word, j.Reading.ID
	}
}

// was writes a mark of before a repair into its cell.
func (m *Matrix) was(r *reading.Reading, entry string) {
	if cell := m.cell(r, entry); cell != nil {
		cell.Was = r.Word
	}
}

// cell finds the cell of a mark; nil where it is not laid out.
func (m *Matrix) cell(r *reading.Reading, entry string) *Trial {
	for i := range m.Rows {
		row := &m.Rows[i]
		if row.Mode != r.Mode || row.Entry != entry || !slices.Equal(row.Without, append([]string{}, r.Without...)) {
			continue
		}
		for k := range row.Cells {
			if row.Cells[k].Exit == r.Point {
				return &row.Cells[k]
			}
		}
	}
	return nil
}

// choose picks the cell that tells most; the first of equals, as the set stands.
func (m *Matrix) choose() {
	best := 1e-9
	for i := range m.Rows {
		for k := range m.Rows[i].Cells {
			if c := &m.Rows[i].Cells[k]; c.There && c.Mark == quantity.NoWord && c.Bits > best {
				best = c.Bits
				m.Best = &Best{Row: i, Cell: k}
			}
		}
	}
	if m.Best == nil {
		return
	}
	row, cell := &m.Rows[m.Best.Row], &m.Rows[m.Best.Row].Cells[m.Best.Cell]
	m.Best.Sentence = "Try " + row.describe() + " at " + described(m.Exits, cell.Exit) + "."
	m.Best.Why = fmt.Sprintf("of %d suspects %s cleared if it works", len(m.Left), areOf(len(cell.Clears)))
	if n := len(cell.Leaves); n > 0 {
		m.Best.Why += fmt.Sprintf(", %s left if nothing comes", areOf(n))
	}
}

// areOf counts in a sentence: "1 is", "3 are".
func areOf(n int) string {
	if n == 1 {
		return "1 is"
	}
	return fmt.Sprintf("%d are", n)
}

// describe names a row: "J2-4 in tape, with the head unit swapped".
func (r *Row) describe() string {
	text := r.Entry
	if r.Mode != "" {
		text += " in " + r.Mode
	}
	if len(r.Without) > 0 {
		text += ", with a good one for " + strings.Join(r.Without, " and ")
	}
	return text
}

func described(list []Exit, name string) string {
	for _, e := range list {
		if e.Name == name && e.Note != "" {
			return e.Name + ", " + e.Note
		}
	}
	return name
}

// clash says which readings cannot all be true of one fault, and what would
// have to be.
func (f *finder) clash(on []bool) []string {
	among := func(evidence []*reading.Judged) []string {
		left := f.narrow(evidence)
		for k := range left {
			left[k] = left[k] && on[k]
		}
		return f.Plan.BlockTitles(left)
	}
	if len(f.bad()) == 0 {
		return []string{
			"All that was tried works, and it takes every stage to do so. The fault comes and goes, or shows only in what was not tried.",
		}
	}
	// The smallest set with a fault shown that still contradicts itself:
	// whatever can be left out is.
	set := slices.Clone(f.evidence)
	isBad := func(j *reading.Judged) bool { return j.Verdict.Bad() }
	for i := 0; i < len(set); {
		if rest := slices.Delete(slices.Clone(set), i, i+1); len(among(rest)) == 0 && slices.ContainsFunc(rest, isBad) {
			set = rest
		} else {
			i++
		}
	}
	where := func(j *reading.Judged) string {
		row := Row{Mode: j.Reading.Mode, Entry: f.Plan.EntryName(j.Route), Without: j.Reading.Without}
		return fmt.Sprintf("%s %s, from %s", j.Reading.Point, j.Says(), row.describe())
	}
	all := make([]string, len(set))
	for i, j := range set {
		all[i] = where(j)
	}
	out := []string{fmt.Sprintf("No single fault does all of this: %s.", strings.Join(all, "; "))}
	for i, j := range set {
		rest := among(slices.Delete(slices.Clone(set), i, i+1))
		out = append(out, fmt.Sprintf("If \u201c%s\u201d was misjudged, it is in %s.", where(j), reading.Listed(rest)))
	}
	return append(out, "Try these again. If they stay as they are, there are two faults, or the fault comes and goes.")
}
