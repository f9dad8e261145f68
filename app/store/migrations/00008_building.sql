-- +goose Up
-- What the builder saw a pack sold for, by what package cost calls the thing.
CREATE TABLE prices (
  what TEXT PRIMARY KEY,
  pack REAL NOT NULL CHECK (pack > 0),
  seen TEXT NOT NULL  -- the day, 2006-01-02
) STRICT, WITHOUT ROWID;

-- How many packs are bought for a heater.
CREATE TABLE bought (
  heater INTEGER NOT NULL REFERENCES heaters(id) ON DELETE CASCADE,
  what   TEXT    NOT NULL,
  packs  INTEGER NOT NULL CHECK (packs > 0),
  PRIMARY KEY (heater, what)
) STRICT, WITHOUT ROWID;

-- The steps of building that are done, with what was measured at them.
CREATE TABLE steps (
  heater  INTEGER NOT NULL REFERENCES heaters(id) ON DELETE CASCADE,
  step    TEXT    NOT NULL,
  done    INTEGER NOT NULL,  -- when, ms
  minutes INTEGER NOT NULL CHECK (minutes >= 0), -- that it took; 0 where nobody said
  entry   TEXT    NOT NULL,  -- what was measured, JSON of the app
  PRIMARY KEY (heater, step)
) STRICT, WITHOUT ROWID;
