"""Edits of the document: as values, applied, and those that touch more than one field."""
