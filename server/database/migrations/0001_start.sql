-- The first tables: places, people, datasets, rounds, reports with their full history, doubts, signatures.

CREATE EXTENSION IF NOT EXISTS ltree;

CREATE TABLE setting (
  key   text PRIMARY KEY,
  value jsonb NOT NULL
);

-- Organisation units. What was true of a unit stands in its spans: name, parent and kind over [from_day, to_day).
-- A unit is open on the days that a span covers; it closes by ending its last span.
CREATE TABLE unit (
  code      text PRIMARY KEY CHECK (code ~ '^[a-z][a-z0-9_]*$'),
  level     smallint NOT NULL CHECK (level BETWEEN 1 AND 9),
  latitude  double precision,
  longitude double precision
);

CREATE TABLE unit_span (
  unit     text NOT NULL REFERENCES unit (code),
  from_day date NOT NULL,
  to_day   date,
  parent   text REFERENCES unit (code),
  name     text NOT NULL,
  kind     text NOT NULL,
  -- Codes of the unit and all above it, in these days: varrow_coast.ashmere.north_shore.sedge_bay
  path     ltree NOT NULL,
  PRIMARY KEY (unit, from_day),
  CHECK (to_day IS NULL OR to_day > from_day)
);
CREATE INDEX unit_span_path ON unit_span USING gist (path);

-- Each unit as it is now, or as it last was.
CREATE VIEW unit_latest AS
  SELECT DISTINCT ON (s.unit) s.unit AS code, s.name, s.kind, s.parent, s.path, s.from_day, s.to_day,
         u.level, u.latitude, u.longitude
  FROM unit_span s JOIN unit u ON u.code = s.unit
  ORDER BY s.unit, s.from_day DESC;

CREATE TABLE person (
  id            uuid PRIMARY KEY,
  user_name     text NOT NULL,
  -- User names ignore case.
  user_key      text NOT NULL UNIQUE,
  display_name  text NOT NULL,
  role          text NOT NULL CHECK (role IN ('administrator', 'officer', 'clerk', 'reader')),
  branch        text REFERENCES unit (code),
  password_hash text NOT NULL,
  -- Counts up when the person signs out everywhere: older sessions end.
  session_epoch integer NOT NULL DEFAULT 1,
  active        boolean NOT NULL DEFAULT true,
  last_seen_at  timestamptz
);

CREATE TABLE sign_in_failure (
  user_key text PRIMARY KEY,
  failures integer NOT NULL,
  last_at  timestamptz NOT NULL
);

CREATE TABLE axis (
  code  text PRIMARY KEY,
  name  jsonb NOT NULL,
  bands jsonb NOT NULL
);

CREATE TABLE item (
  code       text PRIMARY KEY,
  definition jsonb NOT NULL
);

CREATE TABLE dataset (
  code      text PRIMARY KEY CHECK (code ~ '^[a-z][a-z0-9_]*$'),
  name      jsonb NOT NULL,
  frequency text NOT NULL
);

-- A published edition is never changed: its definition stands here whole.
CREATE TABLE edition (
  dataset      text NOT NULL REFERENCES dataset (code),
  number       integer NOT NULL CHECK (number > 0),
  definition   jsonb NOT NULL,
  published_at timestamptz NOT NULL,
  PRIMARY KEY (dataset, number)
);

-- Which units report a dataset: all of a level within a branch, from a day, to a day.
CREATE TABLE assignment (
  dataset  text NOT NULL REFERENCES dataset (code),
  branch   text NOT NULL REFERENCES unit (code),
  level    smallint NOT NULL,
  from_day date NOT NULL,
  to_day   date,
  PRIMARY KEY (dataset, branch, level, from_day)
);

CREATE TABLE round (
  id        text PRIMARY KEY,              -- monthly_summary~2026-10
  dataset   text NOT NULL,
  edition   integer NOT NULL,
  period    text NOT NULL,
  first_day date NOT NULL,
  last_day  date NOT NULL,
  opens_at  timestamptz NOT NULL,
  due_at    timestamptz NOT NULL,
  closes_at timestamptz NOT NULL,
  UNIQUE (dataset, period),
  FOREIGN KEY (dataset, edition) REFERENCES edition (dataset, number)
);

