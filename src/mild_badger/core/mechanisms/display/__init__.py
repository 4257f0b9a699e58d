"""A display engine whose pistons move with the drive."""
