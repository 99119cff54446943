-- A cell holds an answer of any kind: a number in value; yes or no in truth; a text, a chosen code or a day as
-- 2026-10-05 in text (days sort as texts do); several chosen codes in codes. A computed one is written by the
-- district (reports/computed-cells.ts), and is no answer of anybody.
ALTER TABLE cell_value ADD COLUMN truth boolean, ADD COLUMN text text, ADD COLUMN codes text[],
  ADD COLUMN computed boolean NOT NULL DEFAULT false,
  DROP CONSTRAINT cell_value_check,
  ADD CHECK (num_nonnulls(value, truth, text, codes) = CASE kind WHEN 'value' THEN 1 ELSE 0 END);

-- How many cells of a report do not apply by the answers that it has (reports/computed-cells.ts).
ALTER TABLE report ADD COLUMN not_applying integer NOT NULL DEFAULT 0;

-- The other datasets that the rules of an edition name: their reports have it judged again (checks/judge-others.ts).
ALTER TABLE edition ADD COLUMN others text[] NOT NULL DEFAULT '{}';

-- Items say which kind of answer they ask for, where they said which kind of number.
CREATE FUNCTION pg_temp.with_kinds(definition jsonb) RETURNS jsonb LANGUAGE sql AS $$
  SELECT jsonb_set(definition, '{sections}', coalesce((
    SELECT jsonb_agg(jsonb_set(s, '{items}', coalesce((
      SELECT jsonb_agg((i - 'number') || jsonb_build_object('kind', CASE i ->> 'number' WHEN 'decimal' THEN 'decimal' ELSE 'wholeNumber' END) ORDER BY n)
      FROM jsonb_array_elements(s -> 'items') WITH ORDINALITY AS one (i, n)), '[]')) ORDER BY m)
    FROM jsonb_array_elements(definition -> 'sections') WITH ORDINALITY AS part (s, m)), '[]'))
$$;
UPDATE edition SET definition = pg_temp.with_kinds(definition);
UPDATE dataset_draft SET definition = pg_temp.with_kinds(definition);
