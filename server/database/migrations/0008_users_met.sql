-- A facility that may fill and send one report after its round closed. The newest row of a report counts.
CREATE TABLE let_in (
  seq    bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  round  text NOT NULL REFERENCES round (id),
  unit   text NOT NULL REFERENCES unit (code),
  -- The first instant at which the report is closed again.
  until  timestamptz NOT NULL,
  why    text NOT NULL,
  person uuid NOT NULL REFERENCES person (id),
  at     timestamptz NOT NULL
);
CREATE INDEX let_in_report ON let_in (round, unit, seq);

-- What was made on a device before the round closed and arrived after it: kept as it came, and offered to the officer.
CREATE TABLE late_change (
  seq        bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  id         uuid NOT NULL UNIQUE,
  round      text NOT NULL REFERENCES round (id),
  unit       text NOT NULL REFERENCES unit (code),
  person     uuid NOT NULL REFERENCES person (id),
  device     uuid NOT NULL REFERENCES device (id),
  change     jsonb NOT NULL,
  digest     text NOT NULL,
  made_at    timestamptz NOT NULL,
  arrived_at timestamptz NOT NULL,
  outcome    text CHECK (outcome IN ('applied', 'leftOut')),
  settled_at timestamptz,
  settled_by uuid REFERENCES person (id),
  why        text,
  -- Why it could not be applied when the facility was let in.
  problem    text
);
CREATE INDEX late_change_report ON late_change (round, unit) WHERE outcome IS NULL;

-- Reports that moved to a newer edition and are to be judged by its rules. A row goes once that is done.
CREATE TABLE report_to_judge (
  report bigint PRIMARY KEY REFERENCES report (id),
  since  timestamptz NOT NULL
);

-- A settled discrepancy can be opened again, with a reason.
ALTER TABLE discrepancy_event DROP CONSTRAINT discrepancy_event_act_check;
ALTER TABLE discrepancy_event ADD CHECK (act IN ('found', 'explained', 'asked', 'answered', 'settled', 'lapsed', 'reopened'));
