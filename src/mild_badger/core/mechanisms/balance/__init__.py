"""Whether a machine with a boom stands."""
