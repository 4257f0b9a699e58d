"""The tab Vehicle."""
