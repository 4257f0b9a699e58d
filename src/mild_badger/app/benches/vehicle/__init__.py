"""The vehicle bench."""
