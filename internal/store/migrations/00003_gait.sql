-- +goose Up
-- +goose StatementBegin
-- What was marked on a clip and what it came to; the clip itself never comes here. Marking it again
-- is a new row that replaces the old one.
CREATE TABLE clips (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    screen_id uuid NOT NULL REFERENCES screens (id),
    replaces uuid REFERENCES clips (id),
    on_day date NOT NULL,
    clip jsonb NOT NULL,
    figures jsonb NOT NULL,
    engine text NOT NULL,
    house_version int NOT NULL,
    coach_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    removed_at timestamptz,
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);
CREATE INDEX ON clips (runner_id, on_day);

-- Single pictures the coach chose to keep.
CREATE TABLE stills (
    id uuid PRIMARY KEY,
    practice_id uuid NOT NULL,
    runner_id uuid NOT NULL,
    picture bytea NOT NULL,
    coach_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id)
);
CREATE INDEX ON stills (runner_id);

ALTER TABLE trials
    ADD se double precision NOT NULL DEFAULT 0,
    ADD clip_id uuid REFERENCES clips (id);

DO $$
DECLARE t text;
BEGIN
    FOREACH t IN ARRAY ARRAY['clips','stills'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', t);
        EXECUTE format('ALTER TABLE %I FORCE ROW LEVEL SECURITY', t);
        EXECUTE format('CREATE POLICY practice_only ON %I USING (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid) WITH CHECK (practice_id = NULLIF(current_setting(''app.practice_id'', true), '''')::uuid)', t);
        EXECUTE format('GRANT SELECT, INSERT ON %I TO notchback_app', t);
    END LOOP;
    GRANT UPDATE (removed_at) ON clips TO notchback_app;
    GRANT DELETE ON stills TO notchback_app; -- a picture of a person goes when it is asked to go
END $$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
