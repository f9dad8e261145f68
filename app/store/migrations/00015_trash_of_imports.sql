-- +goose Up
-- A file that is removed from a log waits in the trash: when it was removed, ms; 0 while it counts.
ALTER TABLE imports ADD COLUMN gone INTEGER NOT NULL DEFAULT 0;
