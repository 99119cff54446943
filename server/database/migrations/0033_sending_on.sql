-- Other systems that get signed district reports.
CREATE TABLE recipient (
  id       uuid PRIMARY KEY,
  name     text NOT NULL,
  format   text NOT NULL CHECK (format IN ('adx', 'fhir', 'json', 'csv', 'xlsx')),
  -- Where it listens; what begins with stand-in is the one that ships with the application.
  address  text NOT NULL,
  -- Shown to it with each request, and to nobody else.
  key      text,
  version  integer NOT NULL,
  made_at  timestamptz NOT NULL,
  made_by  uuid NOT NULL REFERENCES person (id),
  ended_at timestamptz,
  ended_by uuid REFERENCES person (id)
);
CREATE UNIQUE INDEX recipient_name ON recipient (lower(name)) WHERE ended_at IS NULL;

-- Its codes for ours. The newest row of a code holds.
CREATE TABLE recipient_code (
  seq       bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  recipient uuid NOT NULL REFERENCES recipient (id),
  kind      text NOT NULL CHECK (kind IN ('dataset', 'item', 'axis', 'band', 'unit')),
  -- The dataset of an item, axis or band; empty for others.
  of        text NOT NULL,
  ours      text NOT NULL,
  theirs    text,
  -- What it says: a code, left out on purpose, or nothing any more.
  state     text NOT NULL CHECK (state IN ('code', 'leftOut', 'none')),
  at        timestamptz NOT NULL,
  person    uuid NOT NULL REFERENCES person (id),
  CHECK ((state = 'code') = (theirs IS NOT NULL))
);
CREATE INDEX recipient_code_newest ON recipient_code (recipient, kind, of, ours, seq DESC);

-- One signed district report on its way to one recipient. Part 1 is all of it; a later part is what was refused
-- because of a code, under other codes. Nothing that was taken goes out twice.
CREATE TABLE sending (
  id          uuid PRIMARY KEY,
  recipient   uuid NOT NULL REFERENCES recipient (id),
  round       text NOT NULL REFERENCES round (id),
  unit        text NOT NULL REFERENCES unit (code),
  amendment   integer NOT NULL,
  part        integer NOT NULL,
  is_whole    boolean NOT NULL,
  state       text NOT NULL CHECK (state IN ('waiting', 'sending', 'taken', 'partly', 'refused', 'failed', 'stopped')),
  -- As it goes out, in the format of then; a workbook in base64.
  format      text NOT NULL,
  document    text NOT NULL,
  -- The codes of the recipient as they were then: what it refuses is found by them.
  codes       jsonb NOT NULL,
  -- How many values it holds, how many answers the format cannot hold, how many are left out on purpose.
  counts      jsonb NOT NULL,
  asked_at    timestamptz NOT NULL,
  asked_by    uuid NOT NULL REFERENCES person (id),
  tries       integer NOT NULL DEFAULT 0,
  next_at     timestamptz,
  problem     text,
  receipt     text,
  answered_at timestamptz,
  UNIQUE (recipient, round, unit, amendment, part)
);
CREATE INDEX sending_due ON sending (next_at) WHERE next_at IS NOT NULL;
CREATE INDEX sending_place ON sending (round, unit, recipient);

-- What a recipient did not take of it.
CREATE TABLE sending_refusal (
  sending  uuid NOT NULL REFERENCES sending (id),
  number   integer NOT NULL,
  -- Because of a code that it does not know, or of the value.
  about    text NOT NULL CHECK (about IN ('code', 'value')),
  -- Where it stands here; null where the answer names nothing that was sent.
  unit     text REFERENCES unit (code),
  cell     text,
  value    jsonb,
  -- Their place, and what they say.
  place    jsonb NOT NULL,
  message  text NOT NULL,
  -- The part in which it went out again, under another code.
  resent_in uuid REFERENCES sending (id),
  -- Something newer was sent in its place, and the recipient answered.
  ended_at timestamptz,
  PRIMARY KEY (sending, number)
);
CREATE INDEX sending_refusal_unit ON sending_refusal (unit, sending) WHERE ended_at IS NULL;

ALTER TABLE discrepancy DROP CONSTRAINT discrepancy_source_check,
  ADD CONSTRAINT discrepancy_source_check CHECK (source IN ('rule', 'range', 'cases', 'recount', 'refused'));

-- What the stand-in for a national repository keeps: each delivery with its answer, and the newest values.
CREATE TABLE stand_in_delivery (
  reference text PRIMARY KEY,
  at        timestamptz NOT NULL,
  answer    jsonb NOT NULL
);
CREATE TABLE stand_in_value (
  data_set     text NOT NULL,
  period       text NOT NULL,
  org_unit     text NOT NULL,
  data_element text NOT NULL,
  axes         text NOT NULL,
  value        text NOT NULL,
  reference    text NOT NULL,
  PRIMARY KEY (data_set, period, org_unit, data_element, axes)
);
