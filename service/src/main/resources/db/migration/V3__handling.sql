-- Entries of the history that are no plain runs: retries, undone runs, removed rows.
ALTER TABLE run ADD COLUMN kind VARCHAR(10) DEFAULT 'run' NOT NULL;
-- The run that a retry or an undo is about.
ALTER TABLE run ADD COLUMN of_run BIGINT;
ALTER TABLE run ADD COLUMN undone_by BIGINT;
ALTER TABLE run ADD COLUMN rows_aside BIGINT DEFAULT 0 NOT NULL;
ALTER TABLE run ADD COLUMN rows_repeated BIGINT DEFAULT 0 NOT NULL;
-- Files that the run had nothing new to say about (JSON); kept for the latest run of a job only.
ALTER TABLE run ADD COLUMN carried CLOB;

ALTER TABLE run_file ADD COLUMN rows_aside BIGINT DEFAULT 0 NOT NULL;
ALTER TABLE run_file ADD COLUMN rows_repeated BIGINT DEFAULT 0 NOT NULL;
-- The file's columns (JSON), where rows of it were rejected or left out.
ALTER TABLE run_file ADD COLUMN header CLOB;
-- Whether the ledger has learnt of it, and what it said before (JSON; nothing where it knew nothing).
ALTER TABLE run_file ADD COLUMN entered BOOLEAN DEFAULT TRUE NOT NULL;
ALTER TABLE run_file ADD COLUMN ledger_before CLOB;
-- What was done with the file, in words.
ALTER TABLE run_file ADD COLUMN routed VARCHAR(8500);
CREATE INDEX run_file_path ON run_file (run_id, path);

ALTER TABLE ledger ALTER COLUMN rules VARCHAR(25) NOT NULL;
ALTER TABLE ledger ADD COLUMN file VARCHAR(8000);
ALTER TABLE ledger ADD COLUMN place INT DEFAULT 1 NOT NULL;
ALTER TABLE ledger ADD COLUMN moved_to VARCHAR(8000);
UPDATE ledger SET file = path;
ALTER TABLE ledger ALTER COLUMN file SET NOT NULL;
CREATE INDEX ledger_file ON ledger (job, file);

-- What is to be done with files, until it is done.
CREATE TABLE route (
  id BIGINT PRIMARY KEY,
  run_id BIGINT NOT NULL,
  ordinal INT NOT NULL,
  job VARCHAR(80) NOT NULL,
  file VARCHAR(8000) NOT NULL,
  kind VARCHAR(10) NOT NULL,
  source VARCHAR(8000) NOT NULL,
  target VARCHAR(8000) NOT NULL,
  size_bytes BIGINT NOT NULL,
  modified_at TIMESTAMP(6) WITH TIME ZONE NOT NULL,
  changed_at TIMESTAMP(6) WITH TIME ZONE NOT NULL,
  hash VARCHAR(32) NOT NULL,
  outcome VARCHAR(10) NOT NULL,
  reasons_of BIGINT NOT NULL,
  UNIQUE (run_id, ordinal)
);
