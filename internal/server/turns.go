package server

import (
	"context"
	"net/http"
	"runtime"
	"time"
)

// Heavy work, such as reading a file of a hundred megabytes or ranking the faults of a circuit, is done a few at a time: what comes
// beyond waits for its turn, and is told so where that does not come soon. A turn begins when all has arrived, so that a slow sender
// keeps nobody waiting.

// patience is how long something waits for its turn.
const patience = 20 * time.Second

type turnKey struct{}

// turn is that of one question.
type turn struct {
	gate chan struct{}
	held bool
}

// gate is how many are at work at once.
func newGate() chan struct{} { return make(chan struct{}, max(2, runtime.NumCPU())) }

// inTurn has what a handler does wait for its turn, once it has read what arrived.
func (s *Server) inTurn(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		t := &turn{gate: s.gate}
		defer func() {
			if t.held {
				<-t.gate
			}
		}()
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), turnKey{}, t)))
	})
}

// take waits for the turn of a question that has one.
func take(ctx context.Context) error {
	t, ok := ctx.Value(turnKey{}).(*turn)
	if !ok || t.held {
		return nil
	}
	late := time.NewTimer(patience)
	defer late.Stop()
	select {
	case t.gate <- struct{}{}:
		t.held = true
		return nil
	case <-ctx.Done():
		return ctx.Err()
	case <-late.C:
		return problem(
			http.StatusServiceUnavailable,
			"Busy",
			"Other work is under way: one moment, then send it again. Nothing was taken over.",
		)
	}
}
