-- Whether extracts may go to a recipient: none, those without personal answers, or any.
ALTER TABLE recipient ADD COLUMN extracts text NOT NULL DEFAULT 'none' CHECK (extracts IN ('none', 'plain', 'personal'));

-- An extract that repeats goes to this recipient; without one into the folder.
ALTER TABLE extract ADD COLUMN recipient uuid REFERENCES recipient (id);

-- A file on its way to a recipient: waiting to be made, sending, then sent, refused or failed.
ALTER TABLE extract_file
  ADD COLUMN recipient uuid REFERENCES recipient (id),
  -- All rows that there are; else only those since the last file that the recipient took.
  ADD COLUMN is_whole boolean NOT NULL DEFAULT true,
  ADD COLUMN tries integer NOT NULL DEFAULT 0,
  ADD COLUMN next_at timestamptz,
  ADD COLUMN receipt text,
  -- A list of { row, message }: the rows that the recipient did not take.
  ADD COLUMN refused jsonb NOT NULL DEFAULT '[]',
  DROP CONSTRAINT extract_file_state_check,
  ADD CONSTRAINT extract_file_state_check CHECK (state IN
    ('waiting', 'ready', 'failed', 'stopped', 'expired', 'written', 'sending', 'sent', 'refused'));
CREATE INDEX extract_file_due ON extract_file (next_at, id) WHERE next_at IS NOT NULL;
CREATE INDEX extract_file_recipient ON extract_file (recipient, at DESC) WHERE recipient IS NOT NULL;

-- What the stand-in for a repository keeps of entries.
CREATE TABLE stand_in_entry (
  id        text PRIMARY KEY,
  reference text NOT NULL,
  resource  jsonb NOT NULL
);
