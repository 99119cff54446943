-- What is asked often is kept instead of computed. Each has one writer, which is named here.

-- A unit may change its level when it moves: the level is true of its spans, like name and kind.
ALTER TABLE unit_span ADD COLUMN level smallint;
UPDATE unit_span s SET level = u.level FROM unit u WHERE u.code = s.unit;
ALTER TABLE unit_span ALTER COLUMN level SET NOT NULL, ADD CHECK (level BETWEEN 1 AND 9);
DROP VIEW unit_latest;
ALTER TABLE unit DROP COLUMN level;

-- Each unit as it is now, or as it last was (units/latest.ts).
CREATE TABLE unit_latest (
  code        text PRIMARY KEY REFERENCES unit (code) ON DELETE CASCADE,
  name        text NOT NULL,
  kind        text NOT NULL,
  parent      text,
  path        text[] NOT NULL,
  from_day    date NOT NULL,
  to_day      date,
  level       smallint NOT NULL,
  -- Name and code, folded: what a search looks in. Empty until the next start.
  search_text text NOT NULL DEFAULT ''
);
INSERT INTO unit_latest (code, name, kind, parent, path, from_day, to_day, level)
  SELECT DISTINCT ON (unit) unit, name, kind, parent, path, from_day, to_day, level FROM unit_span ORDER BY unit, from_day DESC;
CREATE INDEX unit_latest_path ON unit_latest USING gin (path);
CREATE INDEX unit_latest_search ON unit_latest USING gin (search_text gin_trgm_ops);

-- The unit of a report as it was in the round's period, null when the round no longer expects it (units/latest.ts); and
-- how many of its cells are answered, and how many are not offered there (reports/write-cells.ts).
ALTER TABLE report ADD COLUMN path text[], ADD COLUMN unit_name text NOT NULL DEFAULT '',
  ADD COLUMN answered integer NOT NULL DEFAULT 0, ADD COLUMN not_offered integer NOT NULL DEFAULT 0;
UPDATE report p SET path = s.path, unit_name = s.name
  FROM (SELECT DISTINCT ON (q.id) q.id, r.dataset, r.first_day, r.last_day, s.unit AS code, s.path, s.name, s.level
        FROM report q JOIN round r ON r.id = q.round
        JOIN unit_span s ON s.unit = q.unit AND s.from_day <= r.last_day AND (s.to_day IS NULL OR s.to_day > r.first_day)
        ORDER BY q.id, s.from_day DESC) s
  WHERE s.id = p.id AND EXISTS (
    SELECT 1 FROM assignment a WHERE a.dataset = s.dataset
      AND a.from_day <= s.last_day AND (a.to_day IS NULL OR a.to_day > s.first_day)
      AND (a.level IS NULL OR a.level = s.level) AND (a.branch IS NULL OR a.branch = ANY(s.path)) AND (a.unit IS NULL OR a.unit = s.code)
      AND (a.unit_group IS NULL OR EXISTS (SELECT 1 FROM unit_group_member m WHERE m.unit_group = a.unit_group AND m.unit = s.code
        AND m.from_day <= s.last_day AND (m.to_day IS NULL OR m.to_day > s.first_day))));
UPDATE report p SET answered = v.answered, not_offered = v.not_offered
  FROM (SELECT report, count(*) FILTER (WHERE kind IN ('value', 'notKnown')) AS answered, count(*) FILTER (WHERE kind = 'notOffered') AS not_offered
        FROM cell_value GROUP BY report) v
  WHERE v.report = p.id;
CREATE INDEX report_path ON report USING gin (path);

-- The district's figures by which effects are measured, and the effect of each discrepancy (checks/effects.ts).
CREATE TABLE district_figure (
  round    text NOT NULL REFERENCES round (id),
  district text NOT NULL,
  edition  integer NOT NULL,
  figures  jsonb NOT NULL,
  PRIMARY KEY (round, district, edition)
);
-- In a table of its own: who computes it never waits for who works on the discrepancy.
CREATE TABLE discrepancy_effect (
  discrepancy uuid PRIMARY KEY REFERENCES discrepancy (id) ON DELETE CASCADE,
  effect      double precision
);
-- Places whose figures have changed since. A row goes once figures and effects of its district are computed anew.
CREATE TABLE figures_to_refresh (
  seq   bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  round text NOT NULL,
  path  text[] NOT NULL
);
INSERT INTO figures_to_refresh (round, path)
  SELECT DISTINCT p.round, p.path FROM discrepancy d JOIN report p ON p.id = d.report WHERE p.path IS NOT NULL;
CREATE INDEX discrepancy_unsettled ON discrepancy (report) WHERE state <> 'settled';

-- The last event of a case (cases/apply-entries.ts).
ALTER TABLE case_record ADD COLUMN last_on date;
UPDATE case_record c SET last_on = e.last_on
  FROM (SELECT case_id, max(happened_on) AS last_on FROM case_entry GROUP BY case_id) e WHERE e.case_id = c.id;
CREATE INDEX case_record_last ON case_record (last_on, id);
CREATE INDEX case_record_unit_last ON case_record (unit, last_on, id);
DROP INDEX case_record_unit;

-- The values of some cells in many reports; the events of a report since a number.
CREATE INDEX cell_value_cell ON cell_value (cell, report) INCLUDE (kind, value);
CREATE INDEX cell_event_since ON cell_event (report, seq);
DROP INDEX report_event_report;
CREATE INDEX report_event_since ON report_event (report, seq);
DROP INDEX discrepancy_event_discrepancy;
CREATE INDEX discrepancy_event_since ON discrepancy_event (discrepancy, seq);
CREATE INDEX round_open ON round (closes_at, opens_at);
CREATE INDEX round_newest ON round (dataset, last_day DESC);

-- The lines of who reports stay in the order in which they were written.
ALTER TABLE assignment ADD COLUMN seq bigint GENERATED ALWAYS AS IDENTITY;
