"""Instruments behind a small port, and the simulated stand-ins that ship with the application."""
