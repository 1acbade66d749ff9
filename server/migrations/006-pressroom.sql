-- Sellers' own profiles of presses, by content.
CREATE TABLE icc_profile (
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sha256 BINARY(32) NOT NULL,
  name VARCHAR(200) NOT NULL,
  filename VARCHAR(255) NOT NULL,
  bytes INT UNSIGNED NOT NULL,
  added_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at DATETIME(3) NULL,
  PRIMARY KEY (owner, sha256),
  KEY icc_profile_content (sha256),
  CONSTRAINT icc_profile_owner FOREIGN KEY (owner) REFERENCES seller (id),
  CONSTRAINT icc_profile_blob FOREIGN KEY (sha256) REFERENCES blob_file (sha256)
) ENGINE=InnoDB;

-- What a seller has chosen once for everything.
CREATE TABLE setting (
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  value JSON NOT NULL,
  PRIMARY KEY (owner, name),
  CONSTRAINT setting_owner FOREIGN KEY (owner) REFERENCES seller (id)
) ENGINE=InnoDB;

-- A run can be held; what it waits for then is not claimed by anybody.
ALTER TABLE batch MODIFY COLUMN state ENUM('queued', 'running', 'paused', 'done', 'failed', 'cancelled') NOT NULL DEFAULT 'queued';
ALTER TABLE job MODIFY COLUMN state ENUM('waiting', 'queued', 'paused', 'running', 'done', 'failed', 'cancelled') NOT NULL DEFAULT 'queued';

-- What was packed when: a package is its list of files, and is written whenever somebody takes it.
CREATE TABLE package (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(120) NOT NULL,
  folders ENUM('channel', 'design', 'none') NOT NULL,
  changed_only BOOLEAN NOT NULL,
  files INT UNSIGNED NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY package_of_owner (owner, made_at),
  CONSTRAINT package_owner FOREIGN KEY (owner) REFERENCES seller (id)
) ENGINE=InnoDB;
CREATE TABLE package_file (
  package_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  seq INT UNSIGNED NOT NULL,
  path VARCHAR(400) NOT NULL,
  sha256 BINARY(32) NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  about JSON NOT NULL,
  PRIMARY KEY (package_id, seq),
  KEY package_file_content (sha256),
  CONSTRAINT package_file_package FOREIGN KEY (package_id) REFERENCES package (id) ON DELETE CASCADE,
  CONSTRAINT package_file_blob FOREIGN KEY (sha256) REFERENCES blob_file (sha256)
) ENGINE=InnoDB;

-- What was measured on printed grids; all of it can be measured again.
CREATE TABLE press_measure (
  name CHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  facts JSON NOT NULL,
  used_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY press_measure_used (used_at)
) ENGINE=InnoDB;
