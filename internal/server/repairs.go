package server

import (
	"cmp"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"steptrace/core/inside"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/internal/store"
)

// NotedRepair is an entry of the repair in a sentence, with the round it begins or belongs to.
type NotedRepair struct {
	repair.Entry
	Says  string `json:"says"`
	Round int    `json:"round"`
	In    bool   `json:"in"` // of something put in for a while: it is in still
}

func notedRepairs(j *store.Job) []NotedRepair {
	rounds := j.Rounds()
	in := repair.In(j.Repairs)
	out := []NotedRepair{}
	for _, e := range j.Repairs {
		n := NotedRepair{
			Entry: e,
			Says:  e.Says(),
			Round: repair.Of(rounds, e.At),
			In:    slices.ContainsFunc(in, func(x repair.Entry) bool { return x.ID == e.ID }),
		}
		if e.Repair != nil && !e.Struck { // it begins its round
			n.Round = repair.Of(rounds, e.At.Add(time.Nanosecond))
		}
		out = append(out, n)
	}
	return out
}

// RepairForm is what a repair can be made of: what is done, what is put in for a while, the
// stages, rails, controls and fuses of the set with their parts.
type RepairForm struct {
	Dids     []repair.Did     `json:"dids"`
	Stopgaps []repair.Stopgap `json:"stopgaps"`
	Fuses    []string         `json:"fuses"`
	Places   []FittedPlace    `json:"places"`
	Stage    string           `json:"stage"` // where it most probably is
	Sheet    int64            `json:"sheet"`
}

// FittedPlace is a stage, a rail, a control or a fuse, with the parts of its circuit.
type FittedPlace struct {
	Name  string       `json:"name"`
	Parts []FittedPart `json:"parts"`
}

// FittedPart is a part with its value by the sheet, and what it was condemned for.
type FittedPart struct {
	Name      string       `json:"name"`
	Value     string       `json:"value"`
	Condemned string       `json:"condemned"` // empty: it is not
	Found     repair.Found `json:"found"`
}

func (s *Server) repairForm(r *http.Request) (RepairForm, error) {
	v, err := s.job(r)
	if err != nil {
		return RepairForm{}, err
	}
	j, err := load(r, s.store.Job)
	if err != nil {
		return RepairForm{}, err
	}
	plan := j.Sheet.Plan
	f := RepairForm{Dids: repair.Dids, Stopgaps: repair.Stopgaps, Sheet: j.Sheet.ID}
	if v.Findings != nil {
		f.Stage = cmp.Or(v.Findings.Stage, v.Findings.Line)
	}
	if n := len(v.Condemned); n > 0 {
		f.Stage = v.Condemned[n-1].Stage
	}
	add := func(name string) {
		if !slices.ContainsFunc(f.Places, func(p FittedPlace) bool { return p.Name == name }) {
			f.Places = append(f.Places, FittedPlace{name, partsAt(&j, name)})
		}
	}
	for i := range plan.Stages {
		add(plan.Stages[i].Name)
	}
	for i := range plan.Rails {
		add(plan.Rails[i].Name)
	}
	for i := range plan.Controls {
		add(plan.Controls[i].Name)
	}
	for i := range plan.Rails {
		if fuse := plan.Rails[i].Fuse; fuse != "" && !slices.Contains(f.Fuses, fuse) {
			f.Fuses = append(f.Fuses, fuse)
			add(fuse)
		}
	}
	return f, nil
}

// partsAt are the parts of a stage's circuit, and those that were condemned there.
func partsAt(j *store.Job, stage string) []FittedPart {
	out := []FittedPart{}
	i := slices.IndexFunc(j.Sheet.Document.Circuits, func(c sheet.Circuit) bool { return c.Stage == stage })
	if i >= 0 {
		for _, p := range j.Sheet.Document.Circuits[i].Parts {
			out = append(out, FittedPart{Name: p.Name, Value: p.Value, Found: repair.Bad})
		}
	}
	for _, c := range condemned(j.Inside) {
		if c.Stage != stage {
			continue
		}
		k := slices.IndexFunc(out, func(p FittedPart) bool { return p.Name == c.Part })
		if k < 0 {
			k = len(out)
			out = append(out, FittedPart{Name: c.Part})
		}
		out[k].Condemned, out[k].Found = c.What, c.Found
	}
	return out
}

// doneWithout makes entries of what is done without at the end; an error says what is open
// still and not among it.
func doneWithout(v *JobView, without []repair.Without) ([]repair.Entry, error) {
	var out []repair.Entry
	var open []string
	for _, o := range v.StillOpen {
		i := slices.IndexFunc(without, func(w repair.Without) bool { return w.Key == o.Key && strings.TrimSpace(w.Why) != "" })
		switch {
		case i >= 0:
			w := repair.Without{Key: o.Key, Text: o.Text, Why: strings.TrimSpace(without[i].Why)}
			out = append(out, repair.Entry{ID: uuid.NewString(), At: time.Now(), Without: &w})
		case o.Waived == "":
			open = append(open, o.Text)
		}
	}
	if len(open) > 0 {
		return nil, problem(
			http.StatusConflict,
			"Still open",
			strings.Join(open, ". ")+". Settle it, or say in a word why it can stay so.",
		)
	}
	return out, nil
}

// CondemnedPart is a part found at fault inside a stage, bad or wrong when found.
type CondemnedPart struct {
	Stage string       `json:"stage"`
	Part  string       `json:"part"`
	What  string       `json:"what"`
	Found repair.Found `json:"found"`
}

// condemned lists the parts that stand condemned, the last word on each.
func condemned(entries []inside.Entry) []CondemnedPart {
	out := []CondemnedPart{}
	for _, e := range entries {
		if e.Condemned == nil || e.Struck {
			continue
		}
		x := CondemnedPart{e.Stage, e.Condemned.Part, e.Condemned.What, e.Condemned.Found}
		if x.Found == "" {
			x.Found = repair.Bad
		}
		out = append(slices.DeleteFunc(out, func(o CondemnedPart) bool { return o.Stage == x.Stage && o.Part == x.Part }), x)
	}
	return out
}
