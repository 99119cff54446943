-- The facility desk: cards that pair devices, the devices, changes that are known, and cases with their entries.

CREATE TABLE pairing_card (
  id         uuid PRIMARY KEY,
  code_hash  text NOT NULL UNIQUE,
  name       text NOT NULL,
  unit       text NOT NULL REFERENCES unit (code),
  -- Language, text size, settings, and what the device may do.
  settings   jsonb NOT NULL,
  uses_left  integer NOT NULL CHECK (uses_left >= 0),
  until      timestamptz NOT NULL,
  made_at    timestamptz NOT NULL,
  made_by    uuid NOT NULL REFERENCES person (id)
);

CREATE TABLE device (
  id              uuid PRIMARY KEY,
  name            text NOT NULL,
  card            uuid NOT NULL REFERENCES pairing_card (id),
  unit            text NOT NULL REFERENCES unit (code),
  -- Of the token that the device shows at each contact only the hash is kept.
  token_hash      text NOT NULL UNIQUE,
  paired_at       timestamptz NOT NULL,
  last_contact_at timestamptz,
  last_person     uuid REFERENCES person (id),
  -- How far its clock was from ours at the last contact: positive when it is ahead.
  clock_off_ms    bigint,
  blocked_at      timestamptz,
  blocked_by      uuid REFERENCES person (id)
);

-- Changes that came and wrote no event of their own: what said the same, what was in conflict, acts and answers.
CREATE TABLE known_change (
  id         uuid PRIMARY KEY,
  stands_for uuid NOT NULL,
  outcome    text NOT NULL CHECK (outcome IN ('received', 'same', 'conflict')),
  at         timestamptz NOT NULL,
  device     uuid REFERENCES device (id)
);

-- What stands in the field and what came against it: neither silently wins.
CREATE TABLE field_conflict (
  id         uuid PRIMARY KEY,
  report     bigint NOT NULL REFERENCES report (id),
  cell       text NOT NULL,
  content    jsonb NOT NULL,
  here       jsonb NOT NULL,
  person     uuid NOT NULL REFERENCES person (id),
  device     uuid REFERENCES device (id),
  at         timestamptz NOT NULL,
  settled_at timestamptz
);
CREATE INDEX field_conflict_report ON field_conflict (report);

CREATE TABLE case_record (
  id       uuid PRIMARY KEY,
  register text NOT NULL REFERENCES case_register (code),
  -- The facility that has it.
  unit     text NOT NULL REFERENCES unit (code),
  parent   uuid REFERENCES case_record (id)
);
CREATE INDEX case_record_unit ON case_record (unit, register);

-- Filled case forms, kept for ever as they were filled.
CREATE TABLE case_entry (
  seq         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  id          uuid NOT NULL UNIQUE,
  case_id     uuid NOT NULL REFERENCES case_record (id),
  edition     integer NOT NULL,
  form        text NOT NULL,
  answers     jsonb NOT NULL,
  -- When it happened; when it was typed, by the device's clock put right; when it came.
  happened_on date NOT NULL,
  made_at     timestamptz NOT NULL,
  received_at timestamptz NOT NULL,
  person      uuid NOT NULL REFERENCES person (id),
  device      uuid REFERENCES device (id),
  corrects    uuid REFERENCES case_entry (id)
);
CREATE INDEX case_entry_case ON case_entry (case_id);
