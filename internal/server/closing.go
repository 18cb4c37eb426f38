package server

import (
	"context"
	"net/http"
	"slices"
	"strings"
	"time"

	"steptrace/core/closing"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/sheet"
	"steptrace/internal/instrument"
	"steptrace/internal/store"
)

// ClosingView is how the closing measurements of a job stand.
type ClosingView struct {
	Head
	Says     string             `json:"says"`
	Open     int                `json:"open"`
	Off      int                `json:"off"`
	Items    []closing.Standing `json:"items"`
	Kinds    []string           `json:"kinds"`
	Meter    string             `json:"meter"` // that can be asked; empty: none
	Repaired bool               `json:"repaired"`
	Revision int                `json:"revision"`
}

func (s *Server) closing(r *http.Request) (ClosingView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return ClosingView{}, err
	}
	v := ClosingView{
		Head:     head(&j),
		Items:    j.Closes(j.Sheet.Plan),
		Kinds:    sheet.ClosingKinds,
		Repaired: !j.Repaired().IsZero(),
		Revision: j.Sheet.Revision,
	}
	v.Says, v.Open, v.Off = closing.Tell(v.Items)
	if in, ok := s.bench.First(instrument.Meter); ok {
		v.Meter = in.Name
	}
	return v, nil
}

// ToClose is what was read or found at a closing measurement, as typed, or why it is done without.
type ToClose struct {
	ID      string `json:"id"`
	Item    string `json:"item"`
	Text    string `json:"text,omitempty"`
	Without string `json:"without,omitempty"`
}

// noteClosing logs it. What is tried of an entry and an exit is marked as the matrix is, so that what does not work is traced.
func (s *Server) noteClosing(r *http.Request, req ToClose) (ClosingView, error) {
	j, err := load(r, s.store.Job)
	if err == nil {
		err = sent(req.ID)
	}
	if err != nil {
		return ClosingView{}, err
	}
	req.Text, req.Without = strings.TrimSpace(req.Text), strings.TrimSpace(req.Without)
	stands := j.Closes(j.Sheet.Plan)
	at := slices.IndexFunc(stands, func(x closing.Standing) bool { return x.Name == req.Item })
	if at < 0 {
		return ClosingView{}, mend.Errorf(
			"there is no closing measurement called %q: the sheet may have changed; reload the page",
			req.Item,
		)
	}
	if cell := stands[at].Cell; cell != nil && req.Text != "" {
		word, err := closing.MarkOf(req.Text)
		if err == nil && j.Finished != nil {
			err = store.ErrFinished
		}
		if err == nil {
			err = s.markCell(r, &j, Mark{ID: req.ID, Mode: cell.Mode, Entry: cell.Entry, Exit: cell.Exit, Word: word})
		}
		if err != nil {
			return ClosingView{}, err
		}
		return s.closing(r)
	}
	if req.Text != "" {
		item, err := closingOf(&j, req.Item)
		if err == nil {
			_, err = closing.Read(item, req.Text)
		}
		if err != nil {
			return ClosingView{}, err
		}
	}
	e := closing.Entry{ID: req.ID, At: time.Now(), Item: req.Item, Text: req.Text, Without: req.Without}
	if err := s.note(r, j.Number, &e, nil); err != nil {
		return ClosingView{}, err
	}
	return s.closing(r)
}

// closingOf finds a closing measurement by its name.
func closingOf(j *store.Job, name string) (*sheet.PlanClosing, error) {
	items := closing.Items(j.Sheet.Plan)
	i := slices.IndexFunc(items, func(c sheet.PlanClosing) bool { return c.Name == name })
	if i < 0 {
		return nil, mend.Errorf("the sheet has no closing measurement called %q any more: reload the page", name)
	}
	return &items[i], nil
}

// EchoedClosing is how what is typed at a closing measurement reads.
type EchoedClosing struct {
	SI      float64         `json:"si"`
	Value   string          `json:"value"`
	Says    string          `json:"says"`
	Verdict closing.Verdict `json:"verdict"`
}

func (s *Server) echoClosing(r *http.Request, req ToClose) (EchoedClosing, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return EchoedClosing{}, err
	}
	item, err := closingOf(&j, req.Item)
	if err != nil {
		return EchoedClosing{}, err
	}
	f, err := closing.Read(item, req.Text)
	return EchoedClosing{f.SI, f.Value, f.Says, f.Verdict}, err
}

