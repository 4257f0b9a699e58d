"""One pair of gears: how well the teeth meet at a distance, and where a pair sits on the grid."""
