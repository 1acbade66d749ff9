-- Usual rows of listing pictures, the seller's own ones.
CREATE TABLE picture_set (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  fields JSON NOT NULL,
  added_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at DATETIME(3) NULL,
  KEY picture_set_of_owner (owner, deleted_at, added_at),
  CONSTRAINT picture_set_owner FOREIGN KEY (owner) REFERENCES seller (id)
) ENGINE=InnoDB;

-- The set whose pictures a design is to have: one of its owner, or a shipped one.
ALTER TABLE design ADD COLUMN picture_set VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NULL;

-- What each picture of a design's set would be made of, as it was last worked out. All of it can be worked out again.
CREATE TABLE design_shot (
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  seq SMALLINT UNSIGNED NOT NULL,
  -- Of what it was worked out: another one means that it is to be done again.
  stamp BINARY(16) NOT NULL,
  recipe BINARY(32) NULL,
  wrong VARCHAR(400) NULL,
  PRIMARY KEY (design_id, seq),
  CONSTRAINT design_shot_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;
