package past

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"steptrace/core/mend"
)

// Own is one of the workshop's own finished jobs, by its number.
type Own struct {
	Number int
	Job
}

// Lent is a finished job of another workshop.
type Lent struct {
	Whose string
	Job
}

// Page is what is known of a model by its finished jobs, or of a kind of set: how many there are, of whom; what failed, the most
// often first; the jobs themselves, the latest first; how long one takes. Sets of a kind come with kinds of block.
type Page struct {
	Says    string   `json:"says"`
	Jobs    int      `json:"jobs"`
	Lent    int      `json:"lent"`
	Whose   []Whose  `json:"whose"`
	Faults  []Fault  `json:"faults"`
	Listed  []Listed `json:"listed"`
	Minutes float64  `json:"minutes"` // in the middle, of its own jobs; 0 where there are none
	Back    int      `json:"back"`    // sets that came back with the same
	GaveUp  int      `json:"gaveUp"`
}

// Whose is how many jobs another workshop has lent.
type Whose struct {
	Whose string `json:"whose"`
	Jobs  int    `json:"jobs"`
}

// Fault is something that failed: the block, or of a kind of set the kind of block, and the part in it; what it had; in how many own
// and lent jobs. After are complaints it came with, the latest first; Minutes the middle of its own jobs; Mistaken what it was taken
// for first, with how often; Back how often a set came back with it.
type Fault struct {
	Block    string   `json:"block"`
	Part     string   `json:"part"`
	What     string   `json:"what"`
	Times    int      `json:"times"`
	Lent     int      `json:"lent"`
	After    []string `json:"after"`
	Minutes  float64  `json:"minutes"`
	Mistaken []string `json:"mistaken"`
	Back     int      `json:"back"`
	Jobs     []int    `json:"jobs"`
}

// Listed is an own job as a list shows it.
type Listed struct {
	Number    int     `json:"number"`
	Finished  string  `json:"finished"`
	Set       string  `json:"set"`
	Complaint string  `json:"complaint"`
	Was       string  `json:"was"`
	Minutes   float64 `json:"minutes"`
	Back      bool    `json:"back"`
	GaveUp    bool    `json:"gaveUp"`
}

const (
	mostAfter  = 3
	mostListed = 40
)

// Of makes the page of a model of its finished jobs.
func Of(own []Own, lent []Lent) Page {
	p := pageOf(own, lent, func(e *End) (string, string) { return e.Block, e.Part })
	p.Says = p.says(func(name string) string { return name })
	return p
}

// OfKind makes that of a kind of set: by kinds of block, and what is usual of the parts in them.
func OfKind(own []Own, lent []Lent) Page {
	p := pageOf(own, lent, func(e *End) (string, string) {
		if e.Part == "" {
			return cmp.Or(e.Kind, "other"), ""
		}
		return cmp.Or(e.Kind, "other"), sortOf(e.Part)
	})
	p.Says = p.says(func(sort string) string {
		if strings.ContainsRune("aeio", rune(sort[0])) {
			return "an " + sort
		}
		return "a " + sort
	})
	return p
}

// pageOf makes a page, with what failed told apart by its name.
func pageOf(own []Own, lent []Lent, name func(e *End) (block, part string)) Page {
	own = slices.Clone(own)
	slices.SortStableFunc(own, func(a, b Own) int { return cmp.Or(strings.Compare(b.Finished, a.Finished), b.Number-a.Number) })
	p := Page{Jobs: len(own), Lent: len(lent), Whose: Lenders(lent), Faults: []Fault{}, Listed: []Listed{}}
	c := collected{at: map[[2]string]int{}, name: name}
	var minutes []float64
	for i := range own {
		j := &own[i]
		worked := j.Work.Sum()
		if worked > 0 {
			minutes = append(minutes, worked)
		}
		if j.Back {
			p.Back++
		}
		if j.GaveUp {
			p.GaveUp++
		}
		if len(p.Listed) < mostListed {
			p.Listed = append(p.Listed, Listed{j.Number, j.Finished, j.Set, j.Complaint, j.Was, worked, j.Back, j.GaveUp})
		}
		for _, f := range c.of(&j.Job) {
			f.Times++
			f.Jobs = append(f.Jobs, j.Number)
			f.took = append(f.took, worked)
			if j.Back {
				f.Back++
			}
		}
	}
	for i := range lent {
		for _, f := range c.of(&lent[i].Job) {
			f.Lent++
		}
	}
	p.Minutes = middle(minutes)
	slices.SortStableFunc(c.all, func(a, b *collecting) int { return cmp.Or(b.Times-a.Times, b.Lent-a.Lent) })
	for _, f := range c.all {
		f.Minutes = middle(f.took)
		f.Mistaken = f.mistakes()
		p.Faults = append(p.Faults, f.Fault)
	}
	return p
}

