package server

import (
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"testing/synctest"
	"time"
)

// Only so many are at heavy work at once; who comes beyond waits, is served when a turn is free, and is told that others are at work when
// none is; whoever goes away meanwhile holds nothing.
func TestHeavyWorkIsDoneInTurn(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		s := &Server{gate: make(chan struct{}, 2)}
		var mu sync.Mutex
		now, most := 0, 0
		work := time.Second
		h := s.inTurn(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if _, err := body(w, r, maxBody); err != nil {
				fail(w, r, err)
				return
			}
			mu.Lock()
			now++
			most = max(most, now)
			mu.Unlock()
			time.Sleep(work)
			mu.Lock()
			now--
			mu.Unlock()
			_, _ = io.WriteString(w, "done")
		}))
		ask := func() *httptest.ResponseRecorder {
			rec := httptest.NewRecorder()
			h.ServeHTTP(rec, httptest.NewRequest("POST", "/", strings.NewReader("x")))
			return rec
		}
		all := func(n int) (done, busy int) {
			var each sync.WaitGroup
			for range n {
				each.Go(func() {
					rec := ask()
					mu.Lock()
					defer mu.Unlock()
					switch {
					case rec.Code == http.StatusOK:
						done++
					case rec.Code == http.StatusServiceUnavailable && strings.Contains(rec.Body.String(), "one moment"):
						busy++
					default:
						t.Errorf("%d %s", rec.Code, rec.Body)
					}
				})
			}
			each.Wait()
			return done, busy
		}
		if done, busy := all(10); done != 10 || busy != 0 || most != 2 {
			t.Errorf("%d done, %d told to wait, %d at once", done, busy, most)
		}
		work = patience + time.Second
		if done, busy := all(5); done != 2 || busy != 3 {
			t.Errorf("%d done, %d told to wait", done, busy)
		}
		work = 0
		if done, _ := all(3); done != 3 || len(s.gate) != 0 {
			t.Errorf("%d done, %d turns are held", done, len(s.gate))
		}
	})
}
