"""The model on the road: motor, speeds."""
