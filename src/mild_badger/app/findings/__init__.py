"""The findings drawer."""
