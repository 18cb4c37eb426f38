package server

import (
	"context"
	"fmt"
	"slices"
	"sync"

	"steptrace/core/inside"
	"steptrace/core/trace"
	"steptrace/internal/store"
)

// looked are the stages looked into last: the view and the signal of one are asked for one after
// the other, and a diagnosis takes its time.
type looked struct {
	mu   sync.Mutex
	list []*lookedInto // the one looked into last at the end
}

// mostLooked is how many are held: those of a few people.
const mostLooked = 16

// lookedInto is one of them, with all that it follows from.
type lookedInto struct {
	of     lookedKey
	mu     sync.Mutex // held while it is worked out
	view   *inside.View
	record inside.Record
	kase   trace.Case
}

type lookedKey struct {
	job, version int
	stage        string
	failed       string // how often parts had, in other jobs
}

// lookInto looks into a stage of a job, or into the likeliest where none is named. What is worked out
// is shared: nothing in it may be changed.
func (s *Server) lookInto(ctx context.Context, j *store.Job, stage string) (*lookedInto, []inside.Listed, error) {
	c, ok := j.Case(j.Sheet.Plan)
	if !ok {
		return nil, nil, blocked(j.Sheet.Problems, nil, nil)
	}
	found := c.Find(j.Plain(j.Sheet.Plan))
	stages := inside.Stages(c, &found)
	if stage == "" {
		stage = inside.First(stages, j.Inside)
	}
	failed, err := s.store.FailedParts(ctx, j.Sheet.ID, stage)
	if err != nil {
		return nil, nil, err
	}
	x := s.looked.at(lookedKey{j.Number, j.Version, stage, fmt.Sprint(failed)})
	x.mu.Lock()
	defer x.mu.Unlock()
	if x.view != nil {
		return x, stages, nil
	}
	record := inside.Record{Readings: j.Plain(j.Sheet.Plan), Entries: j.Inside, Rounds: j.Rounds(), Failed: failed, Found: &found}
	view, err := inside.Look(ctx, c, stage, record)
	if err == nil {
		err = ctx.Err() // then it is not the whole
	}
	if err != nil {
		return nil, nil, err
	}
	x.view, x.record, x.kase = view, record, c
	return x, stages, nil
}

// at is the place of a stage that is looked into.
func (l *looked) at(of lookedKey) *lookedInto {
	l.mu.Lock()
	defer l.mu.Unlock()
	i := slices.IndexFunc(l.list, func(x *lookedInto) bool { return x.of == of })
	x := &lookedInto{of: of}
	if i >= 0 {
		x = l.list[i]
		l.list = slices.Delete(l.list, i, i+1)
	}
	l.list = append(l.list, x)
	if len(l.list) > mostLooked {
		l.list = slices.Delete(l.list, 0, 1)
	}
	return x
}
