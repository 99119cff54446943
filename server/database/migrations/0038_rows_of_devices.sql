-- PostgreSQL looked up the person and the device of each receipt and each entry of a case, and the case of each of its
-- blocks: most of the time that writing them took (decision 64). Their writers have just read what they refer to, and
-- persons, devices and cases are never deleted. `npm run verify` looks for rows that refer to nothing.
ALTER TABLE received_change DROP CONSTRAINT received_change_person_fkey, DROP CONSTRAINT received_change_device_fkey;
ALTER TABLE case_entry DROP CONSTRAINT case_entry_person_fkey, DROP CONSTRAINT case_entry_device_fkey;
ALTER TABLE case_block DROP CONSTRAINT case_block_case_id_fkey;
