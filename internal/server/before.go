package server

import (
	"fmt"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"steptrace/core/intake"
	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/stripdown"
	"steptrace/core/trace"
	"steptrace/internal/picture"
	"steptrace/internal/store"
)

// Head is what every view of a job shows on top.
type Head struct {
	Number    int          `json:"number"`
	Set       string       `json:"set"`
	SheetID   int64        `json:"sheetId"`
	Complaint string       `json:"complaint"`
	Opened    time.Time    `json:"opened"`
	Finished  *time.Time   `json:"finished" jsonschema:"nullable"`
	Power     safety.Power `json:"power"`
}

func head(j *store.Job) Head {
	return Head{Number: j.Number, Set: j.Sheet.Document.Name(), SheetID: j.Sheet.ID, Complaint: j.Complaint, Opened: j.Opened, Finished: j.Finished, Power: j.Power(j.Sheet.Plan)}
}

// sent checks the id that a sender made, so that sending twice does no harm.
func sent(id string) error {
	if id == "" || len(id) > maxID {
		return problem(http.StatusUnprocessableEntity, "No id", fmt.Sprintf("This needs an id of 1 to %d characters, made by the sender, so that sending it twice does no harm.", maxID))
	}
	return nil
}

// Asked is a field of the intake with what was written in it.
type Asked struct {
	intake.Field
	Text string `json:"text"`
}

// PastChoice is something that may be in a set's life, and whether it is.
type PastChoice struct {
	intake.Past
	On bool `json:"on"`
}

// IntakeView is a job as it came in: what was asked, what can be tried with no
// probe, and the usual faults of the model.
type IntakeView struct {
	Head
	Fields   []Asked        `json:"fields"`
	Pasts    []PastChoice   `json:"pasts"`
	Pictures []string       `json:"pictures"` // ids
	Matrix   *trace.Matrix  `json:"matrix" jsonschema:"nullable"`
	Stages   []string       `json:"stages"` // that a good unit can stand in for
	Offers   []intake.Offer `json:"offers"`
}

// swaps reads the rows asked for: swap=stage;stage, once for each row.
func swaps(r *http.Request, plan *sheet.Plan) ([][]string, error) {
	var out [][]string
	for _, text := range r.URL.Query()["swap"] {
		var names []string
		for _, n := range strings.Split(text, ";") {
			if n = strings.TrimSpace(n); n != "" {
				names = append(names, n)
			}
		}
		if err := job.CheckWithout(plan, names); err != nil {
			return nil, err
		}
		if len(names) > 0 {
			out = append(out, names)
		}
	}
	return out, nil
}

func (s *Server) intake(r *http.Request) (IntakeView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return IntakeView{}, err
	}
	b, err := s.store.Before(r.Context(), j.Number)
	if err != nil {
		return IntakeView{}, err
	}
	plan := j.Sheet.Plan
	v := IntakeView{Head: head(&j), Fields: []Asked{}, Pasts: []PastChoice{}, Pictures: []string{}, Stages: []string{}, Offers: []intake.Offer{}}
	for _, f := range intake.Fields() {
		v.Fields = append(v.Fields, Asked{f, b.Intake[f.Key]})
	}
	chosen := strings.Split(b.Intake[intake.PastField], ";")
	for _, p := range intake.Pasts() {
		v.Pasts = append(v.Pasts, PastChoice{p, slices.Contains(chosen, p.Key)})
	}
	for _, p := range b.Pictures {
		if p.Step == "" && !p.Struck {
			v.Pictures = append(v.Pictures, p.ID)
		}
	}
	for i := range plan.Stages {
		v.Stages = append(v.Stages, plan.Stages[i].Name)
	}
	if v.Offers, err = s.offers(r, &j, b.Intake); err != nil {
		return v, err
	}
	c, ok := j.Case(plan)
	if !ok || sheet.Blocked(j.Sheet.Problems) {
		return v, nil
	}
	rows, err := swaps(r, plan)
	if err != nil {
		return v, err
	}
	m := c.Matrix(j.Plain(), rows)
	v.Matrix = &m
	return v, nil
}

// offers lists the usual faults, by all that was said and noted.
func (s *Server) offers(r *http.Request, j *store.Job, notes map[string]string) ([]intake.Offer, error) {
	earlier, err := s.store.Earlier(r.Context(), j.Sheet.ID, j.Number)
	if err != nil {
		return nil, err
	}
	told := j.Complaint
	for _, f := range intake.Fields() {
		told += ". " + notes[f.Key]
	}
	return intake.Offers(j.Sheet.Plan, told, earlier), nil
}

