-- +goose Up
-- What a session was logged for, and what a decision came from and led to, is a prescription of the same practice. It is checked
-- when the transaction ends: a decision and the prescription it makes are written together.
ALTER TABLE prescriptions ADD UNIQUE (practice_id, id);
ALTER TABLE logs ADD FOREIGN KEY (practice_id, prescription_id) REFERENCES prescriptions (practice_id, id) DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE logs ADD FOREIGN KEY (supersedes) REFERENCES logs DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE decisions
    ADD FOREIGN KEY (practice_id, runner_id) REFERENCES runners (practice_id, id),
    ADD FOREIGN KEY (practice_id, from_prescription) REFERENCES prescriptions (practice_id, id) DEFERRABLE INITIALLY DEFERRED,
    ADD FOREIGN KEY (practice_id, to_prescription) REFERENCES prescriptions (practice_id, id) DEFERRABLE INITIALLY DEFERRED,
    ADD FOREIGN KEY (practice_id, coach_id) REFERENCES coaches (practice_id, id);
CREATE INDEX ON logs (prescription_id);

-- +goose Down
SELECT 1;
