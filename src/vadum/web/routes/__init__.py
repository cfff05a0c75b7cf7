"""One module per group of pages."""
