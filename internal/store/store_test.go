package store

import (
	"context"
	"database/sql"
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/pressly/goose/v3"

	"steptrace/core/job"
	"steptrace/core/pin"
	"steptrace/core/planning"
	"steptrace/core/reading"
	"steptrace/core/sheet"
	"steptrace/core/wait"
)

var ctx = context.Background()

func document(model string) *sheet.Sheet {
	return &sheet.Sheet{
		Model:  model,
		Points: []sheet.Point{{Name: "A", Expect: []sheet.Expectation{{Quantity: sheet.AC, Value: "1 V"}}}, {Name: "B"}},
		Stages: []sheet.Stage{{Name: "S", From: "A", To: "B", Gain: "0 dB"}},
	}
}

func open1(t *testing.T, path string) *Store {
	t.Helper()
	s, err := Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func log(s *Store, n int, r reading.Reading) error {
	return s.Note(ctx, n, &job.Logged{Reading: r}, nil)
}

func must(t *testing.T, errs ...error) {
	t.Helper()
	if err := errors.Join(errs...); err != nil {
		t.Fatal(err)
	}
}

// What is kept is there after closing and opening, to the last digit.
func TestEverythingSurvivesReopening(t *testing.T) {
	path := filepath.Join(t.TempDir(), "a folder with spaces & signs?", "w.db")
	must(t, os.MkdirAll(filepath.Dir(path), 0o750))
	s := open1(t, path)
	id, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	opened := time.Date(2026, 11, 24, 9, 0, 0, 123456789, time.UTC)
	n, err := s.AddJob(ctx, &job.Job{Complaint: "weak", Opened: opened}, id, nil)
	must(t, err)
	r := reading.Reading{
		ID:         "r1",
		Point:      "B",
		Quantity:   sheet.AC,
		Text:       "31,7m",
		SI:         0.0317,
		Form:       "pp",
		Mode:       "m",
		Injected:   &reading.Injection{At: "A", Level: 1.0 / 3, Hz: 1e6 / 7},
		Instrument: "meter",
		Taken:      opened,
	}
	must(t, log(s, n, r))
	must(t, log(s, n, reading.Reading{ID: "r2", Point: "B", Quantity: sheet.AC, Text: "hum", Word: "hum", Taken: opened}))
	must(t, s.Strike(ctx, n, "readings", "r2", "another set"))
	must(t, s.SetBench(ctx, n, Bench{"|A|B", r.Injected, "scope1", planning.Back}))
	must(t, s.Close())

	s = open1(t, path)
	defer func() { must(t, s.Close()) }()
	j, err := s.Job(ctx, n)
	must(t, err)
	if len(j.Readings) != 2 || j.Readings[0].Text != r.Text || j.Readings[0].SI != r.SI || *j.Readings[0].Injected != *r.Injected ||
		!j.Readings[0].Taken.Equal(opened) ||
		j.Readings[0].Form != "pp" ||
		j.Readings[0].Mode != "m" {
		t.Errorf("%+v", j.Readings)
	}
	if !j.Readings[1].Struck || j.Readings[1].StruckReason != "another set" || j.Readings[1].Word != "hum" {
		t.Errorf("struck reading: %+v", j.Readings[1])
	}
	if *j.Injected != *r.Injected || j.Instrument != "scope1" || j.Way != planning.Back || j.Route != "|A|B" || !j.Opened.Equal(opened) {
		t.Errorf("%+v", j.Job)
	}
}

func TestRefusals(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer func() { must(t, s.Close()) }()
	id, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	n, err := s.AddJob(ctx, &job.Job{Complaint: "c", Opened: time.Now()}, id, nil)
	must(t, err)
	r := reading.Reading{ID: "1", Point: "B", Quantity: sheet.AC, Text: "1", Taken: time.Now()}
	must(t, log(s, n, r))
	must(t, s.ChangeSheet(ctx, id, 1, document("X2")))
	must(t, s.Finish(ctx, n, "found", "S", nil))
	for name, c := range map[string]struct{ got, want error }{
		"sheet changed in between": {s.ChangeSheet(ctx, id, 1, document("X3")), ErrStale},
		"unknown sheet":            {s.ChangeSheet(ctx, 99, 1, document("X3")), ErrNotFound},
		"reading on finished job":  {log(s, n, reading.Reading{ID: "2", Point: "B", Taken: time.Now()}), ErrFinished},
		"strike on finished job":   {s.Strike(ctx, n, "readings", "1", ""), ErrFinished},
		"finish twice":             {s.Finish(ctx, n, "x", "", nil), ErrFinished},
		"unknown job":              {log(s, 99, r), ErrNotFound},
		"reopen unknown":           {s.Reopen(ctx, 99), ErrNotFound},
	} {
		if !errors.Is(c.got, c.want) {
			t.Errorf("%s: %v, want %v", name, c.got, c.want)
		}
	}
	must(t, log(s, n, r)) // acknowledged before: harmless even now
	must(t, s.Reopen(ctx, n))
	if err := s.Strike(ctx, n, "readings", "zz", ""); !errors.Is(err, ErrNotFound) {
		t.Errorf("unknown reading: %v", err)
	}
	if err := log(s, n, reading.Reading{ID: "1", Point: "B", Text: "other", Taken: time.Now()}); !errors.Is(err, ErrTaken) {
		t.Errorf("id of another reading: %v", err)
	}
	if x, err := s.Sheet(ctx, id); err != nil || x.Document.Model != "X2" || x.Revision != 2 || x.Jobs != 1 {
		t.Errorf("%+v %v", x, err)
	}
}

// A job that cannot be stored whole is not stored at all, nor its sheet.
func TestImportIsAllOrNothing(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer func() { must(t, s.Close()) }()
	twice := job.Logged{Reading: reading.Reading{ID: "same", Point: "B", Taken: time.Now()}}
	if _, err := s.AddJobWithSheet(ctx, &job.Job{Complaint: "c", Opened: time.Now(), Readings: []job.Logged{twice, twice}},
		document("X"), false, nil); err == nil {
		t.Fatal("two readings of one id were stored")
	}
	jobs, err := s.Unsaid(ctx, 10)
	must(t, err)
	_, _, sheets, err := s.SheetList(ctx, Page{Most: 10})
	must(t, err)
	if len(jobs)+sheets != 0 {
		t.Errorf("half stored: %v %v", jobs, sheets)
	}
}

func TestGuaranteesAreSwitchedOn(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer func() { must(t, s.Close()) }()
	for name, db := range map[string]*sql.DB{"write": s.write, "read": s.read} {
		for pragma, want := range map[string]string{"journal_mode": "wal", "foreign_keys": "1", "synchronous": "2"} {
			var got string
			must(t, db.QueryRowContext(ctx, "PRAGMA "+pragma).Scan(&got))
			if got != want {
				t.Errorf("%s: %s is %s, want %s", name, pragma, got, want)
			}
		}
	}
	if _, err := s.read.ExecContext(ctx, "DELETE FROM job"); err == nil {
		t.Error("the reading side can write")
	}
}

// A file of an earlier version is brought up to date when it is opened, and
// nothing in it is lost.
func TestOlderFileIsBroughtUpToDate(t *testing.T) {
	path := filepath.Join(t.TempDir(), "old.db")
	db, err := sql.Open("sqlite", path)
	must(t, err)
	sub, err := fs.Sub(migrations, "migrations")
	must(t, err)
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, sub)
	must(t, err)
	_, err = provider.UpTo(ctx, 1)
	must(t, err)
	for _, q := range []string{"INSERT INTO sheet (revision) VALUES (1)", "INSERT INTO job (number, sheet, complaint, opened) VALUES " +
		"(7, 1, 'weak', '2026-01-02T03:04:05Z')",
		"INSERT INTO reading (id, job, point, quantity, text, si, form, word, mode, instrument, taken) VALUES ('r', 7, 'B', 'ac', " +
			"'31m', 0.031, 'rms', '', '', 'meter', '2026-01-02T03:05:05Z')"} {
		_, err = db.ExecContext(ctx, q)
		must(t, err)
	}
	_, err = db.ExecContext(
		ctx,
		"INSERT INTO sheet_revision (sheet, revision, document, saved) VALUES (1, 1, ?, '2026-01-02T03:04:05Z')",
		string(document("X").WriteJSON()),
	)
	must(t, err)
	must(t, db.Close())

	s := open1(t, path)
	defer func() { must(t, s.Close()) }()
	j, err := s.Job(ctx, 7)
	must(t, err)
	if len(j.Readings) != 1 || j.Readings[0].SI != 0.031 || j.Readings[0].Power != "" || j.Readings[0].Without != nil ||
		len(j.Safety) != 0 ||
		j.Sheet.Document.Model != "X" {
		t.Errorf("%+v", j)
	}
	x := line(t, "t1", "4 M3", time.Now())
	must(t, s.Note(ctx, 7, &x, nil))
}

