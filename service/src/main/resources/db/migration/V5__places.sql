-- What a file is within its job, wherever it lies: its reasons are found by it after the workspace was moved.
ALTER TABLE route ADD COLUMN identity VARCHAR(8000) DEFAULT '' NOT NULL;
