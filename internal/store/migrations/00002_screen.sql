-- +goose Up
-- +goose StatementBegin
ALTER TABLE trials
    ADD parts double precision[] NOT NULL DEFAULT '{}',
    ADD context jsonb,
    ADD place text NOT NULL DEFAULT '',
    ADD moment text NOT NULL DEFAULT '',
    ADD coach_id uuid;
ALTER TABLE screens
    ADD kind text NOT NULL DEFAULT 'full',
    ADD measures text[] NOT NULL DEFAULT '{}';
ALTER TABLE stops ADD which text[] NOT NULL DEFAULT '{}';
ALTER TABLE house_changes ADD choice text; -- an approach, or the core screen's stations

CREATE TABLE sign_checks (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    on_day date NOT NULL,
    source text NOT NULL,
    denied text[] NOT NULL,
    coach_id uuid, -- null: answered by the runner
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);
CREATE INDEX ON sign_checks (runner_id, on_day);

-- What a runner filled in through the private link; the coach takes it over or not.
CREATE TABLE intake_forms (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    on_day date NOT NULL,
    profile jsonb NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    taken_at timestamptz,
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);
CREATE INDEX ON intake_forms (runner_id);

DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['sign_checks','intake_forms'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY practice_only ON %I USING (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid) WITH CHECK (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)', t);
        EXECUTE format('GRANT SELECT, INSERT ON %I TO notchback_app', t);
    END LOOP;
END $$;
GRANT UPDATE (taken_at) ON intake_forms TO notchback_app;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
