-- By what another machine knows the version of a file that was read; empty for files on this one.
ALTER TABLE arrival ADD COLUMN seen_tag VARCHAR(400) DEFAULT '' NOT NULL;
ALTER TABLE route ADD COLUMN tag VARCHAR(400) DEFAULT '' NOT NULL;
-- Which attempt a run is, and when it is tried again after a fault that may pass.
ALTER TABLE run ADD COLUMN attempt INT DEFAULT 1 NOT NULL;
ALTER TABLE run ADD COLUMN again_at TIMESTAMP(6) WITH TIME ZONE;
