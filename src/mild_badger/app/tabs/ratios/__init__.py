"""The tab Ratios."""
