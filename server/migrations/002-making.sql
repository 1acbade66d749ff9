-- Sellers' own fonts.
CREATE TABLE font (
  id VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  sha256 BINARY(32) NOT NULL UNIQUE,
  filename VARCHAR(255) NOT NULL,
  family VARCHAR(100) NOT NULL,
  weight SMALLINT UNSIGNED NOT NULL,
  scripts JSON NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at DATETIME(3) NULL,
  CONSTRAINT font_blob FOREIGN KEY (sha256) REFERENCES blob_file (sha256)
) ENGINE=InnoDB;

-- A revision that was given a name is found again by it.
ALTER TABLE design_revision ADD COLUMN name VARCHAR(120) NULL;
