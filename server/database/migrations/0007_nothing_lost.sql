-- What makes the promises to devices true: every change that came, under which identifier and with which content;
-- the backups, and how often this installation was put back from one; limits on tries; owners of definitions.

-- Every change that was taken in, and what it was answered. The digest tells a repetition from another change that
-- uses the same identifier.
CREATE TABLE received_change (
  id      uuid PRIMARY KEY,
  digest  text NOT NULL,
  person  uuid NOT NULL REFERENCES person (id),
  device  uuid REFERENCES device (id),
  at      timestamptz NOT NULL,
  outcome jsonb NOT NULL
);

-- Who decided a conflict, and by which change of the cell.
ALTER TABLE field_conflict ADD COLUMN settled_by uuid REFERENCES person (id);
ALTER TABLE field_conflict ADD COLUMN settled_with uuid;

-- One row for each time that this database began a life of its own: at its start, and after each backup put back.
CREATE TABLE incarnation (
  number      integer PRIMARY KEY,
  since       timestamptz NOT NULL,
  -- The backup from which it was put back, and the instant up to which that one knew everything.
  backup      uuid UNIQUE,
  backup_at   timestamptz
);
INSERT INTO incarnation (number, since) VALUES (1, now());

CREATE TABLE backup (
  id uuid PRIMARY KEY,
  -- Everything received before this instant is in it.
  at timestamptz NOT NULL,
  -- Where it lies.
  place text NOT NULL
);
CREATE INDEX backup_at ON backup (at);

-- From where people came in before: a hash of the address or device. Others' wrong tries do not lock these.
CREATE TABLE known_source (
  person  uuid NOT NULL REFERENCES person (id),
  source  text NOT NULL,
  last_at timestamptz NOT NULL,
  PRIMARY KEY (person, source)
);
-- Wrong tries are counted by the server itself, by a clock that nobody sets.
DROP TABLE sign_in_failure;

-- What was shown to somebody who may sign, by its checksum: when it changed since, the difference can be named.
CREATE TABLE shown_figures (
  checksum text PRIMARY KEY,
  snapshot text NOT NULL,
  at       timestamptz NOT NULL
);

-- Whose each definition is: a branch of the tree, or (null) the whole installation, as of all that has no row here.
CREATE TABLE definition_owner (
  kind   text NOT NULL CHECK (kind IN ('dataset', 'register', 'list')),
  code   text NOT NULL,
  branch text REFERENCES unit (code),
  PRIMARY KEY (kind, code)
);
-- What somebody has begun, and nobody published, is theirs.
INSERT INTO definition_owner (kind, code, branch)
  SELECT 'dataset', d.dataset, p.branch FROM dataset_draft d JOIN person p ON p.id = d.updated_by
    WHERE NOT EXISTS (SELECT 1 FROM edition e WHERE e.dataset = d.dataset)
  UNION ALL
  SELECT 'register', d.register, p.branch FROM register_draft d JOIN person p ON p.id = d.updated_by
    WHERE NOT EXISTS (SELECT 1 FROM register_edition e WHERE e.register = d.register);

-- Sessions of browsers: signing out ends one at the server, whoever has a copy of its cookie.
CREATE TABLE web_session (
  id      uuid PRIMARY KEY,
  person  uuid NOT NULL REFERENCES person (id),
  epoch   integer NOT NULL,
  made_at timestamptz NOT NULL
);
CREATE INDEX web_session_made ON web_session (made_at);

-- A blocked device that may bring its work does so once: within an hour of its first request.
ALTER TABLE device ADD COLUMN let_in_at timestamptz;

-- For whom a device without a card was made: a person makes a few, not a hundred.
ALTER TABLE device ADD COLUMN made_for uuid REFERENCES person (id);
CREATE INDEX device_made_for ON device (made_for);
