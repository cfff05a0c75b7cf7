"""Who may measure by what alone, what speaks for it, and who signed."""
