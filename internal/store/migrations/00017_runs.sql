-- +goose Up
-- What is told of a run beyond minutes and distance, and imports of many: what a preview found waits here for a day, a confirmed
-- import may be undone as a whole. A correction supersedes the run it names. Places are never here.
CREATE TABLE run_imports (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    coach_id uuid NOT NULL,
    state text NOT NULL DEFAULT 'preview' CHECK (state IN ('preview', 'confirmed', 'undone')),
    at timestamptz NOT NULL DEFAULT now(),
    confirmed_at timestamptz,
    undone_at timestamptz,
    UNIQUE (practice_id, id),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id),
    FOREIGN KEY (practice_id, coach_id) REFERENCES coaches (practice_id, id)
);
CREATE INDEX ON run_imports (runner_id, at);
CREATE TABLE run_import_files (
    practice_id uuid NOT NULL,
    import_id uuid NOT NULL,
    n int NOT NULL, -- file as it was sent
    found jsonb NOT NULL, -- one for each file inside it
    PRIMARY KEY (import_id, n),
    FOREIGN KEY (practice_id, import_id) REFERENCES run_imports (practice_id, id) ON DELETE CASCADE
);
ALTER TABLE runs
    ADD COLUMN details jsonb NOT NULL DEFAULT '{}',
    ADD COLUMN import_id uuid,
    ADD COLUMN supersedes uuid REFERENCES runs DEFERRABLE INITIALLY DEFERRED,
    ADD COLUMN gone_at timestamptz, -- with the import it came by, which was undone
    ADD FOREIGN KEY (practice_id, import_id) REFERENCES run_imports (practice_id, id);
CREATE INDEX ON runs (import_id) WHERE import_id IS NOT NULL;
CREATE INDEX ON runs (supersedes) WHERE supersedes IS NOT NULL;
CREATE INDEX ON runs (runner_id, (details ->> 'fileHash')) WHERE details ? 'fileHash';
GRANT UPDATE (gone_at) ON runs TO notchback_app;

-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['run_imports', 'run_import_files'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY practice_only ON %I USING (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)
            WITH CHECK (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)', t);
        EXECUTE format('CREATE POLICY backup_sees_all ON %I FOR SELECT TO notchback_backup USING (true)', t);
        EXECUTE format('GRANT SELECT, INSERT, DELETE ON %I TO notchback_app', t);
        EXECUTE format('GRANT SELECT ON %I TO notchback_backup', t);
    END LOOP;
    GRANT UPDATE (state, confirmed_at, undone_at) ON run_imports TO notchback_app;
    GRANT UPDATE (found) ON run_import_files TO notchback_app;
END $$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
