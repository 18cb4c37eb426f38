package sheet

import "slices"

// A block is what may be at fault: a stage, a rail or a control. Blocks are numbered with the
// stages first, in the order of the plan, then the rails, then the controls.

// Blocks counts the blocks of a set.
func (p *Plan) Blocks() int { return len(p.Stages) + len(p.Rails) + len(p.Controls) }

// BlockName is the name of a block alone.
func (p *Plan) BlockName(block int) string {
	if block < len(p.Stages) {
		return p.Stages[block].Name
	}
	return p.LineName(block - len(p.Stages))
}

// BlockTitle names a block as people do: "rail +24 V", "control MUTE", "ground E3"; a stage by
// its name alone.
func (p *Plan) BlockTitle(block int) string {
	if line := block - len(p.Stages); line >= 0 {
		return p.LineTitle(line)
	}
	return p.BlockName(block)
}

// None stands where no stage, line or block is meant.
const None = -1

// Lines counts the rails and the controls of a set.
func (p *Plan) Lines() int { return len(p.Rails) + len(p.Controls) }

// LineTitle names a rail or control in a sentence: "rail +24 V", "control MUTE", "ground E3".
func (p *Plan) LineTitle(line int) string { return p.LineKind(line) + " " + p.LineName(line) }

// BlockTitles lists the titles of some blocks, those that are marked.
func (p *Plan) BlockTitles(marked []bool) []string {
	out := []string{}
	for k, yes := range marked {
		if yes {
			out = append(out, p.BlockTitle(k))
		}
	}
	return out
}

// Names lists the names of all that a sheet has: points, stages, rails, controls.
func (s *Sheet) Names() []string {
	var out []string
	for i := range s.Points {
		out = append(out, s.Points[i].Name)
	}
	for i := range s.Stages {
		out = append(out, s.Stages[i].Name)
	}
	for i := range s.Rails {
		out = append(out, s.Rails[i].Name)
	}
	for i := range s.Controls {
		out = append(out, s.Controls[i].Name)
	}
	return out
}

// Beyond lists the names that a sheet has and another has not.
func (s *Sheet) Beyond(other *Sheet) []string {
	known := other.Names()
	return append([]string{}, slices.DeleteFunc(s.Names(), func(name string) bool { return slices.Contains(known, name) })...)
}
