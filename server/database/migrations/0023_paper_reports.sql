-- Reports that a facility filled on paper and the office entered: which paper, who filled it, and who typed it in.
CREATE TABLE report_paper (
  -- Of the act of entering: sent twice, it is the same one.
  id        uuid PRIMARY KEY,
  report    bigint NOT NULL REFERENCES report (id),
  -- The day on which the paper was written.
  paper_on  date NOT NULL,
  -- Who filled it at the facility, as it says.
  filled_by text NOT NULL,
  person    uuid NOT NULL REFERENCES person (id),
  at        timestamptz NOT NULL
);
CREATE INDEX report_paper_report ON report_paper (report, at);
