package server

import (
	"cmp"
	"context"
	"errors"
	"log/slog"
	"net/http"
	"sync"
	"time"

	"steptrace/core/mend"
	"steptrace/internal/store"
)

// copying is how the copies of the database stand.
type copying struct {
	copies  *store.Copies // nil: none are made
	making  sync.Mutex    // held while one is made: one at a time
	restore chan string

	mu      sync.Mutex
	trouble string // why the last one was not made; empty where it was
	damage  string // what a look through the database found; empty where it is whole, or was not looked through yet
}

// When copies are made.
const (
	copyEvery = 24 * time.Hour
	copyLook  = 10 * time.Minute
)

// CopiesView is how the copies of the database stand. Says is a line of it; Loud: it is not as it should be.
type CopiesView struct {
	Folder string      `json:"folder"` // empty: none are made
	Keep   int         `json:"keep"`
	List   []CopyShown `json:"list"` // the latest first
	Says   string      `json:"says"`
	Loud   bool        `json:"loud"`
}

// CopyShown is one of them.
type CopyShown struct {
	Name  string    `json:"name"`
	At    time.Time `json:"at"`
	Bytes int64     `json:"bytes"`
}

// KeepCopies says where copies of the database are kept, before anything is asked.
func (s *Server) KeepCopies(copies *store.Copies) { s.copying.copies = copies }

// Copy has them made, one now where the last is a day old, and from then on daily, until the context ends. It also looks
// through the database once, for damage that does not show by itself.
func (s *Server) Copy(ctx context.Context) {
	s.lookThrough(ctx)
	look := time.NewTicker(copyLook)
	defer look.Stop()
	for {
		if list, err := s.copying.copies.List(); err != nil || len(list) == 0 || time.Since(list[0].At) >= copyEvery {
			s.copyNow(ctx)
		}
		select {
		case <-ctx.Done():
			return
		case <-look.C:
		}
	}
}

// lookThrough looks for damage.
func (s *Server) lookThrough(ctx context.Context) {
	err := s.store.Check(ctx)
	if err == nil || ctx.Err() != nil {
		return
	}
	slog.Error("the database is damaged", "error", err)
	s.copying.mu.Lock()
	defer s.copying.mu.Unlock()
	s.copying.damage = err.Error()
}

// copyNow makes a copy; what does not work is told.
func (s *Server) copyNow(ctx context.Context) {
	c := &s.copying
	c.making.Lock()
	defer c.making.Unlock()
	_, err := c.copies.Make(ctx, s.store)
	if ctx.Err() != nil {
		return // the program ends, or nobody waits for it any more
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	c.trouble = ""
	if err != nil {
		slog.Error("no copy was made", "error", err)
		c.trouble = cmp.Or(store.Explain(err), err.Error())
	}
}

func (s *Server) seeCopies(*http.Request) (CopiesView, error) {
	c := &s.copying
	if c.copies == nil {
		return CopiesView{List: []CopyShown{}, Says: "No copies are made.", Loud: true}, nil
	}
	v := CopiesView{Folder: c.copies.Folder, Keep: c.copies.Keep, List: []CopyShown{}}
	list, err := c.copies.List()
	for _, x := range list {
		v.List = append(v.List, CopyShown(x))
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	switch {
	case c.damage != "":
		v.Says, v.Loud = "The database is damaged: "+c.damage+". Put a copy back from before.", true
	case err != nil:
		v.Says, v.Loud = "The folder of the copies cannot be read: "+err.Error(), true
	case c.trouble != "":
		v.Says, v.Loud = mend.Sentence("No copy was made: "+c.trouble), true
	case len(list) == 0:
		v.Says = "No copy was made yet."
	default:
		v.Says, v.Loud = list[0].Says(time.Now())
	}
	return v, nil
}

func (s *Server) makeCopy(r *http.Request, _ Nothing) (CopiesView, error) {
	if s.copying.copies == nil {
		return CopiesView{}, problem(http.StatusConflict, "No copies", "This program was started without a folder for copies.")
	}
	s.copyNow(r.Context())
	return s.seeCopies(r)
}

// Restored names a copy.
type Restored struct {
	Name string `json:"name"`
}

// Restoring gives the copy that is to be put back, by its path: the program has to let go of the database for it.
func (s *Server) Restoring() <-chan string { return s.copying.restore }

// restoreCopy has a copy put back in the place of the database. It is examined first; the program then begins anew with it.
func (s *Server) restoreCopy(r *http.Request, req Restored) (Restored, error) {
	c := s.copying.copies
	if c == nil {
		return Restored{}, problem(http.StatusConflict, "No copies", "This program was started without a folder for copies.")
	}
	path, err := c.Path(req.Name)
	if errors.Is(err, store.ErrNotFound) {
		return Restored{}, problem(http.StatusNotFound, "No such copy", "That copy is not there any more. Choose another.")
	}
	if err == nil {
		err = store.Sound(r.Context(), path)
	}
	if err != nil {
		return Restored{}, err
	}
	select {
	case s.copying.restore <- path:
	default:
		return Restored{}, problem(http.StatusConflict, "Under way", "A copy is being put back already.")
	}
	return req, nil
}
