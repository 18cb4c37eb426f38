package server

import (
	"fmt"
	"net/http"
	"slices"
	"sync"
	"time"

	"steptrace/core/adjust"
	"steptrace/core/entry"
	"steptrace/core/quantity"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/internal/desk"
	"steptrace/internal/instrument"
	"steptrace/internal/store"
)

// AdjustView is how the adjustments of a set stand in a job.
type AdjustView struct {
	Head
	// Adjustments are those of the sheet, in the order in which they are made, and Written as it has them; Offered those that
	// only its circuits have.
	Adjustments []adjust.Standing  `json:"adjustments"`
	Written     []sheet.Adjustment `json:"written"`
	Offered     []sheet.Adjustment `json:"offered"`
	Menu        []adjust.Kept      `json:"menu"`
	Idling      *adjust.Idling     `json:"idling" jsonschema:"nullable"`
	Cautions    []string           `json:"cautions"`
	Kinds       []string           `json:"kinds"`
	Meter       string             `json:"meter"` // that can be asked; empty: none
	Revision    int                `json:"revision"`
}

// live is what instruments have shown of adjustments lately, by job and adjustment. It is not kept: what a person wants
// kept is logged.
type live struct {
	mu   sync.Mutex
	seen map[int]map[string][]adjust.Sample
}

const (
	liveFor  = 10 * time.Minute
	mostLive = 2000
)

// add notes one, and lets go of what is older than what is looked at.
func (l *live) add(job int, name string, s adjust.Sample) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.seen == nil {
		l.seen = map[int]map[string][]adjust.Sample{}
	}
	if l.seen[job] == nil {
		l.seen[job] = map[string][]adjust.Sample{}
	}
	list := append(l.seen[job][name], s)
	list = slices.DeleteFunc(list, func(x adjust.Sample) bool { return s.At.Sub(x.At) > liveFor })
	l.seen[job][name] = list[max(0, len(list)-mostLive):]
}

// of gives a copy of a job's.
func (l *live) of(job int) map[string][]adjust.Sample {
	l.mu.Lock()
	defer l.mu.Unlock()
	out := map[string][]adjust.Sample{}
	for name, list := range l.seen[job] {
		out[name] = slices.Clone(list)
	}
	return out
}

// computed holds what the circuits of the sheets looked at last say of their adjustments.
type computed struct {
	mu sync.Mutex
	by map[*sheet.Plan]*adjust.Computed
}

// mostComputed is how many sheets are held: those of the jobs on a few benches.
const mostComputed = 16

func (c *computed) of(plan *sheet.Plan) *adjust.Computed {
	c.mu.Lock()
	defer c.mu.Unlock()
	if x, ok := c.by[plan]; ok {
		return x
	}
	if c.by == nil || len(c.by) >= mostComputed {
		c.by = map[*sheet.Plan]*adjust.Computed{}
	}
	x := adjust.Compute(plan)
	c.by[plan] = x
	return x
}

func (s *Server) adjusting(r *http.Request) (AdjustView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return AdjustView{}, err
	}
	plan := j.Sheet.Plan
	computed := s.computed.of(plan)
	v := AdjustView{
		Head:     head(&j),
		Written:  slices.Clone(plan.Sheet.Adjustments),
		Offered:  computed.Offered,
		Menu:     adjust.Menu(j.Adjusting),
		Cautions: adjust.Cautions(plan),
		Kinds:    sheet.AdjustmentKinds,
		Revision: j.Sheet.Revision,
	}
	if in, ok := s.bench.First(instrument.Meter); ok {
		v.Meter = in.Name
	}
	now := s.now(&j)
	now.Computed = computed
	v.Adjustments = adjust.Look(plan, j.Adjusting, now)
	if idling, ok := adjust.IdlingOf(plan, j.Adjusting); ok {
		v.Idling = &idling
	}
	return v, nil
}

// now is how things are as a job's adjustments are looked at.
func (s *Server) now(j *store.Job) adjust.Now {
	n := adjust.Now{At: time.Now(), Repaired: j.Repaired(), Live: s.live.of(j.Number)}
	switch power := j.Power(j.Sheet.Plan); power.State {
	case safety.Live:
		n.On = power.Since
	case safety.OffState, safety.Discharged, safety.InStandby:
		n.Off = true
	}
	return n
}

func (s *Server) noteAdjusting(r *http.Request, e adjust.Entry) (AdjustView, error) {
	j, err := load(r, s.store.Job)
	again := slices.ContainsFunc(j.Adjusting, func(x adjust.Entry) bool { return x.ID == e.ID })
	if err == nil && !again {
		err = e.Fits(j.Sheet.Plan, j.Adjusting)
	}
	if err == nil {
		err = sent(e.ID)
	}
	if err != nil {
		return AdjustView{}, err
	}
	if e.Read != nil { // it is worked out here
		e.Read.SI, e.Read.Unit, e.Read.Place = 0, quantity.None, 0
	}
	e.At = time.Now()
	if err := s.note(r, j.Number, &e, nil); err != nil {
		return AdjustView{}, err
	}
	return s.adjusting(r)
}

// MenuFound is what stands in the set's own menu, as typed or pasted.
type MenuFound struct {
	ID   string `json:"id"`
	Text string `json:"text"`
}

