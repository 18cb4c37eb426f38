package store

import (
	"bytes"
	"errors"
	"fmt"
	"path/filepath"
	"reflect"
	"testing"
	"time"

	"steptrace/core/entry"
	"steptrace/core/intake"
	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/stripdown"
	"steptrace/core/trace"
)

// note keeps an entry, with its files.
func note(t *testing.T, s *Store, n int, e entry.Entry, files Files) {
	t.Helper()
	must(t, s.Note(ctx, n, e, files))
}

func line(t *testing.T, id, text string, at time.Time) stripdown.Step {
	t.Helper()
	x, err := stripdown.Read(stripdown.Screws, text)
	must(t, err)
	x.ID, x.Taken = id, at
	return x
}

// What is written down before the first probe is there after closing and
// opening; the same thing sent twice is kept once, another under its id is refused.
func TestBeforeTheFirstProbeSurvivesReopening(t *testing.T) {
	path := filepath.Join(t.TempDir(), "w.db")
	s := open1(t, path)
	id, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	at := time.Date(2026, 11, 24, 9, 0, 0, 987654321, time.UTC)
	n, err := s.AddJob(ctx, &job.Job{Complaint: "weak", Opened: at}, id, nil)
	must(t, err)

	note(t, s, n, &intake.Note{ID: "n1", Field: "works", Text: "left side", At: at}, nil)
	note(t, s, n, &intake.Note{ID: "n2", Field: "works", Text: "left side, meters", At: at}, nil)
	e := safety.Event{ID: "e1", Kind: safety.Residual, Subject: "C1", Text: "1,2 V", SI: 1.2}
	x := line(t, "t1", "4 M3×8, cover, washers", at)
	p := job.Picture{ID: "p1", Step: "t1"}
	data, preview := []byte("data\x00\xff"), []byte("small")
	r := reading.Reading{
		ID:       "r1",
		Point:    "B",
		Quantity: "ac",
		Text:     "ok",
		Word:     "ok",
		Power:    reading.PowerStandby,
		Without:  []string{"S", "two\nlines, \"quoted\""},
	}
	waived := job.Waived{ID: "w1", Waiver: trace.Waiver{Stage: "S", Key: "load", Reason: "potted"}}
	for i := range 2 {
		at := at.Add(time.Duration(i) * time.Hour) // the second time counts for nothing
		e, x, p, waived, r := e, x, p, waived, r
		e.At, x.Taken, p.Taken, waived.At, r.Taken = at, at, at, at, at
		note(t, s, n, &e, nil)
		note(t, s, n, &x, nil)
		note(t, s, n, &p, OfPicture(data, preview))
		note(t, s, n, &waived, nil)
		note(t, s, n, &job.Logged{Reading: r}, nil)
	}
	note(t, s, n, &stripdown.Return{ID: "b1", Step: "t1", Count: 3, At: at}, nil)
	other := e
	other.Text = "9 V"
	another := line(t, "t1", "5 M3×8, cover", at)
	for name, err := range map[string]error{"event": s.Note(ctx, n, &other, nil), "step": s.Note(ctx, n, &another, nil),
		"picture": s.Note(ctx, n, &p, OfPicture([]byte("longer data"), preview))} {
		if !errors.Is(err, ErrTaken) {
			t.Errorf("another %s under the same id: %v", name, err)
		}
	}
	for name, err := range map[string]error{"no such step": s.Strike(ctx, n, "steps", "t9", ""), "no such picture": s.Strike(ctx, n,
		"pictures", "p9", ""),
		"an event is not struck out": s.Strike(ctx, n, "safety", "e1", ""), "no such kind": s.Strike(ctx, n, "songs", "e1", ""),
		"no such job": s.Note(ctx, 99, &other, nil)} {
		if !errors.Is(err, ErrNotFound) {
			t.Errorf("%s: %v", name, err)
		}
	}
	must(t, s.Close())

	s = open1(t, path)
	defer func() { must(t, s.Close()) }()
	j, err := s.Job(ctx, n)
	must(t, err)
	if got := j.Intake.Texts(); len(j.Intake) != 2 || got["works"] != "left side, meters" {
		t.Errorf("%+v", j.Intake)
	}
	steps := j.Pictured()
	if len(steps) != 1 || steps[0].Says() != x.Says() || !reflect.DeepEqual(steps[0].Pictures, []string{"p1"}) || len(j.Returns) != 1 ||
		j.Returns[0].Count != 3 {
		t.Errorf("%+v %+v", steps, j.Returns)
	}
	if len(j.Safety) != 1 || j.Safety[0].SI != e.SI || len(j.Waivers) != 1 || j.Waivers[0].Waiver != waived.Waiver {
		t.Errorf("%+v %+v", j.Safety, j.Waivers)
	}
	if len(j.Readings) != 1 || j.Readings[0].Power != r.Power || !reflect.DeepEqual(j.Readings[0].Without, r.Without) {
		t.Errorf("%+v", j.Readings)
	}
	last := time.Time{}
	for _, at := range []time.Time{j.Intake[0].At, j.Intake[1].At, j.Safety[0].At, j.Steps[0].Taken, j.Pictures[0].Taken, j.Waivers[0].At,
		j.Readings[0].Taken, j.Returns[0].At} {
		if !at.After(last) || at.Sub(last) > time.Millisecond && !last.IsZero() {
			t.Errorf("the order of the entries is not that of their times: %v after %v", at, last)
		}
		last = at
	}
	for small, want := range map[bool][]byte{false: data, true: preview} {
		if got, err := s.PictureData(ctx, n, "p1", small); err != nil || !bytes.Equal(got, want) {
			t.Errorf("preview %v: %q, %v", small, got, err)
		}
	}
	must(t, s.Strike(ctx, n, "pictures", "p1", ""))
	must(t, s.Strike(ctx, n, "steps", "t1", ""))
	note(t, s, n, &x, nil) // sent again after it was struck out: it stays so
	if j, err = s.Job(ctx, n); err != nil || len(j.Steps) != 1 || j.Steps[0].Struck == nil || !j.Pictures[0].Struck ||
		j.Pictured()[0].Pictures != nil {
		t.Errorf("struck out: %+v, %v", j.Steps, err)
	}
}

