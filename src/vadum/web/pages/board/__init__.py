"""What is due now, next and later."""
