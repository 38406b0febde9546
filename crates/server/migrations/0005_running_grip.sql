-- What holds the drape on the stand: pieces that stand still, and pins by vertex.
ALTER TABLE running ADD COLUMN grip jsonb NOT NULL DEFAULT '{}';
