"""Drawings at true scale: sheets and their lines, outlines of gears, bars, segments, the kerf."""
