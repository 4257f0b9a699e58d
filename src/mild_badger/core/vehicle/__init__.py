"""The document: what the builder has decided, and nothing that can be computed from it."""
