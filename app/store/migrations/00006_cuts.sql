-- +goose Up
CREATE TABLE cuts (
  heater    INTEGER NOT NULL REFERENCES heaters(id) ON DELETE CASCADE,
  name      TEXT    NOT NULL,  -- of the part
  length_m  REAL    NOT NULL,  -- as it was cut
  width_m   REAL    NOT NULL,
  done      INTEGER NOT NULL CHECK (done > 0),
  PRIMARY KEY (heater, name, length_m, width_m)
) STRICT;
