// Package store keeps sheets, jobs and readings in one SQLite file. What a
// method has returned without an error is on disk: the journal is written
// ahead (WAL) and synced at every commit (synchronous=FULL).
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"sync"
	"time"

	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // registers the driver "sqlite"

	"steptrace/core/job"
	"steptrace/core/sheet"
	"steptrace/core/trace"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNotFound says that there is no such sheet, job or reading.
var ErrNotFound = errors.New("not found")

// ErrStale says that somebody else saved the sheet in between.
var ErrStale = errors.New("changed in between")

// ErrFinished says that a finished job takes no more readings.
var ErrFinished = errors.New("job is finished")

// ErrTaken says that the id belongs to another reading already.
var ErrTaken = errors.New("id is taken")

// Store is the open database. Reads run side by side; there is one writer.
type Store struct {
	read, write *sql.DB
	worked      worked
}

// worked keeps sheets worked out, by id and revision. A revision never changes,
// so nothing here grows stale; it only has to be kept from growing too large.
type worked struct {
	mu sync.Mutex
	at map[sheetKey]workedSheet
}

type sheetKey struct {
	id       int64
	revision int
}

type workedSheet struct {
	document *sheet.Sheet
	plan     *sheet.Plan
	problems []sheet.Problem
}

// maxWorked is how many sheets are kept; a workshop has a few dozen in use.
const maxWorked = 200

func (w *worked) out(k sheetKey, text string) (workedSheet, error) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if x, ok := w.at[k]; ok {
		return x, nil
	}
	document, err := sheet.ReadJSON([]byte(text))
	if err != nil {
		return workedSheet{}, fmt.Errorf("sheet %d: %w", k.id, err)
	}
	x := workedSheet{document: document}
	x.plan, x.problems = document.Plan()
	if len(w.at) >= maxWorked || w.at == nil {
		w.at = map[sheetKey]workedSheet{}
	}
	w.at[k] = x
	return x, nil
}

// Open opens the file, creates it where it is missing, and brings its tables
// up to date.
func Open(ctx context.Context, path string) (*Store, error) {
	dsn := func(extra string) string {
		u := url.URL{Scheme: "file", Opaque: (&url.URL{Path: path}).EscapedPath()}
		u.RawQuery = "_pragma=busy_timeout(5000)&_pragma=journal_mode(WAL)&_pragma=foreign_keys(1)&_pragma=synchronous(FULL)" + extra
		return u.String()
	}
	write, err := sql.Open("sqlite", dsn("&_txlock=immediate"))
	if err != nil {
		return nil, err
	}
	write.SetMaxOpenConns(1)
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, write, sub)
	if err == nil {
		_, err = provider.Up(ctx)
	}
	if err != nil {
		return nil, errors.Join(fmt.Errorf("the file %s cannot be used as Step Trace's database: %w", path, err), write.Close())
	}
	read, err := sql.Open("sqlite", dsn("&_pragma=query_only(1)"))
	if err != nil {
		return nil, errors.Join(err, write.Close())
	}
	read.SetMaxOpenConns(4)
	return &Store{read: read, write: write}, nil
}

// Close ends all use of the file.
func (s *Store) Close() error { return errors.Join(s.read.Close(), s.write.Close()) }

// inTx runs f in one transaction: all of it is kept, or nothing.
func (s *Store) inTx(ctx context.Context, f func(tx *sql.Tx) error) error {
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }() // does nothing after Commit
	if err := f(tx); err != nil {
		return err
	}
	return tx.Commit()
}

func stamp(t time.Time) string { return t.UTC().Format(time.RFC3339Nano) }

func parseStamp(text string) (time.Time, error) { return time.Parse(time.RFC3339Nano, text) }

// Sheet is a stored sheet, worked out. It is shared: nothing in it may be
// changed.
type Sheet struct {
	ID       int64
	Revision int
	Document *sheet.Sheet
	Plan     *sheet.Plan
	Problems []sheet.Problem
	Saved    time.Time
	Jobs     int // that use it
}

// querier is what both a database and a transaction offer.
type querier interface {
	QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error)
	QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row
}

// scanner is what both a row and rows offer.
type scanner interface{ Scan(dest ...any) error }

const sheetColumns = `SELECT s.id, r.revision, r.document, r.saved, (SELECT count(*) FROM job j WHERE j.sheet = s.id)
	FROM sheet s JOIN sheet_revision r ON r.sheet = s.id `

