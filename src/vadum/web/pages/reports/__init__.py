"""Reports: chosen, made, issued."""
