-- Files from outside, stored once by the hash of their content.
CREATE TABLE assets (
    hash text PRIMARY KEY,
    name text NOT NULL,
    bytes bytea NOT NULL,
    stored_at timestamptz NOT NULL DEFAULT now()
);

-- Figures from elsewhere: how an asset is to be taken. The hash covers the asset and the sheet, so a corrected
-- figure is another one and costumes that wear the old one keep it.
CREATE TABLE figures (
    hash text PRIMARY KEY,
    asset text NOT NULL REFERENCES assets (hash),
    sheet jsonb NOT NULL,
    -- the newest of an asset is offered to other costumes
    stored_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX figures_by_asset ON figures (asset, stored_at);
