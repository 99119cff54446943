-- The day on which a form was filled on paper, where the office entered it for the facility (cases/take-paper.ts).
ALTER TABLE case_entry ADD COLUMN paper_on date;
