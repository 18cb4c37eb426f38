package server

import (
	"fmt"
	"net/http"
	"slices"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/inside"
	"steptrace/core/part"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/internal/store"
)

// InsideView is a job's stage looked into, and the stages there are.
type InsideView struct {
	Head
	Revision int             `json:"revision"` // of the sheet
	Stages   []inside.Listed `json:"stages"`
	View     inside.View     `json:"view"`
	// Circuit is the stage's circuit as rows of the sheet's table.
	Circuit  [][]string       `json:"circuit"`
	Columns  []sheet.Column   `json:"columns"` // of that table
	Families []string         `json:"families"`
	Kinds    []string         `json:"kinds"` // of parts, with their terminals and other values
	Checks   []part.Check     `json:"checks"`
	Actions  []reading.Action `json:"actions"`
	Pictures []string         `json:"pictures"` // ids
}

// inside looks into the stage that is asked for, or into that which the trace names.
func (s *Server) inside(r *http.Request) (InsideView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return InsideView{}, err
	}
	stage, err := s.stageOf(r, &j)
	if err != nil {
		return InsideView{}, err
	}
	return s.insideOf(r, &j, stage)
}

func (s *Server) insideOf(r *http.Request, j *store.Job, stage string) (InsideView, error) {
	plan := j.Sheet.Plan
	x, stages, err := s.lookInto(r.Context(), j, stage)
	if err != nil {
		return InsideView{}, err
	}
	if len(stages) == 0 {
		return InsideView{}, problem(
			http.StatusUnprocessableEntity,
			"Nothing to look into",
			"The sheet has neither stages nor rails yet: add them there first.",
		)
	}
	stage = x.of.stage
	v := InsideView{
		Head:     head(j),
		Revision: j.Sheet.Revision,
		Stages:   stages,
		Circuit:  [][]string{},
		Columns:  sheet.CircuitColumns(),
		Families: []string{},
		Kinds:    circuit.Kinds(),
		Checks:   part.Kinds(),
		Actions:  reading.Actions,
		Pictures: []string{},
	}
	for _, f := range circuit.Families() {
		v.Families = append(v.Families, f.Name)
	}
	for _, p := range j.Pictures {
		if !p.Struck {
			v.Pictures = append(v.Pictures, p.ID)
		}
	}
	v.View = *x.view
	for _, x := range j.Sheet.Document.Circuits {
		if x.Stage == stage {
			v.Circuit = rowsOf(x.Parts)
			v.View.Problems = slices.Concat(v.View.Problems, circuitProblems(plan, stage, x.Parts))
		}
	}
	if s.training != nil {
		return v, s.quietInside(r, &v)
	}
	return v, nil
}

// InsideWave is the signal at a stage's exit in time; none where it has no course.
type InsideWave struct {
	Wave *inside.Wave `json:"wave" jsonschema:"nullable"`
}

func (s *Server) insideWave(r *http.Request) (InsideWave, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return InsideWave{}, err
	}
	x, _, err := s.lookInto(r.Context(), &j, r.URL.Query().Get("stage"))
	if err != nil {
		return InsideWave{}, err
	}
	w, ok := inside.Waves(x.kase, x.view, x.record)
	if !ok {
		return InsideWave{}, nil
	}
	if s.training != nil {
		d, err := s.drilled(r)
		if err != nil {
			return InsideWave{}, err
		}
		if !d.told() {
			w.Faulty, w.Fault = []float64{}, ""
		}
	}
	return InsideWave{&w}, s.lay(r, &j, &w)
}

// lay puts the capture that was taken at the wave's place last beside it.
func (s *Server) lay(r *http.Request, j *store.Job, w *inside.Wave) error {
	captures, err := s.store.Captures(r.Context(), j.Number)
	if err != nil {
		return err
	}
	for _, c := range slices.Backward(captures) {
		channel := slices.Index(c.Points, w.Node)
		if c.Struck || channel < 0 {
			continue
		}
		open, err := s.capture(r.Context(), j.Number, c.ID)
		if err != nil && asProblem(err).err == nil {
			continue // it cannot be worked out, and says so among the signals
		}
		if err != nil {
			return err
		}
		w.Lay(open.Read.Channels[channel].Samples, open.Read.Rate)
		return nil
	}
	return nil
}

// circuitProblems are those of a circuit that cannot be solved.
func circuitProblems(plan *sheet.Plan, stage string, parts []circuit.Part) []circuit.Problem {
	if _, ok := plan.Circuit(stage); ok {
		return nil
	}
	_, problems := (&circuit.Circuit{Parts: parts}).Read()
	return problems
}

func rowsOf(parts []circuit.Part) [][]string {
	out := [][]string{}
	for i := range parts {
		p := &parts[i]
		out = append(out, []string{p.Name, string(p.Kind), p.NodesText(), p.Value, p.AlsoText(), p.In})
	}
	return out
}

// partsOf reads the rows back; a row that is shorter has nothing in the cells left out.
func partsOf(rows [][]string) []circuit.Part {
	out := []circuit.Part{}
	for _, row := range rows {
		var cells [6]string
		copy(cells[:], row)
		if cells != [6]string{} {
			out = append(out, circuit.PartOf(cells[0], cells[1], cells[2], cells[3], cells[4], cells[5]))
		}
	}
	return out
}

