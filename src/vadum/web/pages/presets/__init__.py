"""What new tests of a method are begun with."""
