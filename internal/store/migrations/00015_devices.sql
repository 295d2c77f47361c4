-- +goose Up
-- The phones and browsers a private link was opened on, each with a secret of its own in a cookie, and the short codes that
-- open one more.
ALTER TABLE links ADD UNIQUE (practice_id, id);
CREATE TABLE link_devices (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    link_id uuid NOT NULL,
    token_hash bytea NOT NULL UNIQUE,
    device text NOT NULL, -- kind of browser and of machine
    opened_at timestamptz NOT NULL DEFAULT now(),
    seen_at timestamptz NOT NULL DEFAULT now(), -- to the hour
    ended_at timestamptz,
    FOREIGN KEY (practice_id, link_id) REFERENCES links (practice_id, id)
);
CREATE INDEX ON link_devices (link_id);
CREATE TABLE link_codes (
    practice_id uuid NOT NULL,
    link_id uuid NOT NULL,
    code_hash bytea PRIMARY KEY,
    expires_at timestamptz NOT NULL,
    device_id uuid, -- that it opened; it opens no other
    FOREIGN KEY (practice_id, link_id) REFERENCES links (practice_id, id)
);
CREATE INDEX ON link_codes (link_id);

-- +goose StatementBegin
DO $$
DECLARE t text; f text;
BEGIN
    FOREACH t IN ARRAY ARRAY['link_devices', 'link_codes'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY practice_only ON %I USING (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)
            WITH CHECK (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)', t);
        EXECUTE format('CREATE POLICY backup_sees_all ON %I FOR SELECT TO notchback_backup USING (true)', t);
        EXECUTE format('CREATE POLICY door_looks_up ON %I FOR SELECT TO notchback_door USING (true)', t);
        EXECUTE format('GRANT SELECT, INSERT ON %I TO notchback_app', t);
        EXECUTE format('GRANT SELECT ON %I TO notchback_door, notchback_backup', t);
    END LOOP;
    GRANT UPDATE (token_hash, seen_at, ended_at) ON link_devices TO notchback_app;
    GRANT DELETE ON link_codes TO notchback_app;
    GRANT UPDATE (device_id) ON link_codes TO notchback_door;
    CREATE POLICY door_redeems ON link_codes FOR UPDATE TO notchback_door USING (true) WITH CHECK (true);

    GRANT CREATE ON SCHEMA public TO notchback_door;
    -- Once more, for a database that ran an early form of migration 13 without it.
    CREATE OR REPLACE FUNCTION door_code_fits(p_email text, p_code bytea) RETURNS boolean
        LANGUAGE sql SECURITY DEFINER SET search_path = public AS
    $f$ SELECT EXISTS (SELECT FROM one_time_codes o JOIN coaches c ON c.id = o.coach_id WHERE c.email = lower(p_email)
        AND c.ended_at IS NULL AND o.code_hash = p_code AND o.used_at IS NULL AND o.expires_at > now()) $f$;
    CREATE FUNCTION door_device(p_hash bytea)
        RETURNS TABLE (id uuid, practice_id uuid, runner_id uuid, units jsonb, device_id uuid, stale boolean)
        LANGUAGE sql SECURITY DEFINER SET search_path = public AS
    $f$ SELECT l.id, l.practice_id, l.runner_id, r.phone_units, d.id, d.seen_at < now() - interval '1 hour'
        FROM link_devices d JOIN links l ON l.id = d.link_id JOIN runners r ON r.id = l.runner_id
        WHERE d.token_hash = p_hash AND d.ended_at IS NULL AND l.revoked_at IS NULL AND l.expires_at > now() AND r.archived_at IS NULL $f$;
    CREATE FUNCTION door_link_ends(p_hash bytea) RETURNS TABLE (id uuid, practice_id uuid, runner_id uuid, expires_at timestamptz)
        LANGUAGE sql SECURITY DEFINER SET search_path = public AS
    $f$ SELECT l.id, l.practice_id, l.runner_id, l.expires_at FROM links l JOIN runners r ON r.id = l.runner_id
        WHERE l.token_hash = p_hash AND l.revoked_at IS NULL AND l.expires_at > now() AND r.archived_at IS NULL $f$;
    -- A code opens one device; asked again for the same one it answers the same.
    CREATE FUNCTION door_link_code(p_code bytea, p_device uuid)
        RETURNS TABLE (id uuid, practice_id uuid, runner_id uuid, expires_at timestamptz)
        LANGUAGE sql SECURITY DEFINER SET search_path = public AS
    $f$ UPDATE link_codes c SET device_id = p_device FROM links l JOIN runners r ON r.id = l.runner_id
        WHERE c.code_hash = p_code AND c.expires_at > now() AND (c.device_id IS NULL OR c.device_id = p_device) AND l.id = c.link_id
            AND l.revoked_at IS NULL AND l.expires_at > now() AND r.archived_at IS NULL
        RETURNING l.id, l.practice_id, l.runner_id, l.expires_at $f$;
    FOREACH f IN ARRAY ARRAY['door_code_fits(text, bytea)', 'door_device(bytea)', 'door_link_ends(bytea)', 'door_link_code(bytea, uuid)'] LOOP
        EXECUTE format('REVOKE ALL ON FUNCTION %s FROM PUBLIC', f);
        EXECUTE format('GRANT EXECUTE ON FUNCTION %s TO notchback_app', f);
        EXECUTE format('ALTER FUNCTION %s OWNER TO notchback_door', f);
    END LOOP;
    REVOKE CREATE ON SCHEMA public FROM notchback_door;
END $$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
