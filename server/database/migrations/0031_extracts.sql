-- Extracts: choices of columns, filters and order that somebody saved.
CREATE TABLE extract (
  id         uuid PRIMARY KEY,
  person     uuid NOT NULL REFERENCES person (id),
  name       text NOT NULL,
  definition jsonb NOT NULL,
  -- Everybody who takes extracts sees it; the rows are those that each of them may see.
  shared     boolean NOT NULL,
  version    integer NOT NULL DEFAULT 1,
  changed_at timestamptz NOT NULL,
  -- Written into the folder for extracts by itself: each day, week or month, and perhaps only what came since.
  repeats    text CHECK (repeats IN ('day', 'week', 'month')),
  only_new   boolean NOT NULL DEFAULT false,
  next_at    timestamptz,
  -- When it was written last, and why it could not be.
  last_at    timestamptz,
  problem    text
);
CREATE INDEX extract_next ON extract (next_at) WHERE repeats IS NOT NULL;
CREATE INDEX extract_changed ON extract (changed_at DESC, id DESC);

-- Files that were asked for, or written into the folder. Their rows stay as the log when the bytes are gone.
CREATE TABLE extract_file (
  id         uuid PRIMARY KEY,
  -- Who asked: nobody else gets it.
  person     uuid NOT NULL REFERENCES person (id),
  at         timestamptz NOT NULL,
  -- A list of { name, definition, of, personal }, as they were when the file was asked for.
  extracts   jsonb NOT NULL,
  name       text NOT NULL,
  media_type text NOT NULL,
  state      text NOT NULL CHECK (state IN ('waiting', 'ready', 'failed', 'stopped', 'expired', 'written')),
  rows       bigint NOT NULL DEFAULT 0,
  bytes      bigint NOT NULL DEFAULT 0,
  downloads  integer NOT NULL DEFAULT 0,
  -- How often it was begun: a turn that was taken for dead writes nothing more.
  attempt    integer NOT NULL DEFAULT 0,
  expires_at timestamptz,
  problem    text
);
CREATE INDEX extract_file_at ON extract_file (at DESC, id DESC);
CREATE INDEX extract_file_person ON extract_file (person, at DESC, id DESC);
CREATE INDEX extract_file_waiting ON extract_file (at, id) WHERE state = 'waiting';
CREATE INDEX extract_file_expires ON extract_file (expires_at) WHERE state = 'ready';

CREATE TABLE extract_part (
  file   uuid NOT NULL REFERENCES extract_file (id) ON DELETE CASCADE,
  number integer NOT NULL,
  bytes  bytea NOT NULL,
  PRIMARY KEY (file, number)
);

-- A correction stands beside what it corrects.
CREATE INDEX case_entry_corrects ON case_entry (corrects) WHERE corrects IS NOT NULL;