func (s *Store) scanSheet(row scanner) (Sheet, error) {
	var x Sheet
	var document, saved string
	if err := row.Scan(&x.ID, &x.Revision, &document, &saved, &x.Jobs); err != nil {
		return x, noRows(err)
	}
	done, err := s.worked.out(sheetKey{x.ID, x.Revision}, document)
	if err != nil {
		return x, err
	}
	x.Document, x.Plan, x.Problems = done.document, done.plan, done.problems
	x.Saved, err = parseStamp(saved)
	return x, err
}

func noRows(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNotFound
	}
	return err
}

// collect reads all rows with one scan function.
func collect[T any](rows *sql.Rows, err error, scan func(scanner) (T, error)) ([]T, error) {
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	out := []T{}
	for rows.Next() {
		v, err := scan(rows)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, rows.Err()
}

// Sheets lists the sheets as they are now, by id.
func (s *Store) Sheets(ctx context.Context) ([]Sheet, error) {
	rows, err := s.read.QueryContext(ctx, sheetColumns+"WHERE r.revision = s.revision ORDER BY s.id")
	return collect(rows, err, s.scanSheet)
}

// Sheet gives a sheet as it is now.
func (s *Store) Sheet(ctx context.Context, id int64) (Sheet, error) {
	return s.scanSheet(s.read.QueryRowContext(ctx, sheetColumns+"WHERE r.revision = s.revision AND s.id = ?", id))
}

// AddSheet stores a new sheet as its revision 1.
func (s *Store) AddSheet(ctx context.Context, document *sheet.Sheet) (id int64, err error) {
	err = s.inTx(ctx, func(tx *sql.Tx) error {
		id, err = addSheet(ctx, tx, document)
		return err
	})
	return id, err
}

func addSheet(ctx context.Context, tx *sql.Tx, document *sheet.Sheet) (int64, error) {
	res, err := tx.ExecContext(ctx, "INSERT INTO sheet (revision) VALUES (1)")
	if err != nil {
		return 0, err
	}
	id, err := res.LastInsertId()
	if err != nil {
		return 0, err
	}
	return id, addRevision(ctx, tx, id, 1, document)
}

func addRevision(ctx context.Context, tx *sql.Tx, id int64, revision int, document *sheet.Sheet) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO sheet_revision (sheet, revision, document, saved) VALUES (?, ?, ?, ?)",
		id, revision, string(document.WriteJSON()), stamp(time.Now()))
	return err
}

// ChangeSheet stores a new revision of a sheet, if it still stands at the
// revision that was changed; otherwise ErrStale.
func (s *Store) ChangeSheet(ctx context.Context, id int64, revision int, document *sheet.Sheet) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		var now int
		if err := tx.QueryRowContext(ctx, "SELECT revision FROM sheet WHERE id = ?", id).Scan(&now); err != nil {
			return noRows(err)
		}
		if now != revision {
			return ErrStale
		}
		if _, err := tx.ExecContext(ctx, "UPDATE sheet SET revision = ? WHERE id = ?", revision+1, id); err != nil {
			return err
		}
		return addRevision(ctx, tx, id, revision+1, document)
	})
}

// Job is a stored job with its sheet: the present one while the job is open,
// the one it was finished by afterwards.
type Job struct {
	job.Job
	Sheet Sheet
}

const jobColumns = `SELECT number, sheet, sheet_revision, complaint, opened, finished, outcome, stage, route,
	injected_at, injected_level, injected_hz, instrument FROM job `

// jobRow is a job without its sheet and readings.
type jobRow struct {
	job.Job
	sheet    int64
	revision sql.NullInt64
}

func scanJob(row scanner) (jobRow, error) {
	var j jobRow
	var opened string
	var finished, at sql.NullString
	var level, hz float64
	if err := row.Scan(&j.Number, &j.sheet, &j.revision, &j.Complaint, &opened, &finished, &j.Outcome, &j.Stage, &j.Route, &at, &level, &hz, &j.Instrument); err != nil {
		return j, noRows(err)
	}
	j.Injected = injection(at, level, hz)
	var err error
	if j.Opened, err = parseStamp(opened); err != nil {
		return j, err
	}
	if finished.Valid {
		t, err := parseStamp(finished.String)
		if err != nil {
			return j, err
		}
		j.Finished = &t
	}
	return j, nil
}

