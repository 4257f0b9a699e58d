"""The version of the program, as files and books carry it."""

__all__ = ["__version__"]

__version__ = "0.1.0"
