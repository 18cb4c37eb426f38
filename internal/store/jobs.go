package store

import (
	"context"
	"database/sql"
	"errors"
	"slices"
	"time"

	"github.com/google/uuid"

	"steptrace/core/job"
	"steptrace/core/planning"
	"steptrace/core/quantity"
	"steptrace/core/reading"
	"steptrace/core/repair"
	"steptrace/core/sheet"
)

// Job is a stored job with its sheet: the present one while the job is open,
// the one it was finished by afterwards.
type Job struct {
	job.Job
	Sheet   Sheet
	Version int // counts its changes, and those of its sheet
}

const jobColumns = `SELECT number, sheet, sheet_revision, complaint, opened, finished, outcome, stage, route,
	injected_at, injected_level, injected_hz, injected_touch, instrument, way, version, amended FROM job `

// jobRow is a job without its sheet and readings.
type jobRow struct {
	job.Job
	sheet    int64
	revision sql.NullInt64
	version  int
	amended  int
}

func scanJob(row scanner) (jobRow, error) {
	var j jobRow
	var opened string
	var finished, at sql.NullString
	var in reading.Injection
	if err := row.Scan(&j.Number, &j.sheet, &j.revision, &j.Complaint, &opened, &finished, &j.Outcome, &j.Stage, &j.Route, &at, &in.Level,
		&in.Hz, &in.Touch, &j.Instrument, &j.Way, &j.version, &j.amended); err != nil {
		return j, noRows(err)
	}
	j.Injected = injection(at, in)
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

// injection is what was fed in at a place; nil for the sheet's own signal.
func injection(at sql.NullString, in reading.Injection) *reading.Injection {
	if !at.Valid {
		return nil
	}
	in.At = at.String
	return &in
}

// injectionColumns are the four columns that hold what is fed in.
func injectionColumns(in *reading.Injection) []any {
	if in == nil {
		return []any{nil, 0, 0, false}
	}
	return []any{in.At, in.Level, in.Hz, in.Touch}
}

// complete adds to a job what was noted of it, and its sheet.
func (s *Store) complete(ctx context.Context, row jobRow) (j Job, err error) {
	j = Job{Job: row.Job, Version: row.version}
	if err := s.log(ctx, &row, &j.Job); err != nil {
		return j, err
	}
	if row.revision.Valid {
		j.Sheet, err = s.SheetAt(ctx, row.sheet, int(row.revision.Int64))
	} else {
		j.Sheet, err = s.Sheet(ctx, row.sheet)
	}
	return j, err
}

// Job gives one job. Its entries are shared: none of them may be changed.
func (s *Store) Job(ctx context.Context, number int) (Job, error) {
	row, err := scanJob(s.reads.QueryRowContext(ctx, jobColumns+"WHERE number = ?", number))
	if err != nil {
		return Job{}, err
	}
	return s.complete(ctx, row)
}

// Brought are the files of a job's entries, by the kind and the id of each.
type Brought map[EntryKey]Files

// EntryKey names an entry of a job.
type EntryKey struct{ Kind, ID string }

// AddJob stores a job of a sheet with all that belongs to it, all or nothing. A number that is zero or
// taken is replaced by the next free one, which is returned. A sheet that was made for another job is for
// its model from here on.
func (s *Store) AddJob(ctx context.Context, j *job.Job, sheetID int64, brought Brought) (number int, err error) {
	return s.addOnce(ctx, func(ctx context.Context, tx runner) (int, error) {
		if err := keepSheet(ctx, tx, sheetID); err != nil {
			return 0, err
		}
		return addJob(ctx, tx, j, sheetID, brought)
	})
}

// addOnce adds a job, unless one was added under its sender's id before.
func (s *Store) addOnce(ctx context.Context, add func(ctx context.Context, tx runner) (int, error)) (number int, err error) {
	key := under(ctx)
	err = s.inTx(ctx, func(tx runner) error {
		there, err := numbered(ctx, tx, "SELECT number FROM job WHERE key = ?", key)
		if number = int(there); err != nil || there != 0 {
			return err
		}
		number, err = add(Under(ctx, key), tx)
		return err
	})
	return number, err
}

// AddJobWithSheet stores a job and its sheet, both or neither; own where the sheet was made for this job.
func (s *Store) AddJobWithSheet(ctx context.Context, j *job.Job, document *sheet.Sheet, own bool, brought Brought,
	pictures ...Pictured) (number int, err error) {
	return s.addOnce(ctx, func(under context.Context, tx runner) (int, error) {
		id, err := addPictured(ctx, tx, uuid.NewString(), document, own, pictures)
		if err != nil {
			return 0, err
		}
		return addJob(under, tx, j, id, brought)
	})
}

func addJob(ctx context.Context, tx runner, j *job.Job, sheetID int64, brought Brought) (int, error) {
	var revision int
	if err := tx.QueryRowContext(ctx, "SELECT revision FROM sheet WHERE id = ?", sheetID).Scan(&revision); err != nil {
		return 0, noRows(err)
	}
	number, err := freeNumber(ctx, tx, j.Number)
	if err != nil {
		return 0, err
	}
	c := change{ctx: ctx, tx: tx, number: number}
	var finished, pinned any
	if j.Finished != nil {
		finished, pinned = stamp(*j.Finished), revision
	}
	_, err = tx.ExecContext(
		ctx,
		`INSERT INTO job (number, sheet, sheet_revision, complaint, opened, finished, outcome, stage, route,
			instrument, way, last, key, injected_at, injected_level, injected_hz, injected_touch)
			VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)`,
		append(
			[]any{
				number,
				sheetID,
				pinned,
				j.Complaint,
				stamp(j.Opened),
				finished,
				j.Outcome,
				j.Stage,
				j.Route,
				j.Instrument,
				j.Way,
				lastNoted(j),
				under(ctx),
			},
			injectionColumns(j.Injected)...)...)
	if err != nil {
		return 0, err
	}
	for _, k := range job.Kinds {
		for _, e := range k.All(j) {
			if err := c.add(k, e, brought[EntryKey{k.Name(), *e.Head().ID}]); err != nil {
				return 0, err
			}
		}
	}
	return number, noteEnd(ctx, tx, number)
}

// mostNumber is the greatest number that a job has: one beyond it, from a file, gets the next that is free.
const mostNumber = 9_999_999

func freeNumber(ctx context.Context, q querier, wanted int) (int, error) {
	var taken bool
	var last int
	err := q.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM job WHERE number = ?), "+
		"(SELECT coalesce(max(number), 0) FROM job WHERE number < ?)", wanted, mostNumber).Scan(&taken, &last)
	if taken || wanted <= 0 || wanted > mostNumber {
		return last + 1, err
	}
	return wanted, err
}

