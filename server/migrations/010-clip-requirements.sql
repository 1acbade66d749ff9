-- What channels demand of clips, the seller's own ones.
CREATE TABLE clip_requirement (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  fields JSON NOT NULL,
  added_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at DATETIME(3) NULL,
  KEY clip_requirement_of_owner (owner, deleted_at, added_at),
  CONSTRAINT clip_requirement_owner FOREIGN KEY (owner) REFERENCES seller (id)
) ENGINE=InnoDB;
