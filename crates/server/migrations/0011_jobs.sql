-- Long work on a costume besides rehearsals: a run over sizes, a fit to an ease. What is done of it is kept part by part.
CREATE TABLE jobs (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    costume bigint NOT NULL REFERENCES costumes (id) ON DELETE CASCADE,
    name text NOT NULL,
    -- the costume as of the asking
    document jsonb NOT NULL,
    asked jsonb NOT NULL,
    state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'running', 'done', 'cancelled', 'failed')),
    -- all parts as far as is known, and those that are stored
    parts integer NOT NULL,
    done integer NOT NULL DEFAULT 0,
    cancelled boolean NOT NULL DEFAULT false,
    -- who works at it; what another one still stores then counts for nothing
    worker text,
    fault jsonb,
    -- what it came to, when that is more than its parts
    outcome jsonb,
    -- seconds of work
    seconds real NOT NULL DEFAULT 0,
    asked_at timestamptz NOT NULL DEFAULT now(),
    ended_at timestamptz
);
CREATE INDEX jobs_by_costume ON jobs (costume, id);

CREATE TABLE job_parts (
    job bigint NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
    part integer NOT NULL,
    result jsonb NOT NULL,
    picture bytea,
    -- where the next part goes on from: little-endian f32, three a vertex
    cloth bytea,
    PRIMARY KEY (job, part)
);
ALTER TABLE job_parts ALTER COLUMN picture SET STORAGE EXTERNAL;
