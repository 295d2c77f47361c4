-- +goose Up
-- +goose StatementBegin
-- Every report of a runner carries a number, given under the runner's lock: a decision says which reports
-- it saw, and what arrives late is judged all the same.
ALTER TABLE runners ADD reports bigint NOT NULL DEFAULT 0;
ALTER TABLE logs ADD report bigint NOT NULL DEFAULT 0, ADD times int NOT NULL DEFAULT 0;
ALTER TABLE mornings ADD report bigint NOT NULL DEFAULT 0, ADD quiet boolean NOT NULL DEFAULT false;
ALTER TABLE runs ADD report bigint NOT NULL DEFAULT 0, ADD word text NOT NULL DEFAULT '';
ALTER TABLE stops ADD report bigint NOT NULL DEFAULT 0;
ALTER TABLE sign_checks ADD report bigint NOT NULL DEFAULT 0;
ALTER TABLE trials ADD report bigint NOT NULL DEFAULT 0;
ALTER TABLE decisions ADD seen bigint NOT NULL DEFAULT 0, ADD rule text NOT NULL DEFAULT '';
ALTER TABLE clearances ADD opens jsonb; -- null: words of an earlier release
ALTER TABLE clearances ALTER coach_id DROP NOT NULL; -- null: the runner's own word that a small sign is over
ALTER TABLE usual_mornings ADD raised boolean NOT NULL DEFAULT false;
-- From this day on the feeling of a sole has to be known; doses in force before it have a little longer.
ALTER TABLE practices ADD feeling_from date NOT NULL DEFAULT CURRENT_DATE;

-- What somebody recorded for one caution or pattern: who, when, and what it opens.
CREATE TABLE limits (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    for_id text NOT NULL,
    side text NOT NULL,
    kind text NOT NULL,
    who text NOT NULL,
    on_day date NOT NULL,
    opens jsonb NOT NULL,
    words text NOT NULL,
    coach_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);
CREATE INDEX ON limits (runner_id);
CREATE INDEX ON usual_mornings (runner_id);

-- The owner sees every practice's rows while it numbers the reports there are.
DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['runners','logs','mornings','runs','stops','sign_checks','trials','screens','decisions'] LOOP
        EXECUTE format('ALTER TABLE %I NO FORCE ROW LEVEL SECURITY', t);
    END LOOP;
    CREATE TEMPORARY TABLE numbered ON COMMIT DROP AS
    SELECT kind, id, runner_id, at, row_number() OVER (PARTITION BY runner_id ORDER BY at, kind, seq, id) AS n FROM (
        SELECT 'log' AS kind, id, runner_id, at, seq FROM logs
        UNION ALL SELECT 'morning', id, runner_id, at, seq FROM mornings
        UNION ALL SELECT 'run', id, runner_id, at, 0 FROM runs
        UNION ALL SELECT 'sign', id, runner_id, at, 0 FROM stops
        UNION ALL SELECT 'check', id, runner_id, at, 0 FROM sign_checks
        UNION ALL SELECT 'trial', t.id, s.runner_id, t.at, 0 FROM trials t JOIN screens s ON s.id = t.screen_id
    ) r;
    UPDATE logs x SET report = n FROM numbered r WHERE r.kind = 'log' AND r.id = x.id;
    UPDATE mornings x SET report = n FROM numbered r WHERE r.kind = 'morning' AND r.id = x.id;
    UPDATE runs x SET report = n FROM numbered r WHERE r.kind = 'run' AND r.id = x.id;
    UPDATE stops x SET report = n FROM numbered r WHERE r.kind = 'sign' AND r.id = x.id;
    UPDATE sign_checks x SET report = n FROM numbered r WHERE r.kind = 'check' AND r.id = x.id;
    UPDATE trials x SET report = n FROM numbered r WHERE r.kind = 'trial' AND r.id = x.id;
    UPDATE runners x SET reports = coalesce((SELECT max(n) FROM numbered r WHERE r.runner_id = x.id), 0);
    -- A decision saw what had arrived by then. Records entered in one moment are ordered by their days.
    UPDATE decisions d SET seen = greatest(
            coalesce((SELECT max(n) FROM numbered r WHERE r.runner_id = d.runner_id AND r.at < d.at), 0),
            coalesce((SELECT max(l.report) FROM logs l WHERE l.runner_id = d.runner_id AND l.at = d.at AND l.on_day < d.on_day), 0),
            coalesce((SELECT max(m.report) FROM mornings m WHERE m.runner_id = d.runner_id AND m.at = d.at AND m.on_day <= d.on_day), 0)),
        rule = coalesce(fired -> 0 -> 'reason' ->> 'rule', '');
    FOREACH t IN ARRAY ARRAY['runners','logs','mornings','runs','stops','sign_checks','trials','screens','decisions'] LOOP
        EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', t);
    END LOOP;

    ALTER TABLE limits ENABLE ROW LEVEL SECURITY;
    ALTER TABLE limits FORCE ROW LEVEL SECURITY;
    CREATE POLICY practice_only ON limits USING (practice_id = NULLIF(current_setting('app.practice_id', true), '')::uuid) WITH CHECK (practice_id = NULLIF(current_setting('app.practice_id', true), '')::uuid);
    GRANT SELECT, INSERT ON limits TO notchback_app;
    GRANT UPDATE (reports) ON runners TO notchback_app;
END $$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
