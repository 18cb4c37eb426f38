package store

import (
	"fmt"
	"math/rand/v2"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"steptrace/core/inside"
	"steptrace/core/job"
	"steptrace/core/repair"
)

// What is counted in the database is what reading every job comes to.
func TestHistoryIsCountedAsTheJobsTellIt(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer func() { must(t, s.Close()) }()
	r := rand.New(rand.NewPCG(1, 13))
	stages, parts := []string{"S", "T", "U", ""}, []string{"C1", "C2", "R3"}
	pick := func(list []string) string { return list[r.IntN(len(list))] }
	var ids []int64
	for range 2 {
		id, err := s.AddSheet(ctx, document("X"))
		must(t, err)
		ids = append(ids, id)
	}
	at := time.Date(2026, 11, 25, 9, 0, 0, 0, time.UTC)
	all := map[int64][]job.Ended{}
	for k := range 120 {
		j := job.Job{Complaint: "weak", Opened: at, Stage: pick(stages), Outcome: fmt.Sprintf("it was %d", k)}
		for i := range r.IntN(3) {
			e := repair.Entry{
				ID:     fmt.Sprint("r", i),
				At:     at,
				Struck: r.IntN(5) == 0,
				Repair: &repair.Repair{Did: repair.Dids[r.IntN(len(repair.Dids))], Stage: pick(stages), Where: "there"},
			}
			if r.IntN(2) == 0 {
				e.Repair.Parts = []repair.Part{
					{Name: pick(parts), Found: []repair.Found{repair.Bad, repair.Wrong, repair.Precaution}[r.IntN(3)]},
				}
			}
			j.Repairs = append(j.Repairs, e)
		}
		for i := range r.IntN(3) {
			j.Inside = append(j.Inside, inside.Entry{ID: fmt.Sprint("i", i), At: at, Stage: pick(stages[:3]), Struck: r.IntN(5) == 0,
				Condemned: &inside.Condemned{
					Part:  pick(parts),
					What:  "open",
					Why:   []string{"x"},
					Found: []repair.Found{"", repair.Wrong}[r.IntN(2)],
				}})
		}
		open := r.IntN(4) == 0
		if !open && k%2 == 0 {
			j.Finished = &at
		}
		id := ids[r.IntN(2)]
		n, err := s.AddJob(ctx, &j, id, nil)
		must(t, err)
		if !open && k%2 == 1 {
			must(t, s.Finish(ctx, n, j.Outcome, j.Stage, nil))
		}
		if !open {
			all[id] = append(all[id], job.Ended{Number: n, Stage: j.Stage, Outcome: j.Outcome, Inside: j.Inside, Repairs: j.Repairs})
		}
	}
	for _, id := range ids {
		but := all[id][3].Number
		of, times, failed := 0, map[string]int{}, map[[2]string]int{}
		for _, e := range all[id] {
			for stage, list := range e.Failed() {
				for _, part := range list {
					failed[[2]string{stage, part}]++
				}
			}
			if e.Number == but {
				continue
			}
			if len(e.Stages()) > 0 {
				of++
			}
			for _, stage := range e.Stages() {
				times[stage]++
			}
		}
		ends, err := s.Ends(ctx, id, but)
		must(t, err)
		if ends.Of != of || len(ends.Stages) != len(times) || of < 20 {
			t.Errorf("%d jobs in %d stages, read one by one %d in %v", ends.Of, len(ends.Stages), of, times)
		}
		for _, e := range ends.Stages {
			i := slices.IndexFunc(all[id], func(x job.Ended) bool { return x.Number != but && slices.Contains(x.Stages(), e.Stage) })
			if e.Times != times[e.Stage] || e.Job != all[id][i].Number || e.Outcome != all[id][i].Outcome {
				t.Errorf("%s: %+v, read one by one %d, first %+v", e.Stage, e, times[e.Stage], all[id][i])
			}
		}
		for _, stage := range stages {
			got, err := s.FailedParts(ctx, id, stage)
			must(t, err)
			for _, part := range parts {
				if got[part] != failed[[2]string{stage, part}] {
					t.Errorf("%s in %s failed %d times, read one by one %d", part, stage, got[part], failed[[2]string{stage, part}])
				}
			}
		}
	}
}

