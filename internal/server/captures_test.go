package server_test

import (
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"steptrace/core/job"
	"steptrace/core/reading"
	"steptrace/core/wave"
	"steptrace/internal/server"
)

// table writes a sine as a scope would, clipped on top where that is above zero.
func table(rms, hz, top float64) string {
	var b strings.Builder
	b.WriteString("time,CH1 (V)\n")
	for i := range 8000 {
		v := rms * math.Sqrt2 * math.Sin(2*math.Pi*hz*float64(i)/50e3+0.7)
		if top > 0 {
			v = min(v, top)
		}
		fmt.Fprintf(&b, "%.6f,%.6f\n", float64(i)/50e3, v)
	}
	return b.String()
}

func keep(w *workshop, number int, id, point, text string) {
	w.t.Helper()
	conditions, _ := json.Marshal(server.Conditions{Route: "tape|J2-4|J7-2", Instrument: "scope10"})
	q := url.Values{"id": {id}, "name": {"scope.csv"}, "point": {point}, "conditions": {string(conditions)}}
	if status, data := w.call("POST", fmt.Sprintf("/api/jobs/%d/captures?%s", number, q.Encode()), text); status != http.StatusOK {
		w.t.Fatalf("%d %s", status, data)
	}
}

// A kept capture is compared with the sheet first; with the twin's, an earlier one and a
// good one of another job of the model where that is chosen; its defect is named.
func TestCapturesAreComparedWithWhatThereIs(t *testing.T) {
	w := open(t)
	keep(w, 142, "a", "Q206 c", table(1.26, 1000, 1.1))
	keep(w, 142, "twin", "Q106 c", table(1.26, 1000, 0))
	keep(w, 142, "later", "Q206 c", table(0.5, 1000, 0))
	seen := ask[server.Seen](w, "GET", "/api/jobs/142/captures/a", nil)
	if seen.Reference != "sheet" || seen.Comparison.Defects[0].Kind != wave.ClippedTop ||
		!strings.Contains(seen.Against, "a sine of 3.56 Vpp, 1 kHz") {
		t.Errorf("%s: %+v", seen.Against, seen.Comparison)
	}
	names := map[string]string{}
	for _, r := range seen.References {
		names[r.Key] = r.Name
	}
	if !strings.HasPrefix(names["142/twin/0"], "twin Q106 c") || !strings.HasPrefix(names["142/later/0"], "earlier at Q206 c") ||
		len(names) != 3 {
		t.Errorf("%v", names)
	}
	if seen := ask[server.Seen](w, "GET", "/api/jobs/142/captures/a?against=142/twin/0", nil); seen.Comparison == nil ||
		seen.Comparison.Defects[0].Kind != wave.ClippedTop {
		t.Errorf("against the twin: %+v", seen.Comparison)
	}
	if seen := ask[server.Seen](w, "GET", "/api/jobs/142/captures/later?against=142/twin/0", nil); seen.Comparison == nil ||
		seen.Comparison.Defects[0].Kind != wave.LowLevel ||
		math.Abs(seen.Comparison.GainDB+8.03) > 0.05 {
		t.Errorf("0.5 V against the twin's 1.26 V: %+v", seen.Comparison)
	}
	if seen := ask[server.Seen](w, "GET", "/api/jobs/142/captures/later?against=described&shape=square&level=1Vpp&frequency=1kHz",
		nil); seen.Comparison == nil ||
		!strings.Contains(seen.Against, "a square of 1 Vpp, 1 kHz") {
		t.Errorf("%s: %+v", seen.Against, seen.Comparison)
	}
	if seen := ask[server.Seen](w, "GET", "/api/jobs/142/captures/a?against=none", nil); seen.Comparison != nil {
		t.Error("compared with nothing, there is a comparison")
	}
	// A good one of this model serves another job.
	ask[server.CapturesView](w, "POST", "/api/jobs/142/captures/twin/good", server.GoodCapture{Good: true})
	sheetID := ask[server.JobView](w, "GET", "/api/jobs/142", nil).SheetID
	number := ask[server.Opened](w, "POST", "/api/jobs", server.NewJob{Sheet: sheetID, Complaint: "weak"}).Number
	keep(w, number, "x", "Q106 c", table(0.2, 1000, 0))
	other := ask[server.Seen](w, "GET", fmt.Sprintf("/api/jobs/%d/captures/x?against=142/twin/0", number), nil)
	if other.Comparison == nil || other.Comparison.Defects[0].Kind != wave.LowLevel ||
		!strings.Contains(other.Against, "good capture at Q106 c") ||
		!strings.HasSuffix(other.Against, ", job 142") {
		t.Errorf("%s: %+v", other.Against, other.Comparison)
	}
	// One that was taken out is no reference any more.
	ask[server.CapturesView](w, "POST", "/api/jobs/142/captures/twin/strike", struct{}{})
	if status, says := w.detail("GET", "/api/jobs/142/captures/a?against=142/twin/0", ""); status != http.StatusUnprocessableEntity ||
		!strings.Contains(says, "pick another") {
		t.Errorf("%d %s", status, says)
	}
}

