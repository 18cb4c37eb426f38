package store

import (
	"context"
	"database/sql"
	"errors"
	"sync"

	"github.com/google/uuid"
)

// Sender is who sends something: their initials, and the page it comes from.
type Sender struct{ Who, Page string }

type senderKey struct{}

// From says in a context who sends what is kept under it.
func From(ctx context.Context, by Sender) context.Context {
	return context.WithValue(ctx, senderKey{}, by)
}

func sender(ctx context.Context) Sender {
	by, _ := ctx.Value(senderKey{}).(Sender)
	return by
}

// Touched is a change that was kept: of a job, or of a sheet (its pictures included), and the page it came from.
type Touched struct {
	Job   int
	Sheet int64
	Page  string
}

// followers are told of changes.
type followers struct {
	mu   sync.Mutex
	next int
	of   map[int]func(Touched)
}

// Follow has f told of each change once it is kept, until it is let go. F is called by whoever made the change, so it must not wait.
func (s *Store) Follow(f func(Touched)) (letGo func()) {
	s.followers.mu.Lock()
	defer s.followers.mu.Unlock()
	if s.followers.of == nil {
		s.followers.of = map[int]func(Touched){}
	}
	s.followers.next++
	key := s.followers.next
	s.followers.of[key] = f
	return func() {
		s.followers.mu.Lock()
		defer s.followers.mu.Unlock()
		delete(s.followers.of, key)
	}
}

func (f *followers) tell(all []Touched) {
	f.mu.Lock()
	defer f.mu.Unlock()
	for _, t := range all {
		for _, each := range f.of {
			each(t)
		}
	}
}

// touched notes in a transaction what it changes; of what a migration does nobody is told.
func touched(ctx context.Context, tx runner, t Touched) {
	if x, ok := tx.(*txn); ok {
		t.Page = sender(ctx).Page
		x.touched = append(x.touched, t)
	}
}

type sentKey struct{}

// Under says in a context under which id of its sender's a job or a sheet is added: what has it already is not added again.
func Under(ctx context.Context, id string) context.Context {
	return context.WithValue(ctx, sentKey{}, id)
}

// under is that id; another where nothing is said.
func under(ctx context.Context) string {
	if id, _ := ctx.Value(sentKey{}).(string); id != "" {
		return id
	}
	return uuid.NewString()
}

// numbered gives the number (of a job) or the id (of a sheet) of what was added under an id; 0 where nothing was.
func numbered(ctx context.Context, tx runner, query, id string) (n int64, err error) {
	err = tx.QueryRowContext(ctx, query, id).Scan(&n)
	if errors.Is(err, sql.ErrNoRows) {
		err = nil
	}
	return n, err
}
