"""The tab Trial."""
