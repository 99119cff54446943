-- What is being defined: one draft for each dataset, until it is published as the next edition.
CREATE TABLE dataset_draft (
  dataset    text PRIMARY KEY CHECK (dataset ~ '^[a-z][a-z0-9_]*$'),
  definition jsonb NOT NULL,
  -- Who is to report it: all units of a level within a branch, from a day.
  reports    jsonb NOT NULL,
  -- Counts its changes: whoever saves names the one that they worked on.
  version    integer NOT NULL,
  updated_at timestamptz NOT NULL,
  updated_by uuid NOT NULL REFERENCES person (id)
);
