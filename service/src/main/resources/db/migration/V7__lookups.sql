-- The version of rules has a third part where a job looks values up: that of its tables.
ALTER TABLE arrival ALTER COLUMN rules VARCHAR(38) NOT NULL;
