"""Who works here; signing in; passwords and tokens."""
