-- The rest of Define: who reports in four ways, groups of units, services not offered, lists of choices, case
-- registers with their drafts and editions, scanned paper; and people who come in by a one-time code.

CREATE TABLE unit_group (
  code text PRIMARY KEY CHECK (code ~ '^[a-z][a-z0-9_]*$'),
  name jsonb NOT NULL
);

CREATE TABLE unit_group_member (
  unit_group text NOT NULL REFERENCES unit_group (code),
  unit       text NOT NULL REFERENCES unit (code),
  from_day   date NOT NULL,
  to_day     date,
  PRIMARY KEY (unit_group, unit, from_day),
  CHECK (to_day IS NULL OR to_day > from_day)
);

-- All of a level (perhaps within a branch), whatever is in a branch, a group, or one unit.
ALTER TABLE assignment DROP CONSTRAINT assignment_pkey;
ALTER TABLE assignment ALTER COLUMN branch DROP NOT NULL;
ALTER TABLE assignment ALTER COLUMN level DROP NOT NULL;
ALTER TABLE assignment ADD COLUMN unit_group text REFERENCES unit_group (code);
ALTER TABLE assignment ADD COLUMN unit text REFERENCES unit (code);
ALTER TABLE assignment ADD CHECK ((unit_group IS NOT NULL)::int + (unit IS NOT NULL)::int + (branch IS NOT NULL OR level IS NOT NULL)::int = 1);
CREATE INDEX assignment_dataset ON assignment (dataset);

-- Who was to report an edition when it was published.
ALTER TABLE edition ADD COLUMN reports jsonb;
UPDATE dataset_draft SET reports = jsonb_build_array(reports || '{"by": "level", "to": null}'::jsonb);

-- What a unit does not offer, over [from_day, to_day): its cells are answered so before anybody types.
CREATE TABLE not_offered (
  unit     text NOT NULL REFERENCES unit (code),
  dataset  text NOT NULL,
  item     text NOT NULL,
  from_day date NOT NULL,
  to_day   date,
  PRIMARY KEY (unit, dataset, item, from_day),
  CHECK (to_day IS NULL OR to_day > from_day)
);

CREATE TABLE choice_list (
  code       text PRIMARY KEY CHECK (code ~ '^[a-z][a-z0-9_]*$'),
  definition jsonb NOT NULL,
  version    integer NOT NULL,
  updated_at timestamptz NOT NULL,
  updated_by uuid NOT NULL REFERENCES person (id)
);

CREATE TABLE case_register (
  code text PRIMARY KEY CHECK (code ~ '^[a-z][a-z0-9_]*$'),
  name jsonb NOT NULL
);

-- Never changed, like the editions of datasets.
CREATE TABLE register_edition (
  register     text NOT NULL REFERENCES case_register (code),
  number       integer NOT NULL CHECK (number > 0),
  definition   jsonb NOT NULL,
  published_at timestamptz NOT NULL,
  PRIMARY KEY (register, number)
);

CREATE TABLE register_draft (
  register   text PRIMARY KEY CHECK (register ~ '^[a-z][a-z0-9_]*$'),
  definition jsonb NOT NULL,
  version    integer NOT NULL,
  updated_at timestamptz NOT NULL,
  updated_by uuid NOT NULL REFERENCES person (id)
);

-- The paper that a dataset or register comes from, a scanned page each.
CREATE TABLE paper_page (
  id         uuid PRIMARY KEY,
  kind       text NOT NULL CHECK (kind IN ('dataset', 'register')),
  code       text NOT NULL,
  media_type text NOT NULL CHECK (media_type IN ('image/png', 'image/jpeg', 'image/webp')),
  bytes      bytea NOT NULL,
  at         timestamptz NOT NULL,
  person     uuid NOT NULL REFERENCES person (id)
);
CREATE INDEX paper_page_code ON paper_page (kind, code);

-- A person begins with a one-time code, of which only the hash is kept, and chooses the password themselves.
ALTER TABLE person ALTER COLUMN password_hash DROP NOT NULL;
ALTER TABLE person ADD COLUMN own_only boolean NOT NULL DEFAULT false;
ALTER TABLE person ADD COLUMN code_hash text;
ALTER TABLE person ADD COLUMN code_until timestamptz;

CREATE TABLE person_event (
  seq    bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  person uuid NOT NULL REFERENCES person (id),
  at     timestamptz NOT NULL,
  by     uuid NOT NULL REFERENCES person (id),
  act    text NOT NULL CHECK (act IN ('made', 'changed', 'code', 'off', 'on')),
  old    jsonb,
  new    jsonb
);
CREATE INDEX person_event_person ON person_event (person);
