-- +goose Up
-- How a kept clip was shot and how much is marked on it, as the list of clips shows it; the marks are many.
-- +goose StatementBegin
CREATE FUNCTION shot(clip jsonb) RETURNS text LANGUAGE sql IMMUTABLE AS
$f$
    SELECT jsonb_build_object('name', clip->'name', 'view', clip->'view', 'captureFps', clip->'captureFps', 'frames', clip->'frames',
        'context', clip->'context', 'marks', jsonb_array_length(coalesce(nullif(clip->'marks', 'null'), '[]')),
        'stills', (SELECT coalesce(jsonb_agg(jsonb_build_object('id', s->'id', 'frame', s->'frame', 'side', s->'side', 'at', s->'at')
            ORDER BY n), '[]') FROM jsonb_array_elements(coalesce(nullif(clip->'stills', 'null'), '[]')) WITH ORDINALITY x (s, n)))::text
$f$;
-- +goose StatementEnd
ALTER TABLE clips ADD COLUMN shot text GENERATED ALWAYS AS (shot(clip)) STORED;

-- +goose Down
SELECT 1;
