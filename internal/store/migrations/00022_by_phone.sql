-- +goose Up
-- A trial whose figure a phone gave: its error is its own.
ALTER TABLE trials ADD COLUMN by_phone boolean NOT NULL DEFAULT false;

-- +goose Down
SELECT 1;
