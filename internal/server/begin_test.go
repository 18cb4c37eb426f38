package server_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"

	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/trace"
	"steptrace/internal/server"
)

// begun opens a job from a pattern.
func begun(t *testing.T, w *workshop, body string) server.JobView {
	t.Helper()
	var opened server.Opened
	status, data := w.call("POST", "/api/jobs", body)
	if status != http.StatusOK || json.Unmarshal(data, &opened) != nil {
		t.Fatalf("%s: %d %s", body, status, data)
	}
	return w.job(t, opened.Number)
}

func (w *workshop) job(t *testing.T, number int) server.JobView {
	t.Helper()
	var v server.JobView
	if status, data := w.call("GET", fmt.Sprintf("/api/jobs/%d", number), ""); status != http.StatusOK ||
		json.Unmarshal(data, &v) != nil {
		t.Fatalf("%d %s", status, data)
	}
	return v
}

func (w *workshop) grow(t *testing.T, number, revision int, body string) (v server.JobView, status int, said string) {
	t.Helper()
	var got server.Grown
	status, data := w.call("POST", fmt.Sprintf("/api/jobs/%d/grow", number), fmt.Sprintf(`{"revision":%d,%s}`, revision, body))
	if status == http.StatusOK {
		if err := json.Unmarshal(data, &got); err != nil {
			t.Fatal(err)
		}
		return *got.Job, status, ""
	}
	return v, status, string(data)
}

func stageNames(v server.JobView) []string {
	var out []string
	for _, s := range v.Findings.Map {
		out = append(out, s.Name)
	}
	return out
}

// A job begun from a pattern has a sheet of its own, which no list shows until it is kept; the next of its
// kind begins where it ended.
func TestAJobBegunFromAPattern(t *testing.T) {
	w := open(t)
	v := begun(t, w, `{"pattern":"phono stage","chosen":{"channels":"one"},"set":"Brannock grey box","complaint":"very faint"}`)
	if v.Set != "Brannock grey box" || v.Findings == nil || v.Findings.Next == nil || len(v.Findings.Points) != 4 {
		t.Fatalf("%s %+v", v.Set, v.Findings)
	}
	listed := func() bool {
		_, data := w.call("GET", "/api/sheets?q=Brannock", "")
		return strings.Contains(string(data), "Brannock grey box")
	}
	if listed() {
		t.Error("a sheet of one job is listed")
	}
	w.grow(t, v.Number, v.Revision, `"do":"name","at":"first","name":"TP1"`)
	again := begun(t, w, fmt.Sprintf(`{"like":%d,"complaint":"hum"}`, v.Number))
	if again.SheetID != v.SheetID || again.Findings.Points[1].Name != "TP1" || !listed() {
		t.Errorf("the second of its kind begins with %+v, listed %t", again.Findings.Points, listed())
	}
	for body, want := range map[string]string{
		`{"pattern":"perpetual motion","complaint":"x"}`:                                      "Pick one of the patterns",
		`{"pattern":"phono stage","chosen":{"channels":"nine"},"complaint":"x"}`:              `is not among two, one`,
		`{"pattern":"phono stage","chosen":{"wings":"two"},"complaint":"x"}`:                  `has no option`,
		`{"pattern":"phono stage","set":"` + strings.Repeat("x", 9999) + `","complaint":"x"}`: "in a line",
		`{"like":99999,"complaint":"x"}`:                                                      "no job number 99999",
		`{"complaint":"x"}`:                                                                   "Say what the set is",
	} {
		if status, data := w.call("POST", "/api/jobs", body); status < 400 || status >= 500 || !strings.Contains(string(data), want) {
			t.Errorf("%.60s: %d %s", body, status, data)
		}
	}
}

