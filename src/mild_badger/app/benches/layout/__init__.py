"""The layout bench."""
