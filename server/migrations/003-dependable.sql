-- A run is of the revision it was asked for.
ALTER TABLE batch ADD COLUMN revision INT UNSIGNED NOT NULL DEFAULT 0;

-- Steps used to hold everything that is drawn; now they only name it. What waited in the old form is asked for again.
UPDATE job SET state = 'cancelled', message = 'Kettle Sheet was renewed while this waited. Press the button again.', payload = '{}' WHERE state IN ('queued', 'running');
UPDATE job SET payload = '{}' WHERE state IN ('done', 'failed');

-- The password of a server that listens beyond its machine: the one it was started with, and the one that holds now. scrypt.
CREATE TABLE gate (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  given_salt BINARY(16) NOT NULL,
  given_hash BINARY(32) NOT NULL,
  salt BINARY(16) NOT NULL,
  hash BINARY(32) NOT NULL
) ENGINE=InnoDB;

-- Who is signed in. Only a hash of the token is kept.
CREATE TABLE session (
  token BINARY(32) NOT NULL PRIMARY KEY,
  begun_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  seen_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
) ENGINE=InnoDB;

-- What was found of large designs: working it out again at every look would keep everybody waiting.
CREATE TABLE judgement (
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision INT UNSIGNED NOT NULL,
  requirement_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  requirement_revision INT UNSIGNED NOT NULL,
  engine INT UNSIGNED NOT NULL,
  recipe BINARY(32) NOT NULL,
  printable BOOLEAN NOT NULL,
  gravest VARCHAR(200) NULL,
  PRIMARY KEY (design_id, revision, requirement_id, requirement_revision, engine),
  CONSTRAINT judgement_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;
