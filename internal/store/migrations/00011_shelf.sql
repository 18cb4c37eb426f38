-- +goose Up
-- What a job says of itself on the shelf is kept with it. Version counts the changes of the
-- job and of what it depends on; said is the version that the row tells of.
ALTER TABLE job ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
ALTER TABLE job ADD COLUMN said INTEGER NOT NULL DEFAULT 0;
ALTER TABLE job ADD COLUMN amended INTEGER NOT NULL DEFAULT 0; -- how often an entry was changed: struck out, or marked
ALTER TABLE job ADD COLUMN place INTEGER NOT NULL DEFAULT 0; -- on the shelf: 0 bench, 1 waiting, 2 finished
ALTER TABLE job ADD COLUMN row TEXT NOT NULL DEFAULT '';
CREATE INDEX job_place ON job (place, number DESC, said);
CREATE INDEX job_unsaid ON job (number) WHERE said <> version;
CREATE VIRTUAL TABLE job_words USING fts5 (words, tokenize = "unicode61 remove_diacritics 2", prefix = '2 3'); -- rowid: the job's number

-- Where finished jobs had failed: a row for each stage (part empty), and for each part in it.
CREATE TABLE ended (
    sheet INTEGER NOT NULL,
    job   INTEGER NOT NULL REFERENCES job (number),
    stage TEXT    NOT NULL,
    part  TEXT    NOT NULL,
    PRIMARY KEY (sheet, stage, part, job)
) STRICT, WITHOUT ROWID;
CREATE INDEX ended_job ON ended (job);

-- What a list of sheets shows of each, so that no document has to be read for it.
ALTER TABLE sheet ADD COLUMN name TEXT NOT NULL DEFAULT '';
ALTER TABLE sheet ADD COLUMN row TEXT NOT NULL DEFAULT '';
ALTER TABLE sheet ADD COLUMN digest TEXT NOT NULL DEFAULT ''; -- of the document in force
ALTER TABLE sheet ADD COLUMN saved TEXT NOT NULL DEFAULT '';
CREATE INDEX sheet_name ON sheet (name COLLATE NOCASE, id);
CREATE INDEX sheet_digest ON sheet (digest);
CREATE VIRTUAL TABLE sheet_words USING fts5 (words, tokenize = "unicode61 remove_diacritics 2", prefix = '2 3'); -- rowid: the sheet's id
