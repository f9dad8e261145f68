-- +goose Up
CREATE TABLE cut_records (
  heater INTEGER PRIMARY KEY REFERENCES heaters(id) ON DELETE CASCADE,
  record TEXT    NOT NULL  -- the cutting plan with what is cut, JSON of package cutting
) STRICT;