// What a job file brings along stands in the list of sheets, with a maker or without, unless the file says
// that it was made for that job alone.
func TestASheetBroughtByAJobIsListed(t *testing.T) {
	w := open(t)
	f := w.file(begun(t, w, `{"pattern":"phono stage","chosen":{},"set":"Brannock grey box","complaint":"faint"}`).Number)
	if !f.Sheet.Own {
		t.Fatal("the file does not say that the sheet was made for its job")
	}
	for _, own := range []bool{true, false} {
		f.Sheet.Own = own
		there := empty(t)
		if _, err := there.server.ImportJob(t.Context(), f.WriteJSON()); err != nil {
			t.Fatal(err)
		}
		_, data := there.call("GET", "/api/sheets", "")
		if strings.Contains(string(data), "Brannock grey box") == own {
			t.Errorf("made for the job alone %t: %s", own, data)
		}
	}
}

// The sheet grows at the bench: evidence is kept, a change made of an older sheet is refused with nothing
// lost, each can be taken back, and a finished job keeps what it was worked with.
func TestTheSheetGrowsAtTheBench(t *testing.T) {
	w := open(t)
	v := begun(t, w, `{"pattern":"subwoofer plate","set":"","complaint":"no sound"}`)
	n := v.Number
	read := func(point, text string) {
		t.Helper()
		body := fmt.Sprintf(
			`{"id":"%s","point":%q,"text":%q,"conditions":{"route":"","injected":null,"instrument":""}}`,
			point+text,
			point,
			text,
		)
		if status, data := w.call("POST", fmt.Sprintf("/api/jobs/%d/readings", n), body); status != http.StatusOK {
			t.Fatalf("%d %s", status, data)
		}
	}
	read("level", "ok")
	read("woofer", "none")
	v, _, said := w.grow(t, n, 1, `"do":"divide","at":"limiter","into":[{"name":"limiter cell"},{"name":"limiter amp"}]`)
	if said != "" || v.Revision != 2 {
		t.Fatal(said)
	}
	standing := map[string]string{}
	for _, s := range v.Findings.Stages {
		standing[s.Name] = string(s.Standing)
	}
	if standing["limiter cell"] != "suspect" || standing["limiter amp"] != "suspect" || standing["input stage"] != "cleared" {
		t.Errorf("%v", standing)
	}
	// Another tab still shows revision 1.
	read("filtered", "ok")
	if _, status, said := w.grow(t, n, 1, `"do":"remove","at":"low pass and phase"`); status != http.StatusConflict {
		t.Errorf("a change of an older sheet: %d %s", status, said)
	}
	if v = w.job(t, n); len(v.Findings.Readings) != 3 || v.Revision != 2 {
		t.Errorf("%d readings, revision %d", len(v.Findings.Readings), v.Revision)
	}
	// Named, a value stated, something taken out; then all of it taken back, one after the other.
	v, _, _ = w.grow(t, n, 2, `"do":"name","at":"woofer","name":"J9 +"`)
	if r := v.Findings.Readings[1]; r.Reading.Point != "J9 +" || r.Verdict != "absent" {
		t.Errorf("%+v", r)
	}
	v, _, said = w.grow(t, n, 3, `"do":"expect","at":"J9 +","quantity":"ac","value":"8 V","from":""`)
	if p := v.Findings.Points[len(v.Findings.Points)-1]; said != "" || p.Expected != "8 V" || p.Source != "" {
		t.Errorf("%s, from %q: %s", p.Expected, p.Source, said)
	}
	v, _, said = w.grow(t, n, 4, `"do":"remove","at":"limiter cell"`)
	if said != "" || slices.Contains(stageNames(v), "limiter cell") {
		t.Errorf("%v %s", stageNames(v), said)
	}
	for revision := 5; revision < 9; revision++ {
		status, data := w.call("POST", fmt.Sprintf("/api/jobs/%d/takeback", n), fmt.Sprintf(`{"revision":%d}`, revision))
		if status != http.StatusOK || json.Unmarshal(data, &v) != nil {
			t.Fatalf("%d %s", status, data)
		}
	}
	if !slices.Contains(stageNames(v), "limiter") || v.Findings.Readings[1].Reading.Point != "woofer" {
		t.Errorf("taken back: %v, %s", stageNames(v), v.Findings.Readings[1].Reading.Point)
	}
	if status, data := w.call("POST", fmt.Sprintf("/api/jobs/%d/takeback", n), `{"revision":9}`); status != http.StatusConflict {
		t.Errorf("more than there was: %d %s", status, data)
	}
	for body, want := range map[string]string{
		`"do":"dance","at":"woofer"`:                                                      "nothing that can be done",
		`"do":"name","at":"woofer","name":""`:                                             "Give it a name",
		`"do":"name","at":"nowhere","name":"x"`:                                           "neither a point",
		`"do":"name","at":"woofer","name":"level"`:                                        "called level already",
		`"do":"divide","at":"limiter","into":[{"name":"one"}]`:                            "two to 12",
		`"do":"divide","at":"limiter","into":[{"name":"a"},{"name":"a"}]`:                 "Two of the parts",
		`"do":"divide","at":"limiter","into":[{"name":"a","point":"level"},{"name":"b"}]`: "called level already",
		`"do":"expect","at":"woofer","quantity":"ac","value":"many","from":""`:            "Point woofer",
		`"do":"expect","at":"woofer","quantity":"ac","value":"1 V","from":"a friend"`:     "no source",
		`"do":"alike","from":"left","name":"right"`:                                       "Nothing on this sheet",
		`"do":"rail","at":"limiter","name":"+9 V","value":"nine"`:                         "Rail +9 V",
	} {
		if _, status, said := w.grow(t, n, 9, body); status != http.StatusUnprocessableEntity || !strings.Contains(said, want) {
			t.Errorf("%s: %d %s", body, status, said)
		}
	}
	var without []string
	for _, o := range w.job(t, n).StillOpen {
		without = append(without, fmt.Sprintf(`{"key":%q,"text":%q,"why":"a trial"}`, o.Key, o.Text))
	}
	body := fmt.Sprintf(`{"outcome":"left as it is","stage":"","without":[%s]}`, strings.Join(without, ","))
	if status, data := w.call("POST", fmt.Sprintf("/api/jobs/%d/finish", n), body); status != http.StatusOK {
		t.Fatalf("%d %s", status, data)
	}
	if _, status, _ := w.grow(t, n, 9, `"do":"name","at":"woofer","name":"x"`); status != http.StatusConflict {
		t.Errorf("the sheet of a finished job was changed: %d", status)
	}
}

