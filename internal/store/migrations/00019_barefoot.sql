-- +goose Up
-- The transition to bare feet or thinner shoes: the plan as last written, what the coach decided of it, and every go as it was told.
CREATE TABLE barefoot_plans (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    coach_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT clock_timestamp(),
    doc jsonb NOT NULL,
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id),
    FOREIGN KEY (practice_id, coach_id) REFERENCES coaches (practice_id, id)
);
CREATE INDEX ON barefoot_plans (runner_id, at);
CREATE TABLE barefoot_moves (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    coach_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT clock_timestamp(),
    on_day date NOT NULL,
    engine text NOT NULL, -- release whose rules it was decided by
    doc jsonb NOT NULL, -- from, to, verdict, reasons, newest report it saw
    inputs jsonb NOT NULL, -- what it was judged from
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id),
    FOREIGN KEY (practice_id, coach_id) REFERENCES coaches (practice_id, id)
);
CREATE INDEX ON barefoot_moves (runner_id, at);
CREATE TABLE barefoot_logs (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT clock_timestamp(),
    on_day date NOT NULL,
    source text NOT NULL CHECK (source IN ('phone', 'coach')),
    report bigint NOT NULL,
    doc jsonb NOT NULL,
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);
CREATE INDEX ON barefoot_logs (runner_id, on_day);

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['barefoot_plans', 'barefoot_moves', 'barefoot_logs'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY practice_only ON %I USING (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)
            WITH CHECK (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)', t);
        EXECUTE format('CREATE POLICY backup_sees_all ON %I FOR SELECT TO notchback_backup USING (true)', t);
        EXECUTE format('GRANT SELECT, INSERT ON %I TO notchback_app', t);
        EXECUTE format('GRANT SELECT ON %I TO notchback_backup', t);
    END LOOP;
END $$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
