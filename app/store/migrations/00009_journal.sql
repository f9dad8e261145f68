-- +goose Up
-- Notes about a heater, with a photo or without.
CREATE TABLE journal (
  id     INTEGER PRIMARY KEY,
  heater INTEGER NOT NULL REFERENCES heaters(id) ON DELETE CASCADE,
  step   TEXT    NOT NULL,  -- of building; empty for none
  note   TEXT    NOT NULL,
  cost   REAL    NOT NULL DEFAULT 0,
  photo  BLOB,              -- JPEG without the camera's marks
  width  INTEGER NOT NULL DEFAULT 0, -- px
  height INTEGER NOT NULL DEFAULT 0,
  gone   INTEGER NOT NULL DEFAULT 0, -- when it was removed, ms; 0 while it is there
  at     INTEGER NOT NULL
) STRICT;
CREATE INDEX journal_heater ON journal(heater, at);
