"""Published relations, free of any test: arguments with units, and the source beside the formula."""
