-- The mesh that positions belong to, so that a later mesher never orphans a drape; see docs/formats.md. Drapes of builds
-- before have none.
ALTER TABLE fittings ADD COLUMN mesh bytea;
ALTER TABLE running ADD COLUMN mesh bytea;
