"""Architectures of a gearbox, one module each, behind one protocol; the registry lists them."""
