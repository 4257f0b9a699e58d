"""The outputs of a crane."""
