"""Every part in space: what it is, its shape, its place, and what it moves with."""
