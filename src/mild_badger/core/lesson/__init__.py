"""Lessons: small mechanisms in space that are turned, held and tried, step by step."""
