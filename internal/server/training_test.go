package server_test

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/sheet"
	"steptrace/core/trace"
	"steptrace/core/training"
	"steptrace/internal/server"
)

const practice = "/practise/api"

// drawn draws a case in practice, and gives its address.
func drawn(w *workshop, wish server.Wish) string {
	return fmt.Sprintf("%s/jobs/%d", practice, ask[server.Opened](w, "POST", practice+"/training", wish).Number)
}

func (w *workshop) happens(job string, kind safety.What, subject string) {
	w.must("POST", job+"/safety", fmt.Sprintf(`{"id":"%s%s%d","kind":%q,"subject":%q}`, kind, strings.ReplaceAll(subject, " ", ""),
		time.Now().UnixNano(), kind, subject))
}

// madeSafe switches the set of a case on with all that is to be minded seen to.
func (w *workshop) madeSafe(job string) {
	var v server.SafetyView
	if err := json.Unmarshal(w.must("GET", job+"/safety", ""), &v); err != nil {
		w.t.Fatal(err)
	}
	for _, c := range v.Cautions {
		w.happens(job, safety.Ticked, c.Key)
	}
	w.happens(job, safety.SwitchedOn, "")
}

// A case is worked through the routes of real work: what is off gives nothing, what is unsafe is stopped and counts, the set answers
// what is tried and read, whatever is typed; advice comes when it is asked for; the repair puts it right; at the end it is told how
// it went.
// Nothing of it is in the workshop.
func TestACaseIsWorkedThroughTheRoutesOfRealWork(t *testing.T) {
	w := open(t)
	before, _ := w.store.Unsaid(context.Background(), 1000)
	w.train()
	wish := server.Wish{ID: "wish", Level: training.First, Kind: training.InBlock, Set: "power amplifier", Seed: 21}
	job := drawn(w, wish)
	if again := drawn(w, wish); again != job {
		t.Errorf("sent twice, it is drawn twice: %s, %s", job, again)
	}
	var v server.JobView
	look := func() server.JobView {
		v = server.JobView{}
		if err := json.Unmarshal(w.must("GET", job, ""), &v); err != nil {
			t.Fatal(err)
		}
		return v
	}
	look()
	if v.Findings.Next != nil || len(v.Findings.Ways) > 0 || len(v.Offers) > 0 ||
		slices.ContainsFunc(v.Findings.Stages, func(s trace.StageFinding) bool {
			return s.Weight > 0 || s.Standing != trace.Open
		}) {
		t.Errorf("advice is there without being asked for: %+v", v.Findings.Conclusion)
	}
	exit, inside := v.Findings.Points[len(v.Findings.Points)-1].Name, v.Findings.Points[2].Name
	take := func(id, point string, q sheet.Quantity) (int, string) {
		body, _ := json.Marshal(server.ToTake{Typed: server.Typed{ID: id, Aim: reading.Aim{Point: point, Quantity: q},
			Conditions: server.Conditions{Route: v.Route}}})
		status, data := w.call("POST", job+"/take", string(body))
		return status, string(data)
	}
	if status, text := take("r0", exit, ""); status != http.StatusConflict || !strings.Contains(text, "The set is off") {
		t.Errorf("off, it is read: %d %s", status, text)
	}
	w.happens(job, safety.SwitchedOn, "")
	if status, text := take("r1", inside, ""); status != http.StatusConflict || !strings.Contains(text, "Stopped") {
		t.Errorf("inside it is read before it was made safe: %d %s", status, text)
	}
	if status, text := take("r2", inside, sheet.Resistance); status != http.StatusConflict || !strings.Contains(text, "fuse") {
		t.Errorf("ohms are read live: %d %s", status, text)
	}
	if status, text := take("r3", exit, ""); status != http.StatusOK {
		t.Errorf("from outside nothing is unsafe: %d %s", status, text)
	}
	w.madeSafe(job)
	// What is typed is of no account: the set answers.
	lied, _ := json.Marshal(
		server.Typed{ID: "r4", Aim: reading.Aim{Point: exit}, Text: "123 V", Conditions: server.Conditions{Route: v.Route}},
	)
	w.must("POST", job+"/readings", string(lied))
	var intake server.IntakeView
	if err := json.Unmarshal(w.must("GET", job+"/intake", ""), &intake); err != nil {
		t.Fatal(err)
	}
	if len(intake.Matrix.Left) > 0 || intake.Matrix.Best != nil {
		t.Error("the intake advises without being asked")
	}
	for _, row := range intake.Matrix.Rows {
		for _, c := range row.Cells {
			if c.There {
				mark, _ := json.Marshal(server.Mark{
					ID: "m" + row.Entry + c.Exit, Mode: row.Mode, Entry: row.Entry, Exit: c.Exit, Word: "ok", Without: []string{},
				})
				w.must("POST", job+"/marks", string(mark))
			}
		}
	}
	look()
	for _, j := range v.Findings.Readings {
		if strings.Contains(j.Reading.Text, "123") {
			t.Errorf("what was typed is taken for a reading: %+v", j.Reading)
		}
	}
	drill := func(what string) server.CaseView {
		return ask[server.CaseView](w, "POST", job+"/training", server.Drill{What: what, Minutes: 15})
	}
	if c := drill("advice"); !c.Told || c.Stopped != 2 || c.Review != nil {
		t.Errorf("advice asked for: %+v", c)
	}
	if look(); v.Findings.GoTo != "" { // it is on another route than the complaint had it
		w.must("PUT", job+"/bench", fmt.Sprintf(`{"route":%q,"at":"","level":"","frequency":"","instrument":""}`, v.Findings.GoTo))
		look()
	}
	if v.Findings.Next == nil {
		t.Fatalf("asked for, there is no advice: %s", v.Findings.Headline)
	}
	if c := drill("wait"); !c.Warm || c.Minutes < 15 {
		t.Errorf("after a quarter of an hour: %+v", c)
	}
	// The proposals are followed to the end, each asked for.
	for n := 0; v.Findings.State != trace.Named; n++ {
		if n > 20 || v.Findings.Next == nil {
			t.Fatalf("it ends nowhere: %s", v.Findings.Headline)
		}
		p := v.Findings.Next
		body, _ := json.Marshal(
			server.ToTake{Typed: server.Typed{ID: fmt.Sprintf("n%d", n), Aim: reading.Aim{Point: p.Point, Quantity: p.Quantity},
				Without: p.Without, Worked: p.Worked, Conditions: server.Conditions{Route: p.Route, Injected: p.Injected}}},
		)
		w.must("POST", job+"/take", string(body))
		drill("advice")
		look()
	}
	stage := v.Findings.Stage
	body, _ := json.Marshal(repair.Entry{ID: "fix", Repair: &repair.Repair{Did: repair.Replaced, Stage: stage}})
	if status, text := w.detail("POST", job+"/repairs", string(body)); status != http.StatusConflict ||
		!strings.Contains(text, "live set") {
		t.Errorf("it is soldered in a live set: %d %s", status, text)
	}
	w.happens(job, safety.Off, "")
	w.must("POST", job+"/repairs", string(body))
	c := drill("end")
	if !c.Ended || c.Review == nil || len(c.Review.Found) != 1 || !c.Review.Found[0] || len(c.Review.Stopped) != 3 ||
		!c.Review.Done[0].Right ||
		!strings.HasPrefix(c.Review.Wrong[0], stage) {
		t.Errorf("at the end: %+v", c.Review)
	}
	if status, text := take("late", exit, ""); status != http.StatusConflict || !strings.Contains(text, "ended") {
		t.Errorf("after the end it is read: %d %s", status, text)
	}
	list := ask[server.TrainingView](w, "GET", practice+"/training", nil)
	if len(list.Cases) != 1 || !list.Cases[0].Ended || list.Cases[0].Found != 1 || len(list.Sheets) == 0 || len(list.Sets) < 40 ||
		len(list.Stands) != 1 || list.Stands[0].Kind != training.InBlock || list.Stands[0].Of != 1 || list.Stands[0].Right != 1 ||
		len(list.Steps) < 3 {
		t.Errorf("the list: %+v", list.Cases)
	}
	// Nothing of it came into the workshop: neither a job nor a sheet, and its routes of practice answer nothing.
	after, _ := w.store.Unsaid(context.Background(), 1000)
	if len(after) != len(before) {
		t.Errorf("the workshop had %d jobs, and has %d", len(before), len(after))
	}
	if status, _ := w.call("GET", "/api/training", ""); status != http.StatusNotFound {
		t.Errorf("the workshop answers for practice: %d", status)
	}
	if got, _ := w.store.AllDrawn(context.Background(), 10); len(got) != 0 {
		t.Errorf("the workshop's store has %d cases", len(got))
	}
}

