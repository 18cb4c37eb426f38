-- +goose Up
-- Sets that are practised on. Practice has a file of its own: in that of a workshop these tables stay empty.
CREATE TABLE training (
	job      INTEGER PRIMARY KEY REFERENCES job (number),
	drawn    TEXT NOT NULL, -- what was drawn, as JSON
	progress TEXT NOT NULL  -- what happened besides the record, as JSON
) STRICT;

-- Quick ones that were answered.
CREATE TABLE quick (
	serial INTEGER PRIMARY KEY,
	id     TEXT NOT NULL UNIQUE,
	at     TEXT NOT NULL,
	who    TEXT NOT NULL,
	body   TEXT NOT NULL
) STRICT;
CREATE INDEX quick_who ON quick (who, serial);
