"""What is on the bench, and what it shows."""
