-- +goose Up
-- Stretches of a log that are left out of its judgment, and why.
CREATE TABLE log_excluded (
  id     INTEGER PRIMARY KEY,
  heater INTEGER NOT NULL REFERENCES heaters(id) ON DELETE CASCADE,
  lo     INTEGER NOT NULL,  -- ms
  hi     INTEGER NOT NULL,  -- ms, later than lo
  why    TEXT    NOT NULL,
  at     INTEGER NOT NULL
) STRICT;
CREATE INDEX log_excluded_heater ON log_excluded(heater, lo);
