-- +goose Up
-- Roles, sessions that can be listed and ended one by one, a second factor, sign-in limits that count failures, and a record
-- of who did what. The functions of earlier releases stay for the release before this one.
ALTER TABLE coaches
    ADD COLUMN role text NOT NULL DEFAULT 'coach' CHECK (role IN ('owner', 'coach')),
    ADD COLUMN ended_at timestamptz,              -- access ended; the name stays on what was decided
    ADD COLUMN totp_secret text NOT NULL DEFAULT '', -- of the second factor; empty: none
    ADD COLUMN totp_step bigint NOT NULL DEFAULT 0;  -- the newest half minute whose number was used
ALTER TABLE coaches NO FORCE ROW LEVEL SECURITY; -- every practice's earliest coach, past the policies for a moment
UPDATE coaches SET role = 'owner' WHERE id IN (SELECT DISTINCT ON (practice_id) id FROM coaches ORDER BY practice_id, created_at, id);
ALTER TABLE coaches FORCE ROW LEVEL SECURITY;

-- The coaches' browsers. What a session holds is in web_sessions; this says whose it is.
CREATE TABLE coach_sessions (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL REFERENCES practices,
    coach_id uuid NOT NULL,
    token_hash bytea NOT NULL UNIQUE,
    device text NOT NULL, -- kind of browser and of machine
    began_at timestamptz NOT NULL DEFAULT now(),
    seen_at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, coach_id) REFERENCES coaches (practice_id, id)
);
CREATE INDEX ON coach_sessions (coach_id);

CREATE TABLE recovery_codes (
    practice_id uuid NOT NULL REFERENCES practices,
    coach_id uuid NOT NULL,
    code_hash bytea NOT NULL,
    used_at timestamptz,
    PRIMARY KEY (coach_id, code_hash),
    FOREIGN KEY (practice_id, coach_id) REFERENCES coaches (practice_id, id)
);

-- Who did what. Rows are only ever added.
CREATE TABLE audit (
    practice_id uuid NOT NULL REFERENCES practices,
    seq bigint GENERATED ALWAYS AS IDENTITY,
    at timestamptz NOT NULL DEFAULT now(),
    coach_id uuid,          -- none: on the phone, or from the command line
    runner_id uuid,
    did text NOT NULL,      -- name of the deed
    PRIMARY KEY (practice_id, seq)
);
CREATE INDEX ON audit (practice_id, runner_id, seq);

-- Where somebody signed in before: from there the account is never shut by others' failures.
CREATE TABLE signin_known (key text PRIMARY KEY, at timestamptz NOT NULL DEFAULT now());
CREATE INDEX ON signin_attempts (at);
CREATE INDEX ON web_sessions (expiry);
CREATE INDEX ON one_time_codes (coach_id);
CREATE INDEX ON house_changes (practice_id, seq);
CREATE INDEX ON trials (clip_id);
CREATE INDEX ON clips (replaces);

