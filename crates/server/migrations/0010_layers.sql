-- Layers of a costume rehearsed one after the other: only pieces worn up to this are in it, and the rehearsal whose recorded cloth
-- lies beneath it.
ALTER TABLE rehearsals ADD COLUMN layers integer;
ALTER TABLE rehearsals ADD COLUMN beneath bigint REFERENCES rehearsals (id);
