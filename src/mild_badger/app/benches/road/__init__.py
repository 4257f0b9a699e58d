"""The road bench."""