// Pages together are the whole, in order, each job once, whatever is looked for; and what is
// looked for is found by the beginning of its words.
func TestPagesOfTheShelf(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer func() { must(t, s.Close()) }()
	id, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	var said []Said
	for k := range 57 {
		n, err := s.AddJob(ctx, &job.Job{Complaint: "weak", Opened: time.Now()}, id, nil)
		must(t, err)
		words := "Hörnig RX-5 crackles"
		if k%3 == 0 {
			words = "stereo \"deck\" * C212-a"
		}
		said = append(said, Said{Number: n, Version: 1, Place: Place(k % 3), Row: []byte("{}"), Words: words})
	}
	if list, _, err := s.Shelf(ctx, Page{Most: 10}, nil); err != nil || len(list) != 0 {
		t.Errorf("before anything is said: %v, %v", list, err)
	}
	must(t, s.Say(ctx, said))
	if left, err := s.Unsaid(ctx, 10); err != nil || len(left) != 0 {
		t.Errorf("still unsaid: %v, %v", left, err)
	}
	wait := Waiting
	for name, c := range map[string]struct {
		words string
		only  *Place
		want  int
	}{
		"all": {"", nil, 57}, "one place": {"", &wait, 19}, "a word's beginning": {"horn", nil, 38}, "one letter": {"h", nil, 0},
		"a word of one letter": {"a", nil, 19}, "two words": {"rx-5 crack", nil, 38},
		"a part":           {"c212", nil, 19},
		"a quotation mark": {`"deck`, nil, 19}, "an asterisk": {"dec*", nil, 19}, "nothing but signs": {`* "`, nil, 57},
		"a NUL": {"ho\x00rn", nil, 0}, "a NUL between": {"horn\x00rx", nil, 38}, "signs between": {"rx - crack ^", nil, 38},
		"none": {"valve",
			nil, 0}, "found elsewhere": {"horn", &wait, 19},
		"words of a query": {"horn OR deck", nil, 0}, "brackets": {"(horn)", nil, 38},
	} {
		var got []int
		page := Page{Words: c.words, Most: 10}
		for range 10 {
			list, next, err := s.Shelf(ctx, page, c.only)
			must(t, err)
			for _, x := range list {
				got = append(got, x.Number)
			}
			if page.After = next; next == "" {
				break
			}
		}
		order := func(n int) int { return (n-1)%3*1000 - n } // the number follows from its place here
		if len(got) != c.want || !slices.IsSortedFunc(got, func(a, b int) int { return order(a) - order(b) }) {
			t.Errorf("%s: %d jobs %v, want %d", name, len(got), got, c.want)
		}
		sorted := slices.Clone(got)
		slices.Sort(sorted)
		if len(slices.Compact(sorted)) != len(got) {
			t.Errorf("%s: one comes twice: %v", name, got)
		}
		counts, err := s.Places(ctx, c.words)
		if total := counts[OnBench] + counts[Waiting] + counts[Finished]; err != nil || c.only == nil && total != c.want {
			t.Errorf("%s: %v, %v", name, counts, err)
		}
	}
	// A change makes what was said stale, and what was made of the state before does not hide it.
	must(t, s.SetBench(ctx, 5, Bench{}))
	must(t, s.Say(ctx, []Said{{Number: 5, Version: 1, Row: []byte("{}")}}))
	if left, err := s.Unsaid(ctx, 10); err != nil || !slices.Equal(left, []int{5}) {
		t.Errorf("unsaid after a change: %v, %v", left, err)
	}
	must(t, s.ChangeSheet(ctx, id, 1, document("Y")))
	if left, err := s.Unsaid(ctx, 100); err != nil || len(left) != 57 {
		t.Errorf("unsaid after the sheet was changed: %d, %v", len(left), err)
	}
}

// Sheets come by their names, whatever case they begin with, each once; of the same name too.
func TestPagesOfSheets(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer func() { must(t, s.Close()) }()
	for _, model := range []string{"b", "A", "Zeta", "alpha", "B", "b", "ärger", "_"} {
		_, err := s.AddSheet(ctx, document(model))
		must(t, err)
	}
	var got []string
	page := Page{Most: 3}
	for range 10 {
		list, next, total, err := s.SheetList(ctx, page)
		must(t, err)
		if total != 8 {
			t.Errorf("%d sheets", total)
		}
		for _, x := range list {
			got = append(got, x.Name)
		}
		if page.After = next; next == "" {
			break
		}
	}
	if want := []string{"_", "A", "alpha", "b", "B", "b", "Zeta", "ärger"}; !slices.Equal(got, want) {
		t.Errorf("%q, want %q", got, want)
	}
	if list, _, total, err := s.SheetList(ctx, Page{Words: "zet", Most: 3}); err != nil || total != 1 || list[0].Name != "Zeta" ||
		list[0].Points != 2 {
		t.Errorf("%+v %d %v", list, total, err)
	}
	must(t, s.ChangeSheet(ctx, 3, 1, document("Omega")))
	if _, _, total, err := s.SheetList(ctx, Page{Words: "zet", Most: 3}); err != nil || total != 0 {
		t.Errorf("its old name is found: %d %v", total, err)
	}
	if x, err := s.FindSheet(ctx, document("Omega"), "", ""); err != nil || x.ID != 3 {
		t.Errorf("%+v %v", x, err)
	}
	if x, err := s.FindSheet(ctx, nil, "", "alpha"); err != nil || x.ID != 4 {
		t.Errorf("%+v %v", x, err)
	}
	if _, err := s.FindSheet(ctx, document("alphab"), "", ""); err != ErrNotFound {
		t.Error(err)
	}
}
