package server

import (
	"net/http"
	"slices"
	"strings"
	"time"

	"steptrace/core/circuit"
	"steptrace/core/inside"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/standin"
	"steptrace/core/trace"
	"steptrace/core/training"
	"steptrace/internal/desk"
	"steptrace/internal/store"
)

// In practice the routes of real work take down what the simulated set answers, whatever was sent.

// bench is the set of a case as it is now, for what is traced.
func (d *drilled) bench() (*training.Bench, []training.Fault, error) {
	plan, err := d.Case.Plan()
	if err != nil {
		return nil, nil, err
	}
	set, good, err := d.Case.After(plan, d.job.Repairs)
	if err != nil {
		return nil, nil, err
	}
	clock := d.Progress.Clock(d.job.Sheet.Plan, &d.job.Job)
	b := &training.Bench{Plan: plan, Set: set, Good: good, Stand: standin.Stand{Warm: clock.Warm}}
	for _, x := range repair.In(d.job.Repairs) {
		if t := x.Temporary; t.What == repair.Swapped || t.What == repair.Jumper {
			b.Stand.Good = append(b.Stand.Good, t.Subject)
		}
	}
	return b, d.Case.Left(d.job.Repairs), nil
}

// makeSafe is what comes first in most cases.
const makeSafe = "Make it safe first (g 2)."

// stop keeps somebody from something unsafe, with what comes first, and takes it down.
func (s *Server) stop(r *http.Request, d *drilled, what, would, first string) error {
	err := s.store.PutProgress(r.Context(), d.Number, func(p *training.Progress, at time.Time) error {
		p.Stopped = append(p.Stopped, training.Stopped{At: at, What: what, Would: would})
		return nil
	})
	if err != nil {
		return err
	}
	return problem(
		http.StatusConflict,
		"Stopped: "+what,
		"Stopped, "+what+". "+would+" "+first+" Local codes and licensed practice come before all of this.",
	)
}

// must refuses what cannot be done as the set stands: unsafe, or with the set off. Then it has ended nothing is read any more.
func (s *Server) must(r *http.Request, d *drilled, c trace.Case, aim reading.Aim) error {
	if d.Progress.Ended != nil {
		return problem(http.StatusConflict, "It has ended", "This case has ended: nothing more is read of it. Draw another.")
	}
	power := d.job.Power(c.Plan)
	if what, would := training.Unsafe(c, &power, aim); what != "" {
		return s.stop(r, d, what, would, makeSafe)
	}
	if training.Dark(c, &power, aim) {
		return problem(http.StatusConflict, "The set is off", "Nothing is there to be read: switch it on first (key o).")
	}
	return nil
}

// trained is what the set of a case gives where a reading would be typed or taken: the text to take down.
func (s *Server) trained(r *http.Request, c trace.Case, req *Typed) (string, error) {
	d, err := s.drilled(r)
	if err != nil {
		return "", err
	}
	if err := s.must(r, &d, c, req.Aim); err != nil {
		return "", err
	}
	b, left, err := d.bench()
	if err != nil {
		return "", err
	}
	if req.Quantity == sheet.Provocation {
		return b.Provoke(c, req.Point, req.Text, left)
	}
	text, err := b.Answer(c, training.Reads{Aim: req.Aim, Without: req.Without, Worked: req.Worked})
	if err != nil || !req.ReadOff || strings.TrimSpace(req.Text) == "" {
		return text, err
	}
	if wrong := training.ReadOff(c, req.Aim, req.Text, text); wrong != nil {
		wrong.ID = req.ID
		err = s.store.PutProgress(r.Context(), d.Number, func(p *training.Progress, _ time.Time) error {
			if !slices.ContainsFunc(p.Misread, func(m training.Misread) bool { return m.ID == wrong.ID }) {
				p.Misread = append(p.Misread, *wrong)
			}
			return nil
		})
	}
	return req.Text, err
}

// face shows what is aimed at, to be read off.
func (s *Server) face(r *http.Request, req Typed) (training.Face, error) {
	_, c, err := s.standing(r, &req)
	if err != nil {
		return training.Face{}, err
	}
	d, err := s.drilled(r)
	if err == nil {
		err = s.must(r, &d, c, req.Aim)
	}
	if err != nil {
		return training.Face{}, err
	}
	b, _, err := d.bench()
	if err != nil {
		return training.Face{}, err
	}
	return b.Face(c, training.Reads{Aim: req.Aim, Without: req.Without, Worked: req.Worked})
}

