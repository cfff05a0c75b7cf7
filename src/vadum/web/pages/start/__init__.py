"""The first page: what runs, what waits, projects, cups."""
