"""What bears on the bearings of a machine, and whether wood, brick or metal serves."""
