-- A discrepancy knows its round: the settled ones of years ago are not gone through to find those of one round.
ALTER TABLE report ADD UNIQUE (id, round);
ALTER TABLE discrepancy ADD COLUMN round text;
UPDATE discrepancy d SET round = p.round FROM report p WHERE p.id = d.report;
ALTER TABLE discrepancy ALTER COLUMN round SET NOT NULL,
  DROP CONSTRAINT discrepancy_report_fkey,
  ADD FOREIGN KEY (report, round) REFERENCES report (id, round);
CREATE INDEX discrepancy_round ON discrepancy (round, state);

-- Names of a person, folded: what a search looks in (people/search-text.ts). Empty until the next start.
ALTER TABLE person ADD COLUMN search_text text NOT NULL DEFAULT '';
CREATE INDEX person_search ON person USING gin (search_text gin_trgm_ops);
