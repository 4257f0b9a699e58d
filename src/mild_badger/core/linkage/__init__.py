"""Mechanisms whose motion is no constant ratio, solved over a turn from their geometry."""