// A number beyond all bounds, from a file, blocks nobody: that job and those after it get the next that are free.
func TestJobNumbersAreBounded(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer func() { must(t, s.Close()) }()
	for _, x := range []struct{ wanted, want int }{{7, 7}, {1<<63 - 1, 8}, {0, 9}, {-3, 10}, {7, 11}, {9_999_999, 9_999_999}, {0, 12}} {
		n, err := s.AddJobWithSheet(ctx, &job.Job{Number: x.wanted, Complaint: "c", Opened: time.Now()}, document("X"), false, nil)
		if err != nil || n != x.want {
			t.Errorf("wanted %d, got %d, want %d: %v", x.wanted, n, x.want, err)
		}
	}
}

// The same id with something else under it is refused, not acknowledged and dropped.
func TestAnotherUnderAnId(t *testing.T) {
	s, n := filed(t, filepath.Join(t.TempDir(), "w.db"), 0)
	defer func() { must(t, s.Close()) }()
	at := time.Now()
	r := reading.Reading{ID: "r", Point: "B", Text: "1", Quantity: sheet.AC, Taken: at}
	must(t, log(s, n, r))
	must(t, log(s, n, r))
	r.Quantity = sheet.DC
	if err := log(s, n, r); !errors.Is(err, ErrTaken) {
		t.Errorf("another quantity: %v", err)
	}
	c := job.Capture{ID: "c", Name: "x.csv", Points: []string{"B"}, Taken: at}
	must(t, s.Note(ctx, n, &c, Files{received: []byte("0,1\n")}))
	again := c
	must(t, s.Note(ctx, n, &again, Files{received: []byte("0,1\n")}))
	for name, f := range map[string]func(c *job.Capture) Files{
		"other samples": func(*job.Capture) Files { return Files{received: []byte("0,2\n")} },
		"another unit":  func(c *job.Capture) Files { c.Said.Unit = "mV"; return Files{received: []byte("0,1\n")} },
	} {
		again := c
		if err := s.Note(ctx, n, &again, f(&again)); !errors.Is(err, ErrTaken) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// What is struck out twice keeps the reason that it was struck out for.
func TestTheFirstReasonStays(t *testing.T) {
	s, n := filed(t, filepath.Join(t.TempDir(), "w.db"), 1)
	defer func() { must(t, s.Close()) }()
	for _, reason := range []string{"wrong lead", "sent once more"} {
		must(t, s.Strike(ctx, n, "readings", "0", reason))
	}
	j, err := s.Job(ctx, n)
	if err != nil || !j.Readings[0].Struck || j.Readings[0].StruckReason != "wrong lead" {
		t.Errorf("%+v %v", j.Readings, err)
	}
}

// What is sent again under its sender's id, the answer having been lost, is not there twice, and a sheet that was saved so is not said to
// have been saved by somebody else.
func TestWhatIsSentAgainIsNotThereTwice(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer s.Close()
	again := Under(ctx, "sheet-1")
	first, err := s.AddSheet(again, document("X"))
	must(t, err)
	second, err := s.AddSheet(again, document("X"))
	must(t, err)
	other, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	if first != second || other == first {
		t.Errorf("sheets %d, %d, %d", first, second, other)
	}
	var numbers []int
	for _, under := range []context.Context{Under(ctx, "job-1"), Under(ctx, "job-1"), ctx} {
		n, err := s.AddJob(under, &job.Job{Complaint: "weak", Opened: time.Now()}, first, nil)
		must(t, err)
		numbers = append(numbers, n)
	}
	for range 2 {
		n, err := s.AddJobWithSheet(Under(ctx, "job-2"), &job.Job{Complaint: "hums", Opened: time.Now()}, document("Y"), true, nil)
		must(t, err)
		numbers = append(numbers, n)
	}
	if !slices.Equal(numbers, []int{1, 1, 2, 3, 3}) {
		t.Errorf("jobs %v", numbers)
	}
	var sheets int
	must(t, s.read.QueryRow("SELECT count(*) FROM sheet").Scan(&sheets))
	if sheets != 3 {
		t.Errorf("%d sheets", sheets)
	}
	changed, elsewhere := document("X2"), document("X3")
	for range 2 {
		must(t, s.SaveSheet(ctx, first, 1, changed))
	}
	if err := s.SaveSheet(ctx, first, 1, elsewhere); !errors.Is(err, ErrStale) {
		t.Errorf("saved over: %v", err)
	}
	must(t, s.SaveSheet(ctx, first, 2, elsewhere))
	if err := s.SaveSheet(ctx, first, 1, changed); !errors.Is(err, ErrStale) {
		t.Errorf("saved over by what was sent long ago: %v", err)
	}
}

// Whoever follows is told of what others changed, once it is kept; of what did not come about nobody is.
func TestChangesAreTold(t *testing.T) {
	s := open1(t, filepath.Join(t.TempDir(), "w.db"))
	defer s.Close()
	id, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	n, err := s.AddJob(ctx, &job.Job{Complaint: "weak", Opened: time.Now()}, id, nil)
	must(t, err)
	var told []Touched
	letGo := s.Follow(func(x Touched) { told = append(told, x) })
	from := From(ctx, Sender{Who: "mk", Page: "p1"})
	must(t, s.Note(from, n, &wait.Entry{ID: "w", At: time.Now(), Wait: &wait.Wait{For: wait.Part, What: "C1"}}, nil))
	must(t, s.SaveSheet(from, id, 1, document("Y")))
	if err := s.SaveSheet(from, id, 7, document("Z")); err == nil {
		t.Fatal("saved")
	}
	must(t, s.AddPicture(from, id, pin.Picture{ID: "b1"}, nil))
	must(t, s.ChangePicture(from, id, "b1", func(p *pin.Picture) error { p.Name = "board"; return nil }, nil))
	letGo()
	must(t, s.SaveSheet(from, id, 2, document("Z")))
	of := Touched{Sheet: id, Page: "p1"}
	if want := []Touched{{Job: n, Page: "p1"}, of, of, of}; !slices.Equal(told, want) {
		t.Errorf("%v", told)
	}
}
