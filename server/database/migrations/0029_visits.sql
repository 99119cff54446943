-- Visits of a supervisor to a facility.
CREATE TABLE visit (
  id          uuid PRIMARY KEY,
  unit        text NOT NULL REFERENCES unit (code),
  planned_for date NOT NULL,
  -- Why, as the data said when it was planned, and what the planner adds to it.
  reasons     jsonb NOT NULL,
  note        text,
  planned_at  timestamptz NOT NULL,
  planned_by  uuid NOT NULL REFERENCES person (id),
  state       text NOT NULL CHECK (state IN ('planned', 'made', 'dropped')),
  made_on     date,
  made_by     text,
  -- What was found there, or why the visit was dropped.
  outcome     text,
  CHECK ((state = 'made') = (made_on IS NOT NULL)),
  CHECK ((state = 'made') = (made_by IS NOT NULL))
);
-- A facility has one visit that is still to be made.
CREATE UNIQUE INDEX visit_planned ON visit (unit) WHERE state = 'planned';
CREATE INDEX visit_unit ON visit (unit, planned_for, id);
CREATE INDEX visit_day ON visit (planned_for, id);

-- What became of a visit, in order: it can be planned again.
CREATE TABLE visit_event (
  seq    bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  visit  uuid NOT NULL REFERENCES visit (id),
  at     timestamptz NOT NULL,
  person uuid NOT NULL REFERENCES person (id),
  act    text NOT NULL CHECK (act IN ('planned', 'made', 'dropped')),
  -- The day for which it was planned, or on which it was made.
  day    date,
  text   text
);
CREATE INDEX visit_event_visit ON visit_event (visit);

-- A supervisor's own count of some cells of a report.
CREATE TABLE recount (
  -- Of the act of entering: sent twice, it is the same one.
  id           uuid PRIMARY KEY,
  report       bigint NOT NULL REFERENCES report (id),
  visit        uuid REFERENCES visit (id),
  counted_on   date NOT NULL,
  -- Who counted, as they say.
  counted_by   text NOT NULL,
  on_paper     boolean NOT NULL,
  at           timestamptz NOT NULL,
  person       uuid NOT NULL REFERENCES person (id),
  withdrawn_at timestamptz,
  withdrawn_by uuid REFERENCES person (id)
);
CREATE INDEX recount_report ON recount (report, at);
CREATE INDEX recount_visit ON recount (visit) WHERE visit IS NOT NULL;

-- The newest that was not withdrawn holds for a cell.
CREATE TABLE recount_cell (
  recount uuid NOT NULL REFERENCES recount (id),
  cell    text NOT NULL,
  value   double precision NOT NULL,
  PRIMARY KEY (recount, cell)
);

ALTER TABLE discrepancy DROP CONSTRAINT discrepancy_source_check,
  ADD CONSTRAINT discrepancy_source_check CHECK (source IN ('rule', 'range', 'cases', 'recount'));
