-- A discrepancy is about a report, or about a case: its rules, judged on what is known of it, or within one
-- entry (cases/judge-cases.ts).
ALTER TABLE discrepancy
  ALTER COLUMN report DROP NOT NULL,
  ALTER COLUMN round DROP NOT NULL,
  ADD COLUMN case_id uuid REFERENCES case_record (id),
  ADD CHECK ((report IS NULL) = (round IS NULL)),
  ADD CHECK ((report IS NULL) <> (case_id IS NULL));
CREATE UNIQUE INDEX discrepancy_case ON discrepancy (case_id, doubt_key) WHERE case_id IS NOT NULL;
CREATE INDEX discrepancy_case_unsettled ON discrepancy (case_id) WHERE case_id IS NOT NULL AND state <> 'settled';
-- Every case is judged once.
UPDATE case_record SET to_fold = true;
