package store

import (
	"context"
	"database/sql"
	"sync"
)

// statements are prepared once for all: reading one takes SQLite as long as doing what it says.
type statements struct {
	db *sql.DB
	mu sync.Mutex
	by map[string]*sql.Stmt
}

// of gives a statement, prepared now where it was not before. While that waits for a connection
// nobody else has to wait for it: who holds the connection may ask here too.
func (s *statements) of(ctx context.Context, query string) (*sql.Stmt, error) {
	if st, ok := s.ready(query); ok {
		return st, nil
	}
	made, err := s.db.PrepareContext(context.WithoutCancel(ctx), query)
	if err != nil {
		return nil, err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if st, ok := s.by[query]; ok {
		_ = made.Close() // another was quicker
		return st, nil
	}
	if s.by == nil {
		s.by = map[string]*sql.Stmt{}
	}
	s.by[query] = made
	return made, nil
}

// QueryContext implements querier.
func (s *statements) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	st, err := s.of(ctx, query)
	if err != nil {
		return nil, err
	}
	return st.QueryContext(ctx, args...)
}

// QueryRowContext implements querier.
func (s *statements) QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row {
	st, err := s.of(ctx, query)
	if err != nil {
		return s.db.QueryRowContext(ctx, query, args...) // which says what is wrong
	}
	return st.QueryRowContext(ctx, args...)
}

// ready gives a statement that was prepared before.
func (s *statements) ready(query string) (*sql.Stmt, bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	st, ok := s.by[query]
	return st, ok
}

// txn is a transaction that uses prepared statements. It holds the one connection that writes,
// on which another would be prepared: that is done behind it.
type txn struct {
	*sql.Tx
	statements *statements
	missed     []string
	touched    []Touched
}

func (t *txn) statement(ctx context.Context, query string) (*sql.Stmt, bool) {
	st, ok := t.statements.ready(query)
	if !ok {
		t.missed = append(t.missed, query)
		return nil, false
	}
	return t.StmtContext(ctx, st), true
}

// behind prepares what was missed, once the transaction has ended.
func (t *txn) behind(ctx context.Context) {
	for _, query := range t.missed {
		_, _ = t.statements.of(ctx, query) // without it the next time takes as long as this
	}
}

// QueryContext implements querier.
func (t *txn) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	if st, ok := t.statement(ctx, query); ok {
		return st.QueryContext(ctx, args...)
	}
	return t.Tx.QueryContext(ctx, query, args...)
}

// QueryRowContext implements querier.
func (t *txn) QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row {
	if st, ok := t.statement(ctx, query); ok {
		return st.QueryRowContext(ctx, args...)
	}
	return t.Tx.QueryRowContext(ctx, query, args...)
}

// ExecContext implements runner.
func (t *txn) ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error) {
	if st, ok := t.statement(ctx, query); ok {
		return st.ExecContext(ctx, args...)
	}
	return t.Tx.ExecContext(ctx, query, args...)
}
