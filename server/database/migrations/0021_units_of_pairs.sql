-- The facilities of both cases of a pair, by which the pairs of a branch are found; a case stays with its
-- facility. Written with the pair (cases/match.ts).
ALTER TABLE case_pair ADD COLUMN one_unit text, ADD COLUMN other_unit text;
UPDATE case_pair p SET one_unit = c.unit, other_unit = d.unit
FROM case_record c, case_record d WHERE c.id = p.one AND d.id = p.other;
ALTER TABLE case_pair ALTER COLUMN one_unit SET NOT NULL, ALTER COLUMN other_unit SET NOT NULL;
CREATE INDEX case_pair_one_unit ON case_pair (one_unit, state);
CREATE INDEX case_pair_other_unit ON case_pair (other_unit, state);
