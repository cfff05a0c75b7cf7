"""Help: the walk, a page per method, the glossary."""
