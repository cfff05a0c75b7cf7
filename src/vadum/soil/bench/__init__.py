"""What the hand does in more than one test: weighing, drying, preparing, pressing, reading levels."""
