-- What duplicates are looked for by: the block keys of each case (core/matching/blocks). Written by cases/match.ts.
CREATE TABLE case_block (
  register text NOT NULL,
  key      text NOT NULL,
  case_id  uuid NOT NULL REFERENCES case_record (id),
  PRIMARY KEY (register, key, case_id)
);
CREATE INDEX case_block_case ON case_block (case_id);

-- A case that was found to be another one, which it is part of since. Its entries stay its own.
ALTER TABLE case_record ADD COLUMN merged_into uuid REFERENCES case_record (id);
CREATE INDEX case_record_merged ON case_record (merged_into) WHERE merged_into IS NOT NULL;

-- Two cases that may be one subject; `one` is the smaller identifier.
CREATE TABLE case_pair (
  id       uuid PRIMARY KEY,
  register text NOT NULL REFERENCES case_register (code),
  one      uuid NOT NULL REFERENCES case_record (id),
  other    uuid NOT NULL REFERENCES case_record (id),
  score    double precision NOT NULL,
  -- How alike each part is that both know, from 0 to 1.
  parts    jsonb NOT NULL,
  found_at timestamptz NOT NULL,
  -- unlike: an answer was corrected, and they are not alike any more.
  state    text NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'merged', 'apart', 'unlike')),
  UNIQUE (one, other),
  CHECK (one < other)
);
CREATE INDEX case_pair_other ON case_pair (other);
CREATE INDEX case_pair_state ON case_pair (state, score, id);

-- What people decided about pairs.
CREATE TABLE case_pair_event (
  seq    bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  pair   uuid NOT NULL REFERENCES case_pair (id),
  at     timestamptz NOT NULL,
  person uuid NOT NULL REFERENCES person (id),
  act    text NOT NULL CHECK (act IN ('merged', 'apart', 'undone')),
  -- The case that was kept.
  kept   uuid REFERENCES case_record (id),
  text   text NOT NULL DEFAULT ''
);
CREATE INDEX case_pair_event_pair ON case_pair_event (pair, seq);

-- Cases that are here already are compared when they are folded.
UPDATE case_record SET to_fold = true;
