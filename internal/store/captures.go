package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"github.com/klauspost/compress/zstd"

	"steptrace/core/job"
	"steptrace/core/trace"
	"steptrace/core/wave"
)

// Capture is a captured waveform as it is kept, without its samples and its file.
type Capture struct {
	job.Capture
	Job     int
	Read    wave.Capture // but for the samples
	Samples int          // of each channel
}

// maxUnpacked is more than the samples of any capture, or its file, take.
const maxUnpacked = 1 << 29

var (
	packer, _   = zstd.NewWriter(nil, zstd.WithEncoderLevel(zstd.SpeedFastest)) // without options that can fail
	unpacker, _ = zstd.NewReader(nil, zstd.WithDecoderMaxMemory(maxUnpacked))
)

const captureColumns = `SELECT id, job, name, points, said, mode, injected_at, injected_level, injected_hz, injected_touch, instrument, settings,
	good, taken, struck IS NOT NULL, understood, count FROM capture `

func scanCapture(row scanner) (c Capture, err error) {
	var at sql.NullString
	var in trace.Injection
	var points, said, taken, understood string
	if err := row.Scan(&c.ID, &c.Job, &c.Name, &points, &said, &c.Mode, &at, &in.Level, &in.Hz, &in.Touch, &c.Instrument, &c.Settings,
		&c.Good, &taken, &c.Struck, &understood, &c.Samples); err != nil {
		return c, noRows(err)
	}
	c.Injected = injection(at, in)
	for text, into := range map[string]any{points: &c.Points, said: &c.Said, understood: &c.Read} {
		if err := json.Unmarshal([]byte(text), into); err != nil {
			return c, err
		}
	}
	c.Taken, err = parseStamp(taken)
	return c, err
}

// Captures lists the captures of a job, in the order they were taken down.
func (s *Store) Captures(ctx context.Context, number int) ([]Capture, error) {
	rows, err := s.read.QueryContext(ctx, captureColumns+"WHERE job = ? ORDER BY serial", number)
	return collect(rows, err, scanCapture)
}

// GoodCaptures lists the captures of a sheet's jobs that are marked good.
func (s *Store) GoodCaptures(ctx context.Context, sheetID int64) ([]Capture, error) {
	rows, err := s.read.QueryContext(ctx, captureColumns+"WHERE good AND struck IS NULL AND job IN (SELECT number FROM job WHERE sheet = ?) ORDER BY serial DESC LIMIT 200", sheetID)
	return collect(rows, err, scanCapture)
}

// Capture gives one of them with its samples.
func (s *Store) Capture(ctx context.Context, number int, id string) (Capture, error) {
	c, err := scanCapture(s.read.QueryRowContext(ctx, captureColumns+"WHERE job = ? AND id = ?", number, id))
	if err != nil {
		return c, err
	}
	var packed []byte
	if err := s.read.QueryRowContext(ctx, "SELECT samples FROM capture WHERE job = ? AND id = ?", number, id).Scan(&packed); err != nil {
		return c, noRows(err)
	}
	if packed, err = unpacker.DecodeAll(packed, nil); err != nil {
		return c, err
	}
	return c, c.Read.Unpack(packed)
}

// CaptureFile gives the file of a capture as it was received.
func (s *Store) CaptureFile(ctx context.Context, number int, id string) (name string, data []byte, err error) {
	var packed []byte
	if err := s.read.QueryRowContext(ctx, "SELECT name, received FROM capture WHERE job = ? AND id = ?", number, id).Scan(&name, &packed); err != nil {
		return "", nil, noRows(err)
	}
	data, err = unpacker.DecodeAll(packed, nil)
	return name, data, err
}

// AddCapture keeps a capture, with what was read of it. The same one sent twice is
// kept once; an id that belongs to another is refused with ErrTaken.
func (s *Store) AddCapture(ctx context.Context, number int, c *job.Capture, read *wave.Capture) error {
	packed := pack(c, read) // outside: it takes a while, and nothing waits for it
	return s.onOpen(ctx, number, func(tx *sql.Tx) error {
		there, err := kept(ctx, tx, "SELECT name || '/' || count FROM capture WHERE job = ? AND id = ?", number, c.ID, fmt.Sprintf("%s/%d", c.Name, len(read.Channels[0].Samples)))
		if there || err != nil {
			return err
		}
		return addCapture(ctx, tx, number, c, read, packed)
	})
}

// packed are the two blobs of a capture.
type packed struct{ samples, received []byte }

func pack(c *job.Capture, read *wave.Capture) packed {
	return packed{packer.EncodeAll(read.Pack(), nil), packer.EncodeAll(c.Data, nil)}
}

func addCapture(ctx context.Context, tx *sql.Tx, number int, c *job.Capture, read *wave.Capture, p packed) error {
	points, err := json.Marshal(c.Points)
	if err != nil {
		return err
	}
	said, err := json.Marshal(c.Said)
	if err != nil {
		return err
	}
	understood, err := json.Marshal(read)
	if err != nil {
		return err
	}
	var struck any
	if c.Struck {
		struck = stamp(time.Now())
	}
	args := slices.Concat([]any{c.ID, number, c.Name, string(points), string(said), c.Mode}, injectionColumns(c.Injected),
		[]any{c.Instrument, c.Settings, c.Good, stamp(c.Taken), struck, string(understood), len(read.Channels[0].Samples), p.samples, p.received})
	_, err = tx.ExecContext(ctx, `INSERT INTO capture (id, job, name, points, said, mode, injected_at, injected_level, injected_hz, injected_touch,
		instrument, settings, good, taken, struck, understood, count, samples, received) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)`, args...)
	return err
}

// StrikeCapture takes a capture out of sight; it stays in the file.
func (s *Store) StrikeCapture(ctx context.Context, number int, id string) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, "UPDATE capture SET struck = coalesce(struck, ?) WHERE job = ? AND id = ?", stamp(time.Now()), number, id)
		return changed(res, err)
	})
}

// MarkCapture notes whether a capture is one to compare later ones with. A finished
// job's can be marked too: it is a job that ended well that good ones come from.
func (s *Store) MarkCapture(ctx context.Context, number int, id string, good bool) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, "UPDATE capture SET good = ? WHERE job = ? AND id = ?", good, number, id)
		return changed(res, err)
	})
}