// Until it has ended, nothing that a case's routes answer tells what is wrong with its set.
func TestACaseKeepsItsSecret(t *testing.T) {
	w := open(t)
	db, _ := w.train()
	job := drawn(w, server.Wish{Level: training.Usual, Kind: training.InPart, Set: "set with Common emitter", Seed: 5})
	d, err := db.Drawn(context.Background(), 1)
	if err != nil {
		t.Fatal(err)
	}
	w.madeSafe(job)
	fault := d.Case.Faults[0]
	for _, r := range server.Routes {
		if r.Method != http.MethodGet || strings.Contains(r.Path, "{id}") || strings.HasSuffix(r.Path, "/changes") {
			continue
		}
		_, data := w.call("GET", practice+strings.ReplaceAll(r.Path, "{number}", "1"), "")
		text := string(data)
		if strings.Contains(text, `"faults":[`) ||
			strings.Contains(text, fmt.Sprintf("%s in %s is %s", fault.Part, fault.Block, fault.What)) {
			t.Errorf("%s tells: %.300s", r.Path, text)
		}
	}
	for _, path := range []string{"/practice", "/hands"} {
		if status, text := w.detail("POST", job+path, `{"reveal":true}`); path == "/practice" &&
			(status != http.StatusConflict || text == "") {
			t.Errorf("%s: %d %s", path, status, text)
		}
	}
}

