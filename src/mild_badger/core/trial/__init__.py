"""The bench: what to try, what was measured, and what is wrong where the two disagree."""
