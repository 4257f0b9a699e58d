"""Function boxes: several outputs, driven as a table of positions says."""
