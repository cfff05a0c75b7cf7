"""The published transfer format, out and in."""
