package sheet

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"steptrace/core/mend"
)

// Becomes tells what a name becomes in another channel, board or voice like one that there is; ok is
// false where the name does not speak of it. A letter or a number has to stand alone or before other
// digits: L1 and 1xx become R1 and 2xx, Loud stays.
func Becomes(name, from, to string) (string, bool) {
	if from == "" {
		return name, false
	}
	var out strings.Builder
	found := false
	for i := 0; i < len(name); {
		if !strings.HasPrefix(name[i:], from) || !boundary(name, i, len(from)) {
			out.WriteByte(name[i])
			i++
			continue
		}
		out.WriteString(to)
		found = true
		i += len(from)
	}
	return out.String(), found
}

// boundary tells whether a part of a name stands for itself: nothing of its own sort goes on before it,
// nor, but for digits behind a number, behind it.
func boundary(name string, at, n int) bool {
	letter := func(i int) bool {
		return i >= 0 && i < len(name) && (name[i]|0x20 >= 'a' && name[i]|0x20 <= 'z' || name[i] >= 0x80)
	}
	digit := func(i int) bool { return i >= 0 && i < len(name) && name[i] >= '0' && name[i] <= '9' }
	if letter(at) {
		return !letter(at-1) && !letter(at+n)
	}
	return !digit(at - 1)
}

// alike adds another channel, board or voice: all that has From in its name once more, with Name in its
// place, and what both share stays shared. Two of a kind are twins.
func (x *grower) alike(g Growth) error {
	copied := map[string]string{}
	for _, name := range x.s.Names() {
		if other, ok := Becomes(name, g.From, g.Name); ok && name != "" {
			copied[name] = other
		}
	}
	if len(copied) == 0 || g.Name == "" {
		return mend.Errorf("nothing on this sheet has %q in its name as a word, letter or number of its own", g.From)
	}
	for _, name := range slices.Sorted(maps.Keys(copied)) {
		if err := x.free(copied[name]); err != nil {
			return fmt.Errorf("%s would become %s: %w", name, copied[name], err)
		}
	}
	as := func(name string) string { return cmp.Or(copied[name], name) }
	x.alikeLines(copied, as)
	for _, p := range slices.Clone(x.s.Points) {
		if other, ok := copied[p.Name]; ok {
			x.twin(p, other, g)
		}
	}
	for _, st := range slices.Clone(x.s.Stages) {
		from, to := as(st.From), as(st.To)
		name, own := copied[st.Name]
		switch {
		case !own && from == st.From && to == st.To:
			continue // both share it
		case !own:
			return mend.Errorf("%s belongs to one of them by its points, and its name does not say so: name it first", st.Name)
		}
		st.Name, st.From, st.To, st.Was = name, from, to, nil
		st.Rails, st.Needs, st.Modes = mapped(st.Rails, as), mapped(st.Needs, as), slices.Clone(st.Modes)
		for i, mode := range st.Modes {
			st.Modes[i], _ = Becomes(mode, g.From, g.Name)
		}
		x.s.Stages = append(x.s.Stages, st)
	}
	return nil
}

// twin adds a point like another.
func (x *grower) twin(p Point, name string, g Growth) {
	old := p.Name
	p.Name, p.Drawing, p.Twin, p.Was, p.Expect = name, "", old, nil, slices.Clone(p.Expect)
	if note, ok := Becomes(p.Note, g.From, g.Name); ok {
		p.Note = note
	}
	x.s.Points = append(x.s.Points, p)
	if first := x.point(old); first.Twin == "" {
		first.Twin = name
	}
}

// alikeLines adds the rails and controls of its own.
func (x *grower) alikeLines(copied map[string]string, as func(string) string) {
	for _, r := range slices.Clone(x.s.Rails) {
		if _, ok := copied[r.Name]; ok {
			r.Name, r.From, r.Was = as(r.Name), as(r.From), nil
			x.s.Rails = append(x.s.Rails, r)
		}
	}
	for _, c := range slices.Clone(x.s.Controls) {
		if _, ok := copied[c.Name]; ok {
			c.Name, c.From, c.Was = as(c.Name), as(c.From), nil
			x.s.Controls = append(x.s.Controls, c)
		}
	}
}

func mapped(list []string, as func(string) string) []string {
	out := make([]string, len(list))
	for i, name := range list {
		out[i] = as(name)
	}
	return out
}
