package server_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/intake"
	"steptrace/core/past"
	"steptrace/core/shop"
	"steptrace/core/worth"
	"steptrace/internal/server"
)

// An estimate has the job wait for its owner, on the shelf and where it waits; the answer takes that away, and sets the limit. A limit
// that is near is told on the shelf and on the bench.
func TestAnEstimateAndItsAnswer(t *testing.T) {
	w := open(t)
	const at = "/api/jobs/147"
	note := func(e worth.Entry) server.WorthView {
		e.At = time.Now()
		return ask[server.WorthView](w, "POST", at+"/worth", e)
	}
	waiting := func() string {
		for _, j := range ask[server.Shelf](w, "GET", "/api/jobs", nil).Jobs {
			if j.Number == 147 {
				return j.Waiting
			}
		}
		t.Fatal("147 is not on the shelf")
		return ""
	}
	v := note(worth.Entry{ID: "a", Estimate: &worth.Estimate{Low: "60", High: "95,50", Until: "2099-01-01", Text: "It depends."}})
	if !v.Waits || !strings.Contains(waiting(), "answer to the estimate of 60 to 95,50") {
		t.Errorf("%v, %q", v.Waits, waiting())
	}
	if waits := ask[server.WaitsView](w, "GET", at+"/waits", nil); !strings.Contains(waits.Asked, "answer to the estimate") {
		t.Errorf("%+v", waits)
	}
	code, page := w.call("GET", at+"/estimate.html", "")
	for _, want := range []string{"60\u00a0€ to 95.50\u00a0€", "It depends.", "1 January 2099", "Quay Street Bench", "size: A4"} {
		if code != http.StatusOK || !strings.Contains(string(page), want) {
			t.Errorf("the estimate has no %q", want)
		}
	}
	v = note(worth.Entry{ID: "b", Answer: &worth.Answer{GoOn: true, Most: "15"}})
	if v.Waits || v.Limit != 1500 || waiting() != "" {
		t.Errorf("%v %g %q", v.Waits, v.Limit, waiting())
	}
	near := func() string {
		for _, line := range ask[server.Shelf](w, "GET", "/api/jobs", nil).Day {
			if line.Number == 147 && line.What == "limit" {
				return line.Text
			}
		}
		return ""
	}
	if got := near(); !strings.Contains(got, "of the 15") {
		t.Errorf("on the shelf: %q", got)
	}
	if got := ask[server.JobView](w, "GET", at, nil).Findings.Notices; !slices.ContainsFunc(got, func(s string) bool {
		return strings.Contains(s, "that its owner allows")
	}) {
		t.Errorf("on the bench: %v", got)
	}
	// What is noted later stands for the answer.
	ask[server.IntakeView](w, "POST", at+"/intake", server.Noted{Field: "limit", Text: "15,50 €"})
	if v = ask[server.WorthView](w, "GET", at+"/worth", nil); v.LimitText != "15,50 €" || v.View.Limit != 1550 {
		t.Errorf("%q %g", v.LimitText, v.View.Limit)
	}
	note(worth.Entry{ID: "c", Answer: &worth.Answer{GoOn: true, Most: "900"}})
	if got := near(); got != "" {
		t.Errorf("far from the limit: %q", got)
	}
	for body, want := range map[string]string{
		`{"id":"x","at":"2026-11-28T09:00:00Z"}`:                                            "is of one kind",
		`{"id":"y","at":"2026-11-28T09:00:00Z","offer":{"what":"board","price":"1.2.3,4"}}`: "no amount of money",
		`{"at":"2026-11-28T09:00:00Z","seen":{"key":"charred"}}`:                            "needs an id",
	} {
		if code, text := w.detail("POST", at+"/worth", body); code != http.StatusUnprocessableEntity || !strings.Contains(text, want) {
			t.Errorf("%d %s, want %q", code, text, want)
		}
	}
}

// Times and prices that are usual here are kept and gone by; what is none is refused.
func TestWhatIsUsualHere(t *testing.T) {
	w := open(t)
	before := ask[server.WorthView](w, "GET", "/api/jobs/145/worth", nil)
	v := ask[server.ShopView](w, "GET", "/api/shop", nil)
	if len(v.Times) != 5 || len(v.Prices) != 5 || v.Prices[0].Usual != "1.38" { // 0.03 h at 46
		t.Errorf("%+v %+v", v.Times, v.Prices)
	}
	v.Shop.Times = map[past.Step]string{past.Prove: "300", past.Trace: " "}
	v.Shop.Prices = map[past.Class]string{past.Wound: "80,-"}
	kept := ask[server.ShopView](w, "PUT", "/api/shop", v.Shop)
	if len(kept.Shop.Times) != 1 || kept.Shop.Prices[past.Wound] != "80,-" {
		t.Errorf("%+v", kept.Shop)
	}
	if after := ask[server.WorthView](w, "GET", "/api/jobs/145/worth", nil); after.Left.Mid < before.Left.Mid*1.2 {
		t.Errorf("%g minutes, %g before", after.Left.Mid, before.Left.Mid)
	}
	for want, change := range map[string]func(s *shop.Settings){
		"no step of a job": func(s *shop.Settings) { s.Times["nap"] = "30" },
		"no minutes":       func(s *shop.Settings) { s.Times[past.Prove] = "an hour" },
		"no class of part": func(s *shop.Settings) { s.Prices["gold"] = "3" },
		"amount of money":  func(s *shop.Settings) { s.Prices[past.Chip] = "dear" },
	} {
		s := shop.Usual()
		s.Times, s.Prices = map[past.Step]string{}, map[past.Class]string{}
		change(&s)
		if err := s.Check(); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%v, want %q", err, want)
		}
	}
}

