"""Kits: loading the ones that ship, reading the builder's own, counting the stock."""
