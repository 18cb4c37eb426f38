package store

import (
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"steptrace/core/job"
	"steptrace/core/reading"
)

// filed is a database with a job of so many readings.
func filed(t *testing.T, path string, readings int) (s *Store, number int) {
	t.Helper()
	s = open1(t, path)
	number, err := s.AddJobWithSheet(ctx, &job.Job{Complaint: "c", Opened: time.Now()}, document("X"), false, nil)
	must(t, err)
	for i := range readings {
		must(t, log(s, number, reading.Reading{ID: fmt.Sprint(i), Point: "B", Text: "1", Taken: time.Now()}))
	}
	return s, number
}

// readingsIn counts the readings of the first job of a file.
func readingsIn(t *testing.T, path string) int {
	t.Helper()
	s := open1(t, path)
	defer func() { must(t, s.Close()) }()
	j, err := s.Job(ctx, 1)
	must(t, err)
	return len(j.Readings)
}

// There is what stands in a folder, with its content.
func folder(t *testing.T, path string) map[string]string {
	t.Helper()
	out := map[string]string{}
	entries, err := os.ReadDir(path)
	must(t, err)
	for _, e := range entries {
		if data, err := os.ReadFile(filepath.Join(path, e.Name())); err == nil && !strings.HasSuffix(e.Name(), ".lock") {
			out[e.Name()] = string(data)
		}
	}
	return out
}

// A copy made while readings are logged has all that was acknowledged before it was begun, also what stands in the log beside the file
// alone; it opens by itself, and is not written over.
func TestACopyIsWholeWhileOthersWrite(t *testing.T) {
	dir := t.TempDir()
	s, n := filed(t, filepath.Join(dir, "w.db"), 60)
	stop := make(chan struct{})
	var wrote sync.WaitGroup
	wrote.Go(func() {
		for i := 0; ; i++ {
			select {
			case <-stop:
				return
			default:
			}
			if err := log(s, n, reading.Reading{ID: fmt.Sprint("w", i), Point: "B", Text: "1", Taken: time.Now()}); err != nil {
				t.Error(err)
				return
			}
		}
	})
	for i := range 5 {
		j, err := s.Job(ctx, n)
		must(t, err)
		to := filepath.Join(dir, fmt.Sprintf("copy%d.db", i))
		size, err := s.CopyTo(ctx, to)
		if err != nil || size < 4096 {
			t.Fatalf("%d bytes, %v", size, err)
		}
		if got := readingsIn(t, to); got < len(j.Readings) {
			t.Errorf("%d readings in the copy, %d were there before", got, len(j.Readings))
		}
		if _, err := s.CopyTo(ctx, to); err == nil || !strings.Contains(err.Error(), "there already") {
			t.Errorf("written over: %v", err)
		}
	}
	close(stop)
	wrote.Wait()
	must(t, s.Close())
}

// So many copies are kept as was said, the latest; those before an upgrade beside them; what others keep there stays.
func TestOldCopiesGo(t *testing.T) {
	dir := t.TempDir()
	s, _ := filed(t, filepath.Join(dir, "w.db"), 1)
	c := Copies{Folder: filepath.Join(dir, "kept"), Keep: 3}
	if list, err := c.List(); err != nil || len(list) != 0 {
		t.Errorf("%v %v", list, err)
	}
	must(t, os.Mkdir(c.Folder, 0o750))
	for _, name := range []string{
		"steptrace-2026-01-02T030405.db", "steptrace-2026-01-03T030405.db", "steptrace-2026-01-04T030405.db", "steptrace-mine.db",
		"steptrace-2026-01-01T030405-before-upgrade.db", "letter.txt", "steptrace-2026-01-05T030405.db.making",
	} {
		must(t, os.WriteFile(filepath.Join(c.Folder, name), []byte("x"), 0o600))
	}
	made, err := c.Make(ctx, s)
	must(t, err)
	list, err := c.List()
	must(t, err)
	var names []string
	for _, x := range list {
		names = append(names, x.Name)
	}
	want := []string{
		made.Name, "steptrace-2026-01-04T030405.db", "steptrace-2026-01-03T030405.db", "steptrace-2026-01-01T030405-before-upgrade.db",
	}
	if !slices.Equal(names, want) || list[0].Bytes != made.Bytes {
		t.Errorf("%v, want %v", names, want)
	}
	left := folder(t, c.Folder)
	if left["letter.txt"] != "x" || left["steptrace-mine.db"] != "x" || len(left) != len(want)+2 {
		t.Errorf("%d files", len(left))
	}
	for name, want := range map[string]bool{made.Name: true, "../w.db": false, "letter.txt": false, "": false} {
		if _, err := c.Path(name); (err == nil) != want {
			t.Errorf("%q: %v", name, err)
		}
	}
	must(t, s.Close())
}