// Noted is a field of the intake as written.
type Noted struct {
	Field string `json:"field"`
	Text  string `json:"text"`
}

func (s *Server) note(r *http.Request, req Noted) (IntakeView, error) {
	number, err := intParam(r, "number")
	if err != nil {
		return IntakeView{}, err
	}
	if err := intake.Check(req.Field, req.Text); err != nil {
		return IntakeView{}, err
	}
	if err := s.store.Note(r.Context(), number, req.Field, strings.TrimSpace(req.Text)); err != nil {
		return IntakeView{}, err
	}
	return s.intake(r)
}

// Mark is one cell of the matrix tried: a word at an exit for an entry in a
// mode. An empty word takes the mark back.
type Mark struct {
	ID      string        `json:"id"`
	Mode    string        `json:"mode"`
	Entry   string        `json:"entry"`
	Exit    string        `json:"exit"`
	Without []string      `json:"without"`
	Word    quantity.Word `json:"word" jsonschema:"enum=ok,enum=weak,enum=none,enum="`
}

// mark logs a cell as a reading. A cell marked anew has its old mark struck
// out, so that only one counts and both stay in the log.
func (s *Server) mark(r *http.Request, req Mark) (IntakeView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return IntakeView{}, err
	}
	c, ok := j.Case(j.Sheet.Plan)
	if !ok || sheet.Blocked(j.Sheet.Problems) {
		return IntakeView{}, blocked(j.Sheet.Problems, nil, nil)
	}
	if err := sent(req.ID); err != nil {
		return IntakeView{}, err
	}
	if err := job.CheckWithout(c.Plan, req.Without); err != nil {
		return IntakeView{}, err
	}
	reading := trace.Reading{ID: req.ID, Point: req.Exit, Quantity: sheet.AC, Text: string(req.Word), Word: req.Word, Mode: req.Mode, Injected: &trace.Injection{At: req.Entry},
		Power: c.Power, Taken: time.Now(), Without: req.Without}
	if req.Word != quantity.NoWord && !slices.Contains(trace.MarkWords, req.Word) {
		return IntakeView{}, problem(http.StatusUnprocessableEntity, "No mark", "A cell is marked ok, weak or none.")
	}
	asked := reading
	asked.Word = quantity.OK // to find the cell, whatever is to be written in it
	if _, ok := c.InMatrix(&asked); !ok {
		return IntakeView{}, problem(http.StatusUnprocessableEntity, "No such cell", fmt.Sprintf("No route runs from %q to %q in mode %q. Reload the page: the sheet may have changed.", req.Entry, req.Exit, req.Mode))
	}
	for _, old := range j.Readings {
		entry, ok := c.InMatrix(&old.Reading)
		if ok && !old.Struck && old.ID != req.ID && entry == req.Entry && old.Point == req.Exit && old.Mode == req.Mode && slices.Equal(old.Without, req.Without) {
			if err := s.store.Strike(r.Context(), j.Number, old.ID, "marked anew"); err != nil {
				return IntakeView{}, err
			}
		}
	}
	if req.Word != quantity.NoWord {
		if err := s.store.Log(r.Context(), j.Number, reading); err != nil {
			return IntakeView{}, err
		}
	}
	return s.intake(r)
}

// ReservoirView is a reservoir with the sums of its discharge, and what was
// measured of it since the set was switched off.
type ReservoirView struct {
	Name      string           `json:"name"`
	Rail      string           `json:"rail"`
	Note      string           `json:"note"`
	Farads    string           `json:"farads"`
	Volts     string           `json:"volts"`
	Bleeder   string           `json:"bleeder"`
	Discharge safety.Discharge `json:"discharge"`
	Measured  string           `json:"measured"`
	Safe      bool             `json:"safe"`
}

// CautionView is a caution, and when it was ticked.
type CautionView struct {
	safety.Caution
	Ticked *time.Time `json:"ticked" jsonschema:"nullable"`
}

// SafetyView is what makes this set safe. Below, Seconds and Through are what
// the sums were made with, as typed.
type SafetyView struct {
	Head
	Cautions   []CautionView   `json:"cautions"`
	Deferral   string          `json:"deferral"`
	Reservoirs []ReservoirView `json:"reservoirs"`
	Below      string          `json:"below"`
	Seconds    string          `json:"seconds"`
	Through    string          `json:"through"`
	Refused    []trace.Refusal `json:"refused"` // points above the rating of the instrument at hand
	Instrument string          `json:"instrument"`
}

// What the sums are made with until the person chooses otherwise.
const (
	usualBelow   = "10 V"
	usualSeconds = "5 s"
)

