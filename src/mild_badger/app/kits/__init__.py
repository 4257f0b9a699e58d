"""Kits: looking at one, changing it, keeping it as a file."""
