"""A whole project as a file, out and in."""
