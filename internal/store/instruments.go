package store

import (
	"context"
	"time"

	"steptrace/internal/instrument"
)

// Instruments lists a person's own instruments.
func (s *Store) Instruments(ctx context.Context) ([]instrument.Instrument, error) {
	rows, err := s.reads.QueryContext(ctx, "SELECT id, name, kind, address, words, wide FROM instrument ORDER BY serial")
	return collect(rows, err, func(r scanner) (in instrument.Instrument, err error) {
		return in, r.Scan(&in.ID, &in.Name, &in.Kind, &in.Address, &in.Words, &in.Wide)
	})
}

// PutInstrument keeps an instrument, in place of the one with its id.
func (s *Store) PutInstrument(ctx context.Context, in instrument.Instrument) error {
	return s.inTx(ctx, func(tx runner) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO instrument (id, name, kind, address, words, wide) VALUES (?,?,?,?,?,?)
			ON CONFLICT (id) DO UPDATE SET name = excluded.name, kind = excluded.kind, address = excluded.address, words = excluded.words,
			wide = excluded.wide`, in.ID, in.Name, in.Kind, in.Address, in.Words, in.Wide)
		return err
	})
}

// RemoveInstrument takes one away.
func (s *Store) RemoveInstrument(ctx context.Context, id string) error {
	return s.inTx(ctx, func(tx runner) error {
		res, err := tx.ExecContext(ctx, "DELETE FROM instrument WHERE id = ?", id)
		return changed(res, err)
	})
}

// SoundLevels gives what full scale is in volts (peak), by device and way (in, out).
func (s *Store) SoundLevels(ctx context.Context) (map[[2]string]float64, error) {
	type level struct {
		of    [2]string
		volts float64
	}
	rows, err := s.reads.QueryContext(ctx, "SELECT device, way, volts FROM sound_level ORDER BY serial")
	list, err := collect(rows, err, func(r scanner) (l level, err error) { return l, r.Scan(&l.of[0], &l.of[1], &l.volts) })
	out := map[[2]string]float64{}
	for _, l := range list {
		out[l.of] = l.volts // a later one replaces
	}
	return out, err
}

// SetSoundLevel notes what full scale is in volts.
func (s *Store) SetSoundLevel(ctx context.Context, device, way string, volts float64) error {
	return s.inTx(ctx, func(tx runner) error {
		_, err := tx.ExecContext(
			ctx,
			"INSERT INTO sound_level (device, way, volts, written) VALUES (?,?,?,?)",
			device,
			way,
			volts,
			stamp(time.Now()),
		)
		return err
	})
}
