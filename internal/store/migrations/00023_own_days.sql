-- +goose Up
-- What runners change of their own days: a session moved to another day or left out, and taken back. And days away, which stand in the
-- running planned as if a coach had written them; and whether a session was an easier one that the runner chose.
CREATE TABLE shifts (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    seq bigint GENERATED ALWAYS AS IDENTITY,
    on_day date NOT NULL, -- the last day it speaks of
    doc jsonb NOT NULL,
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);
CREATE INDEX ON shifts (runner_id, seq);
ALTER TABLE shifts ENABLE ROW LEVEL SECURITY;
ALTER TABLE shifts FORCE ROW LEVEL SECURITY;
CREATE POLICY practice_only ON shifts USING (practice_id = NULLIF(current_setting('app.practice_id', true), '')::uuid)
    WITH CHECK (practice_id = NULLIF(current_setting('app.practice_id', true), '')::uuid);
CREATE POLICY backup_sees_all ON shifts FOR SELECT TO notchback_backup USING (true);
GRANT SELECT, INSERT ON shifts TO notchback_app;
GRANT SELECT ON shifts TO notchback_backup;
ALTER TABLE running_plans ALTER coach_id DROP NOT NULL; -- none: the runner
ALTER TABLE logs ADD easier boolean NOT NULL DEFAULT false;

-- +goose Down
SELECT 1;
