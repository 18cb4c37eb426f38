package server

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"net/url"
	"runtime/debug"
	"strconv"

	"github.com/go-chi/chi/v5"

	"steptrace/core/exchange"
	"steptrace/core/mend"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/safety"
	"steptrace/internal/store"
)

// ProblemDetails is an error as RFC 9457 has it. Detail tells a person what to do.
type ProblemDetails struct {
	Type     string        `json:"type"`
	Title    string        `json:"title"`
	Status   int           `json:"status"`
	Detail   string        `json:"detail"`
	At       int           `json:"at,omitempty"`       // the character of a text that could not be read
	Problems []CellProblem `json:"problems,omitempty"` // of a sheet
	err      error         // for the log
}

func (p *ProblemDetails) Error() string { return p.Detail }

func problem(status int, title, detail string) *ProblemDetails {
	return &ProblemDetails{Type: "about:blank", Title: title, Status: status, Detail: detail}
}

// asProblem turns any error into one a person can act on.
func asProblem(err error) *ProblemDetails {
	var p *ProblemDetails
	var parse *quantity.ParseError
	var point *reading.UnknownPoint
	var file *exchange.FileError
	var large *http.MaxBytesError
	if t := troubled(err); t != nil {
		return t
	}
	switch {
	case errors.As(err, &p):
		return p
	case errors.As(err, &large):
		return problem(
			http.StatusRequestEntityTooLarge,
			"Too large",
			fmt.Sprintf("More than %d kB arrived. Split the file, or leave out what does not belong to it.", large.Limit>>10),
		)
	case errors.As(err, &parse):
		p = problem(http.StatusUnprocessableEntity, "Not understood", err.Error())
		p.At = parse.At
		return p
	case errors.As(err, &point):
		return problem(http.StatusUnprocessableEntity, "Unknown point", err.Error())
	case errors.As(err, &file):
		return problem(http.StatusUnprocessableEntity, "File not understood", err.Error()+". Nothing was taken over.")
	case asA[*safety.Doubt](err):
		return problem(http.StatusConflict, "To be confirmed", err.Error())
	case mend.Is(err):
		return problem(http.StatusUnprocessableEntity, "Not taken down", mend.Sentence(err.Error()))
	case errors.Is(err, store.ErrNotFound):
		return problem(http.StatusNotFound, "Not found", "There is no such entry. It may have another number: look on the shelf.")
	case errors.Is(err, store.ErrStale):
		return problem(
			http.StatusConflict,
			"Changed in between",
			"The sheet was saved elsewhere, perhaps in another tab. Load it again, then repeat the change; what you typed stays on the "+
				"screen.",
		)
	case errors.Is(err, store.ErrFull):
		return problem(http.StatusConflict, "Full", "200 pictures are kept with one sheet. Replace one of them by the new one.")
	case errors.Is(err, store.ErrFinished):
		return problem(http.StatusConflict, "Job is finished", "A finished job takes no changes. Put it back on the bench first.")
	case errors.Is(err, store.ErrTaken):
		return problem(
			http.StatusConflict,
			"Id is taken",
			"Another reading of this job has this id. Send the reading with an id of its own.",
		)
	}
	if text := store.Explain(err); text != "" {
		p = problem(http.StatusInternalServerError, "The disk", text)
		p.err = err
		return p
	}
	p = problem(
		http.StatusInternalServerError,
		"Something broke",
		"Step Trace could not do this; the reason is in its log. What was confirmed before is safe. Try again.",
	)
	p.err = err
	return p
}

// asA tells whether an error is, or wraps, one of a type.
func asA[E error](err error) bool {
	var e E
	return errors.As(err, &e)
}

func fail(w http.ResponseWriter, r *http.Request, err error) {
	p := asProblem(err)
	if p.err != nil && r.Context().Err() == nil { // nobody waits for an answer that was called off
		slog.Error("request failed", "method", r.Method, "path", r.URL.Path, "error", p.err)
	}
	w.Header().Set("Content-Type", "application/problem+json")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(p.Status)
	_ = json.NewEncoder(w).Encode(p) // the client may be gone; there is nobody to tell
}

// send writes an answer. It is encoded before the first byte goes out, so that
// an answer is whole or an error; lists in it are never null.
func send(w http.ResponseWriter, r *http.Request, v any) {
	data, err := json.Marshal(exchange.Whole(v))
	if err != nil {
		fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "application/json")
	w.Header().Set("Cache-Control", "no-store")
	_, _ = w.Write(data) // as above
}

// mostAtOnce is for how much room is made at once, on the sender's word for its length.
const mostAtOnce = 64 << 20

// long is a body for which room is made by giving back what is not used.
const long = 8 << 20

// body reads what arrives, up to a limit.
func body(w http.ResponseWriter, r *http.Request, limit int64) ([]byte, error) {
	var data bytes.Buffer
	if n := min(r.ContentLength, limit, mostAtOnce); n > 0 {
		if n > long {
			debug.FreeOSMemory() // what the one before took is not needed any more
		}
		data.Grow(int(n) + bytes.MinRead)
	}
	_, err := data.ReadFrom(http.MaxBytesReader(w, r.Body, limit))
	var large *http.MaxBytesError
	if errors.Is(err, errSlow) {
		return nil, problem(
			http.StatusRequestTimeout,
			"Too slow",
			"It came too slowly, and was left. Send it again; nothing was taken over.",
		)
	}
	if err != nil && !errors.As(err, &large) {
		return nil, problem(
			http.StatusBadRequest,
			"Cut off",
			"The request broke off in the middle. Send it again; nothing was taken over.",
		)
	}
	if err == nil {
		err = take(r.Context())
	}
	return data.Bytes(), err
}

// param is a part of the address as it was meant: an id may have a slash in it, which comes escaped.
func param(r *http.Request, name string) string {
	text := chi.URLParam(r, name)
	if plain, err := url.PathUnescape(text); err == nil && r.URL.RawPath != "" {
		return plain
	}
	return text
}

// intParam reads a number from the address.
func intParam(r *http.Request, name string) (int, error) {
	n, err := strconv.Atoi(param(r, name))
	if err != nil {
		return 0, problem(
			http.StatusNotFound,
			"Not found",
			fmt.Sprintf("%q is not a number. Look on the shelf.", param(r, name)),
		)
	}
	return n, nil
}

// attach sends a file to be saved.
func attach(w http.ResponseWriter, kind, name string, data []byte) {
	w.Header().Set("Content-Type", kind)
	w.Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", name))
	w.Header().Set("Cache-Control", "no-store")
	_, _ = w.Write(data) // the client may be gone
}
