-- Who everything belongs to. Today there is one seller.
CREATE TABLE seller (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
) ENGINE=InnoDB;
INSERT IGNORE INTO seller (id, name) VALUES ('one', 'The seller');

ALTER TABLE asset
  ADD COLUMN owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'one',
  ADD KEY asset_sha256 (sha256), DROP KEY asset_content, ADD UNIQUE KEY asset_content_of_owner (owner, sha256, filename), ADD KEY asset_created (created_at),
  ADD CONSTRAINT asset_owner FOREIGN KEY (owner) REFERENCES seller (id);
ALTER TABLE requirement
  ADD COLUMN owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'one',
  ADD KEY requirement_of_owner (owner, deleted_at, position), ADD CONSTRAINT requirement_owner FOREIGN KEY (owner) REFERENCES seller (id);
ALTER TABLE font
  ADD COLUMN owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'one',
  ADD KEY font_sha256 (sha256), DROP KEY sha256, ADD UNIQUE KEY font_content_of_owner (owner, sha256),
  ADD CONSTRAINT font_owner FOREIGN KEY (owner) REFERENCES seller (id);
ALTER TABLE session
  ADD COLUMN owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'one',
  ADD KEY session_seen (seen_at), ADD CONSTRAINT session_owner FOREIGN KEY (owner) REFERENCES seller (id);

-- What the job sheet shows of a design, so that it reads no document.
ALTER TABLE design
  ADD COLUMN owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'one',
  ADD COLUMN name VARCHAR(200) NOT NULL DEFAULT '',
  ADD COLUMN layers INT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN template BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN pictures INT UNSIGNED NOT NULL DEFAULT 0,
  ADD KEY design_of_owner (owner, deleted_at, position), ADD KEY design_deleted (deleted_at),
  ADD CONSTRAINT design_owner FOREIGN KEY (owner) REFERENCES seller (id);
UPDATE design d JOIN design_revision r ON r.design_id = d.id AND r.revision = d.revision
  SET d.name = LEFT(COALESCE(JSON_VALUE(r.document, '$.name'), ''), 200), d.layers = COALESCE(JSON_LENGTH(r.document, '$.layers'), 0),
    d.template = COALESCE(JSON_VALUE(r.document, '$.template'), 0) IN ('1', 'true'),
    d.pictures = (SELECT COUNT(*) FROM picture p WHERE p.design_id = d.id);

-- Long pieces of documents that do not change from one revision to the next, stored once.
CREATE TABLE document_part (
  sha256 BINARY(32) NOT NULL PRIMARY KEY,
  data MEDIUMTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  touched_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY document_part_touched (touched_at)
) ENGINE=InnoDB;
CREATE TABLE design_part (
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sha256 BINARY(32) NOT NULL,
  first_revision INT UNSIGNED NOT NULL,
  last_revision INT UNSIGNED NOT NULL,
  PRIMARY KEY (design_id, sha256),
  CONSTRAINT part_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE,
  CONSTRAINT part_document FOREIGN KEY (sha256) REFERENCES document_part (sha256)
) ENGINE=InnoDB;

