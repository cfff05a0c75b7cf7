"""What stands on paper, and the rules of signing off."""
