-- +goose Up
-- +goose StatementBegin
CREATE TABLE practices (
    id uuid PRIMARY KEY,
    name text NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE coaches (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL REFERENCES practices,
    name text NOT NULL,
    email text NOT NULL CHECK (email = lower(email)),
    password_hash text NOT NULL DEFAULT '',
    epoch int NOT NULL DEFAULT 0, -- raised to sign out everywhere
    created_at timestamptz NOT NULL DEFAULT now(),
    UNIQUE (email),
    UNIQUE (practice_id, id)
);

CREATE TABLE one_time_codes (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL REFERENCES practices,
    coach_id uuid NOT NULL,
    code_hash bytea NOT NULL,
    expires_at timestamptz NOT NULL,
    used_at timestamptz,
    created_at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, coach_id) REFERENCES coaches (practice_id, id)
);

CREATE TABLE house_changes (
    seq bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    practice_id uuid NOT NULL REFERENCES practices,
    key text NOT NULL,
    value double precision, -- null: back to the default
    coach_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE runners (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL REFERENCES practices,
    name text NOT NULL,
    timezone text NOT NULL,
    profile jsonb NOT NULL,
    version int NOT NULL DEFAULT 1,
    archived_at timestamptz,
    created_at timestamptz NOT NULL DEFAULT now(),
    UNIQUE (practice_id, id)
);

CREATE TABLE runner_revisions (
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    version int NOT NULL,
    name text NOT NULL,
    profile jsonb NOT NULL,
    coach_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (runner_id, version),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);

CREATE TABLE stops (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    sign text NOT NULL,
    region text NOT NULL,
    side text NOT NULL,
    on_day date NOT NULL,
    source text NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id),
    UNIQUE (practice_id, id)
);

CREATE TABLE clearances (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    stop_id uuid NOT NULL,
    kind text NOT NULL,
    who text NOT NULL,
    on_day date NOT NULL,
    limits text NOT NULL,
    coach_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, stop_id) REFERENCES stops (practice_id, id)
);

CREATE TABLE screens (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    on_day date NOT NULL,
    finished_at timestamptz,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id),
    UNIQUE (practice_id, id)
);

CREATE TABLE trials (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    screen_id uuid NOT NULL,
    measure text NOT NULL,
    protocol int NOT NULL,
    side text NOT NULL,
    value double precision NOT NULL,
    faults text[] NOT NULL,
    stop text NOT NULL,
    skipped text NOT NULL,
    on_day date NOT NULL,
    at timestamptz NOT NULL DEFAULT clock_timestamp(),
    removed_at timestamptz,
    FOREIGN KEY (practice_id, screen_id) REFERENCES screens (practice_id, id)
);
CREATE INDEX ON trials (screen_id);

CREATE TABLE programmes (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    on_day date NOT NULL,
    plan jsonb NOT NULL,
    inputs jsonb NOT NULL,
    engine text NOT NULL,
    house_version int NOT NULL,
    coach_id uuid NOT NULL,
    seq bigint GENERATED ALWAYS AS IDENTITY,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id),
    UNIQUE (practice_id, id)
);
CREATE INDEX ON programmes (runner_id, seq DESC);

CREATE TABLE training_days (
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    programme_id uuid NOT NULL,
    on_day date NOT NULL,
    rail text NOT NULL,
    slot text NOT NULL,
    PRIMARY KEY (programme_id, on_day, rail),
    FOREIGN KEY (practice_id, programme_id) REFERENCES programmes (practice_id, id)
);

CREATE TABLE prescriptions (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    programme_id uuid NOT NULL,
    rail text NOT NULL,
    side text NOT NULL,
    exercise text NOT NULL,
    dose jsonb NOT NULL,
    from_day date NOT NULL,
    cause text NOT NULL,
    parked boolean NOT NULL,
    seq bigint GENERATED ALWAYS AS IDENTITY,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, programme_id) REFERENCES programmes (practice_id, id)
);
CREATE INDEX ON prescriptions (programme_id, rail, side, seq DESC);

CREATE TABLE usual_mornings (
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    programme_id uuid NOT NULL,
    region text NOT NULL,
    side text NOT NULL,
    level double precision NOT NULL,
    reason jsonb NOT NULL,
    seq bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, programme_id) REFERENCES programmes (practice_id, id)
);

