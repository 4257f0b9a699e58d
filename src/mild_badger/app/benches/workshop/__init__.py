"""The workshop bench."""
