-- Changes of the tree of units, each with what was true before and after of every unit that it touched: for the
-- history, and so that it can be taken back in one act.
CREATE TABLE unit_change (
  seq       bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  id        uuid NOT NULL UNIQUE,
  at        timestamptz NOT NULL,
  person    uuid NOT NULL REFERENCES person (id),
  -- By hand, or the format of the file.
  source    text NOT NULL CHECK (source IN ('hand', 'csv', 'geojson', 'fhir')),
  from_day  date NOT NULL,
  -- How many units were new, renamed, moved …
  counts    jsonb NOT NULL,
  -- Histories by the unit's code; null before one that was new.
  before    jsonb NOT NULL,
  after     jsonb NOT NULL,
  undone_at timestamptz,
  undone_by uuid REFERENCES person (id),
  CHECK ((undone_at IS NULL) = (undone_by IS NULL))
);
