-- +goose Up
-- The local dates on which a heater has readings, so that no page has to read a long log to count them. stamp says what
-- they were made from; a row whose stamp is another one is made anew.
CREATE TABLE log_days (
  heater INTEGER PRIMARY KEY REFERENCES heaters(id) ON DELETE CASCADE,
  stamp  TEXT NOT NULL,
  days   TEXT NOT NULL  -- JSON, like ["2026-02-10"]
) STRICT;