// A copy is put back while nobody uses the file; what it replaces stays beside with what its log had, and no side file of the old is
// left for the new. What is damaged, or of another program, is not put back.
func TestACopyIsPutBack(t *testing.T) {
	dir := t.TempDir()
	path, copied := filepath.Join(dir, "w.db"), filepath.Join(dir, "copy.db")
	s, n := filed(t, path, 2)
	_, err := s.CopyTo(ctx, copied)
	must(t, err)
	for i := range 40 {
		must(t, log(s, n, reading.Reading{ID: fmt.Sprint("later", i), Point: "B", Text: "1", Taken: time.Now()}))
	}
	var refused *Refused
	if _, err := Restore(ctx, path, copied); !errors.As(err, &refused) || !strings.Contains(err.Error(), "runs on it already") {
		t.Errorf("while it is used: %v", err)
	}
	// It is killed: the log beside it stays.
	for _, side := range []string{"", "-wal"} {
		must(t, copyFile(path+side, filepath.Join(dir, "killed.db"+side)))
	}
	must(t, s.Close())
	killed := filepath.Join(dir, "killed.db")
	bad := filepath.Join(dir, "bad.db")
	data, err := os.ReadFile(copied)
	must(t, err)
	for i := 4096; i < len(data); i += 3 {
		data[i] ^= 0x5a
	}
	must(t, os.WriteFile(bad, data, 0o600))
	before := folder(t, dir)
	if _, err := Restore(ctx, killed, bad); !errors.As(err, &refused) || !strings.Contains(err.Error(), "damaged") {
		t.Errorf("a damaged copy: %v", err)
	}
	if after := folder(t, dir); len(after) != len(before) || after["killed.db"] != before["killed.db"] {
		t.Error("a refused copy changed something")
	}
	kept, err := Restore(ctx, killed, copied)
	must(t, err)
	if _, err := os.Stat(killed + "-wal"); err == nil {
		t.Error("the log of what was replaced is left for the new")
	}
	if got := readingsIn(t, killed); got != 2 {
		t.Errorf("%d readings were put back", got)
	}
	if got := readingsIn(t, kept); got != 42 {
		t.Errorf("%d readings in what was replaced", got)
	}
}

// Cut off between any two of its steps, either the old or the new is there whole at the next start.
func TestARestoreThatWasCutOff(t *testing.T) {
	dir := t.TempDir()
	old, new_ := filepath.Join(dir, "old.db"), filepath.Join(dir, "new.db")
	for path, n := range map[string]int{old: 3, new_: 7} {
		s, _ := filed(t, path, n)
		must(t, s.Close())
	}
	for name, cut := range map[string]struct {
		do   func(path string)
		want int
	}{
		"half a copy": {func(path string) {
			must(t, os.WriteFile(path+restoring+making, []byte("SQLite format 3\x00 half"), 0o600))
		}, 3},
		"copied": {func(path string) { must(t, copyFile(new_, path+restoring)) }, 7},
		"moved aside": {func(path string) {
			must(t, errors.Join(copyFile(new_, path+restoring), os.Rename(path, path+replaced+"x")))
			must(t, os.WriteFile(path+"-wal", []byte("stale"), 0o600))
		}, 7},
		"all moved aside": {func(path string) {
			must(t, errors.Join(copyFile(new_, path+restoring), os.Rename(path, path+replaced+"x")))
		}, 7},
		"in place": {func(path string) { must(t, errors.Join(os.Rename(path, path+replaced+"x"), copyFile(new_, path))) }, 7},
	} {
		path := filepath.Join(dir, strings.ReplaceAll(name, " ", "-")+".db")
		must(t, copyFile(old, path))
		cut.do(path)
		if got := readingsIn(t, path); got != cut.want {
			t.Errorf("%s: %d readings, want %d", name, got, cut.want)
		}
		if _, err := os.Stat(path + restoring); err == nil {
			t.Errorf("%s: what was begun is not ended", name)
		}
	}
}

