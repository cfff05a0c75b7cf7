"""What every method is and gives: fields, results, findings, steps, figures, and what a page may do with them."""