-- +goose StatementBegin
DO $$
DECLARE t text; f text;
BEGIN
    FOREACH t IN ARRAY ARRAY['coach_sessions', 'recovery_codes', 'audit'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY practice_only ON %I USING (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)
            WITH CHECK (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)', t);
        EXECUTE format('GRANT SELECT, INSERT ON %I TO notchback_app', t);
    END LOOP;
    GRANT UPDATE (seen_at), DELETE ON coach_sessions TO notchback_app;
    GRANT UPDATE (used_at), DELETE ON recovery_codes TO notchback_app;
    GRANT UPDATE (role, ended_at, totp_secret, totp_step) ON coaches TO notchback_app;
    GRANT SELECT, INSERT, UPDATE, DELETE ON signin_known TO notchback_door;
    GRANT SELECT ON coach_sessions TO notchback_door;

    GRANT CREATE ON SCHEMA public TO notchback_door;
    CREATE OR REPLACE FUNCTION door_coach(p_email text) RETURNS TABLE (id uuid, practice_id uuid, password_hash text, epoch int)
        LANGUAGE sql SECURITY DEFINER SET search_path = public AS
    $f$ SELECT c.id, c.practice_id, c.password_hash, c.epoch FROM coaches c WHERE c.email = lower(p_email) AND c.ended_at IS NULL $f$;
    CREATE FUNCTION door_account(p_email text) RETURNS TABLE (id uuid, practice_id uuid, password_hash text, epoch int, role text,
        totp_secret text) LANGUAGE sql SECURITY DEFINER SET search_path = public AS
    $f$ SELECT c.id, c.practice_id, c.password_hash, c.epoch, c.role, c.totp_secret FROM coaches c
        WHERE c.email = lower(p_email) AND c.ended_at IS NULL $f$;
    DROP FUNCTION door_signed_in(uuid, int);
    CREATE FUNCTION door_signed_in(p_coach uuid, p_epoch int)
        RETURNS TABLE (practice_id uuid, name text, email text, practice text, units jsonb, role text, second_factor boolean)
        LANGUAGE sql SECURITY DEFINER SET search_path = public AS
    $f$ SELECT c.practice_id, c.name, c.email, p.name, c.units, c.role, c.totp_secret <> '' FROM coaches c
        JOIN practices p ON p.id = c.practice_id WHERE c.id = p_coach AND c.epoch = p_epoch AND c.ended_at IS NULL $f$;
    CREATE OR REPLACE FUNCTION door_redeem(p_email text, p_code bytea, p_password text) RETURNS uuid
        LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS
    $f$
    DECLARE v_coach uuid;
    BEGIN
        UPDATE one_time_codes o SET used_at = now() FROM coaches c
        WHERE c.id = o.coach_id AND c.email = lower(p_email) AND c.ended_at IS NULL AND o.code_hash = p_code AND o.used_at IS NULL
            AND o.expires_at > now()
        RETURNING c.id INTO v_coach;
        IF v_coach IS NOT NULL THEN
            UPDATE coaches SET password_hash = p_password, epoch = epoch + 1 WHERE coaches.id = v_coach;
        END IF;
        RETURN v_coach;
    END $f$;
    CREATE FUNCTION door_code_fits(p_email text, p_code bytea) RETURNS boolean
        LANGUAGE sql SECURITY DEFINER SET search_path = public AS
    $f$ SELECT EXISTS (SELECT FROM one_time_codes o JOIN coaches c ON c.id = o.coach_id WHERE c.email = lower(p_email)
        AND c.ended_at IS NULL AND o.code_hash = p_code AND o.used_at IS NULL AND o.expires_at > now()) $f$;
    -- A try is counted as failed when it begins, and taken back when it succeeds, so that many at once count too.
    CREATE FUNCTION door_try(p_pair text, p_account text, p_address text, p_window interval, p_most int[]) RETURNS boolean
        LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS
    $f$
    DECLARE over boolean;
    BEGIN
        PERFORM pg_advisory_xact_lock(hashtextextended(p_account, 0));
        DELETE FROM signin_attempts WHERE at < now() - interval '1 day';
        DELETE FROM signin_known WHERE at < now() - interval '180 days';
        SELECT (SELECT count(*) FROM signin_attempts WHERE key = p_pair AND at > now() - p_window) >= p_most[1]
            OR (SELECT count(*) FROM signin_attempts WHERE key = p_address AND at > now() - p_window) >= p_most[2]
            OR (SELECT count(*) FROM signin_attempts WHERE key = p_account AND at > now() - p_window) >= p_most[3]
                AND NOT EXISTS (SELECT FROM signin_known WHERE key = p_pair)
        INTO over;
        IF NOT over THEN
            INSERT INTO signin_attempts (key) VALUES (p_pair), (p_account), (p_address);
        END IF;
        RETURN NOT over;
    END $f$;
    CREATE FUNCTION door_let_in(p_pair text, p_account text, p_address text) RETURNS void
        LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS
    $f$
    BEGIN
        DELETE FROM signin_attempts WHERE key = p_pair;
        DELETE FROM signin_attempts WHERE ctid IN (SELECT ctid FROM signin_attempts WHERE key = p_account ORDER BY at DESC LIMIT 1);
        DELETE FROM signin_attempts WHERE ctid IN (SELECT ctid FROM signin_attempts WHERE key = p_address ORDER BY at DESC LIMIT 1);
        INSERT INTO signin_known (key) VALUES (p_pair) ON CONFLICT (key) DO UPDATE SET at = now();
    END $f$;
    CREATE FUNCTION door_session_end(p_coach uuid, p_id uuid) RETURNS void
        LANGUAGE sql SECURITY DEFINER SET search_path = public AS
    $f$ DELETE FROM web_sessions w USING coach_sessions s WHERE s.id = p_id AND s.coach_id = p_coach AND s.token_hash = w.token_hash $f$;
    FOREACH f IN ARRAY ARRAY['door_account(text)', 'door_signed_in(uuid, int)', 'door_try(text, text, text, interval, int[])',
        'door_let_in(text, text, text)', 'door_session_end(uuid, uuid)',
        'door_code_fits(text, bytea)'] LOOP
        EXECUTE format('REVOKE ALL ON FUNCTION %s FROM PUBLIC', f);
        EXECUTE format('GRANT EXECUTE ON FUNCTION %s TO notchback_app', f);
        EXECUTE format('ALTER FUNCTION %s OWNER TO notchback_door', f);
    END LOOP;
    REVOKE CREATE ON SCHEMA public FROM notchback_door;
END $$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
