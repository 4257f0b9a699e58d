"""The gear column."""