// One channel becomes two: all that is its own is repeated under names made by rule, what is shared is
// shared, and the two are twins.
func TestTheOtherChannelAlike(t *testing.T) {
	w := open(t)
	v := begun(t, w, `{"pattern":"any set: in, out, supply","set":"line box","complaint":"left dead"}`)
	n := v.Number
	for i, body := range []string{
		`"do":"name","at":"in","name":"L1 in"`,
		`"do":"name","at":"out","name":"L9 out"`,
		`"do":"divide","at":"the set","into":[{"name":"Q101 left input","point":"L2"},{"name":"Q103 left driver"}]`,
	} {
		if _, _, said := w.grow(t, n, i+1, body); said != "" {
			t.Fatal(said)
		}
	}
	if _, status, said := w.grow(t, n, 4, `"do":"alike","from":"L","name":"R"`); status != http.StatusUnprocessableEntity ||
		!strings.Contains(said, "name it first") {
		t.Errorf("stages whose names do not say whose they are: %d %s", status, said)
	}
	w.grow(t, n, 4, `"do":"name","at":"Q101 left input","name":"L Q101 input"`)
	w.grow(t, n, 5, `"do":"name","at":"Q103 left driver","name":"L Q103 driver"`)
	v, _, said := w.grow(t, n, 6, `"do":"alike","from":"L","name":"R"`)
	if said != "" || len(v.Routes) != 2 || !slices.Contains(stageNames(v), "R Q103 driver") || len(v.Findings.Rails) != 1 {
		t.Errorf("%s %v %v", said, v.Routes, stageNames(v))
	}
}

