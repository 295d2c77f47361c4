-- +goose Up
-- What was shown is named by its hash, so that a dose shown day after day is read once.
ALTER TABLE logs ADD COLUMN shown bigint GENERATED ALWAYS AS (jsonb_hash_extended(prescription, 0)) STORED;

-- +goose Down
SELECT 1;
