package store

import (
	"path/filepath"
	"reflect"
	"testing"
	"time"

	"steptrace/core/job"
	"steptrace/core/reading"
	"steptrace/core/repair"
)

// What was repaired is there after reopening; and a clock that is set back puts nothing that
// was taken after a repair before it.
func TestRepairsAreKeptInTheirOrder(t *testing.T) {
	path := filepath.Join(t.TempDir(), "w.db")
	s := open1(t, path)
	id, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	at := time.Date(2026, 11, 25, 9, 0, 0, 0, time.UTC)
	n, err := s.AddJob(ctx, &job.Job{Complaint: "weak", Opened: at}, id, nil)
	must(t, err)
	take := func(id string, at time.Time) {
		must(t, log(s, n, reading.Reading{ID: id, Point: "B", Quantity: "ac", Text: "1 V", SI: 1, Taken: at}))
	}
	take("1", at)
	e := repair.Entry{
		ID: "r",
		At: at.Add(time.Hour),
		Repair: &repair.Repair{
			Did:   repair.Replaced,
			Stage: "S",
			Parts: []repair.Part{{Name: "C1", Found: repair.Bad, Fitted: "4,7 µF <x>"}},
			Note:  "…",
		},
	}
	must(t, s.Note(ctx, n, &e, nil))
	take("2", at) // an hour back
	must(t, s.Note(ctx, n, &repair.Entry{ID: "q", At: at, Temporary: &repair.Temporary{What: repair.Jumper, Subject: "S"}}, nil))
	must(t, s.Note(ctx, n, &repair.Entry{ID: "p", At: at, Repair: &repair.Repair{Did: repair.Cleaned, Stage: "S"}}, nil))
	take("3", at.Add(-time.Hour))
	must(t, s.Strike(ctx, n, "repairs", "q", ""))
	must(t, s.Close())

	s = open1(t, path)
	defer func() { must(t, s.Close()) }()
	j, err := s.Job(ctx, n)
	must(t, err)
	if len(j.Repairs) != 3 || !reflect.DeepEqual(j.Repairs[0], e) || !j.Repairs[1].Struck || j.Repairs[2].Struck {
		t.Errorf("kept %+v", j.Repairs)
	}
	rounds := []int{}
	for _, r := range j.Plain(j.Sheet.Plan) {
		rounds = append(rounds, r.Round)
	}
	if !reflect.DeepEqual(rounds, []int{0, 1, 2}) {
		t.Errorf("readings in rounds %v", rounds)
	}
}
