-- +goose Up
-- Who is let in from the network. None of it goes into copies.
CREATE TABLE passphrase (
	one  INTEGER PRIMARY KEY CHECK (one = 1),
	hash TEXT NOT NULL
) STRICT;

CREATE TABLE device (
	id       TEXT PRIMARY KEY,
	name     TEXT NOT NULL,
	initials TEXT NOT NULL,
	job      INTEGER NOT NULL, -- what it is let in for alone; 0: for everything
	sheet    INTEGER NOT NULL,
	since    TEXT NOT NULL,
	seen     TEXT NOT NULL,
	until    TEXT NOT NULL
) STRICT;

CREATE TABLE session (
	token TEXT PRIMARY KEY, -- hashed
	data  BLOB NOT NULL,
	until INTEGER NOT NULL -- seconds of Unix time
) STRICT;

-- What is the same job, and the same sheet, wherever it came from: ids made by whoever sends it.
ALTER TABLE job ADD COLUMN key TEXT NOT NULL DEFAULT '';
UPDATE job SET key = lower(hex(randomblob(16)));
CREATE UNIQUE INDEX job_key ON job (key);
ALTER TABLE sheet ADD COLUMN key TEXT NOT NULL DEFAULT '';
UPDATE sheet SET key = lower(hex(randomblob(16)));
CREATE UNIQUE INDEX sheet_key ON sheet (key);

-- Whether an instrument may be outside of the workshop's network.
ALTER TABLE instrument ADD COLUMN wide INTEGER NOT NULL DEFAULT 0;
