-- +goose Up
-- The running planned for a runner: weeks, the rule behind them and spans of days. Each writing is a row of its own; the newest
-- holds. A runner may import files too. And how a practice said the columns of a table of runs are to be read, by its heading.
CREATE TABLE running_plans (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    coach_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT clock_timestamp(),
    doc jsonb NOT NULL,
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id),
    FOREIGN KEY (practice_id, coach_id) REFERENCES coaches (practice_id, id)
);
CREATE INDEX ON running_plans (runner_id, at);
ALTER TABLE run_imports ALTER coach_id DROP NOT NULL; -- none: the runner's own, from the phone
CREATE TABLE run_columns (
    practice_id uuid NOT NULL REFERENCES practices,
    heading text NOT NULL, -- digest of the names of the columns
    columns jsonb NOT NULL, -- what each of them is
    at timestamptz NOT NULL DEFAULT clock_timestamp(),
    PRIMARY KEY (practice_id, heading)
);

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['running_plans', 'run_columns'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY practice_only ON %I USING (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)
            WITH CHECK (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)', t);
        EXECUTE format('CREATE POLICY backup_sees_all ON %I FOR SELECT TO notchback_backup USING (true)', t);
        EXECUTE format('GRANT SELECT, INSERT ON %I TO notchback_app', t);
        EXECUTE format('GRANT SELECT ON %I TO notchback_backup', t);
    END LOOP;
    GRANT UPDATE (columns, at) ON run_columns TO notchback_app;
END $$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