// A chart is taken over as a revision that can be taken back; a leg's voltage speaks of the stage that is
// named by its part, and what cannot be is refused with nothing changed.
func TestAChartIsTakenOver(t *testing.T) {
	w := open(t)
	v := begun(t, w, `{"pattern":"phono stage","chosen":{"channels":"one"},"set":"grey box","complaint":"faint"}`)
	n := v.Number
	w.grow(t, n, 1, `"do":"name","at":"first stage","name":"Q101 first stage"`)
	cell := func(leg, value, condition string) string {
		return fmt.Sprintf(
			`{"part":"Q101","leg":%q,"name":"","condition":%q,"quantity":"dc","text":"","value":%q,"line":1,"doubt":"","likely":""}`,
			leg,
			condition,
			value,
		)
	}
	take := func(revision int, condition string, cells ...string) (int, string) {
		status, data := w.call(
			"POST",
			fmt.Sprintf("/api/jobs/%d/chart", n),
			fmt.Sprintf(
				`{"revision":%d,"under":[{"condition":%q,"mode":""}],"cells":[%s]}`,
				revision,
				condition,
				strings.Join(cells, ","),
			),
		)
		return status, string(data)
	}
	for said, cells := range map[string][]string{
		"nothing to take over": {cell("e", "1.2 V", "signal")},
		"Point Q101 e":         {cell("e", "many", "")},
	} {
		if status, data := take(2, "", cells...); status != http.StatusUnprocessableEntity || !strings.Contains(data, said) {
			t.Errorf("%d %s, want %s", status, data, said)
		}
	}
	if status, data := take(1, "", cell("e", "1.2 V", "")); status != http.StatusConflict {
		t.Errorf("of an older sheet: %d %s", status, data)
	}
	if status, data := take(2, "", cell("e", "1.2 V", ""), cell("b", "1.8 V", ""), cell("c", "9 V", "signal")); status != http.StatusOK {
		t.Fatalf("%d %s", status, data)
	}
	before := w.job(t, n)
	body := `{"id":"e1","point":"Q101 e","quantity":"dc","text":"0.05","conditions":{"route":"","injected":null,"instrument":""}}`
	if status, data := w.call("POST", fmt.Sprintf("/api/jobs/%d/readings", n), body); status != http.StatusOK {
		t.Fatalf("%d %s", status, data)
	}
	after := w.job(t, n)
	r := after.Findings.Readings[0]
	if r.Verdict != "absent" || r.Expected != "1.2 V" || r.Source != "" {
		t.Errorf("%+v", r)
	}
	if after.Findings.Stages[0].Weight <= before.Findings.Stages[0].Weight {
		t.Errorf("an emitter at nothing leaves %s at %g, before %g", after.Findings.Stages[0].Name, after.Findings.Stages[0].Weight,
			before.Findings.Stages[0].Weight)
	}
	if slices.ContainsFunc(after.Spots, func(s reading.Spot) bool { return s.Name == "Q101 c" }) {
		t.Error("a value under another condition was taken over")
	}
}

// wordsFrom is a set with one dead block: what is heard or seen at a point, by the mode it is in and
// what is fed in where. It is worked out by hand for each.
type wordsFrom func(point, mode, fed string) string