-- A report begins with its first answer; until then it is awaited and has no row.
CREATE TABLE report (
  id                bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  round             text NOT NULL REFERENCES round (id),
  unit              text NOT NULL REFERENCES unit (code),
  edition           integer NOT NULL,
  state             text NOT NULL CHECK (state IN ('draft', 'sent', 'sentBack', 'accepted')),
  first_received_at timestamptz,
  received_at       timestamptz,
  UNIQUE (round, unit)
);
CREATE INDEX report_unit ON report (unit);

CREATE TABLE report_event (
  seq        bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  report     bigint NOT NULL REFERENCES report (id),
  at         timestamptz NOT NULL,
  person     uuid REFERENCES person (id),
  from_state text NOT NULL,
  to_state   text NOT NULL,
  why        text
);
CREATE INDEX report_event_report ON report_event (report);

-- The latest content of each cell that was ever answered. version counts its changes.
CREATE TABLE cell_value (
  report  bigint NOT NULL REFERENCES report (id),
  cell    text NOT NULL,
  kind    text NOT NULL CHECK (kind IN ('value', 'notKnown', 'notOffered', 'blank')),
  value   double precision,
  reason  text,
  version integer NOT NULL DEFAULT 1,
  PRIMARY KEY (report, cell),
  CHECK ((kind = 'value') = (value IS NOT NULL)),
  CHECK (kind <> 'notKnown' OR reason IS NOT NULL)
);

-- Every change of a cell, for ever. id is the change's own identifier, made on the device.
CREATE TABLE cell_event (
  seq        bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  id         uuid NOT NULL UNIQUE,
  report     bigint NOT NULL REFERENCES report (id),
  cell       text NOT NULL,
  at         timestamptz NOT NULL,
  person     uuid REFERENCES person (id),
  origin     text NOT NULL,
  old        jsonb NOT NULL,
  new        jsonb NOT NULL,
  why        text
);
CREATE INDEX cell_event_cell ON cell_event (report, cell);

CREATE TABLE cell_comment (
  id     uuid PRIMARY KEY,
  report bigint NOT NULL REFERENCES report (id),
  cell   text NOT NULL,
  at     timestamptz NOT NULL,
  person uuid NOT NULL REFERENCES person (id),
  text   text NOT NULL
);
CREATE INDEX cell_comment_cell ON cell_comment (report, cell);

CREATE TABLE discrepancy (
  id         uuid PRIMARY KEY,
  report     bigint NOT NULL REFERENCES report (id),
  doubt_key  text NOT NULL,
  source     text NOT NULL CHECK (source IN ('rule', 'range')),
  code       text NOT NULL,
  band       text,
  strength   text NOT NULL CHECK (strength IN ('mustFix', 'explain', 'note')),
  cells      text[] NOT NULL,
  state      text NOT NULL CHECK (state IN ('open', 'asked', 'answered', 'settled', 'lapsed')),
  outcome    text CHECK (outcome IN ('corrected', 'explained', 'dismissed')),
  -- Does the doubt still hold for the values as they are?
  holds      boolean NOT NULL DEFAULT true,
  -- The doubt with its numbers, and the contents of its cells when it was last found.
  evidence   jsonb NOT NULL,
  contents   jsonb NOT NULL,
  found_at   timestamptz NOT NULL,
  UNIQUE (report, doubt_key),
  CHECK ((state = 'settled') = (outcome IS NOT NULL))
);
CREATE INDEX discrepancy_state ON discrepancy (state);

-- What was said and done about a discrepancy, in order.
CREATE TABLE discrepancy_event (
  seq         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  discrepancy uuid NOT NULL REFERENCES discrepancy (id),
  at          timestamptz NOT NULL,
  person      uuid REFERENCES person (id),
  act         text NOT NULL CHECK (act IN ('found', 'explained', 'asked', 'answered', 'settled', 'lapsed')),
  text        text
);
CREATE INDEX discrepancy_event_discrepancy ON discrepancy_event (discrepancy);

-- Signed district reports. snapshot is the canonical text that the checksum was made over.
CREATE TABLE signature (
  id        uuid PRIMARY KEY,
  round     text NOT NULL REFERENCES round (id),
  unit      text NOT NULL REFERENCES unit (code),
  amendment integer NOT NULL,
  signed_at timestamptz NOT NULL,
  person    uuid NOT NULL REFERENCES person (id),
  checksum  text NOT NULL,
  snapshot  text NOT NULL,
  UNIQUE (round, unit, amendment)
);