// choice reads an optional value of the address, as typed.
func choice(r *http.Request, name, usual string, unit quantity.Unit) (text string, x float64, err error) {
	if text = strings.TrimSpace(r.URL.Query().Get(name)); text == "" {
		text = usual
	}
	if text == "" {
		return "", 0, nil
	}
	v, err := quantity.ParseAs(text, unit)
	return text, v.SI, err
}

func (s *Server) safety(r *http.Request) (SafetyView, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return SafetyView{}, err
	}
	plan := j.Sheet.Plan
	v := SafetyView{Head: head(&j), Cautions: []CautionView{}, Deferral: safety.Deferral, Reservoirs: []ReservoirView{}, Refused: []trace.Refusal{}}
	for _, c := range safety.Cautions(plan) {
		view := CautionView{Caution: c}
		for _, t := range v.Power.Ticked {
			if t.Key == c.Key {
				view.Ticked = &t.At
			}
		}
		v.Cautions = append(v.Cautions, view)
	}
	var below, seconds, through float64
	if v.Below, below, err = choice(r, "below", usualBelow, quantity.Volt); err != nil {
		return v, err
	}
	if v.Seconds, seconds, err = choice(r, "seconds", usualSeconds, quantity.Second); err != nil {
		return v, err
	}
	if v.Through, through, err = choice(r, "through", "", quantity.Ohm); err != nil {
		return v, err
	}
	for i := range plan.Reservoirs {
		c := &plan.Reservoirs[i]
		if c.Farads == 0 || c.Volts == 0 {
			continue // the sheet needs mending there, and says so
		}
		d, err := safety.Plan(c.Farads, c.Volts, below, seconds, c.BleederOhms, through)
		if err != nil {
			return v, err
		}
		measured := v.Power.Reservoirs[i]
		v.Reservoirs = append(v.Reservoirs, ReservoirView{Name: c.Name, Rail: c.Reservoir.Rail, Note: c.Note, Farads: quantity.Capacitance(c.Farads), Volts: short(c.Volts, quantity.Volt), Bleeder: c.Bleeder,
			Discharge: d, Measured: measured.Text, Safe: measured.Safe})
	}
	if c, ok := j.Case(plan); ok {
		v.Instrument = trace.InstrumentFor(c.Instrument).Name
		v.Refused = c.Refusals()
	}
	return v, nil
}

func short(x float64, u quantity.Unit) string { return quantity.Value{SI: x, Unit: u}.Short(3) }

// Happening is something done or measured to make the set safe. Confirmed says
// that a residual of 0 V was really measured.
type Happening struct {
	ID        string      `json:"id"`
	Kind      safety.Kind `json:"kind"`
	Subject   string      `json:"subject"`
	Text      string      `json:"text"`
	Confirmed bool        `json:"confirmed"`
}

func (s *Server) happen(r *http.Request, req Happening) (SafetyView, error) {
	j, err := load(r, s.store.JobHead)
	if err != nil {
		return SafetyView{}, err
	}
	if err := sent(req.ID); err != nil {
		return SafetyView{}, err
	}
	before, err := s.store.SafetyEvents(r.Context(), j.Number)
	if err != nil {
		return SafetyView{}, err
	}
	e, err := safety.Take(j.Sheet.Plan, before, safety.Event{ID: req.ID, Kind: req.Kind, Subject: req.Subject, Text: req.Text, At: time.Now()}, req.Confirmed)
	if err != nil {
		return SafetyView{}, err
	}
	if err := s.store.Happen(r.Context(), j.Number, e); err != nil {
		return SafetyView{}, err
	}
	return s.safety(r)
}

// StripView is how the set came apart, and how it goes together again.
type StripView struct {
	Head
	Sorts    []stripdown.Sort   `json:"sorts"`
	Steps    []StepView         `json:"steps"` // as they were taken down, the struck ones too
	Assembly stripdown.Assembly `json:"assembly"`
}

// StepView is a step with its line.
type StepView struct {
	stripdown.Step
	Says string `json:"says"`
}

func (s *Server) strip(r *http.Request) (StripView, error) {
	j, err := load(r, s.store.JobHead)
	if err != nil {
		return StripView{}, err
	}
	b, err := s.store.Before(r.Context(), j.Number)
	if err != nil {
		return StripView{}, err
	}
	v := StripView{Head: head(&j), Sorts: stripdown.Sorts(), Steps: []StepView{}, Assembly: stripdown.Reassemble(b.Steps, b.Returns)}
	for _, x := range b.Steps {
		v.Steps = append(v.Steps, StepView{x, x.Says()})
	}
	return v, nil
}

