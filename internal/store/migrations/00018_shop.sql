-- +goose Up
-- What holds for the whole workshop, as one row of JSON: its name, rates, warranty, paper.
CREATE TABLE shop (
    id       INTEGER PRIMARY KEY CHECK (id = 1),
    settings TEXT    NOT NULL
);

-- A set that comes back is found by what was noted of whose it is.
CREATE INDEX entry_whose ON entry (body ->> 'field', lower(trim(body ->> 'text'))) WHERE kind = 'intake';

-- +goose Down
DROP INDEX entry_whose;
DROP TABLE shop;
