package server

import (
	"fmt"
	"net/http"
	"strings"
	"time"

	"steptrace/core/entry"
	"steptrace/core/inside"
	"steptrace/core/mend"
	"steptrace/core/network"
	"steptrace/core/replace"
	"steptrace/core/sum"
)

// AskedSum is a sum as it is typed; or whether one part goes in the place of another: "2n3904 for bc547, 20 V".
type AskedSum struct {
	Text string `json:"text"`
}

// Summed is the answer, with examples of what can be typed.
type Summed struct {
	sum.Answer
	Examples []string `json:"examples"`
}

func (s *Server) sum(r *http.Request, req AskedSum) (Summed, error) {
	v := Summed{Examples: sum.Examples}
	if strings.TrimSpace(req.Text) == "" {
		v.Lines = []sum.Line{}
		return v, nil
	}
	if after, was, ok := strings.Cut(req.Text, " for "); ok {
		was, duty, _ := strings.Cut(was, ",")
		found, err := s.substitute(r, Wanted{Was: was, Duty: duty, Try: after})
		switch {
		case err != nil:
			return v, err
		case found.Tried == nil:
			return v, problem(http.StatusUnprocessableEntity, "Not a part", mend.Sentence(found.Trouble))
		}
		v.Asked = strings.TrimSpace(after) + " in place of " + strings.TrimSpace(was)
		v.Says, v.Lines = string(found.Tried.Verdict.Grade), []sum.Line{}
		for _, list := range [][]string{found.Tried.Verdict.Against, found.Tried.Verdict.Changes, found.Tried.Verdict.Mind} {
			for _, text := range list {
				v.Lines = append(v.Lines, sum.Line{Text: text})
			}
		}
		return v, nil
	}
	a, err := sum.Of(req.Text)
	if err != nil {
		return v, problem(http.StatusUnprocessableEntity, "No sum", mend.Sentence(err.Error()))
	}
	v.Answer = a
	return v, nil
}

// PackageList are the sealed packages of a job's circuits.
type PackageList struct {
	Packages []replace.Package `json:"packages"`
}

func (s *Server) packages(r *http.Request) (PackageList, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return PackageList{}, err
	}
	return PackageList{replace.Packages(j.Sheet.Plan)}, nil
}

// PackageRead is what was read between the pins of a package of a stage's circuit.
type PackageRead struct {
	Stage    string `json:"stage"`
	Package  string `json:"package"`
	Readings string `json:"readings"`
}

func (s *Server) openPackage(r *http.Request, req PackageRead) (replace.Opened, error) {
	j, err := load(r, s.store.Job)
	if err != nil {
		return replace.Opened{}, err
	}
	return replace.Open(j.Sheet.Plan, req.Stage, req.Package, req.Readings)
}

// PackageKept are such readings to be kept, under an id made by the sender.
type PackageKept struct {
	ID string `json:"id"`
	PackageRead
}

// keepPackage keeps what a package tells of its parts as readings inside its stage: all of them, or none.
func (s *Server) keepPackage(r *http.Request, req PackageKept) (replace.Opened, error) {
	if err := sent(req.ID); err != nil {
		return replace.Opened{}, err
	}
	j, err := load(r, s.store.Job)
	if err != nil {
		return replace.Opened{}, err
	}
	o, err := replace.Open(j.Sheet.Plan, req.Stage, req.Package, req.Readings)
	if err != nil {
		return o, err
	}
	power := j.Power(j.Sheet.Plan)
	var entries []entry.Entry
	for i, reading := range o.Readings() {
		e := &inside.Entry{ID: fmt.Sprintf("%s-%d", req.ID, i), Stage: req.Stage, At: time.Now(), Reading: &reading}
		if err := inside.Take(j.Sheet.Plan, power.Reading(), e); err != nil {
			return o, err
		}
		entries = append(entries, e)
	}
	return o, s.store.NoteAll(r.Context(), j.Number, entries, nil)
}

// Sealed is a package of resistors and capacitors: what is inside, and what was read between its pins.
type Sealed struct {
	Inside   string `json:"inside"`
	Readings string `json:"readings"`
}

func (s *Server) network(_ *http.Request, req Sealed) (network.Result, error) {
	found, err := network.Find(req.Inside, req.Readings)
	if err != nil {
		return found, problem(http.StatusUnprocessableEntity, "Not found", mend.Sentence(err.Error()))
	}
	return found, nil
}
