package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"strconv"
	"time"

	"steptrace/core/inside"
	"steptrace/core/job"
	"steptrace/core/repair"
	"steptrace/core/safety"
	"steptrace/core/stripdown"
)

// What is written down before the first probe: intake, what was done to make
// the set safe, the strip-down, pictures.

// Before is all of it for one job. Pictures come without their data.
type Before struct {
	Intake   map[string]string
	Steps    []stripdown.Step
	Returns  []stripdown.Return
	Pictures []PictureHead
}

// PictureHead is a picture without its data.
type PictureHead struct {
	ID     string
	Step   string
	Taken  time.Time
	Struck bool
}

// Before gives what was written down of a job before the first probe.
func (s *Store) Before(ctx context.Context, number int) (b Before, err error) {
	if b.Intake, err = s.Notes(ctx, number); err != nil {
		return b, err
	}
	if b.Steps, b.Returns, err = s.apart(ctx, number); err != nil {
		return b, err
	}
	rows, err := s.read.QueryContext(ctx, "SELECT id, step, taken, struck IS NOT NULL FROM picture WHERE job = ? ORDER BY serial", number)
	b.Pictures, err = collect(rows, err, func(r scanner) (p PictureHead, err error) {
		var taken string
		if err := r.Scan(&p.ID, &p.Step, &taken, &p.Struck); err != nil {
			return p, err
		}
		p.Taken, err = parseStamp(taken)
		return p, err
	})
	for i := range b.Steps {
		for _, p := range b.Pictures {
			if p.Step == b.Steps[i].ID && !p.Struck {
				b.Steps[i].Pictures = append(b.Steps[i].Pictures, p.ID)
			}
		}
	}
	return b, err
}

// Notes gives what was noted when the set came in, by field.
func (s *Store) Notes(ctx context.Context, number int) (map[string]string, error) {
	type noted struct{ field, text string }
	rows, err := s.read.QueryContext(ctx, "SELECT field, text FROM intake WHERE job = ? ORDER BY serial", number)
	notes, err := collect(rows, err, func(r scanner) (n noted, err error) { return n, r.Scan(&n.field, &n.text) })
	out := map[string]string{}
	for _, n := range notes {
		out[n.field] = n.text // a later one replaces
	}
	return out, err
}

// apart gives how a set came apart, and what went back in.
func (s *Store) apart(ctx context.Context, number int) (steps []stripdown.Step, returns []stripdown.Return, err error) {
	if steps, err = s.steps(ctx, number); err != nil {
		return nil, nil, err
	}
	rows, err := s.read.QueryContext(ctx, "SELECT step, count, at FROM strip_return WHERE job = ? ORDER BY serial", number)
	returns, err = collect(rows, err, func(r scanner) (x stripdown.Return, err error) {
		var at string
		if err := r.Scan(&x.Step, &x.Count, &at); err != nil {
			return x, err
		}
		x.At, err = parseStamp(at)
		return x, err
	})
	return steps, returns, err
}

func (s *Store) steps(ctx context.Context, number int) ([]stripdown.Step, error) {
	rows, err := s.read.QueryContext(ctx, "SELECT id, kind, text, taken, struck FROM strip_step WHERE job = ? ORDER BY serial", number)
	return collect(rows, err, func(r scanner) (stripdown.Step, error) {
		var id, kind, text, taken string
		var struck sql.NullString
		if err := r.Scan(&id, &kind, &text, &taken, &struck); err != nil {
			return stripdown.Step{}, err
		}
		x, err := stripdown.Read(stripdown.Kind(kind), text)
		if err != nil {
			return x, err
		}
		x.ID = id
		if x.Taken, err = parseStamp(taken); err != nil || !struck.Valid {
			return x, err
		}
		at, err := parseStamp(struck.String)
		x.Struck = &at
		return x, err
	})
}

// SafetyEvents gives what was done and measured to make the set safe, in order.
func (s *Store) SafetyEvents(ctx context.Context, number int) ([]safety.Event, error) {
	rows, err := s.read.QueryContext(ctx, "SELECT id, kind, subject, text, si, at FROM safety_event WHERE job = ? ORDER BY serial", number)
	return collect(rows, err, func(r scanner) (e safety.Event, err error) {
		var at string
		if err := r.Scan(&e.ID, &e.Kind, &e.Subject, &e.Text, &e.SI, &at); err != nil {
			return e, err
		}
		e.At, err = parseStamp(at)
		return e, err
	})
}

// Note writes a field of the intake down; what stood there before is kept too.
func (s *Store) Note(ctx context.Context, number int, field, text string) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error {
		return addNote(ctx, tx, number, field, text)
	})
}

func addNote(ctx context.Context, tx *sql.Tx, number int, field, text string) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO intake (job, field, text, written) VALUES (?,?,?,?)", number, field, text, stamp(time.Now()))
	return err
}