func injection(at sql.NullString, level, hz float64) *trace.Injection {
	if !at.Valid {
		return nil
	}
	return &trace.Injection{At: at.String, Level: level, Hz: hz}
}

func injectionColumns(in *trace.Injection) (at sql.NullString, level, hz float64) {
	if in == nil {
		return sql.NullString{}, 0, 0
	}
	return sql.NullString{String: in.At, Valid: true}, in.Level, in.Hz
}

const readingColumns = `SELECT id, point, quantity, text, si, form, word, mode, injected_at, injected_level, injected_hz, instrument,
	taken, struck IS NOT NULL, struck_reason FROM reading WHERE job = ? ORDER BY serial`

func scanReading(row scanner) (job.Logged, error) {
	var r job.Logged
	var at sql.NullString
	var level, hz float64
	var taken string
	err := row.Scan(&r.ID, &r.Point, &r.Quantity, &r.Text, &r.SI, &r.Form, &r.Word, &r.Mode, &at, &level, &hz, &r.Instrument, &taken, &r.Struck, &r.StruckReason)
	if err != nil {
		return r, err
	}
	r.Injected = injection(at, level, hz)
	r.Taken, err = parseStamp(taken)
	return r, err
}

// complete adds the readings to a job and its sheet.
func (s *Store) complete(ctx context.Context, row jobRow) (Job, error) {
	j, err := s.withSheet(ctx, row)
	if err != nil {
		return j, err
	}
	rows, err := s.read.QueryContext(ctx, readingColumns, row.Number)
	j.Readings, err = collect(rows, err, scanReading)
	return j, err
}

func (s *Store) withSheet(ctx context.Context, row jobRow) (j Job, err error) {
	j = Job{Job: row.Job}
	if row.revision.Valid {
		j.Sheet, err = s.scanSheet(s.read.QueryRowContext(ctx, sheetColumns+"WHERE s.id = ? AND r.revision = ?", row.sheet, row.revision.Int64))
	} else {
		j.Sheet, err = s.Sheet(ctx, row.sheet)
	}
	return j, err
}

