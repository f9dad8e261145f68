-- +goose Up
-- Readings belong to the version of a heater that made them: for those taken in before, the one that was worked on at the time.
ALTER TABLE imports ADD COLUMN version INTEGER REFERENCES versions(id) ON DELETE CASCADE;
UPDATE imports SET version = coalesce(
  (SELECT e.version FROM edits e JOIN versions v ON v.id = e.version WHERE v.heater = imports.heater AND e.at <= imports.at
    ORDER BY e.at DESC, e.id DESC LIMIT 1),
  (SELECT min(v.id) FROM versions v WHERE v.heater = imports.heater));
CREATE INDEX imports_version ON imports(version, id);

DROP TABLE log_days;
-- The local dates of a log, and what is drawn of it where all of its readings would be too many.
CREATE TABLE log_days (
  version INTEGER PRIMARY KEY REFERENCES versions(id) ON DELETE CASCADE,
  stamp   TEXT NOT NULL,
  days    TEXT NOT NULL, -- JSON, like ["2026-02-10"]
  outline BLOB NOT NULL
) STRICT;

-- What a long log came to, so that a page after a start does not read a million readings. stamp says what it was made from.
CREATE TABLE log_reports (
  version INTEGER PRIMARY KEY REFERENCES versions(id) ON DELETE CASCADE,
  stamp   TEXT NOT NULL,
  report  BLOB NOT NULL
) STRICT;

-- A note of the journal may be pinned to a moment of the log, ms; 0: to none.
ALTER TABLE journal ADD COLUMN moment INTEGER NOT NULL DEFAULT 0;
CREATE INDEX journal_moment ON journal(heater, moment);

-- Files that wait for their columns lie beside the workshop's file.
DROP TABLE uploads;
CREATE TABLE uploads (
  id     INTEGER PRIMARY KEY,
  heater INTEGER NOT NULL REFERENCES heaters(id) ON DELETE CASCADE,
  name   TEXT    NOT NULL,
  size   INTEGER NOT NULL,
  at     INTEGER NOT NULL
) STRICT;
