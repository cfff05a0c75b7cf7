"""The worksheet of a test, and the run modes beside it."""
