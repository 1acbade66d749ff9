-- The same drawing with its letters as outlines, where its text is set in fonts of the seller's own: what is drawn.
ALTER TABLE asset ADD outlined BINARY(32) NULL, ADD KEY asset_outlined (outlined);

-- Drawings that can have such text are looked at again.
UPDATE asset a SET measured = 0
WHERE JSON_VALUE(a.facts, '$.format') = 'SVG' AND EXISTS (SELECT 1 FROM font f WHERE f.owner = a.owner);
