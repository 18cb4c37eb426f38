package job

import (
	"math"
	"reflect"
	"slices"
	"testing"
	"time"

	"steptrace/core/inside"
	"steptrace/core/intake"
	"steptrace/core/past"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/replace"
	"steptrace/core/report"
	"steptrace/core/sheet"
	"steptrace/core/shop"
	"steptrace/core/worth"
)

// told is a job whose minutes are counted by hand: looked at for 5 and 10 minutes, traced for 20, inside for 15, then the next day 5
// and 10 at the iron, then proved for 12. Whose it is and what was waited for are no work.
func told() *Job {
	nine := time.Date(2026, 11, 20, 9, 0, 0, 0, time.UTC)
	at := func(minutes int) time.Time { return nine.Add(time.Duration(minutes) * time.Minute) }
	day := 24 * 60
	return &Job{
		Complaint: "weak", Opened: nine,
		Intake: intake.Notes{{ID: "1", Field: "look", Text: "dust", At: at(0)}, {ID: "2", Field: "works", Text: "lamp", At: at(10)},
			{
				ID:    "3",
				Field: intake.SerialField,
				Text:  "88",
				At:    at(300),
			}, {ID: "4", Field: intake.ValueField, Text: "90 kr", At: at(301)}},
		Readings: []Logged{
			{Reading: reading.Reading{ID: "r1", Point: "B", Quantity: sheet.AC, Text: "none", Word: quantity.Nothing, Taken: at(30)}},
			{
				Reading: reading.Reading{
					ID:       "r2",
					Point:    "B",
					Quantity: sheet.AC,
					Text:     "1 V",
					SI:       1,
					Form:     quantity.RMS,
					Taken:    at(day + 22),
				},
			},
		},
		Inside: []inside.Entry{
			{ID: "i1", Stage: "S", At: at(45), Condemned: &inside.Condemned{Part: "C5", What: "open"}},
		},
		Replacing: []replace.Entry{{ID: "p1", At: at(day), Chosen: &replace.Chosen{Part: "C5", New: "10 µF", Count: 2, Price: "0,50"}}},
		Repairs: []repair.Entry{{ID: "m1", At: at(day + 10), Repair: &repair.Repair{
			Did: repair.Replaced, Stage: "S", Parts: []repair.Part{{Name: "C5", Found: repair.Bad}},
		}}},
	}
}

func TestTimeIsTakenStepByStep(t *testing.T) {
	want := past.Minutes{past.Prepare: 15, past.Trace: 20, past.Inside: 15, past.Replace: 15, past.Prove: 12}
	if got := told().WorkedOn(); !reflect.DeepEqual(got, want) {
		t.Errorf("%v, want %v", got, want)
	}
}

// What a job costs so far: its minutes at the price of an hour, and two capacitors.
func TestWhatIsSpent(t *testing.T) {
	c := told().Costing()
	if got := c.Spent(6000); got != 77*100+100 {
		t.Errorf("%d", got)
	}
}