CREATE TABLE links (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    token_hash bytea NOT NULL UNIQUE,
    expires_at timestamptz NOT NULL,
    revoked_at timestamptz,
    created_at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);

CREATE TABLE logs (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    on_day date NOT NULL,
    prescription_id uuid NOT NULL,
    prescription jsonb NOT NULL, -- as it was shown
    done int[] NOT NULL,
    rpe int NOT NULL,
    pain int NOT NULL,
    cramp_at int NOT NULL,
    faults text[] NOT NULL,
    note text NOT NULL,
    source text NOT NULL,
    supersedes uuid,
    seq bigint GENERATED ALWAYS AS IDENTITY,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);
CREATE INDEX ON logs (runner_id, on_day);
CREATE INDEX ON logs (supersedes) WHERE supersedes IS NOT NULL;

CREATE TABLE mornings (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    on_day date NOT NULL,
    region text NOT NULL,
    side text NOT NULL,
    pain int NOT NULL,
    stiffness int NOT NULL,
    source text NOT NULL,
    seq bigint GENERATED ALWAYS AS IDENTITY,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);
CREATE INDEX ON mornings (runner_id, on_day);

CREATE TABLE runs (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    on_day date NOT NULL,
    minutes double precision NOT NULL,
    km double precision NOT NULL,
    rpe int NOT NULL,
    source text NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);
CREATE INDEX ON runs (runner_id, on_day);

CREATE TABLE decisions (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    programme_id uuid NOT NULL,
    rail text NOT NULL,
    side text NOT NULL,
    proposed text NOT NULL,
    verdict text NOT NULL,
    steps int NOT NULL,
    word text NOT NULL,
    from_prescription uuid NOT NULL,
    to_prescription uuid NOT NULL,
    inputs jsonb NOT NULL,
    fired jsonb NOT NULL,
    engine text NOT NULL,
    house_version int NOT NULL,
    coach_id uuid NOT NULL,
    on_day date NOT NULL,
    seq bigint GENERATED ALWAYS AS IDENTITY,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, programme_id) REFERENCES programmes (practice_id, id)
);
CREATE INDEX ON decisions (runner_id, seq);

CREATE INDEX ON decisions (programme_id);
CREATE INDEX ON usual_mornings (programme_id, region, side, seq DESC);
CREATE INDEX ON screens (runner_id);
CREATE INDEX ON stops (runner_id);
CREATE INDEX ON clearances (stop_id);
CREATE INDEX ON links (runner_id);
CREATE INDEX ON runners (practice_id);

-- Signed-in browsers and sign-in attempts belong to no practice; only door functions reach them.
CREATE TABLE web_sessions (token_hash bytea PRIMARY KEY, data bytea NOT NULL, expiry timestamptz NOT NULL);
CREATE TABLE signin_attempts (key text NOT NULL, at timestamptz NOT NULL DEFAULT now());
CREATE INDEX ON signin_attempts (key, at);

-- Row-level security: every table of a practice, forced on its owner too.
DO $$
DECLARE t text; col text;
BEGIN
    FOREACH t IN ARRAY ARRAY['practices','coaches','one_time_codes','house_changes','runners','runner_revisions','stops','clearances','screens','trials','programmes','training_days','prescriptions','usual_mornings','links','logs','mornings','runs','decisions'] LOOP
        col := CASE t WHEN 'practices' THEN 'id' ELSE 'practice_id' END;
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY practice_only ON %I USING (%I = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid) WITH CHECK (%I = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)', t, col, col);
        EXECUTE format('GRANT SELECT, INSERT ON %I TO notchback_app', t);
        EXECUTE format('GRANT SELECT, UPDATE ON %I TO notchback_door', t);
    END LOOP;
END $$;

-- Records are append-only; only these may change.
GRANT UPDATE (name, password_hash, epoch) ON coaches TO notchback_app;
GRANT UPDATE (name, timezone, profile, version, archived_at) ON runners TO notchback_app;
GRANT UPDATE (finished_at) ON screens TO notchback_app;
GRANT UPDATE (removed_at) ON trials TO notchback_app;
GRANT UPDATE (revoked_at) ON links TO notchback_app;
GRANT UPDATE (used_at) ON one_time_codes TO notchback_app;
GRANT SELECT, INSERT, UPDATE, DELETE ON web_sessions, signin_attempts TO notchback_door;

