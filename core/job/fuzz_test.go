package job

import (
	"os"
	"path/filepath"
	"steptrace/core/sheet"
	"strconv"
	"testing"
)

// Jobs that come as files, with all kinds of entry: refused with a reason, or taken, traced, told and judged without breaking.
func FuzzFile(f *testing.F) {
	files, err := filepath.Glob("../../demo/jobs/*.json")
	if err != nil || len(files) == 0 {
		f.Fatal("no jobs to begin with", err)
	}
	for _, file := range files {
		data, err := os.ReadFile(file)
		if err != nil {
			f.Fatal(err)
		}
		if len(data) < 1<<17 { // those with pictures are too long to be changed often
			f.Add(data)
		}
	}
	sheets := map[string]*sheet.Sheet{}
	names, err := filepath.Glob("../../demo/sheets/*.json")
	if err != nil {
		f.Fatal(err)
	}
	for _, name := range names {
		data, err := os.ReadFile(name)
		if err != nil {
			f.Fatal(err)
		}
		s, err := sheet.ReadJSON(data)
		if err != nil {
			f.Fatal(err)
		}
		sheets[s.Model] = s
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		x, err := ReadJSON(data)
		if err != nil {
			return
		}
		document := x.Sheet.Document
		if document == nil {
			document = sheets[x.Sheet.Model]
		}
		if document == nil {
			return
		}
		plan, problems := document.Plan()
		if sheet.Blocked(problems) {
			return
		}
		n := 0
		if err := x.Take(plan, func() string { n++; return "made-" + strconv.Itoa(n) }); err != nil {
			return
		}
		x.Record(plan)
		x.Counts()
		if c, ok := x.Case(plan); ok {
			c.Find(x.Plain(plan))
		}
		if _, err := ReadJSON(x.WriteJSON()); err != nil {
			t.Fatalf("what was taken is not read back: %v", err)
		}
	})
}
