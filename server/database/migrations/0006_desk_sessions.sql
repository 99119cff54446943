-- People at devices: sessions that live as long as the device may, keys of devices, files that come in pieces, and search.

-- A browser in which a clerk signs in is a device without a card.
ALTER TABLE device ALTER COLUMN card DROP NOT NULL;
-- What it is set to: copied from its card, so that a card can end.
ALTER TABLE device ADD COLUMN settings jsonb NOT NULL DEFAULT '{}';
-- Its public keys: what it signs carried files with, and what is written to it.
ALTER TABLE device ADD COLUMN keys jsonb;
-- A blocked device may still bring what waited on it, once, if the officer said so.
ALTER TABLE device ADD COLUMN lets_in boolean NOT NULL DEFAULT false;

-- A person at a device. It holds until the device is blocked, the person is switched off, or signs out everywhere.
CREATE TABLE desk_session (
  token_hash text PRIMARY KEY,
  device     uuid NOT NULL REFERENCES device (id),
  person     uuid NOT NULL REFERENCES person (id),
  epoch      integer NOT NULL,
  made_at    timestamptz NOT NULL
);
CREATE INDEX desk_session_person ON desk_session (person, device);

-- Opens a person's work on a device again when the PIN was forgotten; worthless without the device.
CREATE TABLE recovery_secret (
  device uuid NOT NULL REFERENCES device (id),
  person uuid NOT NULL REFERENCES person (id),
  secret text NOT NULL,
  PRIMARY KEY (device, person)
);

-- Pictures and sounds by the hash of their bytes, as they come in pieces.
CREATE TABLE stored_file (
  hash        text NOT NULL,
  unit        text NOT NULL REFERENCES unit (code),
  bytes       integer NOT NULL CHECK (bytes > 0),
  media_type  text,
  received_at timestamptz,
  PRIMARY KEY (hash, unit)
);
CREATE TABLE stored_piece (
  hash  text NOT NULL,
  unit  text NOT NULL,
  start integer NOT NULL,
  data  bytea NOT NULL,
  PRIMARY KEY (hash, unit, start),
  FOREIGN KEY (hash, unit) REFERENCES stored_file (hash, unit) ON DELETE CASCADE
);

-- What a search looks in, folded: the line, the name, the identifiers.
CREATE EXTENSION IF NOT EXISTS pg_trgm;
ALTER TABLE case_record ADD COLUMN sought text NOT NULL DEFAULT '';
CREATE INDEX case_record_sought ON case_record USING gin (sought gin_trgm_ops);

-- What never leaves the server: the secret halves of its keys.
CREATE TABLE secret (
  key   text PRIMARY KEY,
  value jsonb NOT NULL
);

-- What was carried in by file, and what became of it: told to the device by the next file back, or when it has a network.
CREATE TABLE carried (
  id       uuid PRIMARY KEY,
  device   uuid NOT NULL REFERENCES device (id),
  person   uuid NOT NULL REFERENCES person (id),
  at       timestamptz NOT NULL,
  taken_by uuid NOT NULL REFERENCES person (id),
  outcomes jsonb NOT NULL
);
CREATE INDEX carried_device ON carried (device);