// onOpen runs a change of a job that takes changes, all of it or nothing.
func (s *Store) onOpen(ctx context.Context, number int, f func(tx *sql.Tx) error) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		if err := open(ctx, tx, number); err != nil {
			return err
		}
		return f(tx)
	})
}

// onAny runs a change that a finished job takes too: what is put back at the end.
func (s *Store) onAny(ctx context.Context, number int, f func(tx *sql.Tx) error) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		var there bool
		if err := tx.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM job WHERE number = ?)", number).Scan(&there); err != nil {
			return err
		}
		if !there {
			return ErrNotFound
		}
		return f(tx)
	})
}

// kept tells whether an id was kept before, with the same content: then sending
// it again does no harm. Another content under the id is ErrTaken.
func kept(ctx context.Context, tx *sql.Tx, query string, number int, id, content string) (bool, error) {
	var was string
	err := tx.QueryRowContext(ctx, query, number, id).Scan(&was)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return false, nil
	case err == nil && was != content:
		return false, ErrTaken
	}
	return err == nil, err
}

// Happen keeps an event. The same one sent twice is kept once. That it is off, and what is
// left on its capacitors, is taken down of a finished job too.
func (s *Store) Happen(ctx context.Context, number int, e safety.Event) error {
	do := s.onOpen
	if e.Kind == safety.Off || e.Kind == safety.Residual {
		do = s.onAny
	}
	return do(ctx, number, func(tx *sql.Tx) error {
		there, err := kept(ctx, tx, "SELECT kind || '/' || subject || '/' || text FROM safety_event WHERE job = ? AND id = ?", number, e.ID, string(e.Kind)+"/"+e.Subject+"/"+e.Text)
		if there || err != nil {
			return err
		}
		return addEvent(ctx, tx, number, &e)
	})
}

func addEvent(ctx context.Context, tx *sql.Tx, number int, e *safety.Event) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO safety_event (id, job, kind, subject, text, si, at) VALUES (?,?,?,?,?,?,?)", e.ID, number, e.Kind, e.Subject, e.Text, e.SI, stamp(e.At))
	return err
}

// TakeApart keeps a step of the strip-down. The same one sent twice is kept once.
func (s *Store) TakeApart(ctx context.Context, number int, x stripdown.Step) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error {
		there, err := kept(ctx, tx, "SELECT kind || '/' || text FROM strip_step WHERE job = ? AND id = ?", number, x.ID, string(x.Kind)+"/"+x.Text)
		if there || err != nil {
			return err
		}
		return addStep(ctx, tx, number, &x)
	})
}

func addStep(ctx context.Context, tx *sql.Tx, number int, x *stripdown.Step) error {
	var struck any
	if x.Struck != nil {
		struck = stamp(*x.Struck)
	}
	_, err := tx.ExecContext(ctx, "INSERT INTO strip_step (id, job, kind, text, taken, struck) VALUES (?,?,?,?,?,?)", x.ID, number, x.Kind, x.Text, stamp(x.Taken), struck)
	return err
}

// StrikeStep withdraws a step that was taken down by mistake; it stays in the record.
func (s *Store) StrikeStep(ctx context.Context, number int, id string) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, "UPDATE strip_step SET struck = coalesce(struck, ?) WHERE job = ? AND id = ?", stamp(time.Now()), number, id)
		return changed(res, err)
	})
}

// PutBack notes how many of a step went back in; of a finished job too.
func (s *Store) PutBack(ctx context.Context, number int, r stripdown.Return) error {
	return s.onAny(ctx, number, func(tx *sql.Tx) error {
		var there bool
		if err := tx.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM strip_step WHERE job = ? AND id = ?)", number, r.Step).Scan(&there); err != nil {
			return err
		}
		if !there {
			return ErrNotFound
		}
		return addReturn(ctx, tx, number, r)
	})
}

func addReturn(ctx context.Context, tx *sql.Tx, number int, r stripdown.Return) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO strip_return (job, step, count, at) VALUES (?,?,?,?)", number, r.Step, r.Count, stamp(r.At))
	return err
}

// Picture is a picture as it is kept.
type Picture struct {
	PictureHead
	Type          string
	Data, Preview []byte
}

// AddPicture keeps a picture. The same one sent twice is kept once.
func (s *Store) AddPicture(ctx context.Context, number int, p Picture) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error {
		there, err := kept(ctx, tx, "SELECT CAST(length(data) AS TEXT) FROM picture WHERE job = ? AND id = ?", number, p.ID, strconv.Itoa(len(p.Data)))
		if there || err != nil {
			return err
		}
		if p.Step != "" {
			var step bool
			if err := tx.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM strip_step WHERE job = ? AND id = ?)", number, p.Step).Scan(&step); err != nil {
				return err
			}
			if !step {
				return ErrNotFound
			}
		}
		return addPicture(ctx, tx, number, &p)
	})
}

