-- A clerk, too, can be held to some datasets and registers (decision 72).
ALTER TABLE person DROP CONSTRAINT person_check;
ALTER TABLE person ADD CONSTRAINT person_sharing_check CHECK (sharing IS NULL OR role IN ('reader', 'clerk'));
