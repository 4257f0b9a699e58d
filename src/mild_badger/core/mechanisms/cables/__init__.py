"""Cables from the hand's lever to what they move."""
