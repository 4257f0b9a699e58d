"""The trial bench."""
