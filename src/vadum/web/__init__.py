"""The web application: routes, pages, static files."""
