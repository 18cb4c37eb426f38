-- +goose Up
ALTER TABLE reading ADD COLUMN injected_touch INTEGER NOT NULL DEFAULT 0; -- 1: a finger or a probe's tip, no generator
ALTER TABLE job ADD COLUMN injected_touch INTEGER NOT NULL DEFAULT 0;
ALTER TABLE reading ADD COLUMN worked INTEGER NOT NULL DEFAULT 0; -- 1: the control was worked meanwhile
ALTER TABLE reading ADD COLUMN act TEXT NOT NULL DEFAULT ''; -- what was done, of a provocation

-- +goose Down
ALTER TABLE reading DROP COLUMN act;
ALTER TABLE reading DROP COLUMN worked;
ALTER TABLE job DROP COLUMN injected_touch;
ALTER TABLE reading DROP COLUMN injected_touch;
