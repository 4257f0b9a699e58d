"""The computing half: no window, usable from Python and from the command line."""
