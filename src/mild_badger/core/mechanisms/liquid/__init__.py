"""Liquid lines that work brakes or the clutch."""
