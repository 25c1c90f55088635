-- The values that a run was given or found, with where each came from (JSON).
ALTER TABLE run ADD COLUMN values_used CLOB DEFAULT '[]' NOT NULL;