// Line is a step as typed.
type Line struct {
	ID   string         `json:"id"`
	Kind stripdown.Kind `json:"kind"`
	Text string         `json:"text"`
}

func (s *Server) takeApart(r *http.Request, req Line) (StripView, error) {
	number, err := intParam(r, "number")
	if err == nil {
		err = sent(req.ID)
	}
	if err != nil {
		return StripView{}, err
	}
	x, err := stripdown.Read(req.Kind, req.Text)
	if err != nil {
		return StripView{}, err
	}
	x.ID, x.Taken = req.ID, time.Now()
	if err := s.store.TakeApart(r.Context(), number, x); err != nil {
		return StripView{}, err
	}
	return s.strip(r)
}

// LineRead is what a line is understood as.
type LineRead struct {
	Says    string `json:"says"`
	Mind    string `json:"mind"`
	Problem string `json:"problem"`
}

func (s *Server) readLine(_ *http.Request, req Line) (LineRead, error) {
	x, err := stripdown.Read(req.Kind, req.Text)
	if err != nil {
		return LineRead{Problem: err.Error()}, nil
	}
	return LineRead{Says: x.Says(), Mind: x.Mind}, nil
}

func (s *Server) strikeStep(r *http.Request, _ Nothing) (StripView, error) {
	number, err := intParam(r, "number")
	if err == nil {
		err = s.store.StrikeStep(r.Context(), number, chi.URLParam(r, "id"))
	}
	if err != nil {
		return StripView{}, err
	}
	return s.strip(r)
}

// Count is how many of a step went back in.
type Count struct {
	Count int `json:"count"`
}

func (s *Server) putBack(r *http.Request, req Count) (StripView, error) {
	number, err := intParam(r, "number")
	if err != nil {
		return StripView{}, err
	}
	b, err := s.store.Before(r.Context(), number)
	if err != nil {
		return StripView{}, err
	}
	id := chi.URLParam(r, "id")
	for _, x := range b.Steps {
		if x.ID == id && (req.Count < 0 || req.Count > x.Count) {
			return StripView{}, problem(http.StatusUnprocessableEntity, "Too many", fmt.Sprintf("%d went out there, so 0 to %d can go back. Is the one over from another place?", x.Count, x.Count))
		}
	}
	if err := s.store.PutBack(r.Context(), number, stripdown.Return{Step: id, Count: req.Count, At: time.Now()}); err != nil {
		return StripView{}, err
	}
	return s.strip(r)
}

// Kept is the id of a picture that was taken in.
type Kept struct {
	ID string `json:"id"`
}

// addPicture takes a picture as the body. The address carries its id, made by
// the sender, and the step it is of, if any.
func (s *Server) addPicture(w http.ResponseWriter, r *http.Request) {
	kept, err := func() (Kept, error) {
		number, err := intParam(r, "number")
		if err != nil {
			return Kept{}, err
		}
		id := r.URL.Query().Get("id")
		if err := sent(id); err != nil {
			return Kept{}, err
		}
		data, err := body(w, r, picture.MaxBytes)
		if err != nil {
			return Kept{}, err
		}
		p, err := picture.Read(data)
		if err != nil {
			return Kept{}, err
		}
		return Kept{id}, s.store.AddPicture(r.Context(), number, stored(id, r.URL.Query().Get("step"), time.Now(), p))
	}()
	if err != nil {
		fail(w, r, err)
		return
	}
	send(w, r, kept)
}

func stored(id, step string, taken time.Time, p picture.Picture) store.Picture {
	return store.Picture{PictureHead: store.PictureHead{ID: id, Step: step, Taken: taken}, Type: p.Type, Data: p.Data, Preview: p.Preview}
}

func (s *Server) picture(preview bool) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		number, err := intParam(r, "number")
		if err != nil {
			fail(w, r, err)
			return
		}
		data, kind, err := s.store.PictureData(r.Context(), number, chi.URLParam(r, "id"), preview)
		if err != nil {
			fail(w, r, err)
			return
		}
		w.Header().Set("Content-Type", kind)
		w.Header().Set("Cache-Control", "private, max-age=31536000, immutable") // a picture never changes
		w.Header().Set("Content-Length", strconv.Itoa(len(data)))
		if r.Method != http.MethodHead {
			_, _ = io.Writer(w).Write(data) // the client may be gone
		}
	}
}

func (s *Server) strikePicture(r *http.Request, _ Nothing) (Kept, error) {
	number, err := intParam(r, "number")
	id := chi.URLParam(r, "id")
	if err == nil {
		err = s.store.StrikePicture(r.Context(), number, id)
	}
	return Kept{id}, err
}
