package server_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"steptrace/core/beside"
	"steptrace/internal/server"
)

// A recording of anything, however absurd, is refused in words or kept and shown; it
// never breaks anything, and the list of captures stays whole.
func TestAbsurdRecordingsAreRefusedOrShown(t *testing.T) {
	w := open(t)
	for _, c := range []struct{ text, says string }{
		{"time,CH1 (V)\n0,1\n0.001,1e308\n0.002,-1e308\n", "line 3: sample 2 of CH1 is 1e+308 V"},
		{"time,CH1 (V)\n0,1\n\n0.001,2\n0.002,1e155\n", "line 5: sample 3"},
		{"time,CH1 (V)\n0,1e200\n0.001,1\n", "line 2: sample 1"},
		{"1e9\n1\n2\n", "line 1: sample 1"},
		{"time,CH1 (V)\n0,1\n1e-308,2\n2e-308,3\n", "cannot be"},
		{"time,CH1 (V)\n0,1\n1e300,2\n2e300,3\n", "cannot be"},
	} {
		q := url.Values{"id": {"refused"}, "point": {"Q206 c"}, "interval": {"1 ms"}}
		if strings.Contains(c.text, "time") {
			q.Del("interval")
		}
		status, detail := w.detail("POST", "/api/jobs/142/captures?"+q.Encode(), c.text)
		if status != http.StatusUnprocessableEntity || !strings.Contains(detail, c.says) {
			t.Errorf("%.40q: %d %q, want %q", c.text, status, detail, c.says)
		}
	}
	rng := rand.New(rand.NewPCG(12, 1))
	size := func() float64 { return math.Pow(10, 40*rng.Float64()-25) }
	kept := 0
	for n := range 400 {
		count, step := 2+rng.IntN(1+1<<rng.IntN(11)), math.Pow(10, 20*rng.Float64()-13)
		scale, offset, kind := size(), 0.0, rng.IntN(6)
		if rng.IntN(3) == 0 {
			offset = size()
		}
		var b strings.Builder
		b.WriteString("time,CH1 (V),CH2 (V)\n")
		for i := range count {
			x := float64(i) / float64(count)
			v := 0.0
			switch kind {
			case 0:
				v = math.Sin(2 * math.Pi * 7 * x)
			case 1:
				v = float64(i % 2)
			case 2:
				v = rng.NormFloat64()
			case 3:
				if i == count/2 {
					v = 1
				}
			case 4:
				v = math.Exp(-5 * x)
			}
			fmt.Fprintf(&b, "%.17g,%.17g,%.17g\n", step*float64(i), scale*v+offset, offset-scale*v*size())
		}
		id := fmt.Sprint("c", n)
		status, data := w.call(
			"POST",
			"/api/jobs/142/captures?"+url.Values{"id": {id}, "name": {"x.csv"}, "point": {"Q206 c", "Q106 c"}}.Encode(),
			b.String(),
		)
		if status != http.StatusOK && status != http.StatusUnprocessableEntity {
			t.Fatalf("recording %d: %d %s", n, status, data)
		}
		if status != http.StatusOK {
			continue
		}
		kept++
		for _, path := range []string{"", "/strip?from=0&to=1", "/stretch?a=0&b=0.5", "?channel=1"} {
			if status, data := w.call("GET", "/api/jobs/142/captures/"+id+path, ""); status >= http.StatusInternalServerError {
				t.Fatalf("recording %d, %s: %d %s", n, path, status, data)
			}
		}
	}
	if v := ask[server.CapturesView](w, "GET", "/api/jobs/142/captures", nil); len(v.Captures) != kept || kept < 50 {
		t.Errorf("%d of %d kept are listed", len(v.Captures), kept)
	}
	if status, _ := w.call("GET", "/api/jobs/142/inside/wave?stage=Q204+make-up", ""); status != http.StatusOK {
		t.Errorf("the wave inside: %d", status)
	}
}

// A panic while a request is answered is an error for whoever asked, and for no one else.
func TestAPanicIsAnAnswer(t *testing.T) {
	w := empty(t)
	w.handler = server.Recovered(http.HandlerFunc(func(http.ResponseWriter, *http.Request) {
		var work beside.Work
		work.Go(func() { panic("a mistake") })
		work.Wait()
	}))
	if status, detail := w.detail("GET", "/api/jobs", ""); status != http.StatusInternalServerError ||
		!strings.Contains(detail, "What was confirmed before is safe") {
		t.Errorf("%d %s", status, detail)
	}
}

// What lies in the folder of the scripts is served by name, and listed to nobody.
func TestFoldersAreNotListed(t *testing.T) {
	w := empty(t)
	for path, want := range map[string]int{"/": http.StatusOK, "/assets/a.js": http.StatusOK, "/assets/": http.StatusNotFound} {
		if code, body := w.call("GET", path, ""); code != want || want == http.StatusNotFound && strings.Contains(string(body), "a.js") {
			t.Errorf("%s: %d %s", path, code, body)
		}
	}
}

// An entry whose id has a slash, a blank or a percent sign in it is found by its address.
func TestIdsOfAnySigns(t *testing.T) {
	w := open(t)
	for _, id := range []string{"a/b", "50%", "a b", "ä%2Fb", "..", "a?b"} {
		ask[server.WaitsView](w, "POST", "/api/jobs/147/waits", map[string]any{
			"id": id, "at": "2026-11-28T09:00:00Z", "wait": map[string]string{"for": "other", "what": id},
		})
		v := ask[server.WaitsView](w, "POST", "/api/jobs/147/waits/"+url.PathEscape(id)+"/strike", map[string]string{})
		if n := len(v.Waits); n == 0 || !v.Waits[n-1].Struck || v.Waits[n-1].ID != id {
			t.Errorf("%q is not struck out: %+v", id, v.Waits)
		}
	}
}
