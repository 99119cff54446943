-- What is known of a case, folded from its entries (cases/known.ts), for lists that are filtered and sorted by it.
ALTER TABLE case_record
  -- The latest known answers, by question: as core/cases/fold folds them.
  ADD COLUMN known jsonb NOT NULL DEFAULT '{}',
  -- How many of its entries count: a corrected one and its correction are one.
  ADD COLUMN entries integer NOT NULL DEFAULT 0,
  -- When its newest entry was received.
  ADD COLUMN received_at timestamptz,
  -- What it still needs, by what its register follows.
  ADD COLUMN next_visit date,
  ADD COLUMN result_awaited boolean NOT NULL DEFAULT false,
  -- Its entries, or the register, say something else since it was folded.
  ADD COLUMN to_fold boolean NOT NULL DEFAULT true;
CREATE INDEX case_record_to_fold ON case_record (id) WHERE to_fold;
CREATE INDEX case_record_known ON case_record USING gin (known jsonb_path_ops);
CREATE INDEX case_record_register_last ON case_record (register, last_on, id);
CREATE INDEX case_record_next_visit ON case_record (next_visit, id) WHERE next_visit IS NOT NULL;
CREATE INDEX case_record_result_awaited ON case_record (last_on, id) WHERE result_awaited;
CREATE INDEX case_record_parent ON case_record (parent, last_on, id) WHERE parent IS NOT NULL;
