-- The commit of the workspace's repository when a run began, and which of its definitions differed from that; where the
-- workspace lies in one.
ALTER TABLE run ADD COLUMN commit_id VARCHAR(64);
ALTER TABLE run ADD COLUMN uncommitted VARCHAR(400);
