package store

import (
	"context"
	"database/sql"

	"steptrace/core/inside"
	"steptrace/core/repair"
)

// Inside gives what was noted inside the stages of a job, in order.
func (s *Store) Inside(ctx context.Context, number int) ([]inside.Entry, error) {
	return insideEntries.list(ctx, s.read, number)
}

// NoteInside keeps an entry. The same one sent twice is kept once.
func (s *Store) NoteInside(ctx context.Context, number int, e inside.Entry) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error { return insideEntries.note(ctx, tx, number, e) })
}

// StrikeInside withdraws an entry; it stays in the record.
func (s *Store) StrikeInside(ctx context.Context, number int, id string) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error { return insideEntries.strike(ctx, tx, number, id) })
}

// Repairs gives what was noted of the repair of a job, in order.
func (s *Store) Repairs(ctx context.Context, number int) ([]repair.Entry, error) {
	return repairEntries.list(ctx, s.read, number)
}

// NoteRepair keeps an entry. The same one sent twice is kept once. What was put in for a
// while comes out of a finished job too.
func (s *Store) NoteRepair(ctx context.Context, number int, e repair.Entry) error {
	do := s.onOpen
	if e.Removed != nil {
		do = s.onAny
	}
	return do(ctx, number, func(tx *sql.Tx) error { return repairEntries.note(ctx, tx, number, e) })
}

// StrikeRepair withdraws an entry; it stays in the record.
func (s *Store) StrikeRepair(ctx context.Context, number int, id string) error {
	return s.onOpen(ctx, number, func(tx *sql.Tx) error { return repairEntries.strike(ctx, tx, number, id) })
}

// FailedParts counts in how many finished jobs of a sheet each part of a stage had failed:
// it was condemned, or found bad in a repair. A wrong part that somebody had fitted is the
// history of that one set, and tells nothing of the model.
func (s *Store) FailedParts(ctx context.Context, sheetID int64, stage string) (map[string]int, error) {
	ended, err := s.Ended(ctx, sheetID, 0)
	out := map[string]int{}
	for i := range ended {
		for _, part := range ended[i].Failed()[stage] {
			out[part]++
		}
	}
	return out, err
}
