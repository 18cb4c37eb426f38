-- +goose Up
-- A sheet that was made for one job from a pattern stands in no list until it is kept for the model.
ALTER TABLE sheet ADD COLUMN own INTEGER NOT NULL DEFAULT 0;
-- The revision that one took back to; 0: it is a new one.
ALTER TABLE sheet_revision ADD COLUMN back INTEGER NOT NULL DEFAULT 0;

-- +goose Down
ALTER TABLE sheet_revision DROP COLUMN back;
ALTER TABLE sheet DROP COLUMN own;
