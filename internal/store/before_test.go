package store

import (
	"bytes"
	"errors"
	"fmt"
	"path/filepath"
	"reflect"
	"testing"
	"time"

	"steptrace/core/intake"
	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/stripdown"
	"steptrace/core/trace"
)

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
	n, err := s.AddJob(ctx, &job.Job{Complaint: "weak", Opened: at}, id, nil, Brought{})
	must(t, err)

	must(t, s.Note(ctx, n, "works", "left side"))
	must(t, s.Note(ctx, n, "works", "left side, meters"))
	e := safety.Event{ID: "e1", Kind: safety.Residual, Subject: "C1", Text: "1,2 V", SI: 1.2, At: at}
	x := line(t, "t1", "4 M3×8, cover, washers", at)
	p := Picture{PictureHead: PictureHead{ID: "p1", Step: "t1", Taken: at}, Type: "image/png", Data: []byte("data\x00\xff"), Preview: []byte("small")}
	r := trace.Reading{ID: "r1", Point: "B", Quantity: "ac", Text: "ok", Word: "ok", Power: trace.PowerStandby, Without: []string{"S", "two\nlines, \"quoted\""}, Taken: at}
	for range 2 {
		must(t, s.Happen(ctx, n, e))
		must(t, s.TakeApart(ctx, n, x))
		must(t, s.AddPicture(ctx, n, p))
		must(t, s.Log(ctx, n, r))
	}
	must(t, s.PutBack(ctx, n, stripdown.Return{Step: "t1", Count: 3, At: at}))
	waived := job.Waived{Waiver: trace.Waiver{Stage: "S", Key: "load", Reason: "potted"}, At: at}
	must(t, s.Waive(ctx, n, waived))
	other := e
	other.Text = "9 V"
	another := line(t, "t1", "5 M3×8, cover", at)
	thicker := p
	thicker.Data = []byte("longer data")
	astray := Picture{PictureHead: PictureHead{ID: "p2", Step: "t9"}}
	for name, err := range map[string]error{"event": s.Happen(ctx, n, other), "step": s.TakeApart(ctx, n, another), "picture": s.AddPicture(ctx, n, thicker)} {
		if !errors.Is(err, ErrTaken) {
			t.Errorf("another %s under the same id: %v", name, err)
		}
	}
	for name, err := range map[string]error{"picture of no step": s.AddPicture(ctx, n, astray), "return of no step": s.PutBack(ctx, n, stripdown.Return{Step: "t9", Count: 1}),
		"no such step": s.StrikeStep(ctx, n, "t9"), "no such picture": s.StrikePicture(ctx, n, "p9"), "no such job": s.Note(ctx, 99, "works", "x")} {
		if !errors.Is(err, ErrNotFound) {
			t.Errorf("%s: %v", name, err)
		}
	}
	must(t, s.Close())

	s = open1(t, path)
	defer func() { must(t, s.Close()) }()
	b, err := s.Before(ctx, n)
	must(t, err)
	x.Pictures = []string{"p1"}
	want := Before{Intake: map[string]string{"works": "left side, meters"}, Steps: []stripdown.Step{x}, Returns: []stripdown.Return{{Step: "t1", Count: 3, At: at}}, Pictures: []PictureHead{p.PictureHead}}
	if !reflect.DeepEqual(b, want) {
		t.Errorf("%+v\nwant %+v", b, want)
	}
	j, err := s.Job(ctx, n)
	must(t, err)
	if len(j.Safety) != 1 || j.Safety[0] != e || len(j.Waivers) != 1 || j.Waivers[0] != waived {
		t.Errorf("%+v %+v", j.Safety, j.Waivers)
	}
	if len(j.Readings) != 1 || j.Readings[0].Power != r.Power || !reflect.DeepEqual(j.Readings[0].Without, r.Without) {
		t.Errorf("%+v", j.Readings)
	}
	for preview, want := range map[bool][]byte{false: p.Data, true: p.Preview} {
		if data, _, err := s.PictureData(ctx, n, "p1", preview); err != nil || !bytes.Equal(data, want) {
			t.Errorf("preview %v: %q, %v", preview, data, err)
		}
	}
	must(t, s.StrikePicture(ctx, n, "p1"))
	must(t, s.StrikeStep(ctx, n, "t1"))
	if b, err = s.Before(ctx, n); err != nil || len(b.Steps) != 1 || b.Steps[0].Struck == nil || b.Steps[0].Pictures != nil || !b.Pictures[0].Struck {
		t.Errorf("struck out: %+v, %v", b, err)
	}
}

// A finished job takes nothing of it any more, and counts among the earlier ones.
func TestFinishedJobTakesNothing(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer func() { must(t, s.Close()) }()
	id, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	for range 2 {
		_, err = s.AddJob(ctx, &job.Job{Complaint: "weak", Opened: time.Now()}, id, nil, Brought{})
		must(t, err)
	}
	must(t, s.TakeApart(ctx, 1, line(t, "t1", "4 M3", time.Now())))
	must(t, s.Finish(ctx, 1, "C7 open", "S", nil))
	for name, err := range map[string]error{"note": s.Note(ctx, 1, "works", "x"), "event": s.Happen(ctx, 1, safety.Event{ID: "e", Kind: safety.SwitchedOn}), "step": s.TakeApart(ctx, 1, line(t, "t2", "4 M3", time.Now())),
		"repair": s.NoteRepair(ctx, 1, repair.Entry{ID: "r", Repair: &repair.Repair{Did: repair.Cleaned}}), "picture": s.AddPicture(ctx, 1, Picture{PictureHead: PictureHead{ID: "p"}}), "strike": s.StrikeStep(ctx, 1, "t1")} {
		if !errors.Is(err, ErrFinished) {
			t.Errorf("%s: %v", name, err)
		}
	}
	// Putting back stays possible.
	must(t, s.Happen(ctx, 1, safety.Event{ID: "e", Kind: safety.Off}))
	must(t, s.PutBack(ctx, 1, stripdown.Return{Step: "t1", Count: 1}))
	must(t, s.NoteRepair(ctx, 1, repair.Entry{ID: "r", Removed: &repair.Removed{Subject: "K1"}}))
	for but, want := range map[int]string{2: "[{1 S C7 open}]", 1: "[]"} {
		ended, err := s.Ended(ctx, id, but)
		earlier := job.Finished(ended)
		if err != nil || fmt.Sprint(earlier) != want || len(earlier) > 0 && earlier[0] != (intake.Finished{Job: 1, Stage: "S", Outcome: "C7 open"}) {
			t.Errorf("earlier than %d: %v, %v", but, earlier, err)
		}
	}
}

// A cell marked anew: the old mark goes and the new one comes, both or neither.
func TestMarkReplacesWholly(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer func() { must(t, s.Close()) }()
	id, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	n, err := s.AddJob(ctx, &job.Job{Complaint: "weak", Opened: time.Now()}, id, nil, Brought{})
	must(t, err)
	mark := func(id, word string) trace.Reading {
		return trace.Reading{ID: id, Point: "B", Quantity: "ac", Text: word, Word: quantity.Word(word), Injected: &trace.Injection{At: "A"}, Taken: time.Now()}
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
	must(t, s.Log(ctx, n, mark("other", "weak")))
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
