-- +goose Up
-- What a coach, and a runner on the phone, reads figures in: {"length": "in", "mass": "lb", "distance": "mi"}; empty: as they
-- are stored, in cm, kg and km.
ALTER TABLE coaches ADD COLUMN units jsonb NOT NULL DEFAULT '{}';
ALTER TABLE runners ADD COLUMN phone_units jsonb NOT NULL DEFAULT '{}';
GRANT UPDATE (units) ON coaches TO notchback_app;
GRANT UPDATE (phone_units) ON runners TO notchback_app;
-- +goose StatementBegin
DO $$
DECLARE f text;
BEGIN
    GRANT CREATE ON SCHEMA public TO notchback_door;
    DROP FUNCTION door_signed_in(uuid, int);
    DROP FUNCTION door_link(bytea);
    CREATE FUNCTION door_signed_in(p_coach uuid, p_epoch int)
        RETURNS TABLE (practice_id uuid, name text, email text, practice text, units jsonb)
        LANGUAGE sql SECURITY DEFINER SET search_path = public AS
    $f$ SELECT c.practice_id, c.name, c.email, p.name, c.units FROM coaches c JOIN practices p ON p.id = c.practice_id
        WHERE c.id = p_coach AND c.epoch = p_epoch $f$;
    CREATE FUNCTION door_link(p_hash bytea) RETURNS TABLE (id uuid, practice_id uuid, runner_id uuid, units jsonb)
        LANGUAGE sql SECURITY DEFINER SET search_path = public AS
    $f$ SELECT l.id, l.practice_id, l.runner_id, r.phone_units FROM links l JOIN runners r ON r.id = l.runner_id
        WHERE l.token_hash = p_hash AND l.revoked_at IS NULL AND l.expires_at > now() AND r.archived_at IS NULL $f$;
    FOREACH f IN ARRAY ARRAY['door_signed_in(uuid, int)', 'door_link(bytea)'] LOOP
        EXECUTE format('REVOKE ALL ON FUNCTION %s FROM PUBLIC', f);
        EXECUTE format('GRANT EXECUTE ON FUNCTION %s TO notchback_app', f);
        EXECUTE format('ALTER FUNCTION %s OWNER TO notchback_door', f);
    END LOOP;
    REVOKE CREATE ON SCHEMA public FROM notchback_door;
END $$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
