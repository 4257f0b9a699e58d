"""The tab Shift."""
