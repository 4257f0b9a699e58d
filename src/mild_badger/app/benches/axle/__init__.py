"""The axle bench."""
