"""How fast a project's ground takes water, against what is asked."""
