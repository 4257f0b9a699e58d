"""Cables from the hand lever to what they move."""
