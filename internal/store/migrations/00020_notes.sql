-- +goose Up
-- What a runner and the coaches write beside a day, and what a session left out. The text stays as it was written; only that it was
-- read is marked.
CREATE TABLE notes (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    coach_id uuid, -- who wrote it; none: the runner
    at timestamptz NOT NULL DEFAULT clock_timestamp(),
    on_day date NOT NULL,
    doc jsonb NOT NULL,
    read_at timestamptz,
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id),
    FOREIGN KEY (practice_id, coach_id) REFERENCES coaches (practice_id, id)
);
CREATE INDEX ON notes (runner_id, at);
ALTER TABLE notes ENABLE ROW LEVEL SECURITY;
ALTER TABLE notes FORCE ROW LEVEL SECURITY;
CREATE POLICY practice_only ON notes USING (practice_id = NULLIF(current_setting('app.practice_id', true), '')::uuid)
    WITH CHECK (practice_id = NULLIF(current_setting('app.practice_id', true), '')::uuid);
CREATE POLICY backup_sees_all ON notes FOR SELECT TO notchback_backup USING (true);
GRANT SELECT, INSERT ON notes TO notchback_app;
GRANT UPDATE (read_at) ON notes TO notchback_app;
GRANT SELECT ON notes TO notchback_backup;

-- +goose Down
SELECT 1;