// noteMenu takes several values of a menu down at once, all or none.
func (s *Server) noteMenu(r *http.Request, req MenuFound) (AdjustView, error) {
	j, err := load(r, s.store.Job)
	if err == nil {
		err = sent(req.ID)
	}
	if err != nil {
		return AdjustView{}, err
	}
	found, err := adjust.ReadMenu(req.Text)
	if err != nil {
		return AdjustView{}, err
	}
	entries := make([]entry.Entry, 0, len(found))
	seen := j.Adjusting
	for i := range found {
		e := adjust.Entry{ID: fmt.Sprintf("%s-%d", req.ID, i), At: time.Now(), Setting: &found[i]}
		there := slices.ContainsFunc(j.Adjusting, func(x adjust.Entry) bool { return x.ID == e.ID }) // sent again
		if !there {
			err := adjust.Take(j.Sheet.Plan, &e)
			if err == nil {
				err = e.Fits(j.Sheet.Plan, seen)
			}
			if err != nil {
				return AdjustView{}, err
			}
		}
		seen = append(slices.Clip(seen), e)
		entries = append(entries, &e)
	}
	if j.Finished != nil {
		return AdjustView{}, store.ErrFinished
	}
	if err := s.store.NoteAll(r.Context(), j.Number, entries, nil); err != nil {
		return AdjustView{}, err
	}
	return s.adjusting(r)
}

// ToWatch is the adjustment that an instrument is to look at.
type ToWatch struct {
	Adjustment string `json:"adjustment"`
}

// watchAdjusting asks the meter what an adjustment shows now. Nothing is logged by it.
func (s *Server) watchAdjusting(r *http.Request, req ToWatch) (AdjustView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return AdjustView{}, err
	}
	i, ok := j.Sheet.Plan.Adjustment(req.Adjustment)
	if !ok {
		return AdjustView{}, problem(http.StatusUnprocessableEntity, "No such adjustment", "The sheet has no adjustment of this name.")
	}
	a := &j.Sheet.Plan.Adjustments[i]
	what, ohms := string(a.Quantity), 0.0
	if a.Quantity == sheet.Current && a.Ohms > 0 {
		what, ohms = "dc", a.Ohms
	}
	if _, ok := measured[what]; !ok {
		return AdjustView{}, problem(
			http.StatusUnprocessableEntity,
			"Not by the meter",
			"This is no value that the meter can be asked for: type what you read.",
		)
	}
	meter, err := s.first(instrument.Meter)
	if err != nil {
		return AdjustView{}, err
	}
	if meter.StandIn {
		if err := s.clip(&j, a.Measure, ""); err != nil {
			return AdjustView{}, err
		}
	}
	x, err := s.bench.Measure(r.Context(), meter.ID, what)
	if err != nil {
		return AdjustView{}, err
	}
	if ohms > 0 {
		x /= ohms
	}
	s.live.add(j.Number, a.Name, adjust.Sample{At: time.Now(), SI: x})
	return s.adjusting(r)
}

// clip puts the practice meter's clips on what is measured of a simulated set, as hands would, and its generator where
// something is fed in; empty: nothing is.
func (s *Server) clip(j *store.Job, measure, generator string) error {
	p := s.practice
	c, ok := j.Case(j.Sheet.Plan)
	if p == nil || !ok {
		return nil
	}
	if other := s.soaks.uses(j.Number, func(x *soaking) bool { return practises(x.plan.Plan) }); other != 0 {
		return inUse(other)
	}
	hands := p.desk.Hands()
	if hands.Job != j.Number {
		hands = desk.Hands{Job: j.Number}
	}
	hands.Mode, hands.On, hands.Probe, hands.Generator = c.Route.Mode, on(c), measure, generator
	return p.connect(c.Plan, hands)
}

// EchoAdjusting is what is typed at an adjustment, before it is kept.
type EchoAdjusting struct {
	Adjustment string `json:"adjustment"`
	Text       string `json:"text"`
	Position   string `json:"position,omitempty"`
}

// EchoedAdjusting is how that reads.
type EchoedAdjusting struct {
	Verdict adjust.Verdict `json:"verdict"`
	SI      float64        `json:"si"`
	Unit    quantity.Unit  `json:"unit"`
	Value   string         `json:"value"`
	Says    string         `json:"says"`
}

func (s *Server) echoAdjusting(r *http.Request, req EchoAdjusting) (EchoedAdjusting, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return EchoedAdjusting{}, err
	}
	e := adjust.Entry{Adjustment: req.Adjustment, Read: &adjust.Read{Text: req.Text, Position: req.Position}}
	reading, err := adjust.Judge(j.Sheet.Plan, &e)
	if err != nil {
		return EchoedAdjusting{}, err
	}
	return EchoedAdjusting{reading.Verdict, reading.SI, reading.Unit, reading.Value, reading.Says}, nil
}

// NamedAdjustment is an adjustment to be kept in a sheet, in the place of the one that was named so; Revision is the sheet's
// that it was made from.
type NamedAdjustment struct {
	Revision int    `json:"revision"`
	Was      string `json:"was,omitempty"`
	sheet.Adjustment
}

// keepAdjustment puts an adjustment into a sheet.
func (s *Server) keepAdjustment(r *http.Request, req NamedAdjustment) (KeptCircuit, error) {
	x, err := s.loadSheet(r)
	if err != nil {
		return KeptCircuit{}, err
	}
	d, err := x.Document.Adjusted(req.Was, req.Adjustment)
	if err != nil {
		return KeptCircuit{}, err
	}
	if err := s.store.ChangeSheet(r.Context(), x.ID, req.Revision, d); err != nil {
		return KeptCircuit{}, err
	}
	return KeptCircuit{req.Revision + 1}, nil
}
