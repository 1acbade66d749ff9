-- What channels demand of listings, the seller's own ones.
CREATE TABLE channel_rules (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  fields JSON NOT NULL,
  added_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at DATETIME(3) NULL,
  KEY channel_rules_of_owner (owner, deleted_at, added_at),
  CONSTRAINT channel_rules_owner FOREIGN KEY (owner) REFERENCES seller (id)
) ENGINE=InnoDB;

-- What a design is sold with: its text, prices and exceptions.
CREATE TABLE listing (
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  fields JSON NOT NULL,
  saved_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3) ON UPDATE CURRENT_TIMESTAMP(3),
  CONSTRAINT listing_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- A design on a market: one for each channel, so that no market ever has two listings of a design.
CREATE TABLE publication (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  rules_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  channel VARCHAR(80) NOT NULL,
  state VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- Grows when it is taken down: what is published after that is another listing to the market.
  generation INT UNSIGNED NOT NULL DEFAULT 1,
  -- What is to be there, and what the market was sent last.
  wanted JSON NOT NULL,
  sent JSON NULL,
  remote_id VARCHAR(100) NULL,
  url VARCHAR(400) NULL,
  reasons JSON NOT NULL,
  -- The newest of the market's own answers, by its time: older ones change nothing.
  answered_at DATETIME(3) NULL,
  changed_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3) ON UPDATE CURRENT_TIMESTAMP(3),
  UNIQUE KEY publication_of_design (design_id, rules_id),
  KEY publication_remote (remote_id),
  CONSTRAINT publication_owner FOREIGN KEY (owner) REFERENCES seller (id),
  CONSTRAINT publication_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- Every call to a market and every answer of it, as they were.
CREATE TABLE market_call (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  publication_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  method VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  path VARCHAR(200) NOT NULL,
  -- What it was about, in words.
  about VARCHAR(200) NOT NULL,
  idempotency_key VARCHAR(80) CHARACTER SET ascii COLLATE ascii_bin NULL,
  begun_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  -- Null while no answer came.
  status SMALLINT UNSIGNED NULL,
  answer TEXT NULL,
  answered_at DATETIME(3) NULL,
  KEY market_call_of (publication_id, id),
  CONSTRAINT market_call_publication FOREIGN KEY (publication_id) REFERENCES publication (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- Answers of markets that were taken, so that none is taken twice.
CREATE TABLE market_answer (
  market VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  nonce VARCHAR(80) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  taken_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (market, nonce),
  KEY market_answer_age (taken_at)
) ENGINE=InnoDB;
