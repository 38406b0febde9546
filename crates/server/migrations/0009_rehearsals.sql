-- Recorded rehearsals: what was asked for, and what has come of it so far.
CREATE TABLE rehearsals (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    costume bigint NOT NULL REFERENCES costumes (id) ON DELETE CASCADE,
    -- the motion as it is called
    name text NOT NULL,
    document jsonb NOT NULL,
    motion jsonb NOT NULL,
    plan jsonb NOT NULL,
    -- the drape it begins with, as in `running`; without one the costume is hung and draped first
    positions bytea,
    mesh bytea,
    at_rest boolean NOT NULL DEFAULT false,
    state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'running', 'done', 'cancelled', 'failed')),
    -- all frames with the lead-in, and those that are stored
    frames integer NOT NULL,
    lead_in integer NOT NULL,
    done integer NOT NULL DEFAULT 0,
    -- frames with a fault
    bad integer NOT NULL DEFAULT 0,
    -- the rehearsal whose first frames this one has, and how many
    begun_with bigint REFERENCES rehearsals (id) ON DELETE SET NULL,
    begun_at integer NOT NULL DEFAULT 0,
    cancelled boolean NOT NULL DEFAULT false,
    -- who works at it; what another one still stores then counts for nothing
    worker text,
    fault jsonb,
    -- seconds of work
    seconds real NOT NULL DEFAULT 0,
    -- little-endian u32 per vertex: the one it is fused with in all frames
    fused bytea,
    triangles integer,
    asked_at timestamptz NOT NULL DEFAULT now(),
    ended_at timestamptz
);
CREATE INDEX rehearsals_by_costume ON rehearsals (costume, id);

CREATE TABLE rehearsal_frames (
    rehearsal bigint NOT NULL REFERENCES rehearsals (id) ON DELETE CASCADE,
    -- 0 is the first of the lead-in
    frame integer NOT NULL,
    report jsonb NOT NULL,
    -- what changed since the frame before, or the whole for every 24th; see docs/formats.md
    cloth bytea NOT NULL,
    PRIMARY KEY (rehearsal, frame)
);
-- frames are compressed already
ALTER TABLE rehearsal_frames ALTER COLUMN cloth SET STORAGE EXTERNAL;

-- From where a rehearsal goes on, by the number of frames that are done.
CREATE TABLE rehearsal_states (
    rehearsal bigint NOT NULL REFERENCES rehearsals (id) ON DELETE CASCADE,
    frame integer NOT NULL,
    state bytea NOT NULL,
    PRIMARY KEY (rehearsal, frame)
);
ALTER TABLE rehearsal_states ALTER COLUMN state SET STORAGE EXTERNAL;