// Quick ones are asked and answered; what was sent twice counts once; a choice that is not there is refused.
func TestAQuickOneIsAnswered(t *testing.T) {
	w := empty(t)
	w.train()
	q := ask[server.QuickView](w, "GET", practice+"/training/quick", nil)
	if q.Quick.Kind != training.QuickKinds[0] || len(q.Quick.Choices) != 4 {
		t.Fatalf("%+v", q.Quick)
	}
	text, _ := json.Marshal(q)
	if strings.Contains(string(text), `"right":1`) || strings.Contains(string(text), `"why"`) {
		t.Errorf("the answer is told: %.400s", text)
	}
	solved, err := training.MakeQuick(q.Quick.Kind, q.Quick.Seed)
	if err != nil {
		t.Fatal(err)
	}
	right := solved.Solved().Right
	for range 2 {
		g := ask[server.Graded](w, "POST", practice+"/training/quick",
			server.Choice{ID: "a", Kind: q.Quick.Kind, Seed: q.Quick.Seed, Choice: right, Seconds: 40})
		if g.Right != right || len(g.Why) == 0 || g.Skills[0].Of != 1 || g.Skills[0].Right != 1 {
			t.Errorf("%+v", g)
		}
	}
	if q := ask[server.QuickView](w, "GET", practice+"/training/quick", nil); q.Quick.Kind != training.QuickKinds[1] {
		t.Errorf("%q comes next", q.Quick.Kind)
	}
	for _, x := range []string{
		`{"id":"b","kind":"which part","seed":1,"choice":9}`, `{"id":"b","kind":"which wire","seed":1,"choice":0}`, `{"kind":"which part"}`,
	} {
		if status, text := w.detail("POST", practice+"/training/quick", x); status != http.StatusUnprocessableEntity || text == "" {
			t.Errorf("%s: %d %s", x, status, text)
		}
	}
	if status, _ := w.call("GET", "/api/training/quick", ""); status != http.StatusNotFound {
		t.Errorf("the workshop asks: %d", status)
	}
}

