"""The printed sheet of a test: preview, PDF, issue."""
