"""Where shafts sit on the grid."""
