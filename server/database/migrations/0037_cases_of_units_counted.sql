-- The cases of a district are counted for each list of them. Whether a case was merged into another stood in no index
-- that begins with the unit, so the index entries of all cases were read, of every other district too.
DROP INDEX case_record_unit_last;
CREATE INDEX case_record_unit_last ON case_record (unit, last_on, id) INCLUDE (merged_into);
