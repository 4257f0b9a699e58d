"""Printing: a preview of the plan book or of single sheets, and the way to a printer."""
