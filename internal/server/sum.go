package server

import (
	"errors"
	"net/http"
	"strings"

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
			return v, problem(http.StatusUnprocessableEntity, "Not a part", reason(errors.New(strings.TrimSuffix(found.Trouble, "."))))
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
		return v, problem(http.StatusUnprocessableEntity, "No sum", reason(err))
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

// Sealed is a package of resistors and capacitors: what is inside, and what was read between its pins.
type Sealed struct {
	Inside   string `json:"inside"`
	Readings string `json:"readings"`
}

func (s *Server) network(_ *http.Request, req Sealed) (network.Result, error) {
	found, err := network.Find(req.Inside, req.Readings)
	if err != nil {
		return found, problem(http.StatusUnprocessableEntity, "Not found", reason(err))
	}
	return found, nil
}
