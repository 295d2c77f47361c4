-- +goose Up
-- +goose StatementBegin
-- A practice's own rails: added, copied, changed or retired. Every change is a new version.
CREATE TABLE own_rails (
    practice_id uuid NOT NULL REFERENCES practices,
    rail_id text NOT NULL,
    version int NOT NULL,
    rail jsonb, -- null: the shipped rail again, or none
    coach_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (practice_id, rail_id, version)
);

-- A week as the coach moved it; its days hold from from_day on.
CREATE TABLE weeks (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    programme_id uuid NOT NULL,
    from_day date NOT NULL,
    week jsonb NOT NULL,
    coach_id uuid NOT NULL,
    seq bigint GENERATED ALWAYS AS IDENTITY,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, programme_id) REFERENCES programmes (practice_id, id)
);
CREATE INDEX ON weeks (programme_id, seq DESC);

ALTER TABLE training_days ADD week_seq bigint NOT NULL DEFAULT 0; -- 0: as built
ALTER TABLE training_days DROP CONSTRAINT training_days_pkey;
ALTER TABLE training_days ADD PRIMARY KEY (programme_id, week_seq, on_day, rail);

DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['own_rails','weeks'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY practice_only ON %I USING (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid) WITH CHECK (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)', t);
        EXECUTE format('GRANT SELECT, INSERT ON %I TO notchback_app', t);
    END LOOP;
END $$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
