"""The tab Road."""
