package server_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"steptrace/core/job"
	"steptrace/internal/server"
)

// What was found inside a stage goes with the job's file, is in the outcome's first words, and
// weighs in the next job of the model; a circuit changed in between is not overwritten.
func TestInsideTravelsAndIsLearnt(t *testing.T) {
	w := open(t)
	const stage = "Q204 make-up"
	at := "?stage=" + strings.ReplaceAll(stage, " ", "%20")
	v := ask[server.InsideView](w, "GET", "/api/jobs/142/inside"+at, nil)
	for i, x := range []string{`"reading":{"what":"dc","node":"Q204 c","value":"14.9 V"}`,
		`"condemned":{"part":"R214","what":"shorted","why":["reads 0.1 Ω, a leg lifted"]}`} {
		status, answer := w.call(
			"POST",
			"/api/jobs/142/inside",
			fmt.Sprintf(`{"id":"i%d","stage":%q,"at":"2026-11-25T08:00:00Z",%s}`, i, stage, x),
		)
		if status != http.StatusOK || json.Unmarshal(answer, &v) != nil {
			t.Fatalf("%d %s", status, answer)
		}
	}
	weight := func(v server.InsideView) float64 {
		for _, p := range v.View.Parts {
			if p.Name == "R214" {
				return p.Weight
			}
		}
		return 0
	}
	before := weight(v)
	if j := ask[server.JobView](w, "GET", "/api/jobs/142", nil); len(j.Condemned) != 1 || j.Condemned[0].Part != "R214" ||
		j.Condemned[0].Stage != stage {
		t.Errorf("condemned: %+v", j.Condemned)
	}
	_, file := w.call("GET", "/api/jobs/142/file.json", "")
	f, err := job.ReadJSON(file)
	if err != nil || len(f.Inside) != 2 || f.Inside[1].Condemned == nil {
		t.Fatal(err, f.Inside)
	}
	brought := ask[server.Opened](w, "POST", "/api/jobs/import", json.RawMessage(file))
	again := ask[server.InsideView](w, "GET", fmt.Sprintf("/api/jobs/%d/inside%s", brought.Number, at), nil)
	if len(again.View.Entries) != 2 || again.View.Condemned == nil || again.View.Condemned.What != "shorted" {
		t.Errorf("brought: %+v", again.View.Entries)
	}
	broken := strings.Replace(string(file), `"14.9 V"`, `"14.9 kHz"`, 1)
	if status, said := w.detail("POST", "/api/jobs/import", broken); status != http.StatusUnprocessableEntity ||
		!strings.Contains(said, "entry inside a stage 1") {
		t.Errorf("%d %s", status, said)
	}
	// Once the job is finished, the part is likelier in the next one with the same reading.
	if status, said := w.call("POST", "/api/jobs/142/finish", `{"outcome":"R214 shorted","stage":"`+stage+`","without":[`+waived(w,
		142)+`]}`); status != http.StatusOK {
		t.Fatalf("%d %s", status, said)
	}
	if after := weight(ask[server.InsideView](w, "GET", fmt.Sprintf("/api/jobs/%d/inside%s", brought.Number, at),
		nil)); after < 1.5*before {
		t.Errorf("R214 weighs %.3f after it was condemned, %.3f before", after, before)
	}
	kept := ask[server.KeptCircuit](
		w,
		"PUT",
		"/api/sheets/3/circuit",
		server.StageCircuit{Revision: v.Revision, Stage: "RV3 level", Family: "Divider and control"},
	)
	if status, said := w.detail("PUT", "/api/sheets/3/circuit", fmt.Sprintf(`{"revision":%d,"stage":"RV3 level","rows":[]}`,
		v.Revision)); status != http.StatusConflict ||
		kept.Revision != v.Revision+1 {
		t.Errorf("%d %s, revision %d", status, said, kept.Revision)
	}
	for says, body := range map[string]string{"no family": `{"revision":2,"stage":"RV3 level","family":"Flux gate","rows":[]}`,
		"neither a stage": `{"revision":2,"stage":"Q999","rows":[]}`} {
		if status, said := w.detail("PUT", "/api/sheets/3/circuit", body); status != http.StatusUnprocessableEntity ||
			!strings.Contains(said, says) {
			t.Errorf("%d %s does not say %q", status, said, says)
		}
	}
}