// What is heard is a sound, once the set is on; wishes that nothing can be drawn for, and what is not to be done, are refused in words.
func TestWhatPracticeRefuses(t *testing.T) {
	w := open(t)
	w.train()
	job := drawn(w, server.Wish{Level: training.First, Set: "phono stage", Seed: 3, Advice: training.Hidden})
	c := ask[server.CaseView](w, "GET", job+"/training", nil)
	h := c.Cells[0]
	listen := fmt.Sprintf("%s/training/heard.wav?mode=%s&entry=%s&exit=%s", job, h.Mode, strings.ReplaceAll(h.Entry, " ", "+"),
		strings.ReplaceAll(h.Exit, " ", "+"))
	if status, text := w.detail("GET", listen, ""); status != http.StatusConflict || !strings.Contains(text, "switch it on") {
		t.Errorf("off, it is heard: %d %s", status, text)
	}
	w.madeSafe(job)
	if status, data := w.call("GET", listen, ""); status != http.StatusOK || !strings.HasPrefix(string(data), "RIFF") {
		t.Errorf("%d, %d bytes", status, len(data))
	}
	for _, x := range []struct {
		method, path, body string
		status             int
		says               string
	}{
		{"POST", practice + "/training", `{"level":"easy"}`, 422, "no level"},
		{"POST", practice + "/training", `{"level":"usual","set":"a toaster"}`, 422, "list"},
		{"POST", practice + "/training", `{"level":"usual","sheet":9999}`, 422, "sheet"},
		{"POST", practice + "/training", `{"level":"usual","kind":"gremlins"}`, 422, "no kind"},
		{"POST", job + "/training", `{"what":"advice"}`, 409, "without advice"},
		{"POST", job + "/training", `{"what":"wait","minutes":-4}`, 422, "minutes"},
		{"POST", job + "/training", `{"what":"dance"}`, 422, "Say wait"},
		{"GET", practice + "/jobs/77/training", "", 404, "77"},
		{"GET", "/api/jobs/142/training", "", 404, "Practise"},
		{"GET", job + "/training/heard.wav?exit=nowhere", "", 422, "leads"},
	} {
		if status, text := w.detail(x.method, x.path, x.body); status != x.status || !strings.Contains(text, x.says) {
			t.Errorf("%s %s %s: %d %s", x.method, x.path, x.body, status, text)
		}
	}
	if status, data := w.call("GET", "/practise/", ""); status != http.StatusOK || !strings.Contains(string(data), "doctype") {
		t.Errorf("the pages of practice: %d %s", status, data)
	}
}

// The workshop's own finished jobs are worked again: each becomes a case with the fault that was found, told anew, or it is said why not;
// whose the set is does not come along.
func TestOwnJobsAreWorkedAgain(t *testing.T) {
	w := open(t)
	w.must("POST", "/api/jobs/142/intake", `{"field":"owner","text":"Somebody Whoever"}`)
	db, _ := w.train()
	list := ask[server.TrainingView](w, "GET", practice+"/training", nil)
	if len(list.Jobs) == 0 {
		t.Fatal("no finished job is offered")
	}
	made := 0
	for _, j := range list.Jobs {
		status, data := w.call("POST", practice+"/training", fmt.Sprintf(`{"level":"usual","job":%d,"seed":1}`, j.Number))
		if status != http.StatusOK {
			if !strings.Contains(string(data), fmt.Sprint(j.Number)) {
				t.Errorf("job %d is refused without a reason: %s", j.Number, data)
			}
			continue
		}
		made++
		d, err := db.Drawn(context.Background(), made)
		if err != nil {
			t.Fatal(err)
		}
		was, err := w.store.Job(context.Background(), j.Number)
		if err != nil {
			t.Fatal(err)
		}
		if f := d.Case.Faults[0]; was.Stage != "" && f.Block != was.Stage {
			t.Errorf("job %d was %s, its case is %+v", j.Number, was.Stage, f)
		}
		text, _ := json.Marshal(d.Case)
		if strings.Contains(string(text), "Whoever") || d.Case.Told.Complaint == "" {
			t.Errorf("job %d: %s", j.Number, d.Case.Told.Complaint)
		}
	}
	if made == 0 {
		t.Error("no job became a case")
	}
	t.Logf("%d of %d finished jobs became cases", made, len(list.Jobs))
	for _, x := range []string{`{"level":"usual","job":141}`, `{"level":"usual","job":99999}`} {
		if status, text := w.detail("POST", practice+"/training", x); status != http.StatusUnprocessableEntity || text == "" {
			t.Errorf("%s: %d %s", x, status, text)
		}
	}
}

