-- The drape that was on the stand when a costume was last open, so that a stopped server loses at most seconds.
CREATE TABLE running (
    costume bigint PRIMARY KEY REFERENCES costumes (id) ON DELETE CASCADE,
    document jsonb NOT NULL,
    -- little-endian f32 x y z per vertex, metres
    positions bytea NOT NULL,
    at_rest boolean NOT NULL,
    saved_at timestamptz NOT NULL DEFAULT now()
);
