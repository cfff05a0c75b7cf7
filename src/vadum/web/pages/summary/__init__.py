"""What the tests of a project say together."""
