"""The shift bench."""
