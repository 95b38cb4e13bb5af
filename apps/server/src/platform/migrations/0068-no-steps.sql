-- Steps of procedures stand in procedure_version since 0005, which took them over.
DROP TABLE IF EXISTS procedure_step;
