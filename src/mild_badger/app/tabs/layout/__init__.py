"""The tab Layout."""
