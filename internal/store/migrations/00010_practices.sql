-- +goose Up
-- Which practices there are: what is out of date at midnight or after an upgrade is computed before anybody asks.
-- +goose StatementBegin
CREATE FUNCTION door_practices() RETURNS SETOF uuid
    LANGUAGE sql SECURITY DEFINER SET search_path = public AS
$$ SELECT id FROM practices ORDER BY id $$;

DO $$
BEGIN
    GRANT CREATE ON SCHEMA public TO notchback_door;
    REVOKE ALL ON FUNCTION door_practices() FROM PUBLIC;
    GRANT EXECUTE ON FUNCTION door_practices() TO notchback_app;
    ALTER FUNCTION door_practices() OWNER TO notchback_door;
    REVOKE CREATE ON SCHEMA public FROM notchback_door;
END $$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
