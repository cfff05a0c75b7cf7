"""A project with its locations, and a sample with its card, tests and soil."""
