-- Files of every kind, content-addressed, in chunks of 1 MiB.
CREATE TABLE blob_file (
  sha256 BINARY(32) NOT NULL PRIMARY KEY,
  bytes BIGINT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
) ENGINE=InnoDB;

CREATE TABLE blob_chunk (
  sha256 BINARY(32) NOT NULL,
  seq INT UNSIGNED NOT NULL,
  data MEDIUMBLOB NOT NULL,
  PRIMARY KEY (sha256, seq),
  CONSTRAINT blob_chunk_file FOREIGN KEY (sha256) REFERENCES blob_file (sha256) ON DELETE CASCADE
) ENGINE=InnoDB;

CREATE TABLE asset (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  sha256 BINARY(32) NOT NULL,
  filename VARCHAR(255) NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  mode VARCHAR(20) NOT NULL,
  facts JSON NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY asset_content (sha256, filename),
  CONSTRAINT asset_blob FOREIGN KEY (sha256) REFERENCES blob_file (sha256)
) ENGINE=InnoDB;

CREATE TABLE requirement (
  id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  revision INT UNSIGNED NOT NULL,
  fields JSON NOT NULL,
  position INT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE,
  deleted_at DATETIME(3) NULL
) ENGINE=InnoDB;

CREATE TABLE design (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  revision INT UNSIGNED NOT NULL,
  position INT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE,
  deleted_at DATETIME(3) NULL
) ENGINE=InnoDB;

CREATE TABLE design_revision (
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision INT UNSIGNED NOT NULL,
  document JSON NOT NULL,
  saved_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (design_id, revision),
  CONSTRAINT revision_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- A batch is what one press of a button asks for; each of its steps is a job row that any worker may claim.
CREATE TABLE batch (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  kind VARCHAR(20) NOT NULL,
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  CONSTRAINT batch_design FOREIGN KEY (design_id) REFERENCES design (id)
) ENGINE=InnoDB;

CREATE TABLE job (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  batch_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind VARCHAR(20) NOT NULL,
  payload JSON NOT NULL,
  state ENUM('queued', 'running', 'done', 'failed', 'cancelled') NOT NULL DEFAULT 'queued',
  message VARCHAR(500) NOT NULL DEFAULT '',
  result_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NULL,
  attempts INT UNSIGNED NOT NULL DEFAULT 0,
  worker VARCHAR(100) NULL,
  lease_until DATETIME(3) NULL,
  changed_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3) ON UPDATE CURRENT_TIMESTAMP(3),
  KEY job_claim (state, lease_until, id),
  KEY job_batch (batch_id),
  KEY job_changed (changed_at),
  CONSTRAINT job_of_batch FOREIGN KEY (batch_id) REFERENCES batch (id) ON DELETE CASCADE
) ENGINE=InnoDB;

CREATE TABLE print_file (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  requirement_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  recipe BINARY(32) NOT NULL,
  sha256 BINARY(32) NOT NULL,
  filename VARCHAR(255) NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  accepted BOOLEAN NOT NULL,
  certificate JSON NOT NULL,
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY print_file_recipe (design_id, recipe),
  CONSTRAINT print_file_design FOREIGN KEY (design_id) REFERENCES design (id),
  CONSTRAINT print_file_requirement FOREIGN KEY (requirement_id) REFERENCES requirement (id),
  CONSTRAINT print_file_blob FOREIGN KEY (sha256) REFERENCES blob_file (sha256)
) ENGINE=InnoDB;

CREATE TABLE picture (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  blank_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  request JSON NOT NULL,
  recipe BINARY(32) NOT NULL,
  sha256 BINARY(32) NOT NULL,
  filename VARCHAR(255) NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY picture_recipe (design_id, recipe),
  CONSTRAINT picture_design FOREIGN KEY (design_id) REFERENCES design (id),
  CONSTRAINT picture_blob FOREIGN KEY (sha256) REFERENCES blob_file (sha256)
) ENGINE=InnoDB;
