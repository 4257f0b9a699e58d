"""The window: shows evaluations and sends edits; computes nothing."""
