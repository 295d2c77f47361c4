-- +goose Up
-- +goose StatementBegin
-- Stored documents say which shape they have; a reader knows every shape there was.
ALTER TABLE programmes ADD doc int NOT NULL DEFAULT 1;
ALTER TABLE weeks ADD doc int NOT NULL DEFAULT 1;
ALTER TABLE decisions ADD doc int NOT NULL DEFAULT 1;
ALTER TABLE logs ADD doc int NOT NULL DEFAULT 1;
ALTER TABLE runners ADD doc int NOT NULL DEFAULT 1;

-- How often a runner's record was changed: what is computed from it says which state it was computed from.
-- tested counts the changes that were trials of a screen alone.
ALTER TABLE runners ADD touched bigint NOT NULL DEFAULT 0, ADD tested bigint NOT NULL DEFAULT 0;
GRANT UPDATE (touched, tested) ON runners TO notchback_app;

-- The reason a decision was stored with, so that a list of decisions opens none of their documents.
ALTER TABLE decisions ADD why text NOT NULL DEFAULT '';

-- What Today, the roster and the steps of the job need of a runner, computed from the record as it stood.
CREATE TABLE standings (
    runner_id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    touched bigint NOT NULL,
    tested bigint NOT NULL,
    on_day date NOT NULL,
    rules text NOT NULL,
    engine text NOT NULL,
    standing jsonb NOT NULL, -- for the desk
    page jsonb NOT NULL,     -- for the runner's own pages
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);
CREATE INDEX ON standings (practice_id);

DO $$
BEGIN
    ALTER TABLE decisions NO FORCE ROW LEVEL SECURITY;
    UPDATE decisions SET why = coalesce(fired -> 0 -> 'reason' ->> 'says', '');
    ALTER TABLE decisions FORCE ROW LEVEL SECURITY;

    ALTER TABLE standings ENABLE ROW LEVEL SECURITY;
    ALTER TABLE standings FORCE ROW LEVEL SECURITY;
    CREATE POLICY practice_only ON standings USING (practice_id = NULLIF(current_setting('app.practice_id', true), '')::uuid) WITH CHECK (practice_id = NULLIF(current_setting('app.practice_id', true), '')::uuid);
    GRANT SELECT, INSERT, UPDATE ON standings TO notchback_app;
END $$;

-- The practice is read once a query, not once a row.
DO $$
DECLARE t record;
BEGIN
    FOR t IN SELECT tablename, CASE tablename WHEN 'practices' THEN 'id' ELSE 'practice_id' END AS col FROM pg_policies WHERE schemaname = 'public' AND policyname = 'practice_only' LOOP
        EXECUTE format('ALTER POLICY practice_only ON %1$I USING (%2$I = (SELECT NULLIF(current_setting(%3$L, true), %4$L)::uuid)) WITH CHECK (%2$I = (SELECT NULLIF(current_setting(%3$L, true), %4$L)::uuid))', t.tablename, t.col, 'app.practice_id', '');
    END LOOP;
END $$;

-- A change enters the practice, holds the runner until it ends, and counts itself; a trial of a screen apart.
CREATE FUNCTION enter_change(p_practice text, p_runner uuid, p_trial boolean) RETURNS bigint
    LANGUAGE plpgsql SET search_path = public AS
$f$
DECLARE n bigint;
BEGIN
    PERFORM set_config('app.practice_id', p_practice, true);
    UPDATE runners SET touched = touched + 1, tested = tested + p_trial::int WHERE id = p_runner RETURNING touched INTO n;
    RETURN n;
END $f$;

CREATE INDEX ON prescriptions (runner_id, rail, side, seq DESC);
CREATE INDEX ON decisions (runner_id, rail, side, seq DESC) WHERE coach_id IS NULL;
CREATE INDEX ON decisions (runner_id, seq) WHERE coach_id IS NOT NULL;
CREATE INDEX ON house_changes (practice_id, seq);
CREATE INDEX ON trials (clip_id) WHERE clip_id IS NOT NULL;
CREATE INDEX ON clips (replaces) WHERE replaces IS NOT NULL;
CREATE INDEX ON logs (practice_id, on_day);
-- +goose StatementEnd

-- +goose Down
SELECT 1;
