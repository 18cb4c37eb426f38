package sheet

// Summary is a sheet as a list of sheets shows it.
type Summary struct {
	Name    string `json:"name"`
	Kind    string `json:"kind"`
	Points  int    `json:"points"`
	Stages  int    `json:"stages"`
	Routes  int    `json:"routes"`
	Doubts  int    `json:"doubts"`
	Blocked bool   `json:"blocked"`
}

// Summary works it out.
func (s *Sheet) Summary() Summary {
	plan, problems := s.Plan()
	return Summary{s.Name(), s.Kind, len(s.Points), len(s.Stages), len(plan.Routes), len(problems), Blocked(problems)}
}
