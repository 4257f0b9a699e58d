"""Drawings shared by the benches."""
