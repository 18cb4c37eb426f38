package pattern

import (
	"embed"
	"fmt"
	"io/fs"
	"slices"
	"strconv"
	"strings"

	"steptrace/core/mend"
)

// Pattern is a kind of set.
type Pattern struct {
	Name    string
	Group   string   // of kinds that stand together where all are listed
	Words   []string // by which people call it besides
	Options []Option

	each   map[string]*each
	head   [][2]string // lines of the sheet: note, settings
	tables []table
}

// Option is something in which such sets differ. One with From and To is a number.
type Option struct {
	Key      string   `json:"key"`
	Ask      string   `json:"ask"`
	Choices  []string `json:"choices"`
	From, To int      `json:"-"`
	Usual    string   `json:"usual"`

	// words that choose, by choice
	words map[string][]string
}

// Chosen are options by their keys. What is not chosen is as usual.
type Chosen map[string]string

// each is what rows are repeated over: the items by what is chosen of an option, or a number counted
// through.
type each struct {
	option string
	count  string // name of the number; empty: items
	items  map[string][]vars
}

// vars are texts by name, put into cells.
type vars map[string]string

type table struct {
	heading []string
	rows    []row
}

// row is a row with what it is repeated over and when it is there.
type row struct {
	line  int
	each  []string
	when  condition
	cells []string
}

//go:embed sets/*.csv
var files embed.FS

// all are the patterns that ship with the program, by their files' names.
var all = func() []*Pattern {
	names, _ := fs.Glob(files, "sets/*.csv")
	var out []*Pattern
	for _, name := range names {
		data, err := files.ReadFile(name)
		if err == nil {
			var p *Pattern
			if p, err = Read(data); err == nil {
				out = append(out, p)
			}
		}
		if err != nil {
			panic(fmt.Sprintf("%s: %v", name, err)) // the program was built with it
		}
	}
	slices.SortStableFunc(out, func(a, b *Pattern) int { return strings.Compare(a.Group, b.Group) })
	return out
}()

// Unknown is the pattern of a set of which nothing is known: what goes in, what comes out, a supply.
const Unknown = "any set: in, out, supply"

// All lists the patterns, those of a group together.
func All() []*Pattern { return slices.Clone(all) }

// ByName finds a pattern.
func ByName(name string) (*Pattern, bool) {
	i := slices.IndexFunc(all, func(p *Pattern) bool { return p.Name == name })
	if i < 0 {
		return nil, false
	}
	return all[i], true
}

// option finds an option by its key.
func (p *Pattern) option(key string) (*Option, bool) {
	i := slices.IndexFunc(p.Options, func(o Option) bool { return o.Key == key })
	if i < 0 {
		return nil, false
	}
	return &p.Options[i], true
}

// settle gives every option a choice, the usual one where none was made. Errors are those a person
// can mend (mend.Error).
func (p *Pattern) settle(chosen Chosen) (Chosen, error) {
	for key := range chosen {
		if _, ok := p.option(key); !ok {
			return nil, mend.Errorf("%s has no option %q", p.Name, key)
		}
	}
	out := Chosen{}
	for i := range p.Options {
		o := &p.Options[i]
		choice, ok := chosen[o.Key]
		if !ok || choice == "" {
			choice = o.Usual
		}
		if !slices.Contains(o.Choices, choice) {
			return nil, mend.Errorf("%s: %q is not among %s", o.Ask, choice, strings.Join(o.Choices, ", "))
		}
		out[o.Key] = choice
	}
	return out, nil
}

// over lists what a row is repeated over: all combinations of its each, one of nothing where it has none.
func (p *Pattern) over(names []string, chosen Chosen) []vars {
	out := []vars{{}}
	for _, name := range names {
		var next []vars
		for _, v := range out {
			for _, item := range p.each[name].list(chosen) {
				next = append(next, v.with(item))
			}
		}
		out = next
	}
	return out
}

// with gives texts with further ones.
func (v vars) with(more vars) vars {
	out := vars{}
	for _, from := range []vars{v, more} {
		for k, text := range from {
			out[k] = text
		}
	}
	return out
}

// list are the items for what was chosen. Where there are two, each knows the other's texts under
// names that begin with ~.
func (e *each) list(chosen Chosen) []vars {
	if e.count != "" {
		n, _ := strconv.Atoi(chosen[e.option])
		out := make([]vars, n)
		for i := range out {
			out[i] = vars{e.count: strconv.Itoa(i + 1)}
		}
		return out
	}
	items := e.items[chosen[e.option]]
	if len(items) != 2 {
		return items
	}
	return []vars{items[0].beside(items[1]), items[1].beside(items[0])}
}

func (v vars) beside(other vars) vars {
	out := v.with(nil)
	for k, text := range other {
		out["~"+k] = text
	}
	return out
}
