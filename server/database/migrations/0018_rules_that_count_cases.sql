-- The registers whose cases the rules of an edition count: entries have its reports judged again
-- (doubts/judge-counting.ts).
ALTER TABLE edition ADD COLUMN counts text[] NOT NULL DEFAULT '{}';
UPDATE edition SET counts = coalesce((
  SELECT array_agg(DISTINCT counted [1])
  FROM jsonb_array_elements(definition -> 'rules') rule,
    regexp_matches(rule ->> 'expression', '\mcount\s*\(\s*([a-z][a-z0-9_]*)', 'g') counted), '{}');
-- Such rules were kept and not judged before.
INSERT INTO report_to_judge (report, since)
SELECT p.id, now() FROM report p JOIN round r ON r.id = p.round
  JOIN edition e ON e.dataset = r.dataset AND e.number = p.edition
WHERE e.counts <> '{}' AND p.first_received_at IS NOT NULL ON CONFLICT DO NOTHING;

-- The difference between a report and its register is a discrepancy, too.
ALTER TABLE discrepancy DROP CONSTRAINT discrepancy_source_check,
  ADD CONSTRAINT discrepancy_source_check CHECK (source IN ('rule', 'range', 'cases'));
CREATE INDEX discrepancy_cases ON discrepancy (report) WHERE source = 'cases';