// Two programs on one file: the second is told, and changes nothing; after the first it may.
func TestTwoOnOneFile(t *testing.T) {
	path := filepath.Join(t.TempDir(), "w.db")
	s, _ := filed(t, path, 1)
	var refused *Refused
	if _, err := Open(ctx, path); !errors.As(err, &refused) || !strings.Contains(err.Error(), "runs on it already") {
		t.Errorf("%v", err)
	}
	must(t, s.Close())
	if got := readingsIn(t, path); got != 1 {
		t.Error(got)
	}
}

// What is no file of this program is told apart, refused with what to do, and left as it was.
func TestFilesAreToldApart(t *testing.T) {
	dir := t.TempDir()
	database := func(name string, statements ...string) string {
		path := filepath.Join(dir, name)
		db, err := sql.Open("sqlite", path)
		must(t, err)
		for _, q := range statements {
			_, err := db.ExecContext(ctx, q)
			must(t, err)
		}
		must(t, db.Close())
		return path
	}
	file := func(name, text string) string {
		path := filepath.Join(dir, name)
		must(t, os.WriteFile(path, []byte(text), 0o600))
		return path
	}
	own := filepath.Join(dir, "own.db")
	s, _ := filed(t, own, 1)
	must(t, s.Close())
	later := filepath.Join(dir, "later.db")
	must(t, copyFile(own, later))
	database("later.db", fmt.Sprintf("PRAGMA user_version = %d", newest()+3))
	data, err := os.ReadFile(own)
	must(t, err)
	half := file("half.db", string(data[:len(data)/2]))
	for path, want := range map[string]string{
		file("empty.db", ""):     "is empty",
		file("one byte.db", "S"): "is no database",
		file("letter.txt", strings.Repeat("Dear workshop, ", 400)):                             "is no database",
		database("other.db", "PRAGMA application_id = 252006", "CREATE TABLE a (b)"):           "another program",
		database("nameless.db", "CREATE TABLE notes (text)", "INSERT INTO notes VALUES ('x')"): "another program",
		later: "made by a later Step Trace",
		half:  "damaged",
	} {
		before := folder(t, dir)
		_, err := Open(ctx, path)
		var refused *Refused
		if path == half { // its first pages are there: that more is missing shows when all is looked through
			if err := Sound(ctx, path); !errors.As(err, &refused) || !strings.Contains(err.Error(), want) {
				t.Errorf("%s: %v", path, err)
			}
			continue
		}
		if !errors.As(err, &refused) || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v, want %q", path, err, want)
		}
		after := folder(t, dir)
		for name, was := range before {
			if after[name] != was {
				t.Errorf("%s was touched while %s was refused", name, path)
			}
		}
		if len(after) != len(before) {
			t.Errorf("%s: something was left beside it", path)
		}
	}
}

// What is wrong with a file or its disk is told apart.
func TestTroublesAreToldApart(t *testing.T) {
	s, _ := filed(t, filepath.Join(t.TempDir(), "w.db"), 1)
	defer func() { must(t, s.Close()) }()
	_, err := s.read.ExecContext(ctx, "CREATE TABLE x (y)")
	if got := Explain(err); !strings.Contains(got, "can only be read") {
		t.Errorf("%v: %q", err, got)
	}
	_, err = s.write.ExecContext(ctx, "PRAGMA max_page_count = 1; CREATE TABLE more (a); INSERT INTO more SELECT zeroblob(9999999)")
	if got := Explain(err); !strings.Contains(got, "disk is full") {
		t.Errorf("%v: %q", err, got)
	}
	if got := Explain(errors.New("else")); got != "" {
		t.Error(got)
	}
	if err := s.Check(ctx); err != nil {
		t.Error(err)
	}
}

// The line on the last copy: quiet in its week, loud after it.
func TestTheLastCopyIsTold(t *testing.T) {
	c := Copy{At: time.Date(2026, 11, 20, 3, 0, 0, 0, time.Local), Bytes: 12_345_678}
	for days, want := range map[int]string{
		0: "Last copy 20 November 03:00, 12.3 MB.", 7: "Last copy 20 ", 9: "The last copy is 9 days old.",
	} {
		text, loud := c.Says(c.At.AddDate(0, 0, days).Add(time.Hour))
		if !strings.HasPrefix(text, want) || loud != (days > 7) {
			t.Errorf("after %d days: %q, %v", days, text, loud)
		}
	}
}
