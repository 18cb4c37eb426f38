package server

import (
	"fmt"
	"net/http"
	"time"

	"steptrace/internal/store"
)

// Several benches: a page that shows a job is told when another has changed it (server-sent events, HTML standard, section 9.2).

// heartbeat is how often a word goes out where nothing happens, so that whoever is gone is noticed.
const heartbeat = 15 * time.Second

// following is how many changes wait for a page at most; it loads the whole anew, so that more do not matter.
const following = 16

// changes tells of each change of a job, or of its sheet, that another page made.
func (s *Server) changes(w http.ResponseWriter, r *http.Request) error {
	j, err := load(r, s.store.Job)
	if err != nil {
		return err
	}
	page := r.URL.Query().Get("page")
	came := make(chan struct{}, following)
	letGo := s.store.Follow(func(t store.Touched) {
		if (t.Job == j.Number || t.Sheet != 0 && t.Sheet == j.Sheet.ID) && (t.Page == "" || t.Page != page) {
			select {
			case came <- struct{}{}:
			default: // it will look anyway
			}
		}
	})
	defer letGo()
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("Cache-Control", "no-store")
	w.Header().Set("X-Accel-Buffering", "no")
	control := http.NewResponseController(w)
	beat := time.NewTicker(heartbeat)
	defer beat.Stop()
	for say := ": here\n\n"; ; {
		if _, err := fmt.Fprint(w, say); err != nil {
			return nil // whoever asked is gone
		}
		if err := control.Flush(); err != nil {
			return nil
		}
		select {
		case <-came:
			say = "data: changed\n\n"
		case <-beat.C:
			if d := deviceOf(r); d != nil {
				if _, err := s.device(r); err != nil {
					return nil // it was sent out meanwhile
				}
			}
			say = ": here\n\n"
		case <-r.Context().Done():
			return nil
		case <-s.ending:
			return nil
		}
	}
}