func (s *Server) noteInside(r *http.Request, req inside.Entry) (InsideView, error) {
	if err := sent(req.ID); err != nil {
		return InsideView{}, err
	}
	j, err := load(r, s.store.Job)
	if err != nil {
		return InsideView{}, err
	}
	req.At, req.Struck = time.Now(), false
	power := j.Power(j.Sheet.Plan)
	if s.training != nil {
		if err := s.trainInside(r, &j, &req); err != nil {
			return InsideView{}, err
		}
	}
	if err := inside.Take(j.Sheet.Plan, power.Reading(), &req); err != nil {
		return InsideView{}, err
	}
	if err := s.store.Note(r.Context(), j.Number, &req, nil); err != nil {
		return InsideView{}, err
	}
	if j, err = load(r, s.store.Job); err != nil {
		return InsideView{}, err
	}
	return s.insideOf(r, &j, req.Stage)
}

// StageCircuit is a circuit to be kept in a sheet: rows of part, kind, nodes, value, others, package,
// or the name of a family to begin from. Revision is the sheet's that it was made from.
type StageCircuit struct {
	Revision int        `json:"revision"`
	Stage    string     `json:"stage"`
	Rows     [][]string `json:"rows"`
	Family   string     `json:"family,omitempty"`
}

// KeptCircuit is the sheet's revision after.
type KeptCircuit struct {
	Revision int `json:"revision"`
}

// keepCircuit puts a stage's circuit into its sheet; no rows take it out.
func (s *Server) keepCircuit(r *http.Request, req StageCircuit) (KeptCircuit, error) {
	x, err := s.loadSheet(r)
	if err != nil {
		return KeptCircuit{}, err
	}
	if !inside.Known(x.Plan, req.Stage) {
		return KeptCircuit{}, problem(
			http.StatusUnprocessableEntity,
			"No such stage",
			fmt.Sprintf("%q is neither a stage, a rail nor a modification of this sheet.", req.Stage),
		)
	}
	parts := partsOf(req.Rows)
	if req.Family != "" {
		if parts, err = inside.Begin(x.Plan, req.Stage, req.Family); err != nil {
			return KeptCircuit{}, err
		}
	}
	if err := s.typed(r, parts); err != nil {
		return KeptCircuit{}, err
	}
	d := *x.Document
	d.Circuits = slices.DeleteFunc(slices.Clone(d.Circuits), func(c sheet.Circuit) bool { return c.Stage == req.Stage })
	if len(parts) > 0 {
		d.Circuits = append(d.Circuits, sheet.Circuit{Stage: req.Stage, Parts: parts})
	}
	if err := s.store.ChangeSheet(r.Context(), x.ID, req.Revision, &d); err != nil {
		return KeptCircuit{}, err
	}
	return KeptCircuit{req.Revision + 1}, nil
}

// typed writes into the parts of a circuit what the workshop's own types say of them.
func (s *Server) typed(r *http.Request, parts []circuit.Part) error {
	table, err := s.table(r.Context())
	if err != nil {
		return err
	}
	for i := range parts {
		t, _, ok := table.Find(parts[i].TypeOf())
		if !ok || !t.Own {
			continue
		}
		if err := parts[i].Fill(t); err != nil {
			return problem(http.StatusUnprocessableEntity, "Not such a part", parts[i].Name+": "+err.Error()+".")
		}
	}
	return nil
}

// FamilyList are the usual circuits to begin from.
type FamilyList struct {
	Families []circuit.Family `json:"families"`
	Kinds    []string         `json:"kinds"`
}

func (s *Server) families(*http.Request) (FamilyList, error) {
	return FamilyList{circuit.Families(), circuit.Kinds()}, nil
}

// PartQuestion is a check of a part: its kind, and what was read, as typed, by field. Where
// the part of a job's stage is named, it is held against that stage's circuit.
type PartQuestion struct {
	Kind  string            `json:"kind"`
	Given map[string]string `json:"given"`
	Job   int               `json:"job,omitempty"`
	Stage string            `json:"stage,omitempty"`
	Part  string            `json:"part,omitempty"`
}

func (s *Server) part(r *http.Request, req PartQuestion) (part.Verdict, error) {
	if req.Job == 0 {
		return part.Judge(req.Kind, req.Given)
	}
	j, err := s.store.Job(r.Context(), req.Job)
	if err != nil {
		return part.Verdict{}, err
	}
	c, ok := j.Case(j.Sheet.Plan)
	if !ok {
		return part.Verdict{}, blocked(j.Sheet.Problems, nil, nil)
	}
	record := inside.Record{Readings: j.Plain(j.Sheet.Plan), Entries: j.Inside, Rounds: j.Rounds()}
	return inside.Judge(c, req.Stage, record, &inside.Check{Part: req.Part, Kind: req.Kind, Given: req.Given})
}

// PartKinds are the checks there are.
type PartKinds struct {
	Checks []part.Check `json:"checks"`
}

func (s *Server) parts(*http.Request) (PartKinds, error) { return PartKinds{part.Kinds()}, nil }
