"""Tokens, fonts, style."""
