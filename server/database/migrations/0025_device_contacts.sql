-- What a device said of itself when it was last heard, and its contacts, for who wants to know whether it works.
ALTER TABLE device
  -- What still waited on it then, and what of it needs a person there.
  ADD COLUMN waiting integer,
  ADD COLUMN needs_person integer,
  -- How much of what its browser may keep is full, from 0 to 1.
  ADD COLUMN storage_share real,
  -- The build of the application that it runs.
  ADD COLUMN app_version text;

-- One row for what a device does within some minutes, by one person.
CREATE TABLE device_contact (
  seq          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  device       uuid NOT NULL REFERENCES device (id),
  person       uuid REFERENCES person (id),
  began_at     timestamptz NOT NULL,
  last_at      timestamptz NOT NULL,
  received     integer NOT NULL DEFAULT 0,
  refused      integer NOT NULL DEFAULT 0,
  conflicts    integer NOT NULL DEFAULT 0,
  waiting      integer,
  clock_off_ms bigint
);
CREATE INDEX device_contact_device ON device_contact (device, seq);
CREATE INDEX device_contact_old ON device_contact (last_at);
