package store

import (
	"context"
	"encoding/json"
	"errors"
	"slices"

	"github.com/klauspost/compress/zstd"

	"steptrace/core/entry"
	"steptrace/core/job"
	"steptrace/core/reading"
	"steptrace/core/soak"
	"steptrace/core/wave"
)

// Pictures and captures: what is kept of the files that they bring along.

// Roles of what is made of the files as they come.
const (
	Preview = "preview" // of a picture, JPEG
	samples = "samples" // of a capture, compact form, zstd
	read    = "read"    // what was read of a capture, but for the samples
)

// OfPicture are the files of a picture.
func OfPicture(data, preview []byte) Files { return Files{received: data, Preview: preview} }

// PictureData gives a picture's file, or its preview.
func (s *Store) PictureData(ctx context.Context, number int, id string, preview bool) ([]byte, error) {
	role := received
	if preview {
		role = Preview
	}
	return s.File(ctx, number, "pictures", id, role)
}

// Capture is a captured waveform as it is kept, without its samples and its file.
type Capture struct {
	job.Capture
	Job     int
	Read    wave.Capture // but for the samples
	Samples int          // of each channel
}

// understood is what is kept of what was read of a capture.
type understood struct {
	Read    *wave.Capture `json:"read"`
	Samples int           `json:"samples"`
}

// maxUnpacked is more than the samples of any capture, or its file, take.
const maxUnpacked = 1 << 29

var (
	packer, _   = zstd.NewWriter(nil, zstd.WithEncoderLevel(zstd.SpeedFastest)) // without options that can fail
	unpacker, _ = zstd.NewReader(nil, zstd.WithDecoderMaxMemory(maxUnpacked))
)

// OfCapture are the files of a capture: what came, and what was read of it. Packing takes a
// while.
func OfCapture(data []byte, c *wave.Capture) (Files, error) {
	about, err := json.Marshal(understood{c, len(c.Channels[0].Samples)})
	return Files{received: packer.EncodeAll(data, nil), samples: packer.EncodeAll(c.Pack(), nil), read: about}, err
}

const captureColumns = "SELECT e.job, e.body, f.data FROM entry e JOIN file f ON f.job = e.job AND f.kind = e.kind AND f.id = e.id AND " +
	"f.role = 'read' WHERE e.kind = 'captures' "

func scanCapture(row scanner) (c Capture, err error) {
	var body, about []byte
	if err := row.Scan(&c.Job, &body, &about); err != nil {
		return c, noRows(err)
	}
	u := understood{Read: &c.Read}
	err = errors.Join(json.Unmarshal(body, &c.Capture), json.Unmarshal(about, &u))
	c.Samples = u.Samples
	return c, err
}

// Captures lists the captures of a job, in the order they were taken down.
func (s *Store) Captures(ctx context.Context, number int) ([]Capture, error) {
	rows, err := s.reads.QueryContext(ctx, captureColumns+"AND e.job = ? ORDER BY e.serial", number)
	return collect(rows, err, scanCapture)
}

// GoodCaptures lists the captures of a sheet's jobs that are marked good, the last ones first.
func (s *Store) GoodCaptures(ctx context.Context, sheetID int64) ([]Capture, error) {
	rows, err := s.reads.QueryContext(
		ctx,
		captureColumns+`AND NOT e.struck AND e.body ->> 'good' AND e.job IN (SELECT number FROM job WHERE sheet = ?)
		ORDER BY e.job DESC, e.serial DESC LIMIT 200`,
		sheetID,
	)
	return collect(rows, err, scanCapture)
}

// Capture gives one of them with its samples.
func (s *Store) Capture(ctx context.Context, number int, id string) (Capture, error) {
	c, err := scanCapture(s.reads.QueryRowContext(ctx, captureColumns+"AND e.job = ? AND e.id = ?", number, id))
	if err != nil {
		return c, err
	}
	packed, err := s.unpacked(ctx, number, id, samples)
	if err != nil {
		return c, err
	}
	return c, c.Read.Unpack(packed)
}

// CaptureFile gives the file of a capture as it was received, and its name.
func (s *Store) CaptureFile(ctx context.Context, number int, id string) (name string, data []byte, err error) {
	if err := s.reads.QueryRowContext(ctx, "SELECT body ->> 'name' FROM entry WHERE job = ? AND kind = 'captures' AND "+
		"id = ?", number, id).Scan(&name); err != nil {
		return "", nil, noRows(err)
	}
	data, err = s.unpacked(ctx, number, id, received)
	return name, data, err
}

func (s *Store) unpacked(ctx context.Context, number int, id, role string) ([]byte, error) {
	packed, err := s.File(ctx, number, "captures", id, role)
	if err != nil {
		return nil, err
	}
	return unpacker.DecodeAll(packed, nil)
}

// Received fetches the files that the entries of a job came with into copies of these.
func (s *Store) Received(ctx context.Context, j *job.Job) error {
	j.Pictures, j.Captures, j.Soaks = slices.Clone(j.Pictures), slices.Clone(j.Captures), slices.Clone(j.Soaks)
	for _, k := range job.Kinds {
		for _, e := range k.All(j) {
			l, ok := e.(entry.Laden)
			if !ok {
				break
			}
			var err error
			if x, logged := e.(*soak.Entry); logged {
				if x.Begin != nil {
					x.Data, err = s.SoakTable(ctx, j.Number, x)
				}
			} else if _, packed := e.(*job.Capture); packed {
				*l.File(), err = s.unpacked(ctx, j.Number, *l.Head().ID, received)
			} else {
				*l.File(), err = s.File(ctx, j.Number, k.Name(), *l.Head().ID, received)
			}
			if err != nil {
				return err
			}
		}
	}
	return nil
}

// MarkCapture notes whether a capture is one to compare later ones with. A finished
// job's can be marked too: it is a job that ended well that good ones come from.
func (s *Store) MarkCapture(ctx context.Context, number int, id string, good bool) error {
	return s.change(ctx, number, func(c *change) error {
		return c.amend("captures", id, func(e entry.Entry) error {
			e.(*job.Capture).Good = good
			return nil
		})
	})
}

// Take logs a reading with the capture that it was read from, both or neither.
func (s *Store) Take(ctx context.Context, number int, c *job.Capture, files Files, r reading.Reading) error {
	return s.change(ctx, number, func(x *change) error {
		if err := x.note(c, files); err != nil {
			return err
		}
		return x.note(&job.Logged{Reading: r}, nil)
	})
}