// A finished job teaches its model, a reopened one no more. What another workshop lent is marked, counts once, weighs less than one's
// own, and goes again; one's own file is not taken in. Sheets that are joined count as one model, and apart again as two.
func TestFinishedJobsTeach(t *testing.T) {
	w := open(t)
	model := func(id int) server.ModelView {
		return ask[server.ModelView](w, "GET", fmt.Sprintf("/api/sheets/%d/past", id), nil)
	}
	v := model(1)
	if first := v.Page.Faults[0]; v.Page.Jobs != 1 || v.Page.Lent != 6 || first.Part != "C61" || first.Times != 1 || first.Lent != 3 ||
		v.OfKind.Lent != 8 || len(v.Usual) != 2 ||
		!strings.Contains(v.Usual[0].Says, "in 3 of 6 that other workshops lent") {
		t.Errorf("%+v", v)
	}
	ask[server.JobView](w, "POST", "/api/jobs/139/reopen", server.Nothing{})
	if v = model(1); v.Page.Jobs != 0 || v.Page.Faults[0].Times != 0 {
		t.Errorf("reopened: %+v", v.Page)
	}
	_, file := w.call("GET", "/api/sheets/1/experience.json", "")
	if f, err := past.Read(file); err == nil {
		t.Errorf("nothing is finished, and %d are lent", len(f.Jobs))
	}
	ask[server.JobView](w, "POST", "/api/jobs/139/finish", server.Outcome{Outcome: "C61"})
	_, file = w.call("GET", "/api/experience.json?complaints=out", "")
	f, err := past.Read(file)
	if err != nil || len(f.Jobs) != 1 || f.Jobs[0].Complaint != "" || strings.Contains(string(file), "Skelhaven harbour") {
		t.Errorf("%v %s", err, file)
	}
	if code, text := w.detail("POST", "/api/experience", string(file)); code != http.StatusUnprocessableEntity ||
		!strings.Contains(text, "count already") {
		t.Errorf("%d %s", code, text)
	}
	lent := strings.Replace(string(file), "Quay Street Bench", "Far Bench", 1)
	if got := ask[server.Borrowed](w, "POST", "/api/experience", json.RawMessage(lent)); got.New != 0 {
		t.Errorf("its own job under another's name is taken in: %+v", got)
	}
	lent = strings.Replace(lent, `"was": "C61"`, `"was": "C61, and its neighbour"`, 1)
	if got := ask[server.Borrowed](w, "POST", "/api/experience", json.RawMessage(lent)); got.New != 1 {
		t.Errorf("%+v", got)
	}
	if got := ask[server.Borrowed](w, "POST", "/api/experience", json.RawMessage(lent)); got.New != 0 ||
		!strings.Contains(got.Says, "were there") {
		t.Errorf("%+v", got)
	}
	if v = model(1); v.Page.Jobs != 1 || v.Page.Lent != 7 || len(v.Lenders) != 2 {
		t.Errorf("%+v", v.Page)
	}
	ask[server.Borrowed](w, "POST", "/api/experience/remove", server.Lender{Whose: "Far Bench"})
	if code, _ := w.detail("POST", "/api/experience/remove", `{"whose":"Far Bench"}`); code != http.StatusNotFound {
		t.Error(code)
	}
	if v = model(1); v.Page.Lent != 6 {
		t.Errorf("%+v", v.Page)
	}

	// The model, written down once more and spelt otherwise.
	_, sheet := w.call("GET", "/api/sheets/1/file.json", "")
	again := ask[server.SheetView](
		w,
		"POST",
		"/api/sheets/import",
		json.RawMessage(strings.Replace(string(sheet), `"HL-120"`, `"HL 120"`, 1)),
	)
	two := int(again.ID)
	if v = model(two); v.Page.Jobs != 0 || len(v.Alike) != 1 || v.Alike[0].ID != 1 {
		t.Errorf("%+v", v)
	}
	join := fmt.Sprintf("/api/sheets/%d/join", two)
	if v = ask[server.ModelView](w, "POST", join, server.Other{Sheet: 1}); v.Page.Jobs != 1 || len(v.Joined) != 1 || len(v.Alike) != 0 {
		t.Errorf("%+v", v)
	}
	if v = model(1); len(v.Joined) != 1 || v.Page.Jobs != 1 {
		t.Errorf("%+v", v)
	}
	job := ask[server.Opened](w, "POST", "/api/jobs", server.NewJob{Sheet: again.ID, Complaint: "no sound"})
	offers := ask[server.JobView](w, "GET", fmt.Sprintf("/api/jobs/%d", job.Number), nil).Offers
	if !slices.ContainsFunc(offers, func(o intake.Offer) bool { return o.Times == 1 }) {
		t.Errorf("what the joined sheet's job found is not offered: %+v", offers)
	}
	if v = ask[server.ModelView](w, "POST", fmt.Sprintf("/api/sheets/%d/apart", two), server.Other{Sheet: 1}); v.Page.Jobs != 0 ||
		len(v.Joined) != 0 || len(v.Alike) != 1 {
		t.Errorf("%+v", v)
	}
	for body, want := range map[string]int{
		`{"sheet":99}`: http.StatusNotFound, fmt.Sprintf(`{"sheet":%d}`, two): http.StatusUnprocessableEntity,
	} {
		if code, _ := w.detail("POST", join, body); code != want {
			t.Errorf("%s: %d", body, code)
		}
	}
}
