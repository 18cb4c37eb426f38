package server_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"steptrace/demo"
	"steptrace/internal/server"
	"steptrace/internal/store"
)

// Every route that takes something, with what docs/api.md shows and what becomes of that: an answer, or a refusal that says what to do.
func FuzzRoutes(f *testing.F) {
	blocks := fences(f, "../../docs/api.md")
	for _, b := range blocks {
		if b.info != "http" {
			continue
		}
		head, body, _ := strings.Cut(b.text, "\n\n")
		head, _, _ = strings.Cut(head, "\n")
		if method, path, _ := strings.Cut(head, " "); method != http.MethodGet {
			f.Add(method, path, []byte(body))
		}
	}
	for _, r := range server.Routes {
		if r.Method != http.MethodGet {
			f.Add(r.Method, of(r.Path), []byte("{}"))
		}
	}
	db, err := store.Open(context.Background(), filepath.Join(f.TempDir(), "w.db"))
	if err != nil {
		f.Fatal(err)
	}
	defer func() { _ = db.Close() }()
	s := server.New(db, fstest.MapFS{}, nil)
	defer s.Close()
	if err := demo.Fill(context.Background(), s); err != nil {
		f.Fatal(err)
	}
	h := s.Handler()
	f.Fuzz(func(t *testing.T, method, path string, body []byte) {
		if !strings.HasPrefix(path, "/api/") || strings.ContainsAny(path, " \r\n\x00") || method == "" || len(body) > 1<<16 {
			return
		}
		ctx, cancel := context.WithTimeout(context.Background(), 2*time.Second)
		defer cancel()
		r, err := http.NewRequestWithContext(ctx, method, "http://127.0.0.1"+path, strings.NewReader(string(body)))
		if err != nil || r.URL.Path != path && r.URL.RawQuery == "" {
			return
		}
		r.RemoteAddr = "127.0.0.1:40000"
		rec := httptest.NewRecorder()
		h.ServeHTTP(rec, r)
		if rec.Code == http.StatusInternalServerError && ctx.Err() == nil {
			t.Fatalf("%s %s %q: %s", method, path, body, rec.Body)
		}
	})
}