// What is shown is read off by whoever works: it is taken down as it was read, and where something else was there the review says so; it
// is gone through once more when it has ended, and not before. How one stands follows.
func TestReadOffAndGoneThroughOnceMore(t *testing.T) {
	t.Parallel()
	w := open(t)
	w.train()
	job := drawn(w, server.Wish{Level: training.First, Set: "phono stage", Kind: training.InBlock, Seed: 4})
	w.happens(job, safety.SwitchedOn, "")
	v := ask[server.JobView](w, "GET", job, nil)
	exit := v.Findings.Points[len(v.Findings.Points)-1].Name
	typed := server.Typed{ID: "f0", Aim: reading.Aim{Point: exit}, Conditions: server.Conditions{Route: v.Route}}
	face := ask[training.Face](w, "POST", job+"/training/face", typed)
	if len(face.Trace) == 0 || face.Volts <= 0 || face.Seconds <= 0 {
		t.Fatalf("nothing is shown: %+v", face)
	}
	high := (slices.Max(face.Trace) - slices.Min(face.Trace)) * face.Volts
	for id, text := range map[string]string{"right": fmt.Sprintf("%.3g Vpp", high), "wrong": fmt.Sprintf("%.3g Vpp", 50*high+1)} {
		typed.ID, typed.Text, typed.ReadOff = id, text, true
		if j := ask[server.JobView](w, "POST", job+"/readings", typed); len(j.Findings.Readings) == 0 {
			t.Errorf("%s was not taken down", text)
		}
	}
	if status, text := w.detail("GET", job+"/training/readings/right", ""); status != http.StatusConflict {
		t.Errorf("it is gone through before it has ended: %d %s", status, text)
	}
	c := ask[server.CaseView](w, "POST", job+"/training", server.Drill{What: "end"})
	for _, r := range c.Review.Taken {
		if (r.Was != "") != (r.ID == "wrong") {
			t.Errorf("%s read off, %q was there", r.Reads, r.Was)
		}
	}
	x := ask[training.Replay](w, "GET", job+"/training/readings/right", nil)
	if x.Point != exit || x.Findings.Points[x.At].Name != exit {
		t.Errorf("once more: %+v", x)
	}
	if status, _ := w.detail("GET", job+"/training/readings/none", ""); status != http.StatusNotFound {
		t.Errorf("a reading that is not there: %d", status)
	}
	list := ask[server.TrainingView](w, "GET", practice+"/training", nil)
	if i := slices.IndexFunc(list.Steps, func(s training.PhaseStand) bool { return s.Phase == training.ReadingIt }); i < 0 ||
		list.Steps[i].Right != 0 || len(list.Stands) != 1 || list.Stands[0].Right != 0 {
		t.Errorf("how one stands: %+v %+v", list.Stands, list.Steps)
	}
}

// The demo has practised: cases worked through the same simulation, so that their reviews say what was found; a second start adds nothing.
func TestTheDemoHasPractised(t *testing.T) {
	t.Parallel()
	w := open(t)
	_, p := w.train()
	for range 2 {
		if err := p.Rehearse(context.Background()); err != nil {
			t.Fatal(err)
		}
	}
	list := ask[server.TrainingView](w, "GET", practice+"/training", nil)
	found, open := 0, 0
	for _, c := range list.Cases {
		switch {
		case !c.Ended:
			open++
		case c.Found == c.Faults:
			found++
			v := ask[server.CaseView](w, "GET", fmt.Sprintf("%s/jobs/%d/training", practice, c.Number), nil)
			if len(v.Review.Taken) == 0 || v.Minutes <= 0 || !v.Review.Done[0].Right {
				t.Errorf("case %d: %+v", c.Number, v.Review)
			}
		}
	}
	if len(list.Cases) != 5 || found != 3 || open != 1 || len(list.Steps) < 4 {
		t.Errorf("%d cases, %d found, %d open; %+v", len(list.Cases), found, open, list.Steps)
	}
	q := ask[server.QuickView](w, "GET", practice+"/training/quick", nil)
	for _, s := range q.Skills {
		if s.Of != 1 {
			t.Errorf("%s: asked %d times", s.Kind, s.Of)
		}
	}
}
