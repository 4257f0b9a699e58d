"""The ratios bench."""
