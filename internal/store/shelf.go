package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"steptrace/core/intake"
	"steptrace/core/job"
	"steptrace/core/sheet"
)

// What is kept beside jobs and sheets so that lists, searches and counts need not read them.

// Place is where a job stands on the shelf.
type Place int

// The places, in the order of the shelf.
const (
	OnBench Place = iota
	Waiting
	Finished
)

// Said is what a job says of itself on the shelf: its row, as JSON, and the words it is found
// by. Version is that of the job it was made from.
type Said struct {
	Number, Version int
	Place           Place
	Row             []byte
	Words           string
	Ready           bool   // finished, and not fetched yet
	Teaches         []byte // what a finished job teaches, as JSON; nil where it teaches nothing
}

// Unsaid lists jobs whose row does not tell of them as they are, the newest first.
func (s *Store) Unsaid(ctx context.Context, most int) ([]int, error) {
	rows, err := s.reads.QueryContext(ctx, "SELECT number FROM job WHERE said <> version ORDER BY number DESC LIMIT ?", most)
	return collect(rows, err, func(r scanner) (n int, err error) { return n, r.Scan(&n) })
}

// Say keeps what jobs say of themselves. What changed since is said anew another time.
func (s *Store) Say(ctx context.Context, all []Said) error {
	return s.inTx(ctx, func(tx runner) error {
		for _, x := range all {
			teaches := sql.NullString{String: string(x.Teaches), Valid: x.Teaches != nil}
			if _, err := tx.ExecContext(ctx, "UPDATE job SET said = ?, place = ?, row = ?, ready = ?, teaches = ? WHERE number = ?",
				x.Version, x.Place, string(x.Row), x.Ready, teaches, x.Number); err != nil {
				return err
			}
			if err := setWords(ctx, tx, "job_words", int64(x.Number), x.Words); err != nil {
				return err
			}
		}
		return nil
	})
}

// Day gives the rows of the jobs that a day is about: those that are not finished, and those that stand ready to be fetched; at
// most so many, the newest first.
func (s *Store) Day(ctx context.Context, most int) ([][]byte, error) {
	rows, err := s.reads.QueryContext(ctx, `SELECT row FROM (SELECT number, row FROM job WHERE place IN (0, 1) AND row <> ''
		UNION ALL SELECT number, row FROM job WHERE ready AND place = 2) ORDER BY number DESC LIMIT ?`, most)
	return collect(rows, err, func(r scanner) (row []byte, err error) { return row, r.Scan(&row) })
}

func setWords(ctx context.Context, tx runner, table string, id int64, words string) error {
	if _, err := tx.ExecContext(ctx, "DELETE FROM "+table+" WHERE rowid = ?", id); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, "INSERT INTO "+table+" (rowid, words) VALUES (?, ?)", id, words)
	return err
}

// Page is a part of a long list: what is looked for, and after which it goes on.
type Page struct {
	Words string // empty: all
	After string // as the page before gave it; empty: from the first on
	Most  int
}

// match is a search of the full-text index: every word, or what begins with it; of one character,
// with which nearly everything begins, only the word itself.
func match(words string) string {
	var out []string
	for _, w := range strings.FieldsFunc(words, func(r rune) bool { return unicode.IsSpace(r) || unicode.IsControl(r) || r == '"' }) {
		if strings.ContainsFunc(w, func(r rune) bool { return unicode.IsLetter(r) || unicode.IsNumber(r) }) { // or it is no word
			w = `"` + w + `"`
			if utf8.RuneCountInString(w) > len(`"x"`) {
				w += "*"
			}
			out = append(out, w)
		}
	}
	return strings.Join(out, " ")
}

// Shelved is a job's row on the shelf.
type Shelved struct {
	Number int
	Row    []byte
}

