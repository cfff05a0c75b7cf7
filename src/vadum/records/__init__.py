"""What the laboratory keeps: projects, samples, tests, every revision of their readings, and equipment."""
