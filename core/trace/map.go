package trace

import "slices"

// Open is the standing of a stage of another route that nothing speaks of yet.
const Open Standing = "open"

// MapStage is a stage as the map of the whole set shows it, by the points that it
// leads from and to.
type MapStage struct {
	Name      string   `json:"name"`
	From      string   `json:"from"` // empty: it begins by itself
	To        string   `json:"to"`
	Standing  Standing `json:"standing"`
	Condemned bool     `json:"condemned"`
	Here      bool     `json:"here"`   // on the route being traced
	Back      bool     `json:"back"`   // it leads back, from a later point to an earlier one
	Routes    []string `json:"routes"` // keys of those that pass it
	Needs     []string `json:"needs"`  // points whose signal it needs besides its own
}

// setMap draws up the whole set: where the route runs, what is cleared, suspect,
// condemned, and which routes pass each stage.
func (f *suspicion) setMap(found *Findings) []MapStage {
	out := make([]MapStage, len(f.Plan.Stages))
	for k := range f.Plan.Stages {
		s := &f.Plan.Stages[k]
		m := MapStage{
			Name:     s.Name,
			Standing: Open,
			Here:     slices.Contains(f.Route.Stages, k),
			Back:     s.Returns(),
			Routes:   []string{},
			Needs:    []string{},
		}
		if s.From >= 0 && s.To >= 0 {
			m.To = f.Plan.Points[s.To].Name
			if from := &f.Plan.Points[s.From]; !from.Source {
				m.From = from.Name
			}
		}
		for _, point := range s.Signals {
			m.Needs = append(m.Needs, f.Plan.Points[point].Name)
		}
		for i := range f.Plan.Routes {
			if slices.Contains(f.Plan.Routes[i].Stages, k) {
				m.Routes = append(m.Routes, f.Plan.Routes[i].Key)
			}
		}
		switch at := slices.Index(f.Route.Stages, k); {
		case at >= 0:
			m.Standing = found.Stages[at].Standing
		case found.Stage == s.Name:
			m.Standing = Faulty
		case f.clearing(k) != nil:
			m.Standing = Cleared
		case f.left[k] && len(f.suspects) == 0 && len(f.bad()) > 0: // the fault is on another route
			m.Standing = Suspect
		case !f.left[k]:
			m.Standing = Aside
		}
		m.Condemned = found.Condemned && found.Stage == s.Name
		out[k] = m
	}
	return out
}