-- The doors: what must be looked up before a practice is known, and nothing more.
CREATE FUNCTION door_coach(p_email text) RETURNS TABLE (id uuid, practice_id uuid, password_hash text, epoch int)
    LANGUAGE sql SECURITY DEFINER SET search_path = public AS
$$ SELECT c.id, c.practice_id, c.password_hash, c.epoch FROM coaches c WHERE c.email = lower(p_email) $$;

CREATE FUNCTION door_signed_in(p_coach uuid, p_epoch int) RETURNS TABLE (practice_id uuid, name text, email text, practice text)
    LANGUAGE sql SECURITY DEFINER SET search_path = public AS
$$ SELECT c.practice_id, c.name, c.email, p.name FROM coaches c JOIN practices p ON p.id = c.practice_id WHERE c.id = p_coach AND c.epoch = p_epoch $$;

CREATE FUNCTION door_link(p_hash bytea) RETURNS TABLE (id uuid, practice_id uuid, runner_id uuid)
    LANGUAGE sql SECURITY DEFINER SET search_path = public AS
$$ SELECT l.id, l.practice_id, l.runner_id FROM links l JOIN runners r ON r.id = l.runner_id
   WHERE l.token_hash = p_hash AND l.revoked_at IS NULL AND l.expires_at > now() AND r.archived_at IS NULL $$;

CREATE FUNCTION door_redeem(p_email text, p_code bytea, p_password text) RETURNS uuid
    LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS
$$
DECLARE v_coach uuid;
BEGIN
    UPDATE one_time_codes o SET used_at = now() FROM coaches c
    WHERE c.id = o.coach_id AND c.email = lower(p_email) AND o.code_hash = p_code AND o.used_at IS NULL AND o.expires_at > now()
    RETURNING c.id INTO v_coach;
    IF v_coach IS NOT NULL THEN
        UPDATE coaches SET password_hash = p_password, epoch = epoch + 1 WHERE coaches.id = v_coach;
    END IF;
    RETURN v_coach;
END $$;

CREATE FUNCTION door_attempt(p_key text, p_window interval) RETURNS bigint
    LANGUAGE plpgsql SECURITY DEFINER SET search_path = public AS
$$
DECLARE n bigint;
BEGIN
    DELETE FROM signin_attempts WHERE at < now() - interval '1 day';
    INSERT INTO signin_attempts (key) VALUES (p_key);
    SELECT count(*) INTO n FROM signin_attempts s WHERE s.key = p_key AND s.at > now() - p_window;
    RETURN n;
END $$;

CREATE FUNCTION door_forget_attempts(p_key text) RETURNS void
    LANGUAGE sql SECURITY DEFINER SET search_path = public AS
$$ DELETE FROM signin_attempts s WHERE s.key = p_key $$;

CREATE FUNCTION door_session_find(p_hash bytea) RETURNS bytea
    LANGUAGE sql SECURITY DEFINER SET search_path = public AS
$$ SELECT data FROM web_sessions WHERE token_hash = p_hash AND expiry > now() $$;

CREATE FUNCTION door_session_commit(p_hash bytea, p_data bytea, p_expiry timestamptz) RETURNS void
    LANGUAGE sql SECURITY DEFINER SET search_path = public AS
$$ INSERT INTO web_sessions VALUES (p_hash, p_data, p_expiry) ON CONFLICT (token_hash) DO UPDATE SET data = excluded.data, expiry = excluded.expiry $$;

CREATE FUNCTION door_session_delete(p_hash bytea) RETURNS void
    LANGUAGE sql SECURITY DEFINER SET search_path = public AS
$$ DELETE FROM web_sessions WHERE token_hash = p_hash OR expiry < now() $$;

DO $$
DECLARE f text;
BEGIN
    GRANT CREATE ON SCHEMA public TO notchback_door;
    FOR f IN SELECT p.oid::regprocedure::text FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace WHERE n.nspname = 'public' AND p.proname LIKE 'door\_%' LOOP
        EXECUTE format('REVOKE ALL ON FUNCTION %s FROM PUBLIC', f);
        EXECUTE format('GRANT EXECUTE ON FUNCTION %s TO notchback_app', f);
        EXECUTE format('ALTER FUNCTION %s OWNER TO notchback_door', f);
    END LOOP;
    REVOKE CREATE ON SCHEMA public FROM notchback_door;
END $$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
