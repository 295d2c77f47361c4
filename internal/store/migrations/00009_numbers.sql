-- +goose Up
-- The figures of a kept clip without their reasons, as the list of clips shows them.
-- +goose StatementBegin
CREATE FUNCTION in_short(figures jsonb) RETURNS text LANGUAGE sql IMMUTABLE AS
$f$
    SELECT coalesce(jsonb_agg(jsonb_build_object('id', f->'id', 'side', f->'side', 'value', f->'value', 'unit', f->'unit',
        'half', f->'half') ORDER BY n), '[]')::text FROM jsonb_array_elements(figures) WITH ORDINALITY x (f, n)
$f$;
-- +goose StatementEnd
ALTER TABLE clips ADD COLUMN numbers text GENERATED ALWAYS AS (in_short(figures)) STORED;

-- +goose Down
SELECT 1;
