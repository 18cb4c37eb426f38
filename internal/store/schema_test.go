package store

import (
	"compress/gzip"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// frozen are the migrations as they were given out: a change of one would be missing in files that have it already. What has to be
// otherwise comes with the next one.
var frozen = map[string]string{
	"00001_first.sql":                  "81b5514a070d96d0",
	"00002_before_the_first_probe.sql": "6bf3a05daaff77a2",
	"00003_working.sql":                "1c44d776665db56d",
	"00004_evidence.sql":               "5871174b347fee4d",
	"00005_captures.sql":               "109a624d1d9cbceb",
	"00006_instruments.sql":            "a2f31b138204c7d7",
	"00007_inside.sql":                 "818c5ebb9c18bd40",
	"00008_repairs.sql":                "08c46c7e125a9601",
	"00009_log.sql":                    "6749435c1f4e0fa2",
	"00011_shelf.sql":                  "c1ff747e3281d8c5",
	"00013_own.sql":                    "1400a7ab6b852ffd",
	"00014_pictures.sql":               "3f49eff823d75f52",
	"00015_drawer.sql":                 "0b6d3d09ff46585a",
	"00016_workshop.sql":               "0014ece87a7b2b3c",
	"00017_soak.sql":                   "7e6f951d24d6e5c3",
	"00018_shop.sql":                   "718762c9a4777c31",
	"00019_past.sql":                   "f68a525c2dce0694",
	"00021_let_in.sql":                 "c9479282cb1c27a7",
	"00022_training.sql":               "d9f619b6c5e9641d",
}

func TestMigrationsAreFrozen(t *testing.T) {
	names, err := fs.Glob(migrations, "migrations/*.sql")
	must(t, err)
	if len(names) != len(frozen) {
		t.Errorf("%d migrations, %d are frozen: add what is new", len(names), len(frozen))
	}
	for _, name := range names {
		data, err := fs.ReadFile(migrations, name)
		must(t, err)
		sum := sha256.Sum256(data)
		if got, want := hex.EncodeToString(sum[:8]), frozen[filepath.Base(name)]; got != want {
			t.Errorf("%q: %q, // it was %q: a migration that was given out is not changed", filepath.Base(name), got, want)
		}
	}
}

// Files made by the programs of nearly every version of the tables, some of them by programs whose migration was changed later: each
// opens, a copy is made before its tables are changed, every job and sheet in it is there with all its readings, and takes new ones.
func TestFilesOfEveryVersion(t *testing.T) {
	files, err := filepath.Glob("testdata/*.db.gz")
	must(t, err)
	const least = 16
	if len(files) < least {
		t.Fatalf("%d files", len(files))
	}
	for _, file := range files {
		t.Run(strings.TrimSuffix(filepath.Base(file), ".db.gz"), func(t *testing.T) {
			path := filepath.Join(t.TempDir(), "w.db")
			unpack(t, file, path)
			jobs, readings, revisions := counted(t, path)
			if jobs == 0 || readings == 0 || revisions == 0 {
				t.Fatalf("%d jobs, %d readings, %d revisions", jobs, readings, revisions)
			}
			copies := Copies{Folder: filepath.Join(filepath.Dir(path), "copies"), Keep: 2}
			s, err := Open(ctx, path, &copies)
			must(t, err)
			defer func() { must(t, s.Close()) }()
			if list, err := copies.List(); err != nil || len(list) != 1 || !strings.Contains(list[0].Name, "before-upgrade") {
				t.Errorf("copies before the upgrade: %v, %v", list, err)
			}
			numbers, err := s.Unsaid(ctx, 100)
			must(t, err)
			if len(numbers) != jobs {
				t.Errorf("%d jobs, %d were there", len(numbers), jobs)
			}
			for _, n := range numbers {
				j, err := s.Job(ctx, n)
				if err != nil {
					t.Errorf("job %d: %v", n, err)
					continue
				}
				readings -= len(j.Readings)
				if j.Finished == nil {
					continue
				}
				must(t, s.Reopen(ctx, n)) // writes what later tables have
			}
			if readings != 0 {
				t.Errorf("%d readings are lost", readings)
			}
			var now int
			must(t, s.read.QueryRowContext(ctx, "SELECT count(*) FROM sheet_revision WHERE back = 0").Scan(&now))
			if now != revisions {
				t.Errorf("%d revisions of sheets, %d were there", now, revisions)
			}
			must(t, s.Check(ctx))
		})
	}
}

func unpack(t *testing.T, from, to string) {
	t.Helper()
	in, err := os.Open(from)
	must(t, err)
	defer func() { must(t, in.Close()) }()
	z, err := gzip.NewReader(in)
	must(t, err)
	data, err := io.ReadAll(z)
	must(t, err)
	must(t, os.WriteFile(to, data, 0o600))
}

// counted is how many jobs, readings and revisions of sheets a file has, by its own tables.
func counted(t *testing.T, path string) (jobs, readings, revisions int) {
	t.Helper()
	db, err := sql.Open("sqlite", path)
	must(t, err)
	defer func() { must(t, db.Close()) }()
	count := func(of string, into *int) error {
		return db.QueryRowContext(ctx, "SELECT count(*) FROM "+of).Scan(into)
	}
	must(t, count("job", &jobs))
	must(t, count("sheet_revision", &revisions))
	if count("entry WHERE kind = 'readings'", &readings) != nil { // each kind had a table of its own at first
		must(t, count("reading", &readings))
	}
	return jobs, readings, revisions
}
