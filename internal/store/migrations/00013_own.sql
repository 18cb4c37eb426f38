-- +goose Up
-- A sheet that was made for one job from a pattern stands in no list until it is kept for the model.
ALTER TABLE sheet ADD COLUMN own INTEGER NOT NULL DEFAULT 0;

-- +goose Down
ALTER TABLE sheet DROP COLUMN own;
