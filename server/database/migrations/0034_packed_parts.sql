-- Parts of files that people take out are stored packed: a table of text needs a tenth of the room, and of the time.
ALTER TABLE extract_part ADD COLUMN packed boolean NOT NULL DEFAULT false;
-- What is packed is not packed a second time.
ALTER TABLE extract_part ALTER COLUMN bytes SET STORAGE EXTERNAL;
