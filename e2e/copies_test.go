package e2e

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"steptrace/internal/store"
)

// command runs the program with words behind its data file, and gives what it said.
func command(data string, words ...string) (string, error) {
	out, err := exec.Command(binary, append([]string{"-data", data}, words...)...).CombinedOutput()
	return string(out), err
}

// jobsIn counts the jobs of a data file that nobody uses.
func jobsIn(t *testing.T, path string) int {
	t.Helper()
	db, err := store.Open(t.Context(), path)
	must(t, err)
	defer func() { must(t, db.Close()) }()
	must(t, db.Check(t.Context()))
	places, err := db.Places(t.Context(), "")
	must(t, err)
	unsaid, err := db.Unsaid(t.Context(), 100)
	must(t, err)
	n := len(unsaid)
	for _, of := range places {
		n += of
	}
	return n
}

// A copy is made by a command while the program runs, and put back by one when it does not; a second program on the same data, and
// a copy put back under a running one, are refused in words.
func TestCopiesByCommand(t *testing.T) {
	p := start(t, "-demo")
	copied := filepath.Join(t.TempDir(), "copy.db")
	if out, err := command(p.data, "backup", copied); err != nil || !strings.Contains(out, "is a whole copy") {
		t.Fatalf("%v %s", err, out)
	}
	for want, words := range map[string][]string{
		"there already":       {"backup", copied},
		"runs on it already":  {"restore", copied},
		"is not understood":   {"burn", copied},
		"Step Trace runs on":  {},
		"not understood. See": {"backup"},
	} {
		if out, err := command(p.data, words...); err == nil || !strings.Contains(out, want) {
			t.Errorf("%v: %v %s", words, err, out)
		}
	}
	var job struct{ Number int }
	if !postJSON(t, p.url+"/api/jobs", `{"set":"subwoofer plate","pattern":"subwoofer plate","complaint":"dead"}`, &job) {
		t.Fatal("no job")
	}
	p.stop()
	had := jobsIn(t, p.data)
	if out, err := command(p.data, "restore", copied+"x"); err == nil || !strings.Contains(out, "no such file") {
		t.Errorf("%v %s", err, out)
	}
	out, err := command(p.data, "restore", copied)
	if err != nil || !strings.Contains(out, "is kept as") {
		t.Fatalf("%v %s", err, out)
	}
	if now := jobsIn(t, p.data); now != had-1 {
		t.Errorf("%d jobs, %d before, one of them after the copy", now, had)
	}
	kept, err := filepath.Glob(p.data + ".replaced-*")
	if err != nil || len(kept) == 0 || jobsIn(t, kept[0]) != had {
		t.Errorf("what was replaced is not whole: %v %v", kept, err)
	}
	p.run()
}

