"""One location: its column, what was made there, its layers, and what was typed of it."""
