-- What a file is within its job, wherever it lies: its reasons are found by it after the workspace was moved.
ALTER TABLE route ADD COLUMN identity VARCHAR(8000) DEFAULT '' NOT NULL;
-- What was done with a file, beside the words for it.
ALTER TABLE run_file ADD COLUMN routed_kind VARCHAR(10);
ALTER TABLE run_file ADD COLUMN routed_to VARCHAR(8000);
