ALTER TABLE person
  -- What the role may do and this person may not.
  ADD COLUMN without text[] NOT NULL DEFAULT '{}',
  -- What of the branch a reader sees: core/contract/people Sharing. Null is everything.
  ADD COLUMN sharing jsonb CHECK (sharing IS NULL OR role = 'reader');

-- What was done with a device, in order.
CREATE TABLE device_event (
  seq    bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  device uuid NOT NULL REFERENCES device (id),
  at     timestamptz NOT NULL,
  person uuid NOT NULL REFERENCES person (id),
  act    text NOT NULL CHECK (act IN ('blocked', 'letIn', 'handedOver', 'pairedAgain')),
  -- The name that it had before it was handed over.
  text   text
);
CREATE INDEX device_event_device ON device_event (device, seq);
