package server_test

import (
	"context"
	"fmt"
	"net/http"
	"reflect"
	"strings"
	"testing"
	"time"

	"steptrace/core/job"
	"steptrace/core/report"
	"steptrace/core/shop"
	"steptrace/internal/server"
)

const handback = "/api/jobs/139"

// The page needs nothing beside it, runs nothing, and shows what a person wrote as text, whatever it is; a section that is left
// out, or empty, is not in it.
func TestReportIsAPageOfItsOwn(t *testing.T) {
	w := open(t)
	write := func(id, section, text string, out bool) server.ReportView {
		return ask[server.ReportView](
			w,
			"POST",
			handback+"/report",
			report.Entry{ID: id, At: time.Now(), Section: section, Text: text, LeftOut: out},
		)
	}
	page := func() string {
		code, body := w.call("GET", handback+"/report.html", "")
		if code != http.StatusOK {
			t.Fatal(code, string(body))
		}
		return string(body)
	}
	for _, want := range []string{"Quay Street Bench", "Skelhaven harbour hall", "HL2-00817", "size: A4", "a capacitor (C61)",
		"2 hours and 40 minutes",
		"what is left to hear when nothing plays", "60.8 dB", "until 10 May 2027"} {
		if !strings.Contains(page(), want) {
			t.Errorf("the page has no %q", want)
		}
	}
	write("p1", report.Wrong, "<script>alert(1)</script> & \"quoted\"\n\nsecond paragraph", false)
	if !strings.Contains(page(), `<img class="plot" src="data:image/svg`) {
		t.Error("the long run is not drawn")
	}
	write("p2", report.Proved, "", true)
	write("p5", report.Pictures, "", true)
	write("p3", report.Cost, strings.Repeat("تم الإصلاح بعناية\n", 30), false)
	got := page()
	for _, bad := range []string{"<script", "How it was tried", "http://", "https://", "<link", "Pictures"} {
		if strings.Contains(got, bad) {
			t.Errorf("the page has %q", bad)
		}
	}
	if !strings.Contains(got, "&lt;script&gt;") || strings.Count(got, "تم الإصلاح بعناية") != 30 ||
		!strings.Contains(got, "<p dir=\"auto\">second paragraph</p>") {
		t.Error("what was written is not there as it was")
	}
	back := write("p4", report.Wrong, "", false)
	if s := back.Report.Sections[1]; s.Edited || !strings.Contains(s.Text, "C61") {
		t.Errorf("%+v", s)
	}
	for body, want := range map[string]string{
		`{"id":"e1","at":"2026-11-28T09:00:00Z","section":"poem","text":"x"}`:                                 "no section",
		`{"id":"e2","at":"2026-11-28T09:00:00Z","section":"cost","text":"` + strings.Repeat("x", 4001) + `"}`: "at most 4000",
	} {
		if code, text := w.detail("POST", handback+"/report", body); code != http.StatusUnprocessableEntity ||
			!strings.Contains(text, want) {
			t.Errorf("%d %s", code, text)
		}
	}
}

// Settings are the workshop's; whose a set is may still be written when the job is finished, what is a day or money is checked.
func TestTheWorkshopsHeadAndWhoseItIs(t *testing.T) {
	w := empty(t)
	v := ask[server.ShopView](w, "GET", "/api/shop", nil)
	if !reflect.DeepEqual(v.Shop, shop.Usual()) {
		t.Errorf("%+v", v.Shop)
	}
	v.Shop.Name, v.Shop.Rate, v.Shop.Paper = "At the mill", "1.234,50 kr", shop.Letter
	if kept := ask[server.ShopView](w, "PUT", "/api/shop", v.Shop); !reflect.DeepEqual(kept.Shop, v.Shop) {
		t.Errorf("%+v", kept.Shop)
	}
	w = open(t)
	for body, want := range map[string]string{
		`{"field":"promised","text":"tomorrow"}`: "write it as 2026-12-12",
		`{"field":"limit","text":"much"}`:        "no amount of money",
		`{"field":"age","text":"old"}`:           "finished",
	} {
		if code, text := w.detail("POST", handback+"/intake", body); code < 400 || !strings.Contains(text, want) {
			t.Errorf("%s: %d %s", body, code, text)
		}
	}
	if code, text := w.detail("POST", handback+"/intake", `{"field":"contact","text":"in the evening"}`); code != http.StatusOK {
		t.Errorf("%d %s", code, text)
	}
}

// Everything that was noted is in the record, in words, in its order; what was struck out is told to be so.
func TestRecordHasEveryEntry(t *testing.T) {
	w := empty(t)
	f := wholeJob(t)
	number, err := w.server.ImportJob(context.Background(), f.WriteJSON())
	if err != nil {
		t.Fatal(err)
	}
	plan, _ := f.Sheet.Document.Plan()
	taken, err := w.store.Job(context.Background(), number)
	if err != nil {
		t.Fatal(err)
	}
	all, lines := 0, taken.Record(plan)
	for _, k := range job.Kinds {
		all += len(k.All(&taken.Job))
	}
	if len(lines) != all {
		t.Errorf("%d lines of %d entries", len(lines), all)
	}
	for i, l := range lines {
		if strings.TrimSpace(l.Text) == "" || i > 0 && l.At.Before(lines[i-1].At) {
			t.Errorf("%s: %+v", l.Kind, l)
		}
	}
	code, body := w.call("GET", fmt.Sprintf("/api/jobs/%d/record.html", number), "")
	if code != http.StatusOK || strings.Count(string(body), "<tr>") != all || !strings.Contains(string(body), "left so") ||
		strings.Contains(string(body), "<script") {
		t.Errorf("%d, %d rows of %d", code, strings.Count(string(body), "<tr>"), all)
	}
}

func TestLabelLeadsToTheJob(t *testing.T) {
	w := open(t)
	code, body := w.call("GET", handback+"/label.html", "")
	for _, want := range []string{
		">139<", "Corvane HL-120", "Skelhaven harbour hall", "HL2-00817", "rack, at the foot", "data:image/png;base64,",
	} {
		if code != http.StatusOK || !strings.Contains(string(body), want) {
			t.Errorf("%d, no %q", code, want)
		}
	}
}
