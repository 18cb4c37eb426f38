// Package server speaks HTTP: it takes JSON in, calls the store and the core,
// and gives JSON out. Nothing is computed here.
package server

import (
	"bytes"
	"cmp"
	"compress/gzip"
	"errors"
	"io"
	"io/fs"
	"log/slog"
	"mime"
	"net/http"
	"path"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/go-chi/chi/v5"

	"steptrace/core/beside"
	"steptrace/internal/door"
	"steptrace/internal/instrument"
	"steptrace/internal/store"
)

// Limits on what a request may bring, in bytes.
const (
	maxBody = 1 << 20 // JSON that a screen sends; a sheet of 2000 points is half of it
	maxFile = 8 << 20 // an imported sheet
	// maxJobFile is for an imported job with its pictures and captures.
	maxJobFile = 512 << 20
)

// Server answers all requests.
type Server struct {
	store   *store.Store
	pages   fs.FS
	letting *letting
	opened  opened

	freshening freshening
	looked     looked
	live       live     // what instruments show of adjustments
	computed   computed // what circuits say of adjustments
	soaks      soaks
	copying    copying
	gate       chan struct{} // of heavy work
	ending     chan struct{} // closed where no more answers are given
	ended      sync.Once

	bench    *instrument.Bench
	practice *practice // nil: without stand-ins
	// Of a server of practice; and the one that the workshop's serves. Nil: there is none.
	training  *trainer
	practised *Server
	feeding   struct { // how the generator was set, by job
		mu       sync.Mutex
		settings map[int]string
	}
}

// New builds a server on a store and the built front end. Beyond tells how it is reached from the network; nil: the machine itself
// alone is served.
func New(s *store.Store, pages fs.FS, beyond *door.Door) *Server {
	out := &Server{
		store: s, pages: pages, letting: newLetting(s, beyond), bench: instrument.NewBench(), gate: newGate(), ending: make(chan struct{}),
	}
	out.feeding.settings = map[int]string{}
	out.copying.restore = make(chan string, 1)
	return out
}

// Close lets go of all instruments.
func (s *Server) Close() {
	s.endSoaks()
	s.bench.Close()
}

// Handler serves the API, whose table of contents is Routes, and the pages.
func (s *Server) Handler() http.Handler {
	r := chi.NewRouter()
	r.Use(usualPace.handler, Recovered, headers, s.ourOwn, s.letIn)
	if s.practised != nil {
		r.Mount(practisePath, s.practisePages())
	}
	r.Route("/api", s.answers)
	r.Handle("/*", s.static())
	return r
}

// answers are the routes of the API.
func (s *Server) answers(r chi.Router) {
	r.NotFound(func(w http.ResponseWriter, r *http.Request) {
		fail(
			w,
			r,
			problem(
				http.StatusNotFound,
				"No such address",
				"The API has nothing at "+r.URL.Path+". docs/api.md lists every route.",
			),
		)
	})
	r.MethodNotAllowed(func(w http.ResponseWriter, r *http.Request) {
		fail(
			w,
			r,
			problem(
				http.StatusMethodNotAllowed,
				"Wrong method",
				r.Method+" does not work on "+r.URL.Path+". docs/api.md lists every route.",
			),
		)
	})

	for _, route := range Routes {
		var h http.Handler = route.handler(s.whose(route))
		if route.Heavy {
			h = s.inTurn(h)
		}
		r.Method(route.Method, route.Path, s.only(route, h))
	}
}

// Recovered turns a panic in a handler, or in what it waited for, into an error for the
// person and a line in the log.
func Recovered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		err := beside.Try(func() { next.ServeHTTP(w, r) })
		var broke *beside.Broke
		if errors.As(err, &broke) && broke.With == http.ErrAbortHandler {
			panic(broke.With) // net/http's own way to break off
		}
		if err != nil {
			fail(w, r, err)
		}
	})
}

func headers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin") // without any, forms would not say where they come from
		h.Set(
			"Content-Security-Policy",
			"default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; "+
				"form-action 'self'",
		)
		next.ServeHTTP(w, r)
	})
}

// static serves the built pages. Files under assets/ carry a hash of their
// content in the name and may be kept for ever.
func (s *Server) static() http.Handler {
	files := http.FileServerFS(s.pages)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method != http.MethodGet && r.Method != http.MethodHead {
			fail(w, r, problem(http.StatusMethodNotAllowed, "Wrong method", "Pages can only be fetched."))
			return
		}
		if strings.HasSuffix(r.URL.Path, "/") && r.URL.Path != "/" { // what a folder has is nobody's concern
			fail(w, r, problem(http.StatusNotFound, "No such address", "There is no page at "+r.URL.Path+"."))
			return
		}
		if strings.HasPrefix(r.URL.Path, "/assets/") {
			w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
		} else {
			w.Header().Set("Cache-Control", "no-cache")
		}
		name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
		if data, err := fs.ReadFile(s.pages, cmp.Or(name, "index.html")+packed); err == nil {
			sendPacked(w, r, cmp.Or(name, "index.html"), data)
			return
		}
		files.ServeHTTP(w, r)
	})
}

// packed is the end of the names of files that were packed (gzip, RFC 1952) when the program was built: it is smaller by them, and nothing
// is packed while somebody waits.
const packed = ".gz"

// sendPacked sends a packed file, unpacked to the few who do not do that themselves.
func sendPacked(w http.ResponseWriter, r *http.Request, name string, data []byte) {
	h := w.Header()
	h.Set("Content-Type", cmp.Or(mime.TypeByExtension(path.Ext(name)), "application/octet-stream"))
	h.Set("Vary", "Accept-Encoding")
	if strings.Contains(r.Header.Get("Accept-Encoding"), "gzip") {
		h.Set("Content-Encoding", "gzip")
		h.Set("Content-Length", strconv.Itoa(len(data)))
		_, _ = w.Write(data) // whoever asked may be gone
		return
	}
	z, err := gzip.NewReader(bytes.NewReader(data))
	if err != nil {
		fail(w, r, err)
		return
	}
	_, _ = io.Copy(w, z) // as above
}

// HTTPServer wraps the handler with time limits, so that a stalled client holds nothing up; bodies and answers have their own (pace.go).
func (s *Server) HTTPServer() *http.Server {
	out := &http.Server{
		Handler:           s.Handler(),
		ReadHeaderTimeout: 5 * time.Second,
		IdleTimeout:       2 * time.Minute,
		ErrorLog:          slog.NewLogLogger(slog.Default().Handler(), slog.LevelWarn),
	}
	out.RegisterOnShutdown(func() { s.ended.Do(func() { close(s.ending) }) })
	return out
}