// takeClosing has the meter, and where something is fed in the generator, take a closing measurement, and logs it. The
// generator is off afterwards.
func (s *Server) takeClosing(r *http.Request, req ToClose) (ClosingView, error) {
	j, err := load(r, s.store.Job)
	if err == nil {
		err = sent(req.ID)
	}
	if err != nil {
		return ClosingView{}, err
	}
	if slices.ContainsFunc(j.Closing, func(x closing.Entry) bool { return x.ID == req.ID }) {
		return s.closing(r) // it was taken, and the answer did not arrive
	}
	item, err := closingOf(&j, req.Item)
	if err != nil {
		return ClosingView{}, err
	}
	steps := closing.Steps(j.Sheet.Plan, item)
	switch {
	case len(steps) == 0:
		return ClosingView{}, problem(
			http.StatusUnprocessableEntity,
			"Not by an instrument",
			"A person has to look here, or to move something meanwhile: type what is read.",
		)
	case j.Finished != nil:
		return ClosingView{}, store.ErrFinished
	}
	meter, err := s.first(instrument.Meter)
	if err != nil {
		return ClosingView{}, err
	}
	text, err := s.steps(r.Context(), &j, meter, steps)
	if err != nil {
		return ClosingView{}, err
	}
	if _, err := closing.Read(item, text); err != nil {
		return ClosingView{}, err
	}
	e := closing.Entry{ID: req.ID, At: time.Now(), Item: req.Item, Text: text, By: meter.Name}
	if err := s.note(r, j.Number, &e, nil); err != nil {
		return ClosingView{}, err
	}
	return s.closing(r)
}

// settles is how long a set and a meter take to show what is fed in.
const settles = 500 * time.Millisecond

// steps takes the readings of a closing measurement, one after the other, as they would be typed.
func (s *Server) steps(ctx context.Context, j *store.Job, meter instrument.Instrument, steps []closing.Step) (string, error) {
	if busy := s.soaks.uses(0, func(x *soaking) bool { return x.plan.Feeds() }); busy != 0 {
		return "", inUse(busy)
	}
	generator, have := s.bench.First(instrument.Generator)
	feeds := slices.ContainsFunc(steps, func(x closing.Step) bool { return x.Hz > 0 })
	if feeds && !have {
		_, err := s.first(instrument.Generator)
		return "", err
	}
	if have {
		defer func() { // whatever came of it; what it was set to for the job holds no longer
			_, _ = s.bench.Feed(context.WithoutCancel(ctx), generator.ID, nil)
			s.feeding.mu.Lock()
			delete(s.feeding.settings, j.Number)
			s.feeding.mu.Unlock()
		}()
	}
	var texts []string
	for _, x := range steps {
		if meter.StandIn {
			if err := s.clip(j, x.At, x.From); err != nil {
				return "", err
			}
		}
		if have {
			var fed *instrument.Fed
			if x.Hz > 0 {
				fed = &instrument.Fed{Shape: shapeWords[quantity.Sine], RMS: x.Volts, Hz: x.Hz}
			}
			if _, err := s.bench.Feed(ctx, generator.ID, fed); err != nil {
				return "", err
			}
			if !generator.StandIn {
				time.Sleep(settles)
			}
		}
		what := "ac"
		if x.DC {
			what = "dc"
		}
		v, err := s.bench.Measure(ctx, meter.ID, what)
		if err != nil {
			return "", err
		}
		texts = append(texts, quantity.Value{SI: v, Unit: quantity.Volt}.Short(4))
	}
	return strings.Join(texts, "; "), nil
}

// NamedClosing is a closing measurement to be kept in a sheet, in the place of the one that was named so; Revision is the
// sheet's that it was made from.
type NamedClosing struct {
	Revision int    `json:"revision"`
	Was      string `json:"was,omitempty"`
	sheet.Closing
}

// keepClosing puts a closing measurement into a sheet.
func (s *Server) keepClosing(r *http.Request, req NamedClosing) (KeptCircuit, error) {
	x, err := s.loadSheet(r)
	if err != nil {
		return KeptCircuit{}, err
	}
	d, err := x.Document.Closed(req.Was, req.Closing)
	if err != nil {
		return KeptCircuit{}, err
	}
	if err := s.store.ChangeSheet(r.Context(), x.ID, req.Revision, d); err != nil {
		return KeptCircuit{}, err
	}
	return KeptCircuit{req.Revision + 1}, nil
}
