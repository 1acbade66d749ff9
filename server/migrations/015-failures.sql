-- What was asked for of a design and could not be made, with the reason, until it is made or dismissed.
CREATE TABLE failure (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- The target, blank or clip that it is of.
  about VARCHAR(80) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- SHA-256 of what was asked for, whatever the revision and the name of the file.
  asked BINARY(32) NOT NULL,
  step JSON NOT NULL,
  sentence VARCHAR(500) NOT NULL,
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY failure_of (design_id, kind, about, asked),
  CONSTRAINT failure_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;