// Copies and their putting back are killed at any moment: the data is either the old or the new, whole, and a copy is there whole or
// not at all. On a disk without room it ends with words, and nothing is changed.
func TestCopiesAreCutOff(t *testing.T) {
	dir := t.TempDir()
	data, old, other := filepath.Join(dir, "w.db"), filepath.Join(dir, "old.db"), filepath.Join(dir, "new.db")
	p := &program{t: t, data: other, port: "127.0.0.1:0"}
	p.run("-demo")
	p.stop()
	q := &program{t: t, data: old, port: "127.0.0.1:0"}
	q.run()
	q.stop()
	rng := rand.New(rand.NewPCG(19, 3))
	const kills = 60
	cut, came := 0, map[int]int{}
	for i := range kills {
		from := []string{old, other}[i%2]
		cmd := exec.Command(binary, "-data", data, "restore", from)
		must(t, cmd.Start())
		time.Sleep(time.Duration(rng.IntN(60_000)) * time.Microsecond)
		_ = cmd.Process.Kill() // it may be done
		if cmd.Wait() != nil {
			cut++
		}
		if _, err := os.Stat(data); err != nil && i < 2 {
			continue // nothing was there, and the first did not come as far
		}
		n := jobsIn(t, data)
		if n != 0 && n != 9 {
			t.Fatalf("%d jobs after %d kills", n, i+1)
		}
		came[n]++
		left, err := filepath.Glob(data + ".replaced-*")
		must(t, err)
		for _, path := range left {
			must(t, os.Remove(path))
		}
		copied := filepath.Join(dir, fmt.Sprint("copy", i, ".db"))
		cmd = exec.Command(binary, "-data", other, "backup", copied)
		must(t, cmd.Start())
		time.Sleep(time.Duration(rng.IntN(60_000)) * time.Microsecond)
		_ = cmd.Process.Kill()
		_ = cmd.Wait()
		if _, err := os.Stat(copied); err == nil {
			must(t, store.Sound(t.Context(), copied))
			must(t, os.Remove(copied))
		}
	}
	t.Logf("%d of %d were cut off; after them the old was there %d times, the new %d times", cut, kills, came[0], came[9])
	if cut < kills/4 || came[0] == 0 || came[9] == 0 {
		t.Error("it was hardly cut off")
	}
	full := exec.Command("bash", "-c", `ulimit -f 200; exec "$@"`, "-", binary, "-data", other, "backup", filepath.Join(dir, "full.db"))
	out, err := full.CombinedOutput()
	if _, there := os.Stat(filepath.Join(dir, "full.db")); err == nil || there == nil {
		t.Errorf("a copy on a full disk: %v %s", err, out)
	}
	was := jobsIn(t, data)
	full = exec.Command("bash", "-c", `ulimit -f 200; exec "$@"`, "-", binary, "-data", data, "restore", other)
	if out, err := full.CombinedOutput(); err == nil {
		t.Errorf("put back on a full disk: %s", out)
	}
	if now := jobsIn(t, data); now != was {
		t.Errorf("%d jobs, %d before", now, was)
	}
}

// By the shelf: how the last copy stands, one now, one put back; the page comes back by itself with what was there then.
func TestCopiesByTheShelf(t *testing.T) {
	p := start(t, "-demo")
	tab := open(t, 1280, 800)
	must(t, tab.Go(p.url), tab.See("Last copy"), tab.Keys("c"), tab.See("Copies of all data"))
	time.Sleep(1100 * time.Millisecond) // copies are named by the second
	must(t, tab.Button("Copy now"), tab.Until(`document.querySelectorAll('[aria-label=Copies] li').length === 2`))
	var job struct{ Number int }
	if !postJSON(
		t,
		p.url+"/api/jobs",
		`{"set":"subwoofer plate","pattern":"subwoofer plate","complaint":"taken back by the copy"}`,
		&job,
	) {
		t.Fatal("no job")
	}
	must(t, tab.Reload(), tab.See("taken back by the copy"), tab.Keys("c"), tab.Button("Put it back"), tab.See("Everything goes back"))
	must(t, tab.Button("Put it back"), tab.Until(`document.querySelector('[aria-label="On the bench"]') !== null && `+
		`!document.body.innerText.includes('taken back by the copy')`))
	must(t, tab.See("Last copy"))
}

// A whole workshop is saved as files at one machine and taken in at another, through the shelf; again, it is not doubled.
func TestAWorkshopMovesByFiles(t *testing.T) {
	p := start(t, "-demo")
	file := filepath.Join(t.TempDir(), "workshop.zip")
	tab := open(t, 1280, 800)
	must(t, tab.Go(p.url), tab.See("Last copy"), tab.Keys("c"), tab.See("Save all as files"))
	must(t, tab.Until(`document.querySelector('a[href$="/whole.zip"][download]') !== null`))
	must(t, os.WriteFile(file, []byte(getText(t, p.url+"/api/whole.zip")), 0o600))
	q := start(t)
	const input = `dialog[open] input[type=file]`
	must(t, tab.Go(q.url), tab.See("no manual is needed"), tab.See("Last copy"), tab.Keys("\x1bc"), tab.See("Save all as files"))
	must(t, tab.Upload(input, file))
	must(t, tab.See("Taken in: 9 jobs"), tab.Upload(input, file), tab.See("9 jobs were here already"))
	must(t, tab.Keys("\x1b"), tab.Until(noDialog), tab.See("Wexlow PT-9"))
	if n := len(strings.Split(getText(t, q.url+"/api/jobs"), `"complaint"`)) - 1; n != 9 {
		t.Errorf("%d jobs", n)
	}
}