// A capture is drawn as it is at any width: what is due lies where the capture is, and
// the least and the greatest of every part are there.
func TestCapturesAreCutOut(t *testing.T) {
	w := open(t)
	keep(w, 142, "a", "Q206 c", table(1.26, 1000, 0))
	for _, x := range []struct{ from, to, parts string }{{"0", "0.16", "100"}, {"10ms", "12ms", "500"}, {"0.1", "0.1", "5"}, {"-5", "99",
		"4000"}} {
		s := ask[server.Strip](w, "GET", "/api/jobs/142/captures/a/strip?from="+x.from+"&to="+x.to+"&parts="+x.parts, nil)
		if len(s.Low) == 0 || len(s.Low) != len(s.High) || len(s.DueLow) != len(s.Low) || len(s.LeftLow) != len(s.Low) {
			t.Fatalf("%+v: %d %d %d", x, len(s.Low), len(s.DueLow), len(s.LeftLow))
		}
		for i := range s.Low {
			// ±2 dB about what is there: it lies within, but for where it crosses its middle.
			if s.Low[i] > s.High[i] || s.DueLow[i] > s.High[i]+0.02 || s.DueHigh[i] < s.Low[i]-0.02 || math.Abs(s.LeftLow[i]) > 0.01 {
				t.Fatalf(
					"part %d of %+v: %g to %g, due %g to %g, left %g",
					i,
					x,
					s.Low[i],
					s.High[i],
					s.DueLow[i],
					s.DueHigh[i],
					s.LeftLow[i],
				)
			}
		}
	}
	if status, says := w.detail("GET", "/api/jobs/142/captures/a/strip?from=soon", ""); status != http.StatusUnprocessableEntity ||
		!strings.Contains(says, "from") {
		t.Errorf("%d %s", status, says)
	}
	if status, _ := w.detail("GET", "/api/jobs/142/captures/a?channel=7", ""); status != http.StatusUnprocessableEntity {
		t.Errorf("channel 7: %d", status)
	}
}

// Nothing is kept of what cannot be read; the same capture sent twice is kept once; the
// job's file brings captures along, byte for byte.
func TestCapturesAreKeptWholeOrNotAtAll(t *testing.T) {
	w := open(t)
	for text, says := range map[string]string{"": "empty", "PK\x03\x04zip": "zip archive", "\xff\xfea\x00": "UTF-16",
		"time,v\n0,1\n1,OL\n2,3\n": "line 3", "1\n2\n": "neither times nor an interval"} {
		if status, detail := w.detail("POST", "/api/jobs/142/captures?id=bad", text); status != http.StatusUnprocessableEntity ||
			!strings.Contains(detail, says) {
			t.Errorf("%q: %d %s", text, status, detail)
		}
	}
	for query, says := range map[string]string{"id=x&point=nowhere": "nowhere", "point=Q206+c": "id", "id=x&factor=none": "factor",
		"id=x&conditions=%7B": "conditions", "id=x&conditions=%7B%22route%22%3A%22no%22%7D": "route"} {
		if status, detail := w.detail("POST", "/api/jobs/142/captures?"+query, table(1, 1000, 0)); status == http.StatusOK ||
			!strings.Contains(detail, says) {
			t.Errorf("%q: %d %s", query, status, detail)
		}
	}
	if kept := ask[server.CapturesView](w, "GET", "/api/jobs/142/captures", nil); len(kept.Captures) != 0 {
		t.Errorf("%+v", kept.Captures)
	}
	keep(w, 142, "a", "Q206 c", table(1.26, 1000, 0))
	keep(w, 142, "a", "Q206 c", table(1.26, 1000, 0))
	if status, _ := w.detail("POST", "/api/jobs/142/captures?id=a&name=other.csv",
		"time,v\n0,1\n1,2\n2,3\n"); status != http.StatusConflict {
		t.Errorf("another capture under the same id: %d", status)
	}
	if kept := ask[server.CapturesView](w, "GET", "/api/jobs/142/captures", nil); len(kept.Captures) != 1 {
		t.Errorf("%+v", kept.Captures)
	}
	ask[server.JobView](
		w,
		"POST",
		"/api/jobs/142/readings",
		server.Typed{
			ID:         "r",
			Aim:        reading.Aim{Point: "Q206 c"},
			Text:       "1.26 Vrms",
			Capture:    "a",
			Conditions: server.Conditions{Route: "tape|J2-4|J7-2"},
		},
	)
	_, file := w.call("GET", "/api/jobs/142/file.json", "")
	again := open(t)
	number := ask[server.Opened](again, "POST", "/api/jobs/import", json.RawMessage(file)).Number
	if _, data := again.call("GET", fmt.Sprintf("/api/jobs/%d/captures/a/file", number), ""); string(data) != table(1.26, 1000, 0) {
		t.Error("the file is not the one that was received")
	}
	var f job.File
	if json.Unmarshal(file, &f) != nil || len(f.Captures) != 1 || f.Readings[len(f.Readings)-1].Capture != "a" {
		t.Errorf("%+v", f.Captures)
	}
	f.Captures[0].Data = []byte("junk")
	if status, says := again.detail("POST", "/api/jobs/import", string(f.WriteJSON())); status != http.StatusUnprocessableEntity ||
		!strings.Contains(says, "capture 1: scope.csv") {
		t.Errorf("%d %s", status, says)
	}
}
