"""The mechanisms of a vehicle besides box and axle: what they do in a gear, and what is wrong."""
