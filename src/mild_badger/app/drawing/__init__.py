"""Drawings shared by the tabs."""
