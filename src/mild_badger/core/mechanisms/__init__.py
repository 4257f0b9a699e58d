"""Mechanisms besides box and axle, a package each, behind one protocol; the registry lists them."""
