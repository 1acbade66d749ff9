-- A run is of the revision it was asked for.
ALTER TABLE batch ADD COLUMN revision INT UNSIGNED NOT NULL DEFAULT 0;
