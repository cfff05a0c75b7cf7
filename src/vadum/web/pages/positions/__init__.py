"""Where the tests of a project stand."""
