-- What the numbers of files count: files, sheets, entries of archives, or several of these (sources).
ALTER TABLE run ADD COLUMN noun VARCHAR(10) NOT NULL DEFAULT 'file';
