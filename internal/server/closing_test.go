package server_test

import (
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"
	"testing"

	"steptrace/core/closing"
	"steptrace/core/sheet"
	"steptrace/internal/server"
)

const closes = "/api/jobs/147/closing"

func stands(t *testing.T, v server.ClosingView, name string) closing.Standing {
	t.Helper()
	i := slices.IndexFunc(v.Items, func(s closing.Standing) bool { return s.Name == name })
	if i < 0 {
		t.Fatalf("no %s", name)
	}
	return v.Items[i]
}

func note(w *workshop, id, item, text, without string) server.ClosingView {
	return ask[server.ClosingView](w, "POST", closes, server.ToClose{ID: id, Item: item, Text: text, Without: without})
}

// What is measured is kept once however often it is sent, asked for before the job is finished where it was begun or is
// wrong, and a mark is one of the matrix.
func TestClosingMeasurementsOfAJob(t *testing.T) {
	w, _ := practising(t)
	open := func() (out []string) {
		for _, o := range ask[server.JobView](w, "GET", "/api/jobs/147", nil).StillOpen {
			if strings.HasPrefix(o.Key, "closing") {
				out = append(out, o.Text)
			}
		}
		return out
	}
	if got := open(); len(got) != 0 {
		t.Fatalf("nothing was begun, and %v is asked for", got)
	}
	note(w, "z1", "power, left", "12.0 V", "")
	v := note(w, "z1", "power, left", "12.0 V", "")
	if s := stands(t, v, "power, left"); s.State != closing.Off || math.Abs(s.After.SI-18) > 1e-9 {
		t.Fatalf("%+v", s)
	}
	if got := open(); len(got) != 3 || got[0] != "power, left: 12 V across 8 Ω: 18 W, 35 W at least" ||
		got[1] != "aux: A1 L to LS L: none" || !strings.HasPrefix(got[2], "Closing measurements not made: offset, left;") {
		t.Fatalf("%q", got)
	}
	var struck struct{ Items []json.RawMessage }
	if code, body := w.call("POST", closes+"/z1/strike", `{"reason":"wrong load"}`); code != http.StatusOK ||
		json.Unmarshal(body, &struck) != nil {
		t.Fatal(code, string(body))
	}
	note(w, "z2", "power, left", "17.4 V", "")
	note(w, "z3", "insulation", "", "no tester here")
	v = note(w, "z4", "phono: P1 L to LS L", "weak", "")
	if stands(t, v, "insulation").State != closing.Without || stands(t, v, "phono: P1 L to LS L").State != closing.Off {
		t.Errorf("%+v", v.Items)
	}
	matrix := ask[server.IntakeView](w, "GET", "/api/jobs/147/intake", nil).Matrix
	marked := false
	for _, row := range matrix.Rows {
		for _, cell := range row.Cells {
			marked = marked || row.Mode == "phono" && row.Entry == "P1 L" && cell.Exit == "LS L" && cell.Mark == "weak"
		}
	}
	if !marked {
		t.Error("what does not work is no mark of the matrix")
	}
	for body, want := range map[string]string{
		`{"id":"e1","item":"flutter","text":"0.1 %"}`:                        "no closing measurement called",
		`{"id":"e2","item":"power, right","text":"3 kHz"}`:                   "volts across the load",
		`{"id":"e3","item":"power, right"}`:                                  "what was read, or why",
		`{"id":"e4","item":"phono: P1 L to LS L","text":"so so"}`:            "Say ok, weak",
		`{"id":"e5","item":"power, right","text":"1 W","without":"no load"}`: "what was read, or why",
		`{"id":"","item":"power, right","text":"40 W"}`:                      "id",
	} {
		if code, text := w.detail("POST", closes, body); code != http.StatusUnprocessableEntity || !strings.Contains(text, want) {
			t.Errorf("%s: %d %s", body, code, text)
		}
	}
}

// Instruments take what needs nothing moved; the generator is off afterwards, whatever it was set to before.
func TestInstrumentsTakeClosingMeasurements(t *testing.T) {
	w, d := practising(t)
	take := func(id, item string) server.ClosingView {
		return ask[server.ClosingView](w, "POST", closes+"/take", server.ToClose{ID: id, Item: item})
	}
	take("t1", "hum, LS R")
	take("t2", "response, right")
	v := take("t2", "response, right") // sent again: not taken again
	if hum := stands(t, v, "hum, LS R"); hum.State != closing.Fine || hum.After.By != "practice meter" || hum.After.SI < 60 {
		t.Errorf("%+v", hum.After)
	}
	if r := stands(t, v, "response, right"); r.State != closing.Fine || strings.Count(r.After.Text, ";") != 2 {
		t.Errorf("%+v", r.After)
	}
	if on := d.Generating(); !strings.Contains(on, "off") {
		t.Errorf("the generator is at %q", on)
	}
	entries := 0
	for _, e := range ask[server.ClosingView](w, "GET", closes, nil).Items {
		if e.After != nil && e.After.By == "practice meter" {
			entries++
		}
	}
	if entries != 2 {
		t.Errorf("%d are kept", entries)
	}
	if code, text := w.detail("POST", closes+"/take", `{"id":"t3","item":"power, left"}`); code != http.StatusUnprocessableEntity ||
		!strings.Contains(text, "type what is read") {
		t.Errorf("%d %s", code, text)
	}
}

// How it is measured stands with the model; of two who change it at once the second is told.
func TestClosingMeasurementsAreTheModels(t *testing.T) {
	w, _ := practising(t)
	v := ask[server.ClosingView](w, "GET", closes, nil)
	at := fmt.Sprintf("/api/sheets/%d/closing", v.SheetID)
	put := func(was string, c sheet.Closing) (int, string) {
		body, err := json.Marshal(server.NamedClosing{Revision: v.Revision, Was: was, Closing: c})
		if err != nil {
			t.Fatal(err)
		}
		return w.detail("PUT", at, string(body))
	}
	own := sheet.Closing{Name: "hum, left", Kind: sheet.ClosingHum, At: "LS L", Most: "4 mV"}
	if code, text := put("hum, LS L", own); code != http.StatusOK {
		t.Fatal(code, text)
	}
	if code, _ := put("", sheet.Closing{Name: "a second"}); code != http.StatusConflict {
		t.Errorf("from an old revision: %d", code)
	}
	v = ask[server.ClosingView](w, "GET", closes, nil)
	if s := stands(t, v, "hum, left"); !s.Own || s.Bounds != "4 mV at most" {
		t.Errorf("%+v", s)
	}
	if slices.ContainsFunc(v.Items, func(s closing.Standing) bool { return s.Name == "hum, LS L" }) {
		t.Error("what is offered stands beside it still")
	}
	for _, x := range []struct {
		c    sheet.Closing
		want string
	}{
		{sheet.Closing{Name: " "}, "a few words"},
		{sheet.Closing{Name: "x", Most: "loud"}, "expected"},
		{sheet.Closing{Name: strings.Repeat("x", 600)}, "at most 500"},
		{sheet.Closing{Name: "power, left", Kind: sheet.ClosingSeparation, At: "LS L"}, "other channel"},
	} {
		if code, text := put("", x.c); code != http.StatusUnprocessableEntity || !strings.Contains(text, x.want) {
			t.Errorf("%+v: %d %s", x.c, code, text)
		}
	}
	if code, text := put("power, right", sheet.Closing{Name: "power, left"}); code != http.StatusUnprocessableEntity ||
		!strings.Contains(text, "already") {
		t.Errorf("%d %s", code, text)
	}
}
