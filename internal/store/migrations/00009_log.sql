-- +goose Up
-- All that was noted of a job, whatever its kind, in order; body is the entry in JSON as it
-- is exchanged. What was struck out stays.
CREATE TABLE entry (
    job    INTEGER NOT NULL REFERENCES job (number),
    serial INTEGER NOT NULL, -- within the job
    kind   TEXT    NOT NULL,
    id     TEXT    NOT NULL, -- given by whoever sent it, so that sending twice is harmless
    body   TEXT    NOT NULL,
    struck INTEGER NOT NULL DEFAULT 0,
    PRIMARY KEY (job, serial)
) STRICT, WITHOUT ROWID;
CREATE UNIQUE INDEX entry_id ON entry (job, kind, id);

-- What belongs to an entry and is fetched only when it is asked for.
CREATE TABLE file (
    job  INTEGER NOT NULL,
    kind TEXT    NOT NULL,
    id   TEXT    NOT NULL,
    role TEXT    NOT NULL, -- data: the file as it came; others: what was made of it
    data BLOB    NOT NULL,
    FOREIGN KEY (job, kind, id) REFERENCES entry (job, kind, id)
) STRICT;
CREATE UNIQUE INDEX file_id ON file (job, kind, id, role);

CREATE INDEX job_sheet ON job (sheet);
-- When the last entry was noted, microseconds of Unix time: later ones come after it,
-- whatever the clock says.
ALTER TABLE job ADD COLUMN last INTEGER NOT NULL DEFAULT 0;

CREATE TEMP TABLE was (job INTEGER, sort INTEGER, serial INTEGER, kind TEXT, id TEXT, body TEXT, struck INTEGER, at TEXT);
INSERT INTO was SELECT job, 1, serial, 'intake', 'n' || serial, json_object('id', 'n' || serial, 'field', field, 'text', text, 'at', written), 0, written FROM intake;
INSERT INTO was SELECT job, 2, serial, 'safety', id,
    json_object('id', id, 'kind', kind, 'subject', subject, 'text', text, 'si', json(printf('%!.17g', si)), 'at', at), 0, at FROM safety_event;
-- Of a step the line says all; what it is understood as is read from it again.
INSERT INTO was SELECT job, 3, serial, 'steps', id, json_object('id', id, 'kind', kind, 'text', text, 'taken', taken, 'struck', struck), struck IS NOT NULL, taken FROM strip_step;
INSERT INTO was SELECT job, 4, serial, 'returns', 'b' || serial, json_object('id', 'b' || serial, 'step', step, 'count', count, 'at', at), 0, at FROM strip_return;
INSERT INTO was SELECT job, 5, serial, 'pictures', id,
    json_object('id', id, 'step', step, 'taken', taken, 'struck', json(iif(struck IS NULL, 'false', 'true'))), struck IS NOT NULL, taken FROM picture;
INSERT INTO was SELECT job, 6, serial, 'captures', id, json_object('id', id, 'name', name, 'points', json(points), 'said', json(said), 'mode', mode,
    'injected', iif(injected_at IS NULL, NULL, json_object('touch', json(iif(injected_touch, 'true', 'false')), 'at', injected_at,
        'level', json(printf('%!.17g', injected_level)), 'hz', json(printf('%!.17g', injected_hz)))),
    'instrument', instrument, 'settings', settings, 'good', json(iif(good, 'true', 'false')), 'taken', taken,
    'struck', json(iif(struck IS NULL, 'false', 'true'))), struck IS NOT NULL, taken FROM capture;
INSERT INTO was SELECT job, 7, serial, 'readings', id, json_object('id', id, 'point', point, 'quantity', quantity, 'text', text, 'si', json(printf('%!.17g', si)),
    'form', form, 'word', word, 'mode', mode,
    'injected', iif(injected_at IS NULL, NULL, json_object('touch', json(iif(injected_touch, 'true', 'false')), 'at', injected_at,
        'level', json(printf('%!.17g', injected_level)), 'hz', json(printf('%!.17g', injected_hz)))),
    'instrument', instrument, 'power', power, 'without', json(iif(without = '', 'null', without)), 'act', act, 'worked', json(iif(worked, 'true', 'false')),
    'capture', capture, 'settings', settings, 'taken', taken, 'struck', json(iif(struck IS NULL, 'false', 'true')), 'struckReason', struck_reason),
    struck IS NOT NULL, taken FROM reading;
INSERT INTO was SELECT job, 8, serial, 'inside', id, json_set(body, '$.struck', json(iif(struck IS NULL, 'false', 'true'))), struck IS NOT NULL, json_extract(body, '$.at') FROM inside;
INSERT INTO was SELECT job, 9, serial, 'waivers', 'w' || serial, json_object('id', 'w' || serial, 'stage', stage, 'key', ground, 'reason', reason, 'at', at), 0, at FROM waiver;
INSERT INTO was SELECT job, 10, serial, 'repairs', id, json_set(body, '$.struck', json(iif(struck IS NULL, 'false', 'true'))), struck IS NOT NULL, json_extract(body, '$.at') FROM repair;

INSERT INTO entry (job, serial, kind, id, body, struck)
SELECT job, row_number() OVER (PARTITION BY job ORDER BY sort, serial), kind, id, body, struck FROM was;
UPDATE job SET last = coalesce((SELECT max(CAST((julianday(at) - 2440587.5) * 86400e6 AS INTEGER)) + 1000 FROM was WHERE was.job = number), 0);

INSERT INTO file SELECT job, 'pictures', id, 'data', data FROM picture;
INSERT INTO file SELECT job, 'pictures', id, 'preview', preview FROM picture;
INSERT INTO file SELECT job, 'captures', id, 'data', received FROM capture;
INSERT INTO file SELECT job, 'captures', id, 'samples', samples FROM capture;
INSERT INTO file SELECT job, 'captures', id, 'read', CAST(json_object('read', json(understood), 'samples', count) AS BLOB) FROM capture;

DROP TABLE was;
DROP TABLE strip_return;
DROP TABLE strip_step;
DROP TABLE reading;
DROP TABLE intake;
DROP TABLE safety_event;
DROP TABLE picture;
DROP TABLE capture;
DROP TABLE inside;
DROP TABLE waiver;
DROP TABLE repair;
