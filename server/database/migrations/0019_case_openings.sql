-- Who opened which case at the office, with one row for a person and a day (cases/openings.ts).
CREATE TABLE case_opening (
  case_id  uuid NOT NULL REFERENCES case_record (id),
  person   uuid NOT NULL REFERENCES person (id),
  day      date NOT NULL,
  first_at timestamptz NOT NULL,
  last_at  timestamptz NOT NULL,
  times    integer NOT NULL DEFAULT 1,
  PRIMARY KEY (case_id, person, day)
);
CREATE INDEX case_opening_last ON case_opening (last_at);
