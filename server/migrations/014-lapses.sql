-- How often the worker of a step has gone silent: that is no try of the step itself.
ALTER TABLE job ADD lapses INT UNSIGNED NOT NULL DEFAULT 0;
