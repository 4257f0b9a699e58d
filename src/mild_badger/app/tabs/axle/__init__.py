"""The tab Axle."""
