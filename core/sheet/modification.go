package sheet

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"steptrace/core/mend"
)

// Modification is something that a workshop changes in sets of this model, or adds to them. What is its short name; where it
// has a circuit, that stands among the circuits under this name. Stage is the stage, rail or control it is in, empty where it
// is in none; Job is the job it was done in first, where there was one.
type Modification struct {
	What  string `json:"what"`
	Stage string `json:"stage,omitempty"`
	Why   string `json:"why,omitempty" jsonschema:"description=the reason"`
	How   string `json:"how,omitempty" jsonschema:"description=what is cut\\, fitted and joined\\, in words"`
	Job   string `json:"job,omitempty"`
}

// Modification finds a modification by its name.
func (p *Plan) Modification(what string) (*Modification, bool) {
	i := slices.IndexFunc(p.Sheet.Modifications, func(m Modification) bool { return m.What == what })
	if i < 0 {
		return nil, false
	}
	return &p.Sheet.Modifications[i], true
}

// Limits on modifications: how many, and characters of each of their texts.
const maxModifications, maxModification = 200, 1000

// Modified is the sheet with a modification, in the place of one of the same name. Errors can be mended by a person.
func (s *Sheet) Modified(m Modification) (*Sheet, error) {
	for _, text := range []*string{&m.What, &m.Stage, &m.Why, &m.How, &m.Job} {
		*text = strings.TrimSpace(*text)
		if utf8.RuneCountInString(*text) > maxModification || !utf8.ValidString(*text) {
			return nil, mend.Errorf("a modification is told in at most %d characters a field, and they can be read", maxModification)
		}
	}
	switch {
	case m.What == "":
		return nil, mend.Errorf("say in a few words what is changed: it is known by that")
	case m.Why == "":
		return nil, mend.Errorf("say why: who has the next set of this model decides by the reason")
	}
	out := *s
	out.Modifications = slices.Clone(s.Modifications)
	if i := slices.IndexFunc(out.Modifications, func(o Modification) bool { return o.What == m.What }); i >= 0 {
		m.Job = cmp.Or(m.Job, out.Modifications[i].Job)
		out.Modifications[i] = m
	} else {
		out.Modifications = append(out.Modifications, m)
	}
	_, problems := out.Plan()
	for _, x := range problems {
		if x.Where == ofModification+m.What || x.Path == "modifications" {
			return nil, mend.Errorf("%s", x.Message)
		}
	}
	return &out, nil
}

// ofModification is where its problems stand, before its name.
const ofModification = "modification "

// modifications checks their names. None of it keeps anybody from tracing.
func (w *planner) modifications() {
	all := w.plan.Sheet.Modifications
	if len(all) > maxModifications {
		w.add(Blocking, "the sheet", "modifications", "more than %d modifications: keep those that are still made", maxModifications)
		return
	}
	for i, m := range all {
		where, path := ofModification+m.What, fmt.Sprintf("modifications/%d", i)
		switch {
		case m.What == "":
			w.add(Doubtful, "a modification", path+"/what", "say in a few words what is changed")
		case w.isBlock(m.What):
			w.add(Doubtful, where, path+"/what", "a stage, rail or control has this name: give the modification another")
		case slices.ContainsFunc(all[:i], func(x Modification) bool { return x.What == m.What }):
			w.add(Doubtful, where, path+"/what", "two modifications are called %s", m.What)
		}
		if m.Stage != "" && !w.isBlock(m.Stage) {
			w.add(Doubtful, where, path+"/stage", "%q is neither a stage, a rail nor a control of this sheet", m.Stage)
		}
	}
}