// Shelf gives a page of the rows of jobs, those on the bench first, then those that wait, the
// newest of each first; of one place alone where that is given. Next is where the next page
// begins; empty after the last.
func (s *Store) Shelf(ctx context.Context, p Page, only *Place) (list []Shelved, next string, err error) {
	query, args := "SELECT number, place, row FROM job WHERE said > 0", []any{}
	if m := match(p.Words); m != "" {
		query += " AND number IN (SELECT rowid FROM job_words WHERE job_words MATCH ?)"
		args = append(args, m)
	}
	if only != nil {
		query += " AND place = ?"
		args = append(args, *only)
	}
	var after struct {
		Place  Place
		Number int
	}
	if p.After != "" && json.Unmarshal([]byte(p.After), &after) == nil {
		query += " AND (place > ? OR place = ? AND number < ?)"
		args = append(args, after.Place, after.Place, after.Number)
	}
	rows, err := s.reads.QueryContext(ctx, query+" ORDER BY place, number DESC LIMIT ?", append(args, p.Most+1)...)
	places := []Place{}
	list, err = collect(rows, err, func(r scanner) (x Shelved, err error) {
		var at Place
		err = r.Scan(&x.Number, &at, &x.Row)
		places = append(places, at)
		return x, err
	})
	if len(list) > p.Most {
		list = list[:p.Most]
		after.Place, after.Number = places[p.Most-1], list[p.Most-1].Number
		at, _ := json.Marshal(after) // two numbers
		next = string(at)
	}
	return list, next, err
}

// Places counts the jobs at each place that a search finds.
func (s *Store) Places(ctx context.Context, words string) (map[Place]int, error) {
	query, args := "SELECT place, count(*) FROM job WHERE said > 0", []any{}
	if m := match(words); m != "" {
		query += " AND number IN (SELECT rowid FROM job_words WHERE job_words MATCH ?)"
		args = append(args, m)
	}
	rows, err := s.reads.QueryContext(ctx, query+" GROUP BY place", args...)
	out := map[Place]int{}
	_, err = collect(rows, err, func(r scanner) (struct{}, error) {
		var at Place
		var n int
		err := r.Scan(&at, &n)
		out[at] = n
		return struct{}{}, err
	})
	return out, err
}

// noteEnd keeps where a finished job had failed, for the model; one that is not finished any
// more counts for nothing.
func noteEnd(ctx context.Context, tx runner, number int) error {
	if _, err := tx.ExecContext(ctx, "DELETE FROM ended WHERE job = ?", number); err != nil {
		return err
	}
	var sheetID int64
	var end job.Ended
	err := tx.QueryRowContext(ctx, "SELECT sheet, number, stage, outcome FROM job WHERE number = ? AND finished IS NOT NULL", number).
		Scan(&sheetID, &end.Number, &end.Stage, &end.Outcome)
	if noRows(err) == ErrNotFound {
		return nil
	}
	if err != nil {
		return err
	}
	var j job.Job
	if _, err := fill(ctx, tx, &j, number, 0, "readings"); err != nil {
		return err
	}
	end.Inside, end.Repairs = j.Inside, j.Repairs
	failed := end.Failed()
	for _, stage := range end.Stages() {
		failed[stage] = append(failed[stage], "")
	}
	for stage, parts := range failed {
		for _, part := range parts {
			if _, err := tx.ExecContext(ctx, "INSERT OR IGNORE INTO ended (sheet, job, stage, part) VALUES "+
				"(?,?,?,?)", sheetID, number, stage, part); err != nil {
				return err
			}
		}
	}
	return nil
}

// FailedParts counts in how many finished jobs of a model each part of a stage had failed:
// it was condemned, or found bad in a repair. A wrong part that somebody had fitted is the
// history of that one set, and tells nothing of the model.
func (s *Store) FailedParts(ctx context.Context, sheetID int64, stage string) (map[string]int, error) {
	rows, err := s.reads.QueryContext(
		ctx,
		"SELECT part, count(*) FROM ended WHERE sheet IN "+group+" AND stage = ? AND part <> '' GROUP BY part",
		sheetID, sheetID, stage,
	)
	out := map[string]int{}
	_, err = collect(rows, err, func(r scanner) (struct{}, error) {
		var part string
		var n int
		err := r.Scan(&part, &n)
		out[part] = n
		return struct{}{}, err
	})
	return out, err
}

