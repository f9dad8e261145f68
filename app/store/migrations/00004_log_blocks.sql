-- +goose Up
-- What each file brought, one block a series and UTC day. The log is these blocks laid over each other in the
-- order of their imports: a value that is there already stays, unless the import replaces. So any
-- import can be taken out exactly.
CREATE TABLE log_blocks (
    import INTEGER NOT NULL REFERENCES imports(id) ON DELETE CASCADE,
    series TEXT    NOT NULL,
    day    INTEGER NOT NULL, -- days since 1970
    count  INTEGER NOT NULL,
    block  BLOB    NOT NULL,
    PRIMARY KEY (import, series, day)
) STRICT, WITHOUT ROWID;

ALTER TABLE imports ADD COLUMN replaces INTEGER NOT NULL DEFAULT 0; -- 1: its values win over earlier ones
ALTER TABLE imports ADD COLUMN changed INTEGER NOT NULL DEFAULT 0;  -- values it changed

-- A day that several files brought together goes to the last of them; what no file is known of, to one without a name.
INSERT INTO imports (heater, name, read, added, at)
    SELECT r.heater, 'earlier readings', sum(r.count), sum(r.count), 0 FROM readings r
    WHERE r.series = 'outlet' AND NOT EXISTS (SELECT 1 FROM import_blocks b JOIN imports i ON i.id = b.import WHERE i.heater = r.heater AND b.series = r.series AND b.day = r.day)
    GROUP BY r.heater;
INSERT INTO log_blocks (import, series, day, count, block)
    SELECT coalesce(
        (SELECT max(b.import) FROM import_blocks b JOIN imports i ON i.id = b.import WHERE i.heater = r.heater AND b.series = r.series AND b.day = r.day),
        (SELECT max(i.id) FROM imports i WHERE i.heater = r.heater)), r.series, r.day, r.count, r.block
    FROM readings r WHERE EXISTS (SELECT 1 FROM imports i WHERE i.heater = r.heater);
DROP TABLE import_blocks;
DROP TABLE readings;
CREATE INDEX imports_heater ON imports(heater, id);
