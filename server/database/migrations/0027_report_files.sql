-- Files of many reports that the office takes in: what was read of each, what is to be done, and what was done.
CREATE TABLE report_file (
  id       uuid PRIMARY KEY,
  dataset  text NOT NULL REFERENCES dataset (code),
  name     text NOT NULL,
  -- The branch of the person, who alone sees the file; null is the whole tree.
  branch   text REFERENCES unit (code),
  person   uuid NOT NULL REFERENCES person (id),
  at       timestamptz NOT NULL,
  -- ready: looked at; applying, applied; undoing, undone.
  state    text NOT NULL,
  -- What the office says of the values, for their history and their doubts.
  why      text,
  asked_at timestamptz,
  asked_by uuid REFERENCES person (id),
  -- What was refused, left out and passed over, as the preview shows it.
  notes    jsonb NOT NULL
);
CREATE INDEX report_file_at ON report_file (at, id);

-- One report of a file: taken in whole, or not at all.
CREATE TABLE report_file_part (
  file    uuid NOT NULL REFERENCES report_file (id) ON DELETE CASCADE,
  number  integer NOT NULL,
  round   text NOT NULL REFERENCES round (id),
  unit    text NOT NULL REFERENCES unit (code),
  -- The row of the sheet, for who looks there.
  sheet   text NOT NULL,
  row     integer NOT NULL,
  -- The changes, with the identifiers that their events have: [{ id, cell, base, content }].
  changes jsonb NOT NULL,
  -- How many they are: who looks at the file does not read them.
  changed integer NOT NULL,
  -- ready, done, refused; undone, kept.
  state   text NOT NULL DEFAULT 'ready',
  -- The code of why it was refused, or kept; and what was left of it.
  problem text,
  -- How the report was before: { state, firstReceivedAt, receivedAt }.
  before  jsonb,
  PRIMARY KEY (file, number)
);
CREATE INDEX report_file_part_round ON report_file_part (round);
