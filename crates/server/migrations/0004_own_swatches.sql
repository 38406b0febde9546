-- Cloths that were kept in the swatch book, for all costumes.
CREATE TABLE own_swatches (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    -- a fabric as it stands in a document; its name is unique in the book
    fabric jsonb NOT NULL,
    kept_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX own_swatches_by_name ON own_swatches ((fabric ->> 'name'));
