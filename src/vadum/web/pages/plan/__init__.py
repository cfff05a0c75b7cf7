"""The week: what is done when, by whom, where."""
