"""Shift layouts: which gear sits in which slot."""
