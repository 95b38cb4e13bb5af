-- A worker takes the next job of its kinds without reading past all others that wait.
ALTER TABLE job ADD INDEX IF NOT EXISTS job_of_kind (kind, state, run_after)
