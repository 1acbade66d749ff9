-- What is known of pictures with treatments; all of it can be worked out again.
CREATE TABLE treated_picture (
  asset_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name CHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  treatments MEDIUMTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  facts JSON NOT NULL,
  used_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (asset_id, name),
  KEY treated_name (name),
  KEY treated_used (used_at),
  CONSTRAINT treated_asset FOREIGN KEY (asset_id) REFERENCES asset (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- A target with versions for light and dark cloth has a row of each.
ALTER TABLE design_target
  ADD COLUMN version VARCHAR(5) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  DROP PRIMARY KEY, ADD PRIMARY KEY (design_id, requirement_id, version);
ALTER TABLE output MODIFY COLUMN about VARCHAR(80) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;

-- Which way of measuring the facts of an artwork file come from.
ALTER TABLE asset ADD COLUMN measured SMALLINT UNSIGNED NOT NULL DEFAULT 0, ADD KEY asset_measured (measured);
