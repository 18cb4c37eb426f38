-- +goose Up
ALTER TABLE job ADD COLUMN way TEXT NOT NULL DEFAULT ''; -- of working; empty: halve it

-- +goose Down
ALTER TABLE job DROP COLUMN way;
