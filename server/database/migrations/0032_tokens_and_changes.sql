-- Programs of other systems: each is a person without a password, who comes by a token.
ALTER TABLE person DROP CONSTRAINT person_role_check;
ALTER TABLE person ADD CONSTRAINT person_role_check
  CHECK (role IN ('administrator', 'officer', 'clerk', 'reader', 'machine'));

CREATE TABLE api_token (
  person       uuid PRIMARY KEY REFERENCES person (id),
  -- Only this is kept of it, and its last characters, by which people know it again.
  token_hash   text NOT NULL UNIQUE,
  last_four    text NOT NULL,
  made_by      uuid NOT NULL REFERENCES person (id),
  made_at      timestamptz NOT NULL,
  ends_at      timestamptz NOT NULL,
  -- Ended by hand before its time.
  ended_at     timestamptz,
  ended_by     uuid REFERENCES person (id),
  last_used_at timestamptz
);

-- What changed, for programs that follow (machines/feed.ts). Writers add rows and wait for nobody. Who reads gives the
-- new ones their places and removes older rows of the same thing: each thing stands once, at its latest place, and
-- nothing gets a place before one that was read already.
CREATE TABLE changed_thing (
  id   bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  seq  bigint UNIQUE,
  at   timestamptz NOT NULL,
  kind text NOT NULL CHECK (kind IN ('report', 'case', 'unit', 'districtReport')),
  -- The dataset or the register; empty for a unit.
  of   text NOT NULL,
  -- The period of a report, the case; empty for a unit.
  key  text NOT NULL,
  unit text NOT NULL
);
CREATE INDEX changed_thing_new ON changed_thing (id) WHERE seq IS NULL;
CREATE INDEX changed_thing_same ON changed_thing (kind, of, key, unit);
