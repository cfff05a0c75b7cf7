"""One folder per page: its routes, templates, script and style."""
