"""``python -m vadum``."""

from vadum.cli import app

app()
