-- Music of sellers' own, for clips.
CREATE TABLE music (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sha256 BINARY(32) NOT NULL,
  title VARCHAR(120) NOT NULL,
  media_type VARCHAR(40) NOT NULL,
  seconds DOUBLE NOT NULL,
  bytes INT UNSIGNED NOT NULL,
  -- Beats a minute and the first one, as the seller says; null where nobody knows.
  bpm DOUBLE NULL,
  first_beat DOUBLE NULL,
  added_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at DATETIME(3) NULL,
  UNIQUE KEY music_of_owner (owner, sha256),
  KEY music_content (sha256),
  CONSTRAINT music_owner FOREIGN KEY (owner) REFERENCES seller (id),
  CONSTRAINT music_blob FOREIGN KEY (sha256) REFERENCES blob_file (sha256)
) ENGINE=InnoDB;