-- Artwork files and fonts that revisions of a design name, from the first of them to the last.
CREATE TABLE design_use (
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind ENUM('asset', 'font') NOT NULL,
  id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  first_revision INT UNSIGNED NOT NULL,
  last_revision INT UNSIGNED NOT NULL,
  PRIMARY KEY (design_id, kind, id),
  KEY design_use_of (kind, id),
  CONSTRAINT use_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;
INSERT IGNORE INTO design_use (design_id, kind, id, first_revision, last_revision)
  SELECT r.design_id, 'asset', used.id, MIN(r.revision), MAX(r.revision)
  FROM design_revision r JOIN JSON_TABLE(r.document, '$.layers[*]' COLUMNS (id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin PATH '$.assetId')) used
  WHERE used.id IS NOT NULL GROUP BY r.design_id, used.id;
INSERT IGNORE INTO design_use (design_id, kind, id, first_revision, last_revision)
  SELECT r.design_id, 'font', used.id, MIN(r.revision), MAX(r.revision)
  FROM design_revision r JOIN JSON_TABLE(r.document, '$.layers[*]' COLUMNS (id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin PATH '$.fontId')) used
  WHERE used.id IS NOT NULL GROUP BY r.design_id, used.id;
ALTER TABLE design_revision ADD KEY revision_saved (saved_at);

-- Whatever is made, of every kind: print files, pictures, and what comes.
CREATE TABLE output (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NULL,
  revision INT UNSIGNED NULL,
  about VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  recipe BINARY(32) NOT NULL,
  sha256 BINARY(32) NOT NULL,
  filename VARCHAR(255) NOT NULL,
  media_type VARCHAR(80) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  accepted BOOLEAN NOT NULL,
  record JSON NOT NULL,
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY output_recipe (design_id, kind, recipe),
  KEY output_without_design (kind, recipe),
  KEY output_about (design_id, kind, about, made_at),
  CONSTRAINT output_owner FOREIGN KEY (owner) REFERENCES seller (id),
  CONSTRAINT output_design FOREIGN KEY (design_id) REFERENCES design (id),
  CONSTRAINT output_blob FOREIGN KEY (sha256) REFERENCES blob_file (sha256)
) ENGINE=InnoDB;
INSERT IGNORE INTO output (id, owner, kind, design_id, revision, about, recipe, sha256, filename, media_type, bytes, accepted, record, made_at)
  SELECT f.id, 'one', 'print-file', f.design_id, (SELECT NULLIF(MAX(b.revision), 0) FROM job j JOIN batch b ON b.id = j.batch_id WHERE j.result_id = f.id),
    f.requirement_id, f.recipe, f.sha256, f.filename, 'image/png', f.bytes, f.accepted, JSON_OBJECT('certificate', JSON_EXTRACT(f.certificate, '$')), f.made_at
  FROM print_file f;
INSERT IGNORE INTO output (id, owner, kind, design_id, revision, about, recipe, sha256, filename, media_type, bytes, accepted, record, made_at)
  SELECT p.id, 'one', 'picture', p.design_id, (SELECT NULLIF(MAX(b.revision), 0) FROM job j JOIN batch b ON b.id = j.batch_id WHERE j.result_id = p.id),
    p.blank_id, p.recipe, p.sha256, p.filename, CONCAT('image/', JSON_VALUE(p.request, '$.format')), p.bytes, TRUE,
    JSON_OBJECT('request', JSON_EXTRACT(p.request, '$')), p.made_at
  FROM picture p;

-- What was found of each target, and of which revisions: read by the job sheet as it is, worked out again when a revision has grown.
CREATE TABLE design_target (
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  requirement_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  position SMALLINT UNSIGNED NOT NULL,
  garment CHAR(7) CHARACTER SET ascii COLLATE ascii_bin NULL,
  revision INT UNSIGNED NULL,
  requirement_revision INT UNSIGNED NULL,
  engine INT UNSIGNED NULL,
  recipe BINARY(32) NULL,
  printable BOOLEAN NULL,
  gravest VARCHAR(200) NULL,
  newest_file VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NULL,
  PRIMARY KEY (design_id, requirement_id),
  KEY target_requirement (requirement_id),
  CONSTRAINT target_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;
INSERT IGNORE INTO design_target (design_id, requirement_id, position, garment, newest_file)
  SELECT d.id, t.requirement_id, t.position, t.garment,
    (SELECT o.id FROM output o WHERE o.design_id = d.id AND o.kind = 'print-file' AND o.about = t.requirement_id ORDER BY o.made_at DESC LIMIT 1)
  FROM design d JOIN design_revision r ON r.design_id = d.id AND r.revision = d.revision
  JOIN JSON_TABLE(r.document, '$.targets[*]' COLUMNS (position FOR ORDINALITY,
    requirement_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin PATH '$.requirementId',
    garment VARCHAR(7) CHARACTER SET ascii COLLATE ascii_bin PATH '$.garment')) t
  WHERE t.requirement_id IS NOT NULL;
DROP TABLE IF EXISTS judgement;
DROP TABLE IF EXISTS print_file;
DROP TABLE IF EXISTS picture;

-- A run keeps count of its steps; a step says how far it is, waits for the stage before it, and which drawing code it needs.
ALTER TABLE batch
  MODIFY COLUMN design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD COLUMN owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'one',
  ADD COLUMN designs JSON NOT NULL DEFAULT '[]',
  ADD COLUMN state ENUM('queued', 'running', 'done', 'failed', 'cancelled') NOT NULL DEFAULT 'queued',
  ADD COLUMN total INT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN done INT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN failed INT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN message VARCHAR(2000) NOT NULL DEFAULT '',
  ADD COLUMN changed_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  ADD KEY batch_state (state, changed_at), ADD KEY batch_changed (changed_at),
  ADD CONSTRAINT batch_owner FOREIGN KEY (owner) REFERENCES seller (id);
ALTER TABLE job
  MODIFY COLUMN state ENUM('waiting', 'queued', 'running', 'done', 'failed', 'cancelled') NOT NULL DEFAULT 'queued',
  ADD COLUMN engine INT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN stage SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN progress FLOAT NOT NULL DEFAULT 0,
  DROP KEY job_claim, ADD KEY job_claim (state, kind, engine, id), ADD KEY job_lease (state, lease_until),
  ADD KEY job_of_stage (batch_id, state, stage), ADD KEY job_result (result_id);
UPDATE batch b JOIN (
    SELECT batch_id, COUNT(*) AS total, SUM(state IN ('done', 'failed', 'cancelled')) AS done,
      SUM(state = 'failed') AS failed, SUM(state = 'cancelled') AS cancelled,
      SUM(state = 'running') AS running, MAX(changed_at) AS changed_at,
      LEFT(COALESCE(GROUP_CONCAT(DISTINCT NULLIF(message, '') SEPARATOR ' '), ''), 2000) AS message
    FROM job GROUP BY batch_id) s ON s.batch_id = b.id
  SET b.total = s.total, b.done = s.done, b.failed = s.failed, b.message = s.message, b.changed_at = s.changed_at, b.designs = JSON_ARRAY(b.design_id),
    b.state = CASE WHEN s.done < s.total THEN IF(s.done + s.running > 0, 'running', 'queued')
      WHEN s.failed > 0 THEN 'failed' WHEN s.cancelled > 0 THEN 'cancelled' ELSE 'done' END;

-- Blank products of the seller's own.
CREATE TABLE blank_pack (
  id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  manifest JSON NOT NULL,
  hash BINARY(32) NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at DATETIME(3) NULL,
  KEY blank_of_owner (owner, deleted_at),
  CONSTRAINT blank_owner FOREIGN KEY (owner) REFERENCES seller (id)
) ENGINE=InnoDB;
CREATE TABLE blank_file (
  blank_id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sha256 BINARY(32) NOT NULL,
  PRIMARY KEY (blank_id, name),
  CONSTRAINT blank_file_pack FOREIGN KEY (blank_id) REFERENCES blank_pack (id) ON DELETE CASCADE,
  CONSTRAINT blank_file_blob FOREIGN KEY (sha256) REFERENCES blob_file (sha256)
) ENGINE=InnoDB;

-- The keeper ends what nothing names any more: whose turn it is, and what was done.
CREATE TABLE keeper_turn (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  until DATETIME(3) NOT NULL
) ENGINE=InnoDB;
INSERT IGNORE INTO keeper_turn (id, until) VALUES (1, '2000-01-01 00:00:00.000');
CREATE TABLE keeper_note (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  duty VARCHAR(60) NOT NULL,
  ended INT UNSIGNED NOT NULL,
  sentence VARCHAR(300) NOT NULL,
  done_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
) ENGINE=InnoDB;
ALTER TABLE blob_file ADD KEY blob_created (created_at);
