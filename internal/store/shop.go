package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"slices"
	"strings"

	"steptrace/core/intake"
	"steptrace/core/shop"
)

// Shop gives the workshop's settings; the usual ones where none were kept.
func (s *Store) Shop(ctx context.Context) (shop.Settings, error) {
	out := shop.Usual()
	var text string
	err := s.reads.QueryRowContext(ctx, "SELECT settings FROM shop WHERE id = 1").Scan(&text)
	if errors.Is(err, sql.ErrNoRows) {
		return out, nil
	}
	if err == nil {
		err = json.Unmarshal([]byte(text), &out)
	}
	return out, err
}

// PutShop keeps them.
func (s *Store) PutShop(ctx context.Context, settings shop.Settings) error {
	text, err := json.Marshal(settings)
	if err != nil {
		return err
	}
	return s.inTx(ctx, func(tx runner) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO shop (id, settings) VALUES (1, ?)
			ON CONFLICT (id) DO UPDATE SET settings = excluded.settings`, string(text))
		return err
	})
}

// SameSet is an earlier job of a set, and by what it was found.
type SameSet struct {
	Number   int
	BySerial bool
}

// SameSets finds the other jobs of a set, the newest first: those with its serial number, and those of its owner with the
// same sheet. What is empty finds nothing.
func (s *Store) SameSets(ctx context.Context, number int, serial, owner string, sheet int64) ([]SameSet, error) {
	const most = 10
	var out []SameSet
	for _, by := range []struct{ field, text string }{{intake.SerialField, serial}, {intake.OwnerField, owner}} {
		if strings.TrimSpace(by.text) == "" {
			continue
		}
		bySerial := by.field == intake.SerialField
		rows, err := s.reads.QueryContext(ctx, `SELECT DISTINCT e.job FROM entry e JOIN job j ON j.number = e.job
			WHERE e.kind = 'intake' AND e.body ->> 'field' = ? AND lower(trim(e.body ->> 'text')) = lower(trim(?)) AND e.job <> ?
			AND (? OR j.sheet = ?) ORDER BY e.job DESC LIMIT ?`, by.field, by.text, number, bySerial, sheet, most)
		found, err := collect(rows, err, func(r scanner) (x SameSet, err error) {
			x.BySerial = bySerial
			return x, r.Scan(&x.Number)
		})
		if err != nil {
			return nil, err
		}
		for _, x := range found {
			if !slices.ContainsFunc(out, func(o SameSet) bool { return o.Number == x.Number }) {
				out = append(out, x)
			}
		}
	}
	slices.SortFunc(out, func(a, b SameSet) int { return b.Number - a.Number })
	return out, nil
}
