-- +goose Up
-- A clean hold is recorded by the application itself: no coach took it, it moved nothing, and its reports and
-- reasons are all there is to keep.
ALTER TABLE decisions ALTER coach_id DROP NOT NULL, ALTER inputs DROP NOT NULL;

-- +goose Down
SELECT 1;
