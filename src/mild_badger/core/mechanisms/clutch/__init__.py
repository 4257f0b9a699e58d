"""A friction clutch before the box."""
