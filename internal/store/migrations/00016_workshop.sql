-- +goose Up
-- What the workshop has chosen and fitted in all its jobs is asked for with every view of the replacing.
CREATE INDEX entry_replacing ON entry (job, serial) WHERE kind = 'replacing';
