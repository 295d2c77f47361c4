-- +goose Up
-- The functions that look something up before a practice is known go by policies of their own role, on just the tables they
-- read, so that no role passes row security by; a role for backups sees every row and writes none. Which releases may still
-- write is said in one row: a program whose newest migration is older only reads.
-- +goose StatementBegin
DO $$
DECLARE t text;
BEGIN
    IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'notchback_backup') THEN
        RAISE EXCEPTION 'create the role notchback_backup first: CREATE ROLE notchback_backup';
    END IF;
    FOR t IN SELECT c.relname FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
        WHERE n.nspname = 'public' AND c.relkind = 'r' AND c.relname <> 'goose_db_version' LOOP
        EXECUTE format('GRANT SELECT ON %I TO notchback_backup', t);
        IF (SELECT relrowsecurity FROM pg_class WHERE oid = format('public.%I', t)::regclass) THEN
            EXECUTE format('CREATE POLICY backup_sees_all ON %I FOR SELECT TO notchback_backup USING (true)', t);
            EXECUTE format('REVOKE ALL ON %I FROM notchback_door', t);
        END IF;
    END LOOP;
    GRANT SELECT ON goose_db_version TO notchback_backup, notchback_app;
    GRANT SELECT ON ALL SEQUENCES IN SCHEMA public TO notchback_backup;
    FOREACH t IN ARRAY ARRAY['practices', 'coaches', 'one_time_codes', 'links', 'runners', 'coach_sessions'] LOOP
        EXECUTE format('GRANT SELECT ON %I TO notchback_door', t);
        EXECUTE format('CREATE POLICY door_looks_up ON %I FOR SELECT TO notchback_door USING (true)', t);
    END LOOP;
    FOREACH t IN ARRAY ARRAY['coaches', 'one_time_codes'] LOOP
        EXECUTE format('GRANT UPDATE ON %I TO notchback_door', t);
        EXECUTE format('CREATE POLICY door_redeems ON %I FOR UPDATE TO notchback_door USING (true) WITH CHECK (true)', t);
    END LOOP;
    ALTER DEFAULT PRIVILEGES IN SCHEMA public GRANT SELECT ON TABLES TO notchback_backup;
    ALTER DEFAULT PRIVILEGES IN SCHEMA public GRANT SELECT ON SEQUENCES TO notchback_backup;
    CREATE TABLE compat (one boolean PRIMARY KEY DEFAULT true CHECK (one), writes_from bigint NOT NULL);
    INSERT INTO compat (writes_from) VALUES (11);
    GRANT SELECT ON compat TO notchback_app;
END $$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