// Mark logs the mark of a cell and strikes out those that stood there before,
// both or neither. A mark without a word only takes them back.
func (s *Store) Mark(ctx context.Context, number int, r reading.Reading, before []string) error {
	return s.onOpen(ctx, number, func(c *change) error {
		for _, id := range before {
			if err := c.strike("readings", id, "marked anew"); err != nil {
				return err
			}
		}
		if r.Word == quantity.NoWord {
			return nil
		}
		return c.note(&job.Logged{Reading: r}, nil)
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

// Bench is how the bench of a job stands: route, what is fed in, with what is
// read, in which way one works.
type Bench struct {
	Route      string
	Injected   *reading.Injection
	Instrument string
	Way        planning.Way
}

// SetBench keeps how the bench of a job stands.
func (s *Store) SetBench(ctx context.Context, number int, b Bench) error {
	return s.onOpen(ctx, number, func(c *change) error {
		args := slices.Concat([]any{b.Route, b.Instrument, b.Way}, injectionColumns(b.Injected), []any{number})
		res, err := c.tx.ExecContext(ctx, `UPDATE job SET route = ?, instrument = ?, way = ?,
			injected_at = ?, injected_level = ?, injected_hz = ?, injected_touch = ? WHERE number = ?`, args...)
		return changed(res, err)
	})
}

// Finish closes a job with what was found, and pins its sheet as it is now.
// What is done without is noted with it.
func (s *Store) Finish(ctx context.Context, number int, outcome, stage string, without []repair.Entry) error {
	return s.onOpen(ctx, number, func(c *change) error {
		for i := range without {
			if err := c.note(&without[i], nil); err != nil {
				return err
			}
		}
		res, err := c.tx.ExecContext(ctx, `UPDATE job SET finished = ?, outcome = ?, stage = ?,
			sheet_revision = (SELECT revision FROM sheet WHERE id = job.sheet) WHERE number = ?`, stamp(time.Now()), outcome, stage, number)
		if err := changed(res, err); err != nil {
			return err
		}
		return noteEnd(ctx, c.tx, number)
	})
}

// Reopen puts a finished job back on the bench.
func (s *Store) Reopen(ctx context.Context, number int) error {
	return s.change(ctx, number, func(c *change) error {
		if _, err := c.tx.ExecContext(ctx, "UPDATE job SET finished = NULL, sheet_revision = NULL WHERE number = ?", number); err != nil {
			return err
		}
		return noteEnd(ctx, c.tx, number)
	})
}

// lastNoted is when the last entry of a job was noted, microseconds of Unix time.
func lastNoted(j *job.Job) int64 {
	last := int64(0)
	for _, k := range job.Kinds {
		for _, e := range k.All(j) {
			last = max(last, e.Head().At.UnixMicro())
		}
	}
	return last
}
