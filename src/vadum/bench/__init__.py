"""The bench: clocks, what is due, and plans. Pure logic over operations; no web, no database."""
