-- One content of one source, as a run read it. Rows are only ever added; the columns at the end say how each stands, which is derived from the whole.
-- What the tables part and ledger hold is taken over at the first start (Upgrade), since a source's identity cannot be told by SQL.
CREATE TABLE arrival (
  id BIGINT PRIMARY KEY,
  run_id BIGINT NOT NULL REFERENCES run (id),
  job VARCHAR(80) NOT NULL,
  dataset VARCHAR(80) NOT NULL,
  source VARCHAR(8000) NOT NULL,
  generation INT NOT NULL,
  place_run BIGINT NOT NULL,
  place_turn INT NOT NULL,
  place_ordinal INT NOT NULL,
  base BIGINT NOT NULL,
  accepted BOOLEAN NOT NULL,
  takes_place BOOLEAN NOT NULL,
  copies BOOLEAN NOT NULL,
  content VARCHAR(32) NOT NULL,
  row_rule VARCHAR(4000) NOT NULL,
  part VARCHAR(200) NOT NULL,
  rows_count BIGINT NOT NULL,
  deletes BOOLEAN NOT NULL,
  as_copy BOOLEAN NOT NULL,
  -- what is known of the file; paths below the workspace are relative to it
  name VARCHAR(8000) NOT NULL,
  file VARCHAR(8000) NOT NULL,
  find_place INT NOT NULL,
  size_bytes BIGINT NOT NULL,
  modified_at TIMESTAMP(6) WITH TIME ZONE NOT NULL,
  changed_at TIMESTAMP(6) WITH TIME ZONE NOT NULL,
  seen_hash VARCHAR(32) NOT NULL,
  read_at TIMESTAMP(6) WITH TIME ZONE NOT NULL,
  rules VARCHAR(25) NOT NULL,
  dataset_version VARCHAR(12) NOT NULL,
  rows_rejected BIGINT NOT NULL,
  code VARCHAR(40),
  sentence VARCHAR(4000),
  said_by BIGINT NOT NULL,
  after_rule VARCHAR(12) NOT NULL,
  fate VARCHAR(10) NOT NULL,
  lies_at VARCHAR(8000),
  fate_run BIGINT NOT NULL,
  run_file_id BIGINT,
  -- the last entry of the history when its rows were let go of; 0 as long as they are kept
  swept_at BIGINT NOT NULL,
  -- derived
  stands BOOLEAN NOT NULL,
  counts BOOLEAN NOT NULL,
  is_current BOOLEAN NOT NULL,
  copy_of BIGINT NOT NULL,
  masked BLOB,
  rows_masked BIGINT NOT NULL,
  idle_since TIMESTAMP(6) WITH TIME ZONE,
  dismissed_by BIGINT
);
CREATE INDEX arrival_dataset ON arrival (dataset, counts);
CREATE INDEX arrival_job ON arrival (job, source);
CREATE INDEX arrival_run ON arrival (run_id);
CREATE INDEX arrival_run_file ON arrival (run_file_id);
CREATE INDEX arrival_idle ON arrival (dataset, idle_since);

-- Complete looks into a job's folders under load: replace. Slots are a line each.
CREATE TABLE look (
  run_id BIGINT PRIMARY KEY REFERENCES run (id),
  job VARCHAR(80) NOT NULL,
  dataset VARCHAR(80) NOT NULL,
  slots CLOB NOT NULL
);
CREATE INDEX look_dataset ON look (dataset);

-- Arrivals of which an entry of the history took the rows out.
CREATE TABLE removal (
  run_id BIGINT NOT NULL REFERENCES run (id),
  arrival_id BIGINT NOT NULL,
  PRIMARY KEY (run_id, arrival_id)
);

-- Arrivals of which an entry of the history says that their rejects need nobody's attention any more.
CREATE TABLE dismissal (
  run_id BIGINT NOT NULL REFERENCES run (id),
  arrival_id BIGINT NOT NULL,
  PRIMARY KEY (run_id, arrival_id)
);
CREATE INDEX dismissal_arrival ON dismissal (arrival_id);

-- The header that one file had for all of a job's files.
CREATE TABLE shared_header (
  job VARCHAR(80) PRIMARY KEY,
  header CLOB NOT NULL
);

ALTER TABLE run_file ADD COLUMN source VARCHAR(8000);
ALTER TABLE run_file DROP COLUMN ledger_before;
ALTER TABLE run_file DROP COLUMN entered;
CREATE INDEX run_dataset ON run (dataset, kind);
ALTER TABLE route ADD COLUMN arrivals CLOB DEFAULT '' NOT NULL;
