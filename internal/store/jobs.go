package store

import (
	"context"
	"database/sql"
	"errors"
	"slices"
	"time"

	"steptrace/core/job"
	"steptrace/core/quantity"
	"steptrace/core/repair"
	"steptrace/core/sheet"
	"steptrace/core/trace"
	"steptrace/core/wave"
)

// Job is a stored job with its sheet: the present one while the job is open,
// the one it was finished by afterwards.
type Job struct {
	job.Job
	Sheet Sheet
}

const jobColumns = `SELECT number, sheet, sheet_revision, complaint, opened, finished, outcome, stage, route,
	injected_at, injected_level, injected_hz, injected_touch, instrument, way FROM job `

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
	var in trace.Injection
	if err := row.Scan(&j.Number, &j.sheet, &j.revision, &j.Complaint, &opened, &finished, &j.Outcome, &j.Stage, &j.Route, &at, &in.Level, &in.Hz, &in.Touch, &j.Instrument, &j.Way); err != nil {
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
func injection(at sql.NullString, in trace.Injection) *trace.Injection {
	if !at.Valid {
		return nil
	}
	in.At = at.String
	return &in
}

// injectionColumns are the four columns that hold what is fed in.
func injectionColumns(in *trace.Injection) []any {
	if in == nil {
		return []any{nil, 0, 0, false}
	}
	return []any{in.At, in.Level, in.Hz, in.Touch}
}

const readingColumns = `SELECT id, point, quantity, text, si, form, word, mode, injected_at, injected_level, injected_hz, injected_touch, instrument,
	power, without, worked, act, capture, settings, taken, struck IS NOT NULL, struck_reason FROM reading WHERE job = ? ORDER BY serial`

func scanReading(row scanner) (job.Logged, error) {
	var r job.Logged
	var at sql.NullString
	var in trace.Injection
	var taken, without string
	err := row.Scan(&r.ID, &r.Point, &r.Quantity, &r.Text, &r.SI, &r.Form, &r.Word, &r.Mode, &at, &in.Level, &in.Hz, &in.Touch, &r.Instrument,
		&r.Power, &without, &r.Worked, &r.Act, &r.Capture, &r.Settings, &taken, &r.Struck, &r.StruckReason)
	if err != nil {
		return r, err
	}
	r.Injected = injection(at, in)
	if r.Without, err = decodeNames(without); err != nil {
		return r, err
	}
	r.Taken, err = parseStamp(taken)
	return r, err
}

// complete adds the readings to a job, its sheet and what was done to make it safe.
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
	if j.Safety, err = s.SafetyEvents(ctx, row.Number); err != nil {
		return j, err
	}
	if j.Steps, j.Returns, err = s.apart(ctx, row.Number); err != nil {
		return j, err
	}
	if j.Waivers, err = s.waivers(ctx, row.Number); err != nil {
		return j, err
	}
	if j.Inside, err = s.Inside(ctx, row.Number); err != nil {
		return j, err
	}
	if j.Repairs, err = s.Repairs(ctx, row.Number); err != nil {
		return j, err
	}
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

// Brought is what a job file brings along beside the job itself.
type Brought struct {
	Pictures []Picture
	Captures []ReadCapture
}

// ReadCapture is a capture with its file, and what was read of that.
type ReadCapture struct {
	job.Capture
	Read *wave.Capture
}

// AddJob stores a job with all that belongs to it, all or nothing. Where document is
// given, the sheet comes along and is stored too. A number that is zero or
// taken is replaced by the next free one, which is returned.
func (s *Store) AddJob(ctx context.Context, j *job.Job, sheetID int64, document *sheet.Sheet, brought Brought) (number int, err error) {
	blobs := make([]packed, len(brought.Captures))
	for i := range brought.Captures {
		blobs[i] = pack(&brought.Captures[i].Capture, brought.Captures[i].Read)
	}
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
		var finished, pinned any
		if j.Finished != nil {
			finished, pinned = stamp(*j.Finished), revision
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO job (number, sheet, sheet_revision, complaint, opened, finished, outcome, stage, route,
			instrument, way, injected_at, injected_level, injected_hz, injected_touch) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)`,
			append([]any{number, sheetID, pinned, j.Complaint, stamp(j.Opened), finished, j.Outcome, j.Stage, j.Route, j.Instrument, j.Way}, injectionColumns(j.Injected)...)...)
		if err != nil {
			return err
		}
		for i := range j.Readings {
			if err := addReading(ctx, tx, number, &j.Readings[i]); err != nil {
				return err
			}
		}
		for _, w := range j.Waivers {
			if err := addWaiver(ctx, tx, number, w); err != nil {
				return err
			}
		}
		for i := range brought.Captures {
			if err := addCapture(ctx, tx, number, &brought.Captures[i].Capture, brought.Captures[i].Read, blobs[i]); err != nil {
				return err
			}
		}
		return addBefore(ctx, tx, number, j, brought.Pictures)
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
	var struck any
	if r.Struck {
		struck = stamp(time.Now())
	}
	without, err := encodeNames(r.Without)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `INSERT INTO reading (id, job, point, quantity, text, si, form, word, mode, instrument, power, without, worked, act,
		capture, settings, taken, struck, struck_reason, injected_at, injected_level, injected_hz, injected_touch) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)`,
		append([]any{r.ID, number, r.Point, r.Quantity, r.Text, r.SI, r.Form, r.Word, r.Mode, r.Instrument, r.Power, without, r.Worked, r.Act,
			r.Capture, r.Settings, stamp(r.Taken), struck, r.StruckReason}, injectionColumns(r.Injected)...)...)
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
	return s.inTx(ctx, func(tx *sql.Tx) error { return log(ctx, tx, number, r) })
}

func log(ctx context.Context, tx *sql.Tx, number int, r trace.Reading) error {
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
	if r.Taken, err = afterAll(ctx, tx, number, r.Taken); err != nil {
		return err
	}
	return addReading(ctx, tx, number, &job.Logged{Reading: r})
}

// Mark logs the mark of a cell and strikes out those that stood there before,
// both or neither. A mark without a word only takes them back.
func (s *Store) Mark(ctx context.Context, number int, r trace.Reading, before []string) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error {
		for _, id := range before {
			if err := strike(ctx, tx, number, id, "marked anew"); err != nil {
				return err
			}
		}
		if r.Word == quantity.NoWord {
			return nil
		}
		return log(ctx, tx, number, r)
	})
}

// Strike withdraws a reading; it stays in the log with the reason.
func (s *Store) Strike(ctx context.Context, number int, id, reason string) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error { return strike(ctx, tx, number, id, reason) })
}

func strike(ctx context.Context, tx *sql.Tx, number int, id, reason string) error {
	res, err := tx.ExecContext(ctx, "UPDATE reading SET struck = coalesce(struck, ?), struck_reason = ? WHERE job = ? AND id = ?", stamp(time.Now()), reason, number, id)
	return changed(res, err)
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

func (s *Store) waivers(ctx context.Context, number int) ([]job.Waived, error) {
	rows, err := s.read.QueryContext(ctx, "SELECT stage, ground, reason, at FROM waiver WHERE job = ? ORDER BY serial", number)
	return collect(rows, err, func(r scanner) (w job.Waived, err error) {
		var at string
		if err := r.Scan(&w.Stage, &w.Key, &w.Reason, &at); err != nil {
			return w, err
		}
		w.At, err = parseStamp(at)
		return w, err
	})
}

func addWaiver(ctx context.Context, tx *sql.Tx, number int, w job.Waived) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO waiver (job, stage, ground, reason, at) VALUES (?,?,?,?,?)", number, w.Stage, w.Key, w.Reason, stamp(w.At))
	return err
}

// Waive notes that a ground for condemning a stage is done without, and why.
func (s *Store) Waive(ctx context.Context, number int, w job.Waived) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error { return addWaiver(ctx, tx, number, w) })
}

// Bench is how the bench of a job stands: route, what is fed in, with what is
// read, in which way one works.
type Bench struct {
	Route      string
	Injected   *trace.Injection
	Instrument string
	Way        trace.Way
}

// SetBench keeps how the bench of a job stands.
func (s *Store) SetBench(ctx context.Context, number int, b Bench) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error {
		args := slices.Concat([]any{b.Route, b.Instrument, b.Way}, injectionColumns(b.Injected), []any{number})
		res, err := tx.ExecContext(ctx, `UPDATE job SET route = ?, instrument = ?, way = ?,
			injected_at = ?, injected_level = ?, injected_hz = ?, injected_touch = ? WHERE number = ?`, args...)
		return changed(res, err)
	})
}

// Finish closes a job with what was found, and pins its sheet as it is now.
// What is done without is noted with it.
func (s *Store) Finish(ctx context.Context, number int, outcome, stage string, without []repair.Entry) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error {
		for _, e := range without {
			if err := repairEntries.note(ctx, tx, number, e); err != nil {
				return err
			}
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