// says tells in a sentence what it mostly was; called is how one speaks of a name.
func (p *Page) says(called func(name string) string) string {
	count := func(n int) string {
		if n == 1 {
			return "one job"
		}
		return fmt.Sprintf("%d jobs", n)
	}
	var from []string
	if p.Jobs > 0 {
		from = append(from, count(p.Jobs)+" here")
	}
	if p.Lent > 0 {
		from = append(from, count(p.Lent)+" that others lent")
	}
	if len(from) == 0 {
		return "No job of it is finished yet: what they find is told here."
	}
	out := mend.Capital(strings.Join(from, ", and "))
	if len(p.Faults) == 0 {
		return out + "."
	}
	f := &p.Faults[0]
	name := called(f.Block)
	if f.Part != "" {
		name = called(f.Part) + " in " + name
	}
	if n, of := f.Times+f.Lent, p.Jobs+p.Lent; of > 1 && n > 1 {
		return fmt.Sprintf("%s: %d of %d times it was %s.", out, n, of, name)
	}
	return out + ": it was " + name + "."
}

// collected are the faults of some jobs, by their names.
type collected struct {
	all  []*collecting
	at   map[[2]string]int
	name func(e *End) (block, part string)
}

type collecting struct {
	Fault
	took  []float64
	taken map[string]int // what it was taken for
}

// of gives those of one job, each once, with what all its jobs tell taken in.
func (c *collected) of(j *Job) []*collecting {
	var out []*collecting
	for i := range j.Ends {
		block, part := c.name(&j.Ends[i])
		key := [2]string{block, part}
		k, ok := c.at[key]
		if !ok {
			k = len(c.all)
			c.at[key] = k
			c.all = append(c.all, &collecting{
				Fault: Fault{Block: block, Part: part, After: []string{}, Jobs: []int{}}, taken: map[string]int{},
			})
		}
		f := c.all[k]
		if slices.Contains(out, f) {
			continue
		}
		f.What = cmp.Or(f.What, j.Ends[i].What)
		if j.Complaint != "" && len(f.After) < mostAfter && !slices.Contains(f.After, j.Complaint) {
			f.After = append(f.After, j.Complaint)
		}
		for _, m := range j.Mistaken {
			f.taken[m]++
		}
		out = append(out, f)
	}
	return out
}

// mistakes are what it was taken for, the most often first.
func (f *collecting) mistakes() []string {
	out := []string{}
	for name := range f.taken {
		out = append(out, name)
	}
	slices.SortFunc(out, func(a, b string) int { return cmp.Or(f.taken[b]-f.taken[a], strings.Compare(a, b)) })
	for i, name := range out {
		if n := f.taken[name]; n > 1 {
			out[i] = fmt.Sprintf("%s, %d times", name, n)
		}
	}
	return out
}

// Lenders are the workshops that lent, with how many jobs.
func Lenders(lent []Lent) []Whose {
	out := []Whose{}
	for i := range lent {
		k := slices.IndexFunc(out, func(w Whose) bool { return w.Whose == lent[i].Whose })
		if k < 0 {
			out = append(out, Whose{Whose: lent[i].Whose})
			k = len(out) - 1
		}
		out[k].Jobs++
	}
	return out
}

// middle is the median; zero of none.
func middle(x []float64) float64 {
	if len(x) == 0 {
		return 0
	}
	sorted := slices.Sorted(slices.Values(x))
	half := len(sorted) / 2
	if len(sorted)%2 == 1 {
		return sorted[half]
	}
	return (sorted[half-1] + sorted[half]) / 2
}

// Ended counts in how many of some jobs each block had failed.
func Ended(jobs []Lent) map[string]int {
	out := map[string]int{}
	for i := range jobs {
		for _, b := range jobs[i].Blocks() {
			out[b]++
		}
	}
	return out
}
