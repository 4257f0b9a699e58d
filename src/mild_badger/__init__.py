"""Mild Badger: plans gearboxes and drivetrains for working model vehicles."""

__all__ = ["__version__"]

__version__ = "0.1.0"
