package standin

import (
	"fmt"
	"math"
	"slices"

	"steptrace/core/circuit"
	"steptrace/core/sheet"
)

// A fault can be that of one part: what it does to its stage is then computed from the
// stage's circuit.

// breakPart puts the part's fault into its stage's circuit, and works out the loss it makes.
func (s *Set) breakPart() error {
	c, ok := s.plan.Circuit(s.fault.Block)
	if !ok {
		return fmt.Errorf("the sheet has no circuit of %s that its part %s could be in", s.fault.Block, s.fault.Part)
	}
	all := c.Net.Faults()
	i := slices.IndexFunc(all, func(f circuit.Fault) bool { return f.Part == s.fault.Part && f.What == s.fault.What })
	if i < 0 {
		return fmt.Errorf("%s has no usual fault %q in the circuit of %s", s.fault.Part, s.fault.What, s.fault.Block)
	}
	s.broken = c.Net.With(all[i])
	s.fault.Effect, s.fault.Size = Weak, s.loss(c.Net)
	return nil
}

// loss is by how many dB the broken stage passes less than a good one, at the signal's
// frequency; at least what shows as weak at all.
func (s *Set) loss(good *circuit.Net) float64 {
	if s.stage < 0 {
		return deadDB
	}
	st := &s.plan.Stages[s.stage]
	hz := 1000.0
	for i := range s.plan.Routes {
		route := &s.plan.Routes[i]
		if at := slices.Index(route.Stages, s.stage); at >= 0 && route.Levels[at].Hz > 0 {
			hz = route.Levels[at].Hz
			break
		}
	}
	gain := func(n *circuit.Net) float64 {
		rest, err := n.Rest()
		if err != nil {
			return 0
		}
		band, _ := n.Band(rest, s.plan.Points[st.From].Name, s.plan.Points[st.To].Name, hz)
		return band.Gain
	}
	return math.Min(math.Max(20*math.Log10(math.Max(gain(good), 1e-9)/math.Max(gain(s.broken), 1e-9)), 0.01), deadDB)
}

// nodeVolts is the DC at a node of a stage's circuit: of the broken one, and of others where the
// sheet states nothing.
func (s *Set) nodeVolts(at string) (float64, bool) {
	for i := range s.plan.Circuits {
		c := &s.plan.Circuits[i]
		if c.Net == nil || !slices.Contains(c.Net.Nodes, at) {
			continue
		}
		net := c.Net
		if c.Stage == s.fault.Block && s.broken != nil {
			net = s.broken
		} else if point, ok := s.plan.PointIndex(at); ok {
			if _, stated := s.plan.Expect(point, sheet.DC, ""); stated {
				return 0, false
			}
		}
		if standing, _, ok := net.Standing(); ok {
			return standing[at].Volts, true
		}
	}
	return 0, false
}

// nodeOhms is the resistance to ground of a node of the broken circuit, or of one that is
// no point of the sheet.
func (s *Set) nodeOhms(at string) (float64, bool) {
	_, point := s.plan.PointIndex(at)
	for i := range s.plan.Circuits {
		c := &s.plan.Circuits[i]
		if c.Net == nil {
			continue
		}
		net := c.Net
		broken := c.Stage == s.fault.Block && s.broken != nil
		if broken {
			net = s.broken
		}
		if broken || !point {
			if ohms, ok := net.OhmsToGround(at); ok {
				return ohms, true
			}
		}
	}
	return 0, false
}
