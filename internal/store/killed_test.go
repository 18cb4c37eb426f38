package store

import (
	"bufio"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"steptrace/core/job"
	"steptrace/core/soak"
	"steptrace/core/wave"
	"steptrace/internal/trial"
)

// writers is in the environment of a process that writes until it is killed.
const writers = "STEPTRACE_WRITERS"

// TestWritersProcess is not a test by itself: four writers note entries of every kind, change the sheet, and say what was acknowledged,
// until the process is killed. Every third entry is sent twice.
func TestWritersProcess(t *testing.T) {
	path, run, ok := strings.Cut(os.Getenv(writers), "|")
	if !ok {
		t.Skip("only as a process of TestNothingAcknowledgedIsLost")
	}
	s, err := Open(ctx, path)
	must(t, err)
	capture := wave.Capture{Rate: 1000, Channels: []wave.Channel{{Samples: []float64{1, 2, 3, 4}}}}
	files, err := OfCapture([]byte("0\n1\n"), &capture)
	must(t, err)
	var saving sync.Mutex
	for w := range 4 {
		go func() {
			for i := 0; ; i++ {
				k := job.Kinds[(i+w*5)%len(job.Kinds)]
				id := fmt.Sprintf("%s-%d-%d", run, w, i)
				for range 1 + (i+1)%3/2 {
					e := k.New()
					*e.Head().ID, *e.Head().At = id, time.Now()
					var with Files
					switch x := e.(type) {
					case *job.Capture:
						with = files
					case *job.Picture:
						with = OfPicture([]byte("picture"), []byte("preview"))
					case *soak.Entry:
						x.Event = &soak.Event{What: "note", Text: "x"}
					}
					if err := s.Note(ctx, 1, e, with); err != nil {
						fmt.Printf("error %s %v\n", k.Name(), err)
						return
					}
				}
				fmt.Printf("entry %s %s\n", k.Name(), id)
				if i%40 == 39 {
					saving.Lock()
					x, err := s.Sheet(ctx, 1)
					if err == nil {
						d := *x.Document
						d.Settings = id
						err = s.SaveSheet(ctx, 1, x.Revision, &d)
					}
					saving.Unlock()
					if err != nil {
						fmt.Printf("error sheet %v\n", err)
						return
					}
					fmt.Printf("sheet %d %s\n", x.Revision+1, id)
				}
			}
		}()
	}
	select {}
}

// Whatever was acknowledged is there once, of every kind, however often the program is killed while four write.
func TestNothingAcknowledgedIsLost(t *testing.T) {
	kills := trial.Runs(40)
	if n, err := strconv.Atoi(os.Getenv("STEPTRACE_KILLS")); err == nil {
		kills = n
	}
	path := filepath.Join(t.TempDir(), "w.db")
	s := open1(t, path)
	id, err := s.AddSheet(ctx, document("X"))
	must(t, err)
	_, err = s.AddJob(ctx, &job.Job{Complaint: "weak", Opened: time.Now()}, id, nil)
	must(t, err, s.Close())
	r := rand.New(rand.NewPCG(19, 4))
	acknowledged, sheets := map[string]bool{}, map[string]string{}
	kinds := map[string]int{}
	for run := range kills {
		cmd := exec.Command(os.Args[0], "-test.run", "^TestWritersProcess$")
		cmd.Env = append(os.Environ(), fmt.Sprintf("%s=%s|%d", writers, path, run))
		out, err := cmd.StdoutPipe()
		must(t, err, cmd.Start())
		lines, read := bufio.NewReader(out), make(chan struct{})
		begun := make(chan struct{}, 1)
		go func() {
			defer close(read)
			for {
				line, err := lines.ReadString('\n')
				if err != nil {
					return // killed; half a line acknowledges nothing
				}
				select {
				case begun <- struct{}{}:
				default:
				}
				switch word := strings.Fields(line); word[0] {
				case "entry":
					acknowledged[word[1]+" "+word[2]] = true
					kinds[word[1]]++
				case "sheet":
					sheets[word[1]] = word[2]
				default:
					t.Errorf("run %d: %s", run, line)
				}
			}
		}()
		select {
		case <-begun:
		case <-time.After(20 * time.Second):
			t.Fatal("nothing was written")
		}
		time.Sleep(time.Duration(r.IntN(120_000)) * time.Microsecond)
		must(t, cmd.Process.Kill())
		<-read
		_ = cmd.Wait() // which tells that it was killed
		if t.Failed() {
			return
		}
		if run%20 == 19 || run == kills-1 {
			compare(t, path, acknowledged, sheets)
		}
	}
	if len(kinds) != len(job.Kinds) {
		t.Errorf("written were %d kinds of %d", len(kinds), len(job.Kinds))
	}
	t.Logf("%d kills, %d entries of %d kinds and %d revisions acknowledged", kills, len(acknowledged), len(kinds), len(sheets))
}

// compare looks for what was acknowledged, and for what is there twice, or in half.
func compare(t *testing.T, path string, acknowledged map[string]bool, sheets map[string]string) {
	t.Helper()
	s := open1(t, path)
	defer func() { must(t, s.Close()) }()
	must(t, s.Check(ctx))
	rows, err := s.read.Query("SELECT kind || ' ' || id FROM entry")
	all, err := collect(rows, err, func(r scanner) (key string, err error) { return key, r.Scan(&key) })
	must(t, err)
	there := map[string]bool{}
	for _, key := range all {
		if there[key] {
			t.Errorf("%s is there twice", key)
		}
		there[key] = true
	}
	for key := range acknowledged {
		if !there[key] {
			t.Errorf("%s was acknowledged and is not there", key)
		}
	}
	var halves int
	must(t, s.read.QueryRow(`SELECT count(*) FROM entry e WHERE e.kind IN ('pictures', 'captures')
		AND NOT EXISTS (SELECT 1 FROM file f WHERE f.job = e.job AND f.kind = e.kind AND f.id = e.id AND f.role = 'data')`).Scan(&halves))
	if halves > 0 {
		t.Errorf("%d entries are there without their files", halves)
	}
	revisions, err := s.Revisions(ctx, 1)
	must(t, err)
	for number, settings := range sheets {
		if n, err := strconv.Atoi(number); err != nil || n > len(revisions) || revisions[n-1].Document.Settings != settings {
			t.Errorf("revision %s was acknowledged as %s and is not there as that", number, settings)
		}
	}
	j, err := s.Job(ctx, 1)
	must(t, err)
	if n := len(j.Waits) + len(j.Readings); n == 0 {
		t.Error("the job has no entries")
	}
}
