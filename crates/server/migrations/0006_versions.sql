-- Counts every change of what a costume shows, also undo and redo, so that an older answer never replaces a newer one.
ALTER TABLE costumes ADD COLUMN version bigint NOT NULL DEFAULT 0;
-- Requests that were carried out, by the key the browser chose: each counts once, whatever became of its step.
CREATE TABLE carried_out (
    costume bigint NOT NULL REFERENCES costumes (id) ON DELETE CASCADE,
    key text NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (costume, key)
);
INSERT INTO carried_out (costume, key) SELECT costume, key FROM revisions WHERE key IS NOT NULL;
-- Wind, gravity and calm of a kept drape.
ALTER TABLE fittings ADD COLUMN air jsonb NOT NULL DEFAULT 'null';
