-- +goose Up
-- Tests that were made on a heater, as they were entered.
CREATE TABLE trials (
  id      INTEGER PRIMARY KEY,
  heater  INTEGER NOT NULL REFERENCES heaters(id) ON DELETE CASCADE,
  version INTEGER NOT NULL,  -- of the heater, that was tested
  kind    TEXT    NOT NULL,
  made    INTEGER NOT NULL,  -- when, ms
  entry   TEXT    NOT NULL,  -- JSON: what was read, SI, by what was asked
  result  TEXT    NOT NULL,  -- the figure in words
  gone    INTEGER NOT NULL DEFAULT 0, -- when it was removed, ms; 0 while it is there
  at      INTEGER NOT NULL
) STRICT;
CREATE INDEX trials_heater ON trials(heater, made);
