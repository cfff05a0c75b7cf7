"""Test sheets and method pages."""
