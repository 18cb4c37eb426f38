package server

import (
	"errors"
	"io"
	"net/http"
	"os"
	"time"
)

// A large file over a slow network is let take its time, as long as it keeps coming. Who sends so little that a connection is held for
// nothing is left.
type pacing struct {
	stall time.Duration // the longest time in which nothing arrives
	grace time.Duration // before the pace counts
	least float64       // bytes a second, on the whole
}

var usualPace = pacing{stall: 30 * time.Second, grace: 20 * time.Second, least: 8 << 10}

const piece = 64 << 10 // bytes that go out at once

// pace counts what went over a connection since its beginning.
type pace struct {
	pacing
	began time.Time
	bytes int64
}

// slow tells whether too little went over.
func (p *pace) slow(now time.Time) bool {
	d := now.Sub(p.began)
	return d > p.grace && float64(p.bytes) < p.least*(d-p.grace).Seconds()
}

var errSlow = errors.New("too slow")

// handler gives each request and each answer the time that they need.
func (p pacing) handler(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		c := http.NewResponseController(w)
		if r.Body != nil && r.Body != http.NoBody {
			r.Body = &pacedBody{ReadCloser: r.Body, control: c, pace: pace{pacing: p, began: time.Now()}}
		}
		next.ServeHTTP(&pacedWriter{ResponseWriter: w, control: c, pace: pace{pacing: p}}, r)
	})
}

type pacedBody struct {
	io.ReadCloser
	control *http.ResponseController
	pace    pace
}

func (b *pacedBody) Read(data []byte) (int, error) {
	// Where a connection takes no deadlines (a test without one), there is nothing to be held.
	_ = b.control.SetReadDeadline(time.Now().Add(b.pace.stall))
	n, err := b.ReadCloser.Read(data)
	b.pace.bytes += int64(n)
	switch {
	case err == io.EOF:
		_ = b.control.SetReadDeadline(time.Time{}) // all is here
	case errors.Is(err, os.ErrDeadlineExceeded):
		err = errSlow
	case err == nil && b.pace.slow(time.Now()):
		err = errSlow
		_ = b.control.SetReadDeadline(time.Now()) // nor is the rest waited for
	}
	return n, err
}

type pacedWriter struct {
	http.ResponseWriter
	control *http.ResponseController
	pace    pace
}

// Unwrap is for http.ResponseController.
func (w *pacedWriter) Unwrap() http.ResponseWriter { return w.ResponseWriter }

func (w *pacedWriter) Write(data []byte) (written int, err error) {
	if w.pace.began.IsZero() {
		w.pace.began = time.Now()
	}
	for more := true; more && err == nil; more = len(data) > 0 {
		part := data[:min(len(data), piece)]
		data = data[len(part):]
		_ = w.control.SetWriteDeadline(time.Now().Add(w.pace.stall))
		var n int
		n, err = w.ResponseWriter.Write(part)
		written += n
		w.pace.bytes += int64(n)
		if err == nil && len(data) > 0 && w.pace.slow(time.Now()) {
			err = errSlow
		}
	}
	return written, err
}