// Ends tells how finished jobs of a sheet's model ended, but for one job.
func (s *Store) Ends(ctx context.Context, sheetID int64, but int) (e intake.Ends, err error) {
	if err := s.reads.QueryRowContext(ctx, "SELECT count(DISTINCT job) FROM ended WHERE sheet IN "+group+" AND job <> ? AND "+
		"part = ''", sheetID, sheetID, but).Scan(&e.Of); err != nil {
		return e, err
	}
	rows, err := s.reads.QueryContext(ctx, `SELECT e.stage, e.times, e.first, j.outcome FROM (
			SELECT stage, count(*) AS times, min(job) AS first FROM ended WHERE sheet IN `+group+` AND job <> ? AND part = '' GROUP BY stage) e
		JOIN job j ON j.number = e.first ORDER BY e.first, e.stage`, sheetID, sheetID, but)
	e.Stages, err = collect(
		rows,
		err,
		func(r scanner) (x intake.End, err error) { return x, r.Scan(&x.Stage, &x.Times, &x.Job, &x.Outcome) },
	)
	return e, err
}

// SheetRow is a sheet as a list of sheets shows it.
type SheetRow struct {
	ID    int64
	Saved time.Time
	Jobs  int // that use it
	sheet.Summary
}

// SheetList gives a page of the sheets, by their names. Next is where the next page begins;
// empty after the last. Total is how many there are that the search finds.
func (s *Store) SheetList(ctx context.Context, p Page) (list []SheetRow, next string, total int, err error) {
	where, args := " FROM sheet WHERE own = 0", []any{}
	if m := match(p.Words); m != "" {
		where += " AND id IN (SELECT rowid FROM sheet_words WHERE sheet_words MATCH ?)"
		args = append(args, m)
	}
	if err := s.reads.QueryRowContext(ctx, "SELECT count(*)"+where, args...).Scan(&total); err != nil {
		return nil, "", 0, err
	}
	var after struct {
		Name string
		ID   int64
	}
	if p.After != "" && json.Unmarshal([]byte(p.After), &after) == nil {
		where += " AND (name COLLATE NOCASE, id) > (?, ?)"
		args = append(args, after.Name, after.ID)
	}
	rows, err := s.reads.QueryContext(
		ctx,
		"SELECT id, saved, row, (SELECT count(*) FROM job WHERE job.sheet = sheet.id)"+where+" ORDER BY name COLLATE NOCASE, id LIMIT ?",
		append(args, p.Most+1)...)
	list, err = collect(rows, err, func(r scanner) (x SheetRow, err error) {
		var saved string
		var row []byte
		if err := r.Scan(&x.ID, &saved, &row, &x.Jobs); err != nil {
			return x, err
		}
		if err := json.Unmarshal(row, &x.Summary); err != nil {
			return x, err
		}
		x.Saved, err = parseStamp(saved)
		return x, err
	})
	if len(list) > p.Most {
		list = list[:p.Most]
		after.Name, after.ID = list[p.Most-1].Name, list[p.Most-1].ID
		at, _ := json.Marshal(after) // a text and a number
		next = string(at)
	}
	return list, next, total, err
}

// FindSheet finds a sheet whose document is the same, or, without one, by maker and model.
func (s *Store) FindSheet(ctx context.Context, document *sheet.Sheet, maker, model string) (Sheet, error) {
	query, arg := "SELECT min(id) FROM sheet WHERE own = 0 AND digest = ?", ""
	if document != nil {
		arg = digest(document.WriteJSON())
	} else {
		query, arg = "SELECT min(id) FROM sheet WHERE own = 0 AND name = ?", (&sheet.Sheet{Maker: maker, Model: model}).Name()
	}
	var id sql.NullInt64
	if err := s.reads.QueryRowContext(ctx, query, arg).Scan(&id); err != nil {
		return Sheet{}, err
	}
	if !id.Valid {
		return Sheet{}, ErrNotFound
	}
	return s.Sheet(ctx, id.Int64)
}

func digest(document []byte) string {
	sum := sha256.Sum256(document)
	return hex.EncodeToString(sum[:])
}

// sayOfSheet keeps what a list of sheets shows of one, as its document is now.
func sayOfSheet(ctx context.Context, tx runner, id int64, document *sheet.Sheet, text []byte, saved string) error {
	summary := document.Summary()
	row, err := json.Marshal(summary)
	if err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, "UPDATE sheet SET name = ?, row = ?, digest = ?, saved = ? WHERE "+
		"id = ?", summary.Name, string(row), digest(text), saved, id); err != nil {
		return err
	}
	return setWords(ctx, tx, "sheet_words", id, strings.Join([]string{summary.Name, summary.Kind, document.Note}, " "))
}
