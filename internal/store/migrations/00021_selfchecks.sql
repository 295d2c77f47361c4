-- +goose Up
-- What runners checked of themselves at home, as they told it. No figure of it is a trial of a screen; only that a coach has seen it is
-- marked.
CREATE TABLE selfchecks (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT clock_timestamp(),
    on_day date NOT NULL,
    doc jsonb NOT NULL,
    seen_at timestamptz,
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);
CREATE INDEX ON selfchecks (runner_id, at);
ALTER TABLE selfchecks ENABLE ROW LEVEL SECURITY;
ALTER TABLE selfchecks FORCE ROW LEVEL SECURITY;
CREATE POLICY practice_only ON selfchecks USING (practice_id = NULLIF(current_setting('app.practice_id', true), '')::uuid)
    WITH CHECK (practice_id = NULLIF(current_setting('app.practice_id', true), '')::uuid);
CREATE POLICY backup_sees_all ON selfchecks FOR SELECT TO notchback_backup USING (true);
GRANT SELECT, INSERT ON selfchecks TO notchback_app;
GRANT UPDATE (seen_at) ON selfchecks TO notchback_app;
GRANT SELECT ON selfchecks TO notchback_backup;

-- +goose Down
SELECT 1;
