-- PostgreSQL looked up the report and the person of each cell and of each of its events: three quarters of the time
-- that writing them took. They have one writer, which holds the row of the report (server/reports/write-cells.ts), and
-- the history of a report still refers to both. `npm run verify` looks for cells without a report.
ALTER TABLE cell_event DROP CONSTRAINT cell_event_report_fkey, DROP CONSTRAINT cell_event_person_fkey;
ALTER TABLE cell_value DROP CONSTRAINT cell_value_report_fkey;
