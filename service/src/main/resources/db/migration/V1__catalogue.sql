-- The catalogue: what must outlast a run. Times are UTC.

CREATE SEQUENCE run_seq START WITH 1 INCREMENT BY 1 NO CACHE;
CREATE SEQUENCE record_seq START WITH 1 INCREMENT BY 100;

-- Every version of a definition that was ever run.
CREATE TABLE definition (
  id BIGINT PRIMARY KEY,
  kind VARCHAR(10) NOT NULL,
  name VARCHAR(80) NOT NULL,
  version VARCHAR(12) NOT NULL,
  text CLOB NOT NULL,
  first_seen TIMESTAMP(6) WITH TIME ZONE NOT NULL,
  UNIQUE (kind, name, version)
);

CREATE TABLE run (
  id BIGINT PRIMARY KEY,
  job VARCHAR(80) NOT NULL,
  dataset VARCHAR(80) NOT NULL,
  job_version VARCHAR(12) NOT NULL,
  dataset_version VARCHAR(12) NOT NULL,
  state VARCHAR(10) NOT NULL,
  again BOOLEAN NOT NULL,
  queued_at TIMESTAMP(6) WITH TIME ZONE NOT NULL,
  started_at TIMESTAMP(6) WITH TIME ZONE,
  ended_at TIMESTAMP(6) WITH TIME ZONE,
  failure VARCHAR(4000),
  notes CLOB NOT NULL,
  files_found BIGINT NOT NULL,
  files_loaded BIGINT NOT NULL,
  files_replaced BIGINT NOT NULL,
  files_unchanged BIGINT NOT NULL,
  files_rejected BIGINT NOT NULL,
  files_waiting BIGINT NOT NULL,
  files_not_reached BIGINT NOT NULL,
  rows_read BIGINT NOT NULL,
  rows_loaded BIGINT NOT NULL,
  rows_rejected BIGINT NOT NULL,
  dataset_rows BIGINT NOT NULL,
  parts_rows BIGINT NOT NULL,
  parts BIGINT NOT NULL
);
CREATE INDEX run_job ON run (job, id);
CREATE INDEX run_state ON run (state);

CREATE TABLE run_file (
  id BIGINT PRIMARY KEY,
  run_id BIGINT NOT NULL REFERENCES run (id),
  ordinal INT NOT NULL,
  place INT NOT NULL,
  path VARCHAR(8000) NOT NULL,
  name VARCHAR(1000) NOT NULL,
  outcome VARCHAR(10) NOT NULL,
  size_bytes BIGINT NOT NULL,
  rows_read BIGINT NOT NULL,
  rows_loaded BIGINT NOT NULL,
  rows_rejected BIGINT NOT NULL,
  code VARCHAR(40),
  sentence VARCHAR(4000),
  since_run BIGINT NOT NULL,
  millis BIGINT NOT NULL,
  notes CLOB NOT NULL,
  UNIQUE (run_id, ordinal)
);

-- Rejected rows of one file by reason and column, with a few samples (JSON).
CREATE TABLE reason (
  id BIGINT PRIMARY KEY,
  run_file_id BIGINT NOT NULL REFERENCES run_file (id),
  code VARCHAR(40) NOT NULL,
  column_name VARCHAR(80) NOT NULL,
  rows_count BIGINT NOT NULL,
  samples CLOB NOT NULL
);
CREATE INDEX reason_file ON reason (run_file_id);

-- A part counts as long as no run has retired it.
CREATE TABLE part (
  id BIGINT PRIMARY KEY,
  name VARCHAR(200) NOT NULL UNIQUE,
  dataset VARCHAR(80) NOT NULL,
  job VARCHAR(80) NOT NULL,
  path VARCHAR(8000) NOT NULL,
  rows_count BIGINT NOT NULL,
  run_id BIGINT NOT NULL REFERENCES run (id),
  dataset_version VARCHAR(12) NOT NULL,
  retired_by BIGINT,
  retired_at TIMESTAMP(6) WITH TIME ZONE
);
CREATE INDEX part_dataset ON part (dataset, retired_by);
CREATE INDEX part_source ON part (job, path);

-- Every file that a job has dealt with, as it was last.
CREATE TABLE ledger (
  id BIGINT PRIMARY KEY,
  job VARCHAR(80) NOT NULL,
  path VARCHAR(8000) NOT NULL,
  size_bytes BIGINT NOT NULL,
  modified_at TIMESTAMP(6) WITH TIME ZONE NOT NULL,
  changed_at TIMESTAMP(6) WITH TIME ZONE NOT NULL,
  hash VARCHAR(32) NOT NULL,
  read_at TIMESTAMP(6) WITH TIME ZONE NOT NULL,
  outcome VARCHAR(10) NOT NULL,
  rules VARCHAR(12) NOT NULL,
  run_id BIGINT NOT NULL REFERENCES run (id),
  run_file_id BIGINT NOT NULL REFERENCES run_file (id),
  part_id BIGINT REFERENCES part (id),
  rows_rejected BIGINT NOT NULL,
  code VARCHAR(40),
  sentence VARCHAR(4000),
  UNIQUE (job, path)
);
