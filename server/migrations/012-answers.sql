-- Print shops, the seller's own ones beside those that ship.
CREATE TABLE print_shop (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  fields JSON NOT NULL,
  added_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at DATETIME(3) NULL,
  KEY print_shop_of_owner (owner, deleted_at, added_at),
  CONSTRAINT print_shop_owner FOREIGN KEY (owner) REFERENCES seller (id)
) ENGINE=InnoDB;

-- A print file with its order sheet, on its way to a print shop or answered by it.
CREATE TABLE shop_order (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  shop_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  shop VARCHAR(80) NOT NULL,
  requirement_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  state VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- Grows each time that a file is sent: what the shop says is of a round.
  round INT UNSIGNED NOT NULL DEFAULT 1,
  sheet JSON NOT NULL,
  remote_id VARCHAR(100) NULL,
  -- Why it could not be sent, in a sentence.
  trouble VARCHAR(500) NOT NULL DEFAULT '',
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  changed_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3) ON UPDATE CURRENT_TIMESTAMP(3),
  KEY shop_order_of_design (design_id, made_at),
  CONSTRAINT shop_order_owner FOREIGN KEY (owner) REFERENCES seller (id),
  CONSTRAINT shop_order_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- What went to and fro about an order: each file that was sent, and each answer.
CREATE TABLE shop_message (
  order_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  round INT UNSIGNED NOT NULL,
  by_shop TINYINT NOT NULL,
  said_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  record JSON NOT NULL,
  PRIMARY KEY (order_id, round, by_shop),
  CONSTRAINT shop_message_order FOREIGN KEY (order_id) REFERENCES shop_order (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- Files of a thread, ours and the shop's pictures: kept as long as it is.
CREATE TABLE shop_file (
  order_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sha256 BINARY(32) NOT NULL,
  PRIMARY KEY (order_id, sha256),
  KEY shop_file_content (sha256),
  CONSTRAINT shop_file_order FOREIGN KEY (order_id) REFERENCES shop_order (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- Calls are made to print shops as well as to markets.
ALTER TABLE market_call
  MODIFY publication_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD shop_order_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NULL AFTER publication_id,
  ADD KEY market_call_of_order (shop_order_id, id),
  ADD CONSTRAINT market_call_order FOREIGN KEY (shop_order_id) REFERENCES shop_order (id) ON DELETE CASCADE;

-- A private page on which a client looks at a design and says yes.
CREATE TABLE client_page (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- The link's secret, 128 bits; the page is found by its hash.
  token VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  token_hash BINARY(32) NOT NULL,
  seller VARCHAR(80) NOT NULL,
  client VARCHAR(80) NOT NULL,
  pass_salt VARBINARY(32) NULL,
  pass_hash VARBINARY(64) NULL,
  expires_at DATETIME(3) NULL,
  withdrawn_at DATETIME(3) NULL,
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY client_page_token (token_hash),
  KEY client_page_of_design (design_id, made_at),
  CONSTRAINT client_page_owner FOREIGN KEY (owner) REFERENCES seller (id),
  CONSTRAINT client_page_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- What was shown there, round by round.
CREATE TABLE client_round (
  page_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  round INT UNSIGNED NOT NULL,
  shown JSON NOT NULL,
  shown_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (page_id, round),
  CONSTRAINT client_round_page FOREIGN KEY (page_id) REFERENCES client_page (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- Files that were shown: kept as long as the page is.
CREATE TABLE client_file (
  page_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  sha256 BINARY(32) NOT NULL,
  PRIMARY KEY (page_id, sha256),
  KEY client_file_content (sha256),
  CONSTRAINT client_file_page FOREIGN KEY (page_id) REFERENCES client_page (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- What client and seller said: a comment, a pick, an approval, a wish for a change, an answer.
CREATE TABLE client_word (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  page_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  round INT UNSIGNED NOT NULL,
  kind VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  by_seller TINYINT NOT NULL,
  name VARCHAR(80) NOT NULL,
  text TEXT NOT NULL,
  -- Which alternative and picture, and where on it; what exactly was approved.
  record JSON NOT NULL,
  -- Number of the form it came with, so that one sent twice counts once.
  form VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  said_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  seen_at DATETIME(3) NULL,
  UNIQUE KEY client_word_form (page_id, form),
  KEY client_word_unseen (seen_at),
  CONSTRAINT client_word_page FOREIGN KEY (page_id) REFERENCES client_page (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- Orders in hand: a print of a design that is made once enough people want it.
CREATE TABLE print_run (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  fields JSON NOT NULL,
  state VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'open',
  token VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NULL,
  token_hash BINARY(32) NULL,
  -- What the order sheet said when it was made.
  ordered JSON NULL,
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  closed_at DATETIME(3) NULL,
  ordered_at DATETIME(3) NULL,
  UNIQUE KEY print_run_token (token_hash),
  KEY print_run_of_design (design_id, made_at),
  KEY print_run_of_owner (owner, made_at),
  CONSTRAINT print_run_owner FOREIGN KEY (owner) REFERENCES seller (id),
  CONSTRAINT print_run_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- Who wants what of it. Of people no more is kept than this, and it can be erased.
CREATE TABLE interest (
  id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  run_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(120) NOT NULL,
  contact VARCHAR(200) NOT NULL,
  size VARCHAR(40) NOT NULL,
  colour VARCHAR(60) NOT NULL,
  copies INT UNSIGNED NOT NULL,
  -- Minor units of the run's currency.
  deposit INT UNSIGNED NOT NULL DEFAULT 0,
  source VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  form VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- By this one who entered it on the page takes it back.
  back_hash BINARY(32) NULL,
  noted_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  delivered_at DATETIME(3) NULL,
  erased_at DATETIME(3) NULL,
  UNIQUE KEY interest_form (run_id, form),
  UNIQUE KEY interest_back (back_hash),
  KEY interest_of_run (run_id, noted_at),
  CONSTRAINT interest_run FOREIGN KEY (run_id) REFERENCES print_run (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- What became of a design: only what happened, each when it did.
CREATE TABLE handing_event (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- A market, a print shop, a client.
  whom VARCHAR(80) NOT NULL,
  said VARCHAR(500) NOT NULL DEFAULT '',
  happened_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY handing_event_of_design (design_id, happened_at),
  KEY handing_event_of_owner (owner, happened_at),
  CONSTRAINT handing_event_owner FOREIGN KEY (owner) REFERENCES seller (id),
  CONSTRAINT handing_event_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- Sales as markets report them. One with a number that came before is the same sale.
CREATE TABLE sale (
  market VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  number VARCHAR(80) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  owner VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  design_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  rules_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  channel VARCHAR(80) NOT NULL,
  product VARCHAR(120) NOT NULL,
  colour VARCHAR(60) NOT NULL,
  copies INT UNSIGNED NOT NULL,
  -- Of one, minor units; what the seller earned of one, null where its cost was not known.
  price INT UNSIGNED NOT NULL,
  currency CHAR(3) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  earned INT NULL,
  sold_at DATETIME(3) NOT NULL,
  PRIMARY KEY (market, number),
  KEY sale_of_design (design_id, sold_at),
  KEY sale_of_owner (owner, sold_at),
  CONSTRAINT sale_owner FOREIGN KEY (owner) REFERENCES seller (id),
  CONSTRAINT sale_design FOREIGN KEY (design_id) REFERENCES design (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- What was made lately, of all designs.
ALTER TABLE output ADD KEY output_made (owner, made_at);
