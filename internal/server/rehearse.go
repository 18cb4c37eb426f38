package server

import (
	"context"
	"fmt"
	"time"

	"steptrace/core/job"
	"steptrace/core/training"
	"steptrace/internal/store"
)

// The demo workshop has practised: some cases worked as the program proposes, one with a hunch that led nowhere and left as it was, one
// that is open, and some quick ones.

var rehearsed = []struct {
	wish    training.Wish
	set     string
	besides int // points that are read on a hunch, from the front
	ended   bool
	right   bool
}{
	{training.Wish{Level: training.First, Kind: training.InBlock, Seed: 4, Advice: training.Always}, "phono stage", 0, true, true},
	{training.Wish{Level: training.Usual, Kind: training.InSupply, Seed: 3, Advice: training.Asked}, "power amplifier", 2, true, false},
	{training.Wish{Level: training.Usual, Kind: training.InPart, Seed: 2, Advice: training.Asked}, "set with Common emitter", 0, true,
		true},
	{training.Wish{Level: training.Long, Kind: training.InBlock, Seed: 12, Advice: training.Asked}, "analogue synthesizer", 3, true, true},
	{training.Wish{Level: training.Hard, Kind: training.InTwo, Seed: 9, Advice: training.Hidden}, "headphone amplifier", 0, false, false},
}

// Rehearse fills a practice that is empty yet.
func (s *Server) Rehearse(ctx context.Context) error {
	if all, err := s.store.AllDrawn(ctx, 1); err != nil || len(all) > 0 {
		return err
	}
	const apart = 26 * time.Hour
	at := time.Now().Add(-time.Duration(len(rehearsed)) * apart)
	for i, x := range rehearsed {
		sources, err := s.drawnFrom(ctx, &Wish{Set: x.set})
		if err != nil {
			return err
		}
		c, err := training.Draw(ctx, x.wish, sources)
		if err != nil {
			return err
		}
		at = at.Add(apart)
		if err := s.rehearse(ctx, i, c, at, x.besides, x.ended, x.right); err != nil {
			return err
		}
	}
	for i, kind := range training.QuickKinds {
		seed := uint32(i + 1)
		q, err := training.MakeQuick(kind, seed)
		if err != nil {
			return err
		}
		solved := q.Solved()
		a := training.Answered{ID: fmt.Sprint("rehearsed", i), At: at, Kind: kind, Seed: seed, Seconds: 40, About: solved.About}
		if a.Choice, a.Right = solved.Right, i%3 != 2; !a.Right {
			a.Choice = (solved.Right + 1) % len(q.Choices)
		}
		if err := s.store.Answer(ctx, a); err != nil {
			return err
		}
	}
	return nil
}

func (s *Server) rehearse(ctx context.Context, n int, c *training.Case, at time.Time, besides int, ended, right bool) error {
	opened := &job.Job{Complaint: c.Told.Complaint, Opened: at}
	number, err := s.store.AddDrawn(store.Under(ctx, fmt.Sprint("rehearsed", n)), opened, c.Manual, c)
	if err != nil || !ended {
		return err
	}
	j, err := s.store.Job(ctx, number)
	if err != nil {
		return err
	}
	plan := j.Sheet.Plan
	var points []string
	for _, p := range plan.Routes[0].Points[1:min(besides+1, len(plan.Routes[0].Points)-1)] {
		points = append(points, plan.Points[p].Name)
	}
	entries, err := c.Rehearse(plan, at, points, right)
	if err == nil {
		err = s.store.NoteAll(ctx, number, entries, nil)
	}
	if err != nil {
		return err
	}
	if j, err = s.store.Job(ctx, number); err != nil {
		return err
	}
	return s.store.PutProgress(ctx, number, func(p *training.Progress, at time.Time) error {
		p.Came = c.Came(plan, &j.Job, c.Review(plan, &j.Job, p))
		p.Ended = &at
		return nil
	})
}
