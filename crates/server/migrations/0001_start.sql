-- Productions group costumes; a costume's document is the revision at its head.
CREATE TABLE productions (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    name text NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE costumes (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    production bigint NOT NULL REFERENCES productions (id),
    -- the step of the history that is shown; higher steps can be redone
    head integer NOT NULL DEFAULT 0,
    created_at timestamptz NOT NULL DEFAULT now(),
    updated_at timestamptz NOT NULL DEFAULT now(),
    deleted_at timestamptz
);
CREATE INDEX costumes_by_production ON costumes (production);

CREATE TABLE revisions (
    costume bigint NOT NULL REFERENCES costumes (id) ON DELETE CASCADE,
    step integer NOT NULL,
    -- the edit that led here; empty for the first step
    edit jsonb,
    document jsonb NOT NULL,
    -- chosen by the browser, so that an edit sent twice counts once
    key text,
    made_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (costume, step),
    UNIQUE (costume, key)
);

CREATE TABLE fittings (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    costume bigint NOT NULL REFERENCES costumes (id) ON DELETE CASCADE,
    name text NOT NULL,
    document jsonb NOT NULL,
    -- little-endian f32 x y z per vertex, metres
    positions bytea NOT NULL,
    at_rest boolean NOT NULL,
    crossings integer NOT NULL,
    picture bytea NOT NULL,
    kept_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX fittings_by_costume ON fittings (costume, id);
