-- Why a run began: called for, its time, files that arrived, another run.
ALTER TABLE run ADD COLUMN started_by VARCHAR(10) DEFAULT 'CALL' NOT NULL;
ALTER TABLE run ADD COLUMN due_at TIMESTAMP(6) WITH TIME ZONE;
ALTER TABLE run ADD COLUMN missed BIGINT DEFAULT 0 NOT NULL;
ALTER TABLE run ADD COLUMN after_run BIGINT DEFAULT 0 NOT NULL;
-- How often the same failure came again, where a run could not begin.
ALTER TABLE run ADD COLUMN again_failed BIGINT DEFAULT 0 NOT NULL;
-- How far the schedule of each job has been followed.
CREATE TABLE schedule (
  job VARCHAR(100) PRIMARY KEY,
  declared CLOB NOT NULL,
  handled_at TIMESTAMP(6) WITH TIME ZONE NOT NULL,
  after_run BIGINT NOT NULL,
  paused_at TIMESTAMP(6) WITH TIME ZONE,
  paused_until TIMESTAMP(6) WITH TIME ZONE,
  paused_because VARCHAR(1000)
);
