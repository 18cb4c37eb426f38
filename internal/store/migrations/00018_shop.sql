-- +goose Up
-- What holds for the whole workshop, as one row of JSON: its name, rates, warranty, paper.
CREATE TABLE shop (
    id       INTEGER PRIMARY KEY CHECK (id = 1),
    settings TEXT    NOT NULL
);

-- A set that comes back is found by what was noted of whose it is.
CREATE INDEX entry_whose ON entry (body ->> 'field', lower(trim(body ->> 'text'))) WHERE kind = 'intake';

-- Finished sets that stand ready to be fetched.
ALTER TABLE job ADD COLUMN ready INTEGER NOT NULL DEFAULT 0;
CREATE INDEX job_ready ON job (number) WHERE ready;

-- +goose Down
DROP INDEX job_ready;
ALTER TABLE job DROP COLUMN ready;
DROP INDEX entry_whose;
DROP TABLE shop;
