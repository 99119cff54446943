-- Whom to call at a facility. A change is an end and a new row: who could be reached a year ago stays known.
CREATE TABLE facility_contact (
  id         uuid PRIMARY KEY,
  unit       text NOT NULL REFERENCES unit (code),
  name       text NOT NULL,
  -- ITU-T E.164: a plus sign and digits.
  phone      text NOT NULL,
  language   text NOT NULL,
  -- Gets reminders by text message.
  nudges     boolean NOT NULL,
  added_at   timestamptz NOT NULL,
  added_by   uuid NOT NULL REFERENCES person (id),
  removed_at timestamptz,
  removed_by uuid REFERENCES person (id)
);
CREATE UNIQUE INDEX facility_contact_now ON facility_contact (unit, phone) WHERE removed_at IS NULL;

-- What a reminder says, by language: of a district, or of everybody (no unit). The newest row holds.
CREATE TABLE nudge_text (
  seq    bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  unit   text REFERENCES unit (code),
  -- Null goes back to the text that the installation came with, or that of everybody.
  text   jsonb,
  at     timestamptz NOT NULL,
  person uuid NOT NULL REFERENCES person (id)
);
CREATE INDEX nudge_text_unit ON nudge_text (unit, seq);

-- One reminder to one number.
CREATE TABLE nudge (
  -- The gateway knows the message by it: sent twice, it is the same one.
  id       uuid PRIMARY KEY,
  round    text NOT NULL REFERENCES round (id),
  unit     text NOT NULL REFERENCES unit (code),
  contact  uuid NOT NULL REFERENCES facility_contact (id),
  phone    text NOT NULL,
  language text NOT NULL,
  text     text NOT NULL,
  asked_at timestamptz NOT NULL,
  asked_by uuid NOT NULL REFERENCES person (id),
  state    text NOT NULL,
  -- When it is sent, or its delivery asked for; null once nothing more is expected of it.
  next_at  timestamptz,
  tries    integer NOT NULL DEFAULT 0,
  -- Why it was not sent, or not yet.
  problem  text,
  taken_at timestamptz,
  ended_at timestamptz
);
CREATE INDEX nudge_next ON nudge (next_at) WHERE next_at IS NOT NULL;
CREATE INDEX nudge_log ON nudge (asked_at, id);
CREATE INDEX nudge_unit ON nudge (unit, asked_at);
CREATE INDEX nudge_phone ON nudge (phone, asked_at);
CREATE UNIQUE INDEX nudge_once ON nudge (round, contact) WHERE state IN ('waiting', 'sending');

-- What a person did last.
CREATE INDEX report_event_person ON report_event (person, at);
CREATE INDEX discrepancy_event_person ON discrepancy_event (person, at);
CREATE INDEX nudge_person ON nudge (asked_by, asked_at);

-- Conflicts that nobody has decided.
CREATE INDEX field_conflict_open ON field_conflict (report) WHERE settled_at IS NULL;

-- What the message gateway that ships with the application was given. A real gateway has its own memory.
CREATE TABLE stand_in_message (
  reference uuid PRIMARY KEY,
  phone     text NOT NULL,
  text      text NOT NULL,
  taken_at  timestamptz NOT NULL
);
