"""The tab Workshop."""
