-- What a seller's own blank was made from, so that it can be changed; null for one that came as a pack.
ALTER TABLE blank_pack
  ADD COLUMN source JSON NULL,
  ADD COLUMN asset_id VARCHAR(32) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD KEY blank_asset (asset_id);
