package server_test

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"steptrace/internal/server"
)

// With a complaint that says nothing, what is seen leads the bench to the right route, is told among the
// reasons, and counts no more after a repair; struck out it counts no more at once.
func TestWhatIsSeenLeadsTheBench(t *testing.T) {
	w := empty(t)
	w.must("POST", "/api/jobs", `{"pattern":"transistor colour television","set":"hall set","complaint":"faulty"}`)
	before := w.job(t, 1)
	w.must("POST", "/api/jobs/1/symptoms", `{"id":"a","at":"2026-11-28T10:00:00Z","key":"line flat","when":["warm"]}`)
	v := w.job(t, 1)
	if v.Route == before.Route || !strings.Contains(v.Route, "field") {
		t.Errorf("from %s to %s", before.Route, v.Route)
	}
	if len(v.Symptoms) != 1 || v.Symptoms[0].Says != "one bright line, flat, once warm" || len(v.Symptoms[0].PointsAt) < 3 {
		t.Errorf("%+v", v.Symptoms)
	}
	likely := 0.0
	for _, s := range v.Findings.Stages {
		likely += s.Weight
	}
	for _, r := range v.Findings.Rails {
		if r.Name == "+26 V" {
			likely += r.Weight
		}
	}
	if likely < 0.7 {
		t.Errorf("field deflection and its supply: %.2f", likely)
	}
	w.must("PUT", "/api/jobs/1/bench", `{"route":"video|video in|sync"}`)
	w.must("POST", "/api/jobs/1/symptoms", `{"id":"a2","at":"2026-11-28T10:01:00Z","key":"line flat"}`)
	if v := w.job(t, 1); v.Route != "video|video in|sync" {
		t.Errorf("the route that was chosen is left for %s", v.Route)
	}
	w.must("POST", "/api/jobs/1/symptoms/a2/strike", `{"reason":"twice"}`)
	w.must("POST", "/api/jobs/1/symptoms/a/strike", `{"reason":"it was another set"}`)
	if v := w.job(t, 1); len(v.Findings.Stages[0].Speaks) > 0 && strings.Contains(fmt.Sprint(v.Findings.Stages), "one bright line") {
		t.Errorf("struck out it still speaks: %+v", v.Findings.Stages)
	}
	// What was noticed before a repair is of the set as it was.
	w.must("POST", "/api/jobs/1/symptoms", `{"id":"b","at":"2026-11-28T10:00:00Z","key":"line flat"}`)
	w.must(
		"POST",
		"/api/jobs/1/repairs",
		`{"id":"r","at":"2026-11-28T11:00:00Z","repair":{"did":"re-soldered","stage":"field output stage","where":"joints"}}`,
	)
	if v := w.job(t, 1); v.Round != 1 || !v.Symptoms[2].Earlier {
		t.Errorf("round %d, %+v", v.Round, v.Symptoms)
	}
	// A sheet's own papers say what a number of blinks means.
	status, says := w.detail("POST", "/api/jobs/1/symptoms", `{"id":"c","at":"2026-11-28T10:00:00Z","key":"line flat","count":4}`)
	if status != http.StatusUnprocessableEntity || !strings.Contains(says, "Only lamps are counted") {
		t.Errorf("%d %s", status, says)
	}
	first := ask[server.SymptomsView](w, "GET", "/api/jobs/1/symptoms", nil).First
	w.must("POST", "/api/jobs", `{"pattern":"phono stage","set":"x","complaint":"hum"}`)
	if second := ask[server.SymptomsView](w, "GET", "/api/jobs/2/symptoms", nil).First; first != "seen" || second != "heard" {
		t.Errorf("%s, then %s", first, second)
	}
}

// The number of blinks is looked up in what the sheet says of it.
func TestBlinksAreWhatTheSetSays(t *testing.T) {
	w := empty(t)
	const table = "model,B-3\npoint,stage,ac\nIN,,1 V\nM,first,1 V\nOUT,second,1 V\n\n" +
		"says,pointsat\nblinks 3 times,second\nblinks 5 times,first\n"
	w.must("POST", "/api/sheets/import", table)
	w.must("POST", "/api/jobs", `{"sheet":1,"complaint":"will not start"}`)
	weight := func() float64 {
		s := w.job(t, 1).Findings.Stages
		return s[1].Weight / s[0].Weight
	}
	plain := weight()
	w.must("POST", "/api/jobs/1/symptoms", `{"id":"a","at":"2026-11-28T10:00:00Z","key":"blinks","count":3}`)
	if three := weight(); three < 3*plain {
		t.Errorf("blinking three times, second against first: %.2f after %.2f", three, plain)
	}
}
