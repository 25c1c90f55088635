-- By what another machine knows the version of a file that was read; empty for files on this one.
ALTER TABLE arrival ADD COLUMN seen_tag VARCHAR(400) DEFAULT '' NOT NULL;
ALTER TABLE route ADD COLUMN tag VARCHAR(400) DEFAULT '' NOT NULL;
