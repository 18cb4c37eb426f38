package server

import (
	"math/rand/v2"
	"net/http"
	"strconv"
	"time"

	"steptrace/core/training"
)

// QuickView is a quick one to answer, and how one stands with each kind.
type QuickView struct {
	Quick  training.Quick   `json:"quick"`
	Skills []training.Skill `json:"skills"`
}

// mostAnswers is how far back it is looked how one stands.
const mostAnswers = 2000

// skills are those of whoever asks.
func (s *Server) skills(r *http.Request) ([]training.Skill, error) {
	all, err := s.store.Answers(r.Context(), mostAnswers)
	return training.Skills(all), err
}

// quick asks one: of the kind in the address, or of that which comes next.
func (s *Server) quick(r *http.Request) (QuickView, error) {
	if err := s.trains(); err != nil {
		return QuickView{}, err
	}
	skills, err := s.skills(r)
	if err != nil {
		return QuickView{}, err
	}
	q := r.URL.Query()
	kind, seed := training.QuickKind(q.Get("kind")), rand.Uint32()
	if kind == "" {
		kind = training.Next(skills)
	}
	if text := q.Get("seed"); text != "" {
		x, err := strconv.ParseUint(text, 10, 32)
		if err != nil {
			return QuickView{}, problem(http.StatusUnprocessableEntity, "Not understood", "A seed is a whole number.")
		}
		seed = uint32(x)
	}
	out, err := training.MakeQuick(kind, seed)
	if err != nil {
		return QuickView{}, err
	}
	return QuickView{*out, skills}, nil
}

// Choice is an answer to a quick one: which of its choices, after how many seconds.
type Choice struct {
	ID      string             `json:"id"`
	Kind    training.QuickKind `json:"kind"`
	Seed    uint32             `json:"seed"`
	Choice  int                `json:"choice"`
	Seconds float64            `json:"seconds,omitempty"`
}

// Graded is what was right, why, and how one stands now.
type Graded struct {
	training.Solved
	Skills []training.Skill `json:"skills"`
}

func (s *Server) answerQuick(r *http.Request, req Choice) (Graded, error) {
	err := s.trains()
	if err == nil {
		err = sent(req.ID)
	}
	if err != nil {
		return Graded{}, err
	}
	q, err := training.MakeQuick(req.Kind, req.Seed)
	if err != nil {
		return Graded{}, err
	}
	if req.Choice < 0 || req.Choice >= len(q.Choices) {
		return Graded{}, problem(http.StatusUnprocessableEntity, "No such choice", "Choose one of those that were offered.")
	}
	solved := q.Solved()
	err = s.store.Answer(r.Context(), training.Answered{
		ID: req.ID, At: time.Now(), Kind: req.Kind, Seed: req.Seed, Choice: req.Choice, Right: req.Choice == solved.Right,
		Seconds: max(req.Seconds, 0), About: solved.About,
	})
	if err != nil {
		return Graded{}, err
	}
	skills, err := s.skills(r)
	return Graded{solved, skills}, err
}
