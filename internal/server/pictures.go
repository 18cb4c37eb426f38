package server

import (
	"net/http"
	"strconv"
	"strings"
	"time"

	"steptrace/core/job"
	"steptrace/internal/picture"
)

// Kept is the id of a picture that was taken in.
type Kept struct {
	ID string `json:"id"`
}

// addPicture takes a picture as the body. The address carries its id, made by
// the sender, and the step it is of, if any: of the way apart, or of the replacing.
func (s *Server) addPicture(w http.ResponseWriter, r *http.Request) (Kept, error) {
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
	files, err := pictureFiles(data)
	if err != nil {
		return Kept{}, err
	}
	p := job.Picture{ID: id, Step: r.URL.Query().Get("step"), Work: r.URL.Query().Get("work"), Taken: time.Now()}
	return Kept{id}, s.note(r, number, &p, files)
}

func (s *Server) picture(w http.ResponseWriter, r *http.Request) error {
	number, err := intParam(r, "number")
	if err != nil {
		return err
	}
	data, err := s.store.PictureData(r.Context(), number, param(r, "id"), strings.HasSuffix(r.URL.Path, "/preview"))
	if err != nil {
		return err
	}
	keepable(w, http.DetectContentType(data), picture.Bare(data)) // it may be of before pictures were bared on entry
	return nil
}

// keepable sends a file whose address never means another one.
func keepable(w http.ResponseWriter, kind string, data []byte) {
	w.Header().Set("Content-Type", kind)
	w.Header().Set("Cache-Control", "private, max-age=31536000, immutable")
	w.Header().Set("Content-Length", strconv.Itoa(len(data)))
	_, _ = w.Write(data) // the client may be gone
}

func (s *Server) struckPicture(r *http.Request) (Kept, error) {
	return Kept{param(r, "id")}, nil
}