// A finished job takes nothing of it any more, and counts among the earlier ones.
func TestFinishedJobTakesNothing(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer func() { must(t, s.Close()) }()
	id, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	for range 2 {
		_, err = s.AddJob(ctx, &job.Job{Complaint: "weak", Opened: time.Now()}, id, nil)
		must(t, err)
	}
	t1, t2 := line(t, "t1", "4 M3", time.Now()), line(t, "t2", "4 M3", time.Now())
	note(t, s, 1, &t1, nil)
	must(t, s.Finish(ctx, 1, "C7 open", "S", nil))
	for name, err := range map[string]error{"note": s.Note(ctx, 1, &intake.Note{ID: "n"}, nil), "event": s.Note(ctx, 1,
		&safety.Event{ID: "e", Kind: safety.SwitchedOn}, nil), "step": s.Note(ctx, 1, &t2, nil),
		"repair": s.Note(ctx, 1, &repair.Entry{ID: "r", Repair: &repair.Repair{Did: repair.Cleaned}}, nil), "picture": s.Note(ctx, 1,
			&job.Picture{ID: "p"}, nil), "strike": s.Strike(ctx, 1, "steps", "t1", "")} {
		if !errors.Is(err, ErrFinished) {
			t.Errorf("%s: %v", name, err)
		}
	}
	// Putting back stays possible.
	note(t, s, 1, &safety.Event{ID: "e", Kind: safety.Off}, nil)
	note(t, s, 1, &stripdown.Return{ID: "b", Step: "t1", Count: 1}, nil)
	note(t, s, 1, &repair.Entry{ID: "r", Removed: &repair.Removed{Subject: "K1"}}, nil)
	for but, want := range map[int]string{2: "{1 [{S 1 1 C7 open}] map[] 0}", 1: "{0 [] map[] 0}"} {
		if ends, err := s.Ends(ctx, id, but); err != nil || fmt.Sprint(ends) != want {
			t.Errorf("earlier than %d: %v, %v", but, ends, err)
		}
	}
	must(t, s.Reopen(ctx, 1))
	if ends, err := s.Ends(ctx, id, 2); err != nil || ends.Of != 0 {
		t.Errorf("back on the bench it counts: %v, %v", ends, err)
	}
}

// A cell marked anew: the old mark goes and the new one comes, both or neither.
func TestMarkReplacesWholly(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer func() { must(t, s.Close()) }()
	id, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	n, err := s.AddJob(ctx, &job.Job{Complaint: "weak", Opened: time.Now()}, id, nil)
	must(t, err)
	mark := func(id, word string) reading.Reading {
		return reading.Reading{
			ID:       id,
			Point:    "B",
			Quantity: "ac",
			Text:     word,
			Word:     quantity.Word(word),
			Injected: &reading.Injection{At: "A"},
			Taken:    time.Now(),
		}
	}
	standing := func() string {
		t.Helper()
		j, err := s.Job(ctx, n)
		must(t, err)
		text := ""
		for _, r := range j.Readings {
			if !r.Struck {
				text += r.ID + " " + r.Text + ";"
			}
		}
		return text
	}
	must(t, s.Mark(ctx, n, mark("m1", "ok"), nil))
	must(t, log(s, n, mark("other", "weak")))
	// The id belongs to another reading: nothing changes, the old mark stands.
	if err := s.Mark(ctx, n, mark("other", "none"), []string{"m1"}); !errors.Is(err, ErrTaken) || standing() != "m1 ok;other weak;" {
		t.Errorf("%v: %s", err, standing())
	}
	must(t, s.Mark(ctx, n, mark("m2", "none"), []string{"m1"}))
	if got := standing(); got != "other weak;m2 none;" {
		t.Error(got)
	}
	must(t, s.Mark(ctx, n, mark("m3", ""), []string{"m2"}))
	if got := standing(); got != "other weak;" {
		t.Error(got)
	}
}