func addPicture(ctx context.Context, tx *sql.Tx, number int, p *Picture) error {
	_, err := tx.ExecContext(ctx, "INSERT INTO picture (id, job, step, type, taken, preview, data) VALUES (?,?,?,?,?,?,?)",
		p.ID, number, p.Step, p.Type, stamp(p.Taken), p.Preview, p.Data)
	return err
}

// StrikePicture takes a picture out of sight; it stays in the file.
func (s *Store) StrikePicture(ctx context.Context, number int, id string) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, "UPDATE picture SET struck = coalesce(struck, ?) WHERE job = ? AND id = ?", stamp(time.Now()), number, id)
		return changed(res, err)
	})
}

// PictureData gives a picture's file and type, or its preview.
func (s *Store) PictureData(ctx context.Context, number int, id string, preview bool) (data []byte, kind string, err error) {
	column := "data, type"
	if preview {
		column = "preview, 'image/jpeg'"
	}
	err = s.read.QueryRowContext(ctx, "SELECT "+column+" FROM picture WHERE job = ? AND id = ?", number, id).Scan(&data, &kind)
	return data, kind, noRows(err)
}

// Ended lists the finished jobs of a sheet as the model remembers them, but for one job.
func (s *Store) Ended(ctx context.Context, sheetID int64, but int) ([]job.Ended, error) {
	rows, err := s.read.QueryContext(ctx, "SELECT number, stage, outcome FROM job WHERE sheet = ? AND number <> ? AND finished IS NOT NULL ORDER BY number", sheetID, but)
	out, err := collect(rows, err, func(r scanner) (e job.Ended, err error) { return e, r.Scan(&e.Number, &e.Stage, &e.Outcome) })
	if err != nil {
		return nil, err
	}
	at := map[int]*job.Ended{}
	for i := range out {
		at[out[i].Number] = &out[i]
	}
	const where = "SELECT job, body FROM %s WHERE struck IS NULL AND job IN (SELECT number FROM job WHERE sheet = ? AND finished IS NOT NULL) %s ORDER BY serial"
	err = s.each(ctx, fmt.Sprintf(where, "repair", ""), sheetID, func(number int, body []byte) error {
		var e repair.Entry
		err := json.Unmarshal(body, &e)
		if j := at[number]; j != nil {
			j.Repairs = append(j.Repairs, e)
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	return out, s.each(ctx, fmt.Sprintf(where, "inside", "AND json_extract(body, '$.condemned') IS NOT NULL"), sheetID, func(number int, body []byte) error {
		var e inside.Entry
		err := json.Unmarshal(body, &e)
		if j := at[number]; j != nil {
			j.Inside = append(j.Inside, e)
		}
		return err
	})
}

// each hands on rows of a job's number and a body.
func (s *Store) each(ctx context.Context, query string, sheetID int64, take func(number int, body []byte) error) error {
	rows, err := s.read.QueryContext(ctx, query, sheetID)
	_, err = collect(rows, err, func(r scanner) (struct{}, error) {
		var number int
		var body []byte
		if err := r.Scan(&number, &body); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, take(number, body)
	})
	return err
}

// addBefore stores what a job file brings of all this.
func addBefore(ctx context.Context, tx *sql.Tx, number int, j *job.Job, pictures []Picture) error {
	for field, text := range j.Intake {
		if err := addNote(ctx, tx, number, field, text); err != nil {
			return err
		}
	}
	for i := range j.Safety {
		if err := addEvent(ctx, tx, number, &j.Safety[i]); err != nil {
			return err
		}
	}
	for i := range j.Steps {
		if err := addStep(ctx, tx, number, &j.Steps[i]); err != nil {
			return err
		}
	}
	for _, r := range j.Returns {
		if err := addReturn(ctx, tx, number, r); err != nil {
			return err
		}
	}
	for i := range j.Inside {
		if err := insideEntries.add(ctx, tx, number, &j.Inside[i]); err != nil {
			return err
		}
	}
	for i := range j.Repairs {
		if err := repairEntries.add(ctx, tx, number, &j.Repairs[i]); err != nil {
			return err
		}
	}
	for i := range pictures {
		if err := addPicture(ctx, tx, number, &pictures[i]); err != nil {
			return err
		}
	}
	return nil
}

// encodeNames keeps a list of names in one column; empty for none.
func encodeNames(names []string) (string, error) {
	if len(names) == 0 {
		return "", nil
	}
	data, err := json.Marshal(names)
	return string(data), err
}

func decodeNames(text string) (names []string, err error) {
	if text == "" {
		return nil, nil
	}
	err = json.Unmarshal([]byte(text), &names)
	return names, err
}