// Jobs lists all jobs: those on the bench first, the newest of each first.
func (s *Store) Jobs(ctx context.Context) ([]Job, error) {
	rows, err := s.read.QueryContext(ctx, jobColumns+"ORDER BY finished IS NOT NULL, number DESC")
	found, err := collect(rows, err, scanJob)
	if err != nil {
		return nil, err
	}
	out := make([]Job, len(found))
	for i, row := range found {
		if out[i], err = s.complete(ctx, row); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Job gives one job.
func (s *Store) Job(ctx context.Context, number int) (Job, error) {
	row, err := scanJob(s.read.QueryRowContext(ctx, jobColumns+"WHERE number = ?", number))
	if err != nil {
		return Job{}, err
	}
	return s.complete(ctx, row)
}

// JobHead gives one job without its readings.
func (s *Store) JobHead(ctx context.Context, number int) (Job, error) {
	row, err := scanJob(s.read.QueryRowContext(ctx, jobColumns+"WHERE number = ?", number))
	if err != nil {
		return Job{}, err
	}
	return s.withSheet(ctx, row)
}

// AddJob stores a job with its readings, all or nothing. Where document is
// given, the sheet comes along and is stored too. A number that is zero or
// taken is replaced by the next free one, which is returned.
func (s *Store) AddJob(ctx context.Context, j *job.Job, sheetID int64, document *sheet.Sheet) (number int, err error) {
	err = s.inTx(ctx, func(tx *sql.Tx) error {
		if document != nil {
			if sheetID, err = addSheet(ctx, tx, document); err != nil {
				return err
			}
		}
		var revision int
		if err := tx.QueryRowContext(ctx, "SELECT revision FROM sheet WHERE id = ?", sheetID).Scan(&revision); err != nil {
			return noRows(err)
		}
		if number, err = freeNumber(ctx, tx, j.Number); err != nil {
			return err
		}
		at, level, hz := injectionColumns(j.Injected)
		var finished, pinned any
		if j.Finished != nil {
			finished, pinned = stamp(*j.Finished), revision
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO job (number, sheet, sheet_revision, complaint, opened, finished, outcome, stage, route,
			injected_at, injected_level, injected_hz, instrument) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?)`,
			number, sheetID, pinned, j.Complaint, stamp(j.Opened), finished, j.Outcome, j.Stage, j.Route, at, level, hz, j.Instrument)
		if err != nil {
			return err
		}
		for i := range j.Readings {
			if err := addReading(ctx, tx, number, &j.Readings[i]); err != nil {
				return err
			}
		}
		return nil
	})
	return number, err
}

func freeNumber(ctx context.Context, q querier, wanted int) (int, error) {
	var taken bool
	var last int
	err := q.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM job WHERE number = ?), (SELECT coalesce(max(number), 0) FROM job)", wanted).Scan(&taken, &last)
	if taken || wanted == 0 {
		return last + 1, err
	}
	return wanted, err
}

func addReading(ctx context.Context, tx *sql.Tx, number int, r *job.Logged) error {
	at, level, hz := injectionColumns(r.Injected)
	var struck any
	if r.Struck {
		struck = stamp(time.Now())
	}
	_, err := tx.ExecContext(ctx, `INSERT INTO reading (id, job, point, quantity, text, si, form, word, mode,
		injected_at, injected_level, injected_hz, instrument, taken, struck, struck_reason) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)`,
		r.ID, number, r.Point, r.Quantity, r.Text, r.SI, r.Form, r.Word, r.Mode, at, level, hz, r.Instrument, stamp(r.Taken), struck, r.StruckReason)
	return err
}

// open tells, inside a transaction, whether a job takes changes.
func open(ctx context.Context, tx *sql.Tx, number int) error {
	var finished bool
	if err := tx.QueryRowContext(ctx, "SELECT finished IS NOT NULL FROM job WHERE number = ?", number).Scan(&finished); err != nil {
		return noRows(err)
	}
	if finished {
		return ErrFinished
	}
	return nil
}

// Log adds a reading to a job. The same reading sent twice is kept once; an id
// that belongs to another reading is refused with ErrTaken.
func (s *Store) Log(ctx context.Context, number int, r trace.Reading) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		var point, text string
		err := tx.QueryRowContext(ctx, "SELECT point, text FROM reading WHERE job = ? AND id = ?", number, r.ID).Scan(&point, &text)
		if err == nil {
			if point != r.Point || text != r.Text {
				return ErrTaken
			}
			return nil
		}
		if !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		if err := open(ctx, tx, number); err != nil {
			return err
		}
		return addReading(ctx, tx, number, &job.Logged{Reading: r})
	})
}

// Strike withdraws a reading; it stays in the log with the reason.
func (s *Store) Strike(ctx context.Context, number int, id, reason string) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		if err := open(ctx, tx, number); err != nil {
			return err
		}
		res, err := tx.ExecContext(ctx, "UPDATE reading SET struck = coalesce(struck, ?), struck_reason = ? WHERE job = ? AND id = ?", stamp(time.Now()), reason, number, id)
		return changed(res, err)
	})
}

// changed turns an update that met no row into ErrNotFound.
func changed(res sql.Result, err error) error {
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, ErrNotFound)
	}
	return nil
}

// SetBench keeps how the bench of a job stands: route, what is fed in, with
// what is read.
func (s *Store) SetBench(ctx context.Context, number int, route string, in *trace.Injection, instrument string) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		if err := open(ctx, tx, number); err != nil {
			return err
		}
		at, level, hz := injectionColumns(in)
		res, err := tx.ExecContext(ctx, "UPDATE job SET route = ?, injected_at = ?, injected_level = ?, injected_hz = ?, instrument = ? WHERE number = ?",
			route, at, level, hz, instrument, number)
		return changed(res, err)
	})
}

// Finish closes a job with what was found, and pins its sheet as it is now.
func (s *Store) Finish(ctx context.Context, number int, outcome, stage string) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		if err := open(ctx, tx, number); err != nil {
			return err
		}
		res, err := tx.ExecContext(ctx, `UPDATE job SET finished = ?, outcome = ?, stage = ?,
			sheet_revision = (SELECT revision FROM sheet WHERE id = job.sheet) WHERE number = ?`, stamp(time.Now()), outcome, stage, number)
		return changed(res, err)
	})
}

// Reopen puts a finished job back on the bench.
func (s *Store) Reopen(ctx context.Context, number int) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, "UPDATE job SET finished = NULL, sheet_revision = NULL WHERE number = ?", number)
		return changed(res, err)
	})
}
