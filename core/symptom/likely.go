package symptom

import (
	"cmp"
	"slices"
	"strings"

	"steptrace/core/sheet"
)

// How likely a symptom is with a block at fault.
const (
	// strange: shown by a fault of a block that it does not point at, or noticed wrongly. As a reading is
	// taken down wrongly one time in twenty, and says this and nothing else then in a few of those.
	strange = 0.02
	// otherwise: a block it points at, with another effect.
	otherwise = 0.06
)

// at is how likely a fault shows under a circumstance, by the kind of block: knocks move contacts and
// joints, warmth semiconductors and joints, a control turned its own track; what is there with one source
// only lies where the sources part.
var at = map[When]map[string]float64{
	Knock: {"contact": 1, "control": 0.5, "": 0.25},
	Warm:  {"amplifier": 1, "rail": 0.8, "joint": 1, "contact": 0.5, "": 0.5},
	Cold:  {"amplifier": 1, "rail": 1, "joint": 1, "contact": 0.7, "": 0.6},
	Turned: {
		"control": 1, "contact": 0.4, "": 0.1,
	},
	Source: {"some modes": 1, "": 0.12},
}

// Row is how likely a symptom is with a block at fault, by effect.
type Row [len(Effects)]float64

// Likely tells how likely what was noticed is with each block of a set at fault; nil where it points at
// nothing that the sheet has.
func (n Noticed) Likely(plan *sheet.Plan) []Row {
	s, ok := Of(n.Key)
	if !ok {
		return nil
	}
	out := make([]Row, plan.Blocks())
	names, points := namesOf(plan), false
	for k := range out {
		for e := range out[k] {
			out[k][e] = strange
		}
		for _, p := range s.points {
			meant := 0.0
			for _, term := range p.of {
				meant = max(meant, means(plan, names, k, term))
			}
			if meant == 0 {
				continue
			}
			points = true
			for e := range out[k] {
				out[k][e] = max(out[k][e], otherwise)
				if p.by[e] {
					out[k][e] = max(out[k][e], p.share*meant)
				}
			}
		}
		for _, w := range n.When {
			times := circumstance(plan, k, w)
			for e := range out[k] {
				out[k][e] *= times
			}
		}
	}
	if !points && len(n.When) == 0 {
		return nil
	}
	return out
}

// Pointed is a block that a symptom points at, and how often its faults show it at the most.
type Pointed struct {
	Block string  `json:"block"`
	Share float64 `json:"share"`
}

// PointsAt lists the blocks of a set that a symptom points at, those whose faults show it most often first.
func (n Noticed) PointsAt(plan *sheet.Plan) []Pointed {
	out := []Pointed{}
	for k, row := range n.Likely(plan) {
		if share := slices.Max(row[:]); share > otherwise {
			out = append(out, Pointed{plan.BlockName(k), share})
		}
	}
	slices.SortStableFunc(out, func(a, b Pointed) int { return cmp.Compare(b.Share, a.Share) })
	return out
}

// screens is from which share on a symptom of a screen is no accident of names: a symptom that points at a
// supply for one stage among many has less.
const screens = 0.5

// First is what is looked at first of a set: the screen, where it has one.
func First(plan *sheet.Plan) Sense {
	// These point at blocks that only sets with a screen have: field deflection, a panel.
	for _, key := range []string{"line flat", "bands"} {
		if slices.ContainsFunc((Noticed{Key: key}).PointsAt(plan), func(p Pointed) bool { return p.Share > screens }) {
			return Seen
		}
	}
	return Heard
}

// namesOf are the names of all blocks as words between spaces, small; what stands behind a comma says which
// of several it is, or for what: "input switch, aerial".
func namesOf(plan *sheet.Plan) []string {
	out := make([]string, plan.Blocks())
	for k := range out {
		name, _, _ := strings.Cut(plan.BlockName(k), ",")
		out[k] = spaced(name)
	}
	return out
}

func spaced(name string) string {
	words := strings.FieldsFunc(strings.ToLower(name), func(c rune) bool { return strings.ContainsRune(" ,.;:()/'", c) })
	return " " + strings.Join(words, " ") + " "
}

// means tells how far a term of the table means a block: by a word of its name, by its kind, or as what
// another needs. A supply that others hang on too shows itself by what they do: it is meant by its share.
func means(plan *sheet.Plan, names []string, block int, term string) float64 {
	if of, ok := strings.CutPrefix(term, "supply of "); ok {
		return supplies(plan, names, block-len(plan.Stages), of)
	}
	if fits(plan, names, block, term) {
		return 1
	}
	return 0
}

// fits tells whether a term means a block by its name or kind.
func fits(plan *sheet.Plan, names []string, block int, term string) bool {
	line := block - len(plan.Stages)
	switch {
	case term == "rails":
		return line >= 0 && line < len(plan.Rails)
	case term == "controls":
		return line >= len(plan.Rails)
	case term == "contacts":
		return line < 0 && sheet.IsContact(plan.Stages[block].Kind)
	}
	if kind, ok := strings.CutPrefix(term, "kind "); ok {
		return line < 0 && plan.Stages[block].Kind == kind
	}
	return strings.Contains(names[block], " "+term+" ")
}

// supplies is the share of those that hang on a rail that a term means.
func supplies(plan *sheet.Plan, names []string, rail int, of string) float64 {
	if rail < 0 || rail >= len(plan.Rails) {
		return 0
	}
	own, all := 0, 0
	for k := range plan.Stages {
		if slices.Contains(plan.Stages[k].Lines, rail) {
			all++
			if fits(plan, names, k, of) {
				own++
			}
		}
	}
	if own == 0 {
		return 0
	}
	return float64(own) / float64(all)
}

// circumstance is how likely a block's fault shows under one.
func circumstance(plan *sheet.Plan, block int, w When) float64 {
	of := at[w]
	line := block - len(plan.Stages)
	kind := ""
	switch {
	case line >= 0 && line < len(plan.Rails):
		kind = "rail"
	case line >= 0:
	case w == Source && len(plan.Stages[block].Modes) > 0:
		kind = "some modes"
	case plan.Stages[block].Kind == "joint" && of["joint"] > 0:
		kind = "joint"
	case sheet.IsContact(plan.Stages[block].Kind):
		kind = "contact"
	default:
		kind = plan.Stages[block].Kind
	}
	if times, ok := of[kind]; ok {
		return times
	}
	return of[""]
}
