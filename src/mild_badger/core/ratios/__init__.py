"""Choosing trains: every reachable ratio, the best train for one target, the best set for all."""