// lay puts the set of a case on the desk with the probe where it is aimed, the generator where something is fed in, set as it has to be.
func (s *Server) layOut(r *http.Request, c trace.Case, req *ToTake) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	if err := s.must(r, &d, c, req.Aim); err != nil {
		return err
	}
	b, _, err := d.bench()
	if err != nil {
		return err
	}
	hands := desk.Hands{
		Job: d.Number, Mode: c.Route.Mode, On: c.Power == reading.PowerOn, Probe: req.Point, Second: req.Second, Beside: b.Stand,
	}
	hands.Beside.Good = append(slices.Clone(b.Stand.Good), req.Without...)
	if len(c.Route.Points) > 0 && !c.Plan.Points[c.Route.Points[0]].Source {
		hands.Generator = c.Plan.Points[c.Route.Points[0]].Name
	}
	if c.Injected != nil {
		hands.Generator = c.Injected.At
	}
	if hands.Generator != "" {
		if _, err := s.feedFor(r.Context(), d.Number, c); err != nil {
			hands.Generator = "" // nothing is known of what would have to be fed in: its own signal
		}
	}
	s.practice.desk.Connect(b.Set, hands)
	return nil
}

// byDesk tells whether a reading is one that the desk's instruments take.
func byDesk(c trace.Case, req *Typed) bool {
	_, point := c.Plan.PointIndex(req.Point)
	q := req.Quantity
	return (c.Injected == nil || !c.Injected.Touch) && (point || c.Plan.InCircuit(req.Point)) && !req.Worked &&
		slices.Contains([]sheet.Quantity{"", sheet.AC, sheet.DC, sheet.Frequency, sheet.Resistance}, q)
}

// trainMark has the set answer what is tried from outside.
func (s *Server) trainMark(r *http.Request, c trace.Case, req *Mark) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	if err := s.must(r, &d, c, reading.Aim{Point: req.Exit}); err != nil {
		return err
	}
	b, _, err := d.bench()
	if err == nil {
		req.Word, err = b.Try(req.Mode, req.Entry, req.Exit, req.Without)
	}
	return err
}

// trainInside has the set answer what is read, checked or provoked inside a stage, whatever was typed.
func (s *Server) trainInside(r *http.Request, j *store.Job, e *inside.Entry) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	c, ok := j.Case(j.Sheet.Plan)
	if !ok {
		return blocked(j.Sheet.Problems, nil, nil)
	}
	b, left, err := d.bench()
	if err != nil {
		return err
	}
	power := d.job.Power(c.Plan)
	switch {
	case e.Reading != nil:
		aim := reading.Aim{Point: e.Reading.Node}
		if e.Reading.What == circuit.Ohms {
			aim.Quantity = sheet.Resistance
		}
		if err = s.must(r, &d, c, aim); err == nil {
			e.Reading.Value, err = b.Inside(e.Stage, *e.Reading)
		}
	case e.Check != nil && power.Reading().Live():
		err = s.stop(
			r,
			&d,
			"a part measured in a live set",
			"The meter's own test current and the set's volts would have met in it: the meter's "+
				"fuse gone at best, and the reading worth nothing.",
			makeSafe,
		)
	case e.Check != nil:
		e.Check.Given, err = b.Part(e.Stage, e.Check.Part, e.Check.Kind)
	case e.Provoked != nil:
		var text string
		if err = s.must(r, &d, c, reading.Aim{Point: e.Stage, Quantity: sheet.Provocation}); err == nil {
			text, err = b.Provoke(c, e.Stage, string(e.Provoked.Act), left)
		}
		if _, came, ok := strings.Cut(text, " "); ok && err == nil {
			e.Provoked.Came = map[string]string{"comes": "comes", "goes": "goes"}[came]
			if e.Provoked.Came == "" {
				e.Provoked.Came = "nothing"
			}
		}
	}
	return err
}

// trainRepair keeps somebody from soldering in a set that is on.
func (s *Server) trainRepair(r *http.Request, j *store.Job, e *repair.Entry) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	b, _, err := d.bench()
	if err != nil {
		return err
	}
	if what, would := b.UnsafeRepair(e); what != "" {
		return s.stop(r, &d, what, would, "Find what draws too much: ohms of the rail, with the set off and discharged (g 4).")
	}
	power := j.Power(j.Sheet.Plan)
	if e.Repair == nil || e.Repair.Did == repair.Adjusted || !power.Reading().Live() {
		return nil
	}
	return s.stop(r, &d, "a repair in a live set", "Iron, hand and what is loose would have met what stands on the board: a short that "+
		"takes more along than was broken, at best. It is switched off, unplugged and discharged first.", makeSafe)
}

// trainResidual has the set answer what is left on a reservoir.
func (s *Server) trainResidual(r *http.Request, req *Happening) error {
	d, err := s.drilled(r)
	if err != nil {
		return err
	}
	since, before := 0.0, false
	clock := d.Progress.Clock(d.job.Sheet.Plan, &d.job.Job)
	for _, m := range clock.Moments {
		if m.Kind == "safety" && m.ID == string(safety.Off) {
			since = clock.Minutes - m.By
		}
	}
	for _, e := range d.job.Safety {
		switch {
		case e.Kind == safety.SwitchedOn || e.Kind == safety.Standby:
			before = false
		case e.Kind == safety.Residual && e.Subject == req.Subject:
			before = true
		}
	}
	if text, ok := training.Residual(d.job.Sheet.Plan, req.Subject, since, before); ok {
		req.Text, req.Confirmed = text, true
	}
	return nil
}
