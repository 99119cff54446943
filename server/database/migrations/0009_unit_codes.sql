-- A unit's code is whatever the country uses: 1001, HF-22, a/b. A path is therefore a list of codes: the labels of ltree
-- allow neither dots nor slashes.
DROP VIEW unit_latest;
DROP INDEX unit_span_path;
ALTER TABLE unit_span ALTER COLUMN path TYPE text[] USING string_to_array(path::text, '.');
CREATE INDEX unit_span_path ON unit_span USING gin (path);
DROP EXTENSION ltree;

CREATE VIEW unit_latest AS
  SELECT DISTINCT ON (s.unit) s.unit AS code, s.name, s.kind, s.parent, s.path, s.from_day, s.to_day,
         u.level, u.latitude, u.longitude
  FROM unit_span s JOIN unit u ON u.code = s.unit
  ORDER BY s.unit, s.from_day DESC;

ALTER TABLE unit DROP CONSTRAINT unit_code_check;
ALTER TABLE unit ADD CHECK (code ~ '^[A-Za-z0-9][A-Za-z0-9_./-]{0,39}$');
-- HF-22 and hf-22 are one code, written in two ways.
CREATE UNIQUE INDEX unit_code_any_case ON unit (lower(code));