// A finished job teaches where it ended, with the part, what that took, what it was taken for, and what parts cost in hours; one that
// was given up teaches that; of one that is on the bench nothing is known.
func TestAFinishedJobTeaches(t *testing.T) {
	p := plan(t)
	j := told()
	settings := shop.Usual()
	settings.Rate = "60"
	if got := j.Teaches(p, &settings, false); got != nil {
		t.Errorf("%+v", got)
	}
	done := j.Opened.AddDate(0, 0, 1)
	j.Finished, j.Outcome = &done, "C5 open"
	j.Inside = append(j.Inside, inside.Entry{
		ID: "i0", Stage: "+9 V", At: j.Opened, Struck: true, Condemned: &inside.Condemned{Part: "C1", What: "dry"},
	})
	got := j.Teaches(p, &settings, true)
	if got == nil || !reflect.DeepEqual(got.Ends, []past.End{{Block: "S", Kind: "", Part: "C5", What: "open"}}) ||
		!reflect.DeepEqual(got.Mistaken, []string{"+9 V"}) || !got.Back || got.Finished != "2026-11-21" || got.Was != "C5 open" {
		t.Fatalf("%+v", got)
	}
	if got.Work.Sum() != 77 || got.Usual[past.Prepare] != 22 || got.Usual[past.Inside] != 20 {
		t.Errorf("%v %v", got.Work, got.Usual)
	}
	if len(got.Prices) != 1 || got.Prices[0].Class != past.Small || math.Abs(got.Prices[0].Hours-0.5/60) > 1e-12 {
		t.Errorf("%+v", got.Prices)
	}
	j.Repairs, j.Inside = nil, nil
	j.Worthing = []worth.Entry{{ID: "w", At: done, Decision: &worth.Decision{Choice: worth.Leave, Why: "charcoal"}}}
	if got := j.Teaches(p, &settings, false); got == nil || !got.GaveUp || len(got.Ends) != 0 {
		t.Errorf("%+v", got)
	}
	j.Readings = j.Readings[:1]
	// It is not asked for a repair any more, and its owner is told why there was none.
	c, _ := j.Case(p)
	f := c.Find(j.Plain(p))
	if open := j.StillOpen(p, &f); slices.ContainsFunc(open, func(o Open) bool { return o.Key == "no repair" }) {
		t.Errorf("%+v", open)
	}
	facts := j.Facts(p, &f)
	if made := report.Make(&facts, &settings, nil); !slices.ContainsFunc(made.Sections, func(x report.Section) bool {
		return x.Text == "It was not repaired: charcoal."
	}) || slices.ContainsFunc(made.Sections, func(x report.Section) bool { return x.Key == report.Warranty && x.Text != "" }) {
		t.Errorf("%+v", made.Sections)
	}
	j.Worthing = nil
	if open := j.StillOpen(p, &f); !slices.ContainsFunc(open, func(o Open) bool { return o.Key == "no repair" }) {
		t.Errorf("%+v", open)
	}
	if got := j.Teaches(p, &settings, false); got != nil {
		t.Errorf("nothing is known of how it ended: %+v", got)
	}
}

// The facts go with the job: the suspects at the beginning, the one that is condemned, the part that is in.
func TestFactsOfWorthFollowTheJob(t *testing.T) {
	p := plan(t)
	known := Known{Shop: shop.Usual(), Now: time.Date(2026, 11, 22, 0, 0, 0, 0, time.UTC)}
	facts := func(j *Job) worth.Facts {
		c, ok := j.Case(p)
		if !ok {
			t.Fatal("it cannot be traced")
		}
		f := c.Find(j.Plain(p))
		return j.Worth(p, &f, &known)
	}
	j := told()
	all := *j
	j.Inside, j.Replacing, j.Repairs, j.Readings = nil, nil, nil, nil
	f := facts(j)
	sum := 0.0
	for _, s := range f.Suspects {
		sum += s.Share
	}
	if math.Abs(sum-1) > 1e-9 || f.PartKnown || f.Fitted || f.Ground != worth.ByManual || f.Value != 9000 || f.Prepare != 12 {
		t.Errorf("%+v", f)
	}
	j.Inside, j.Replacing = all.Inside, all.Replacing
	if f = facts(j); !f.PartKnown || f.Fitted || f.Trace != 0 || len(f.Parts) != 1 || f.Parts[0].Price != 50 || f.Parts[0].Count != 2 {
		t.Errorf("%+v", f)
	}
	j.Repairs, j.Readings = all.Repairs, all.Readings
	if f = facts(j); !f.Fitted || len(f.Parts) != 0 || f.Bought != 100 {
		t.Errorf("%+v", f)
	}
	nothing := (&Job{Complaint: "dead"}).Worth(p, nil, &known)
	if nothing.Trace <= 0 || nothing.Fitted {
		t.Errorf("%+v", nothing)
	}
}
