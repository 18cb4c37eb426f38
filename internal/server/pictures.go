package server

import (
	"io"
	"net/http"
	"strconv"
	"time"

	"github.com/go-chi/chi/v5"

	"steptrace/internal/picture"
	"steptrace/internal/store"
)

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
