-- What becomes of a case besides its entries (cases/life.ts): it goes to another facility, is closed, is opened again, is
-- merged into another one or taken out of it. Devices of `units` hear of it.
CREATE TABLE case_event (
  seq       bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  id        uuid NOT NULL UNIQUE,
  case_id   uuid NOT NULL REFERENCES case_record (id),
  at        timestamptz NOT NULL,
  person    uuid NOT NULL REFERENCES person (id),
  device    uuid REFERENCES device (id),
  act       text NOT NULL CHECK (act IN ('moved', 'closed', 'reopened', 'merged', 'takenOut')),
  units     text[] NOT NULL,
  -- Of a move: from where to where. From which day on stands in `day`, null where it was there all the time.
  from_unit text REFERENCES unit (code),
  to_unit   text REFERENCES unit (code),
  -- Of closing: the day, and how it ended.
  day       date,
  outcome   text,
  text      text NOT NULL DEFAULT '',
  -- The entry that opened it again, where it was no person's own act.
  entry     uuid REFERENCES case_entry (id)
);
CREATE INDEX case_event_case ON case_event (case_id, seq);

ALTER TABLE case_record
  -- How it came to its unit: core/cases/life CaseMove, in their order.
  ADD COLUMN moves jsonb NOT NULL DEFAULT '[]',
  -- Other facilities that see it: those that had it, and those of the cases that it is one with.
  ADD COLUMN shared_with text[] NOT NULL DEFAULT '{}',
  ADD COLUMN closed_on date,
  ADD COLUMN outcome text,
  ADD CHECK ((closed_on IS NULL) = (outcome IS NULL));
CREATE INDEX case_record_shared_with ON case_record USING gin (shared_with) WHERE shared_with <> '{}';
CREATE INDEX case_record_closed ON case_record (last_on, id) WHERE closed_on IS NOT NULL;

-- What was merged before: the other facilities see it, and their devices hear of it.
WITH RECURSIVE up (start, id, next) AS (
  SELECT id, id, merged_into FROM case_record c
  WHERE merged_into IS NOT NULL OR EXISTS (SELECT 1 FROM case_record m WHERE m.merged_into = c.id)
  UNION SELECT up.start, c.id, c.merged_into FROM case_record c JOIN up ON up.next = c.id),
one AS (SELECT up.start AS id, up.id AS root, c.unit FROM up JOIN case_record c ON c.id = up.start WHERE up.next IS NULL)
UPDATE case_record c
  SET shared_with = ARRAY(SELECT DISTINCT o.unit FROM one o WHERE o.root = one.root AND o.unit <> c.unit ORDER BY o.unit)
  FROM one WHERE one.id = c.id;
INSERT INTO case_event (id, case_id, at, person, act, units)
  SELECT gen_random_uuid(), c.id, e.at, e.person, 'merged', ARRAY[c.unit] || c.shared_with
  FROM case_record c JOIN LATERAL (
    SELECT e.at, e.person FROM case_pair_event e JOIN case_pair p ON p.id = e.pair
    WHERE e.act = 'merged' AND c.id IN (p.one, p.other) ORDER BY e.seq DESC LIMIT 1) e ON true
  WHERE c.merged_into IS NOT NULL ORDER BY e.at;

-- When the personal answers of a case were replaced, because their time was over (cases/forget-personal.ts).
ALTER TABLE case_record ADD COLUMN forgotten_at timestamptz;