// Three sets begun from patterns, of different kinds, followed by words alone from the complaint to the
// hand-back: what is proposed is answered, the repair noted, what was wrong and what worked tried again,
// the job finished with nothing open.
func TestFromAPatternToTheHandBackByWords(t *testing.T) {
	for _, x := range []struct {
		pattern, chosen, complaint, dead string
		says                             wordsFrom
	}{
		{"subwoofer plate", `{}`, "no sound", "limiter", func(point, _, fed string) string {
			if (point == "limited" || point == "woofer") && fed != "limited" {
				return "none"
			}
			return "ok"
		}},
		{"flat television", `{}`, "light but no picture", "timing board's receiver", func(point, mode, fed string) string {
			behind := []string{"received", "driven", "picture"}
			if mode == "picture" && slices.Contains(behind, point) && !slices.Contains(behind, fed) {
				return "none"
			}
			return "ok"
		}},
		{"analogue synthesizer", `{"voices":"3"}`, "voice 2 silent", "amplifier 2", func(point, mode, fed string) string {
			behind := []string{"amp 2", "sum", "volume", "out"}
			if mode == "voice 2" && slices.Contains(behind, point) && !slices.Contains(behind, fed) {
				return "none"
			}
			return "ok"
		}},
	} {
		w := open(t)
		n := begun(t, w, fmt.Sprintf(`{"pattern":%q,"chosen":%s,"complaint":%q}`, x.pattern, x.chosen, x.complaint)).Number
		path := func(rest string) string { return fmt.Sprintf("/api/jobs/%d%s", n, rest) }
		readings, repaired := 0, false
		read := func(v server.JobView, point, route string, in *reading.Injection, q sheet.Quantity, without []string, worked bool) {
			t.Helper()
			readings++
			if route == "" {
				route = v.Route
			}
			mode, fed := strings.Split(route, "|")[0], ""
			if in != nil {
				fed = in.At
			}
			text := "ok"
			if !repaired {
				text = x.says(point, mode, fed)
			}
			ask[server.JobView](w, "POST", path("/readings"), server.Typed{
				ID:         fmt.Sprint("r", readings),
				Aim:        reading.Aim{Point: point, Quantity: q},
				Text:       text,
				Without:    without,
				Worked:     worked,
				Conditions: server.Conditions{Route: route, Injected: in},
			})
		}
		// At intake what the matrix proposes.
		for range 8 {
			v := ask[server.IntakeView](w, "GET", path("/intake"), nil)
			if v.Matrix.Best == nil {
				break
			}
			row := v.Matrix.Rows[v.Matrix.Best.Row]
			cell := row.Cells[v.Matrix.Best.Cell]
			ask[server.IntakeView](
				w,
				"POST",
				path("/marks"),
				server.Mark{ID: fmt.Sprint("m", readings), Mode: row.Mode, Entry: row.Entry,
					Exit: cell.Exit, Without: row.Without, Word: quantity.Word(x.says(cell.Exit, row.Mode, row.Entry))},
			)
			readings++
		}
		var v server.JobView
		for range 60 {
			v = w.job(t, n)
			f := v.Findings
			switch i := slices.IndexFunc(f.Grounds, func(g trace.Ground) bool { return g.Proof == trace.Lacking && g.Point != "" }); {
			case f.State == trace.Repaired:
			case f.Condemned && !repaired:
				if f.Stage != x.dead {
					t.Fatalf("%s: %s is condemned", x.pattern, f.Stage)
				}
				ask[server.JobView](
					w,
					"POST",
					path("/repairs"),
					repair.Entry{ID: "fix", Repair: &repair.Repair{Did: repair.Replaced, Stage: x.dead,
						Parts: []repair.Part{{Name: "its chip", Found: "bad", Fitted: "the same"}}}},
				)
				repaired = true
				continue
			case f.Next != nil:
				read(v, f.Next.Point, f.Next.Route, f.Next.Injected, f.Next.Quantity, f.Next.Without, f.Next.Worked)
				continue
			case f.GoTo != "" && f.GoTo != v.Route:
				ask[server.JobView](w, "PUT", path("/bench"), server.BenchSetting{Route: f.GoTo})
				continue
			case i >= 0:
				g := f.Grounds[i]
				read(v, g.Point, g.Route, g.Injected, g.Quantity, g.Without, g.Worked)
				continue
			}
			break
		}
		if v.Findings.State != trace.Repaired {
			t.Fatalf("%s: %s after %d readings: %s %+v", x.pattern, v.Findings.State, readings, v.Findings.Headline, v.Findings.Grounds)
		}
		if len(v.StillOpen) > 0 {
			t.Errorf("%s: still open: %+v", x.pattern, v.StillOpen)
		}
		t.Logf("%s: %d words from the complaint to shown repaired", x.pattern, readings)
		if status, data := w.call("POST", path("/finish"), fmt.Sprintf(`{"outcome":"new chip","stage":%q,"without":[]}`, x.dead)); status != http.StatusOK {
			t.Errorf("%d %s", status, data)
		}
	}
}
