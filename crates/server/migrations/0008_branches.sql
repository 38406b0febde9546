-- The history is a tree: an edit after an undo begins a branch, and the undone steps stay.
ALTER TABLE revisions ADD COLUMN parent integer;
-- the following step that was shown last, where redo leads
ALTER TABLE revisions ADD COLUMN next integer;
UPDATE revisions SET parent = step - 1 WHERE step > 0;
UPDATE revisions r SET next = r.step + 1
WHERE EXISTS (SELECT 1 FROM revisions n WHERE n.costume = r.costume AND n.step = r.step + 1);
ALTER TABLE revisions ADD CHECK ((parent IS NULL) = (step = 0));
ALTER TABLE revisions ADD FOREIGN KEY (costume, parent) REFERENCES revisions (costume, step);
-- large documents are packed faster, where this server can
DO $$ BEGIN
  ALTER TABLE revisions ALTER COLUMN document SET COMPRESSION lz4;
  ALTER TABLE running ALTER COLUMN document SET COMPRESSION lz4;
EXCEPTION WHEN feature_not_supported THEN NULL;
END $$;
